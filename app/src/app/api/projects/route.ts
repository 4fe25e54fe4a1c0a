import { readDocument } from '@kelvar/core/project/read'
import { z } from 'zod'
import { shareUse } from '@/server/bakes'
import { readBody, refuse, uuid, withDatabase } from '@/server/http'
import { createProject, listProjects } from '@/server/projects'

export const dynamic = 'force-dynamic'

/** The projects of the cabinet; with `?removed` those that can be put back. */
export function GET(request: Request): Promise<Response> {
  return withDatabase(request, async (em) => Response.json(await listProjects(em, { removed: new URL(request.url).searchParams.has('removed') })))
}

/** Of a copy also which project it is one of, whose recordings it has from the first. */
const creation = z.object({ document: z.unknown().optional(), copyOf: uuid.optional() })

export function POST(request: Request): Promise<Response> {
  return withDatabase(request, async (em) => {
    const read = await readBody(request, creation)
    if ('refusal' in read) return read.refusal
    if (read.body.document === undefined) {
      const row = await createProject(em)
      return Response.json({ id: row.id }, { status: 201 })
    }
    const result = readDocument(read.body.document)
    if (!result.ok) return refuse(422, result.problem.code, result.problem.message, result.problem.remedy)
    const row = await createProject(em, result.document)
    if (read.body.copyOf) await shareUse(em, read.body.copyOf, row.id)
    return Response.json({ id: row.id }, { status: 201 })
  })
}
