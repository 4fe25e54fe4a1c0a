import { addFile, MAX_FILE_BYTES } from '@/server/files'
import { fileName, readBytes, refuse, unlessLeft, withDatabase } from '@/server/http'

export const dynamic = 'force-dynamic'

/** The body is the drawing or picture itself; its name stands in the header x-file-name, percent-encoded. */
export function POST(request: Request): Promise<Response> {
  return withDatabase(request, async (em) => {
    const bytes = await readBytes(request, MAX_FILE_BYTES)
    if (!bytes) return refuse(413, 'too-large', 'The file is larger than 20 MB.', 'Simplify it, or bring in a part of it.')
    const added = await unlessLeft(request, em, (tx) => addFile(tx, bytes, fileName(request.headers.get('x-file-name'), 'Drawing')))
    if ('problem' in added) return refuse(422, added.problem.code, added.problem.message, added.problem.remedy)
    return Response.json(added, { status: 201 })
  })
}
