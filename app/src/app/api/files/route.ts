import { keepFile, MAX_FILE_BYTES, readFileApart } from '@/server/files'
import { fileName, refuse, unlessLeft, withDatabase, withSpooled } from '@/server/http'

export const dynamic = 'force-dynamic'

const large = () => refuse(413, 'too-large', 'The file is larger than 20 MB.', 'Simplify it, or bring in a part of it.')

/** The body is the drawing or picture itself; its name stands in the header x-file-name, percent-encoded. */
export function POST(request: Request): Promise<Response> {
  return withDatabase(request, (em) =>
    withSpooled(request, MAX_FILE_BYTES, large, async ({ path }) => {
      const read = await readFileApart(path, request.signal)
      if ('problem' in read) return refuse(422, read.problem.code, read.problem.message, read.problem.remedy)
      const name = fileName(request.headers.get('x-file-name'), 'Drawing')
      return Response.json(await unlessLeft(request, em, (tx) => keepFile(tx, path, name, read.file)), { status: 201 })
    }),
  )
}
