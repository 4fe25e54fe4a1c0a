import { readBody, refuse, withDatabase } from '@/server/http'
import { keepProfile, listProfiles, profileToKeep } from '@/server/profiles'

export const dynamic = 'force-dynamic'

export function GET(request: Request): Promise<Response> {
  return withDatabase(request, async (em) => Response.json({ profiles: await listProfiles(em) }))
}

export function POST(request: Request): Promise<Response> {
  return withDatabase(request, async (em) => {
    const read = await readBody(request, profileToKeep)
    if ('refusal' in read) return read.refusal
    const result = await keepProfile(em, read.body)
    if ('problem' in result) return refuse(422, result.problem.code, result.problem.message, result.problem.remedy)
    return Response.json(result.profile, { status: 201 })
  })
}
