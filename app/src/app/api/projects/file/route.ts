import { MAX_PROJECT_FILE } from '@kelvar/core/format/project-file'
import { readBytes, refuse, unlessLeft, withDatabase } from '@/server/http'
import { bringIn } from '@/server/project-file'

export const dynamic = 'force-dynamic'

/** The body is a project file; the answer the id of the project made of it. */
export function POST(request: Request): Promise<Response> {
  return withDatabase(request, async (em) => {
    const bytes = await readBytes(request, MAX_PROJECT_FILE)
    if (!bytes) return refuse(413, 'too-large', 'The project file is larger than 200 MB.', 'Take large pictures out of the project first.')
    const result = await unlessLeft(request, em, (tx) => bringIn(tx, bytes))
    if ('problem' in result) return refuse(422, result.problem.code, result.problem.message, result.problem.remedy)
    return Response.json(result, { status: 201 })
  })
}
