import { readBody, refuse, withDatabase } from '@/server/http'
import { keepMask, listMasks, maskToKeep } from '@/server/masks'

export const dynamic = 'force-dynamic'

export function GET(request: Request): Promise<Response> {
  return withDatabase(request, async (em) => Response.json({ masks: await listMasks(em) }))
}

export function POST(request: Request): Promise<Response> {
  return withDatabase(request, async (em) => {
    const read = await readBody(request, maskToKeep)
    if ('refusal' in read) return read.refusal
    const result = await keepMask(em, read.body)
    if ('problem' in result) return refuse(422, result.problem.code, result.problem.message, result.problem.remedy)
    return Response.json(result.mask, { status: 201 })
  })
}
