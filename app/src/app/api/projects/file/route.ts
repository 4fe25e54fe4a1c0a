import { MAX_PROJECT_FILE } from '@kelvar/core/format/project-file'
import { refuse, unlessLeft, withDatabase, withSpooled } from '@/server/http'
import { bringIn } from '@/server/project-file'

export const dynamic = 'force-dynamic'

const large = () => refuse(413, 'too-large', 'The project file is larger than 200 MB.', 'Take large pictures out of the project first.')

/** The body is a project file; the answer the id of the project made of it. */
export function POST(request: Request): Promise<Response> {
  return withDatabase(request, (em) =>
    withSpooled(request, MAX_PROJECT_FILE, large, async (file) => {
      const result = await bringIn(em, file, (work) => unlessLeft(request, em, work), request.signal)
      if ('problem' in result) return refuse(422, result.problem.code, result.problem.message, result.problem.remedy)
      return Response.json(result, { status: 201 })
    }),
  )
}
