import { MAX_DRAWING_BYTES, MAX_FILE_BYTES } from '@/server/file-limits'
import { keepFile, readFileApart } from '@/server/files'
import { fileName, refuse, unlessLeft, withDatabase, withSpooled } from '@/server/http'

export const dynamic = 'force-dynamic'

/** Only models are large for a reason. */
const MODEL = /\.(stl|obj|ply|glb|3mf)$/i

/** The body is the drawing or picture itself; its name stands in the header x-file-name, percent-encoded. */
export function POST(request: Request): Promise<Response> {
  const model = MODEL.test(fileName(request.headers.get('x-file-name'), ''))
  const most = model ? MAX_FILE_BYTES : MAX_DRAWING_BYTES
  const large = () =>
    refuse(
      413,
      'too-large',
      `The file is larger than ${most / 1024 / 1024} MB.`,
      model ? 'Reduce it where it was made.' : 'Simplify it, or bring in a part of it.',
    )
  return withDatabase(request, (em) =>
    withSpooled(request, most, large, async ({ path }) => {
      const read = await readFileApart(path, request.signal)
      if ('problem' in read) return refuse(422, read.problem.code, read.problem.message, read.problem.remedy)
      const name = fileName(request.headers.get('x-file-name'), 'Drawing')
      return Response.json(await unlessLeft(request, em, (tx) => keepFile(tx, path, name, read.file)), { status: 201 })
    }),
  )
}
