import { MAX_FONT_FILE_BYTES } from '@kelvar/core/font/unpack'
import { addFaces, listFaces } from '@/server/fonts'
import { readBytes, refuse, unlessLeft, withDatabase } from '@/server/http'

export const dynamic = 'force-dynamic'

export function GET(request: Request): Promise<Response> {
  return withDatabase(request, async (em) => Response.json({ faces: await listFaces(em) }))
}

/** The body is the font file itself. */
export function POST(request: Request): Promise<Response> {
  return withDatabase(request, async (em) => {
    const bytes = await readBytes(request, MAX_FONT_FILE_BYTES)
    if (!bytes) return refuse(413, 'too-large', 'The font file is larger than 30 MB.', 'Choose a font with fewer characters, or a subset of it.')
    const added = await unlessLeft(request, em, (tx) => addFaces(tx, bytes))
    if ('problem' in added) return refuse(422, added.problem.code, added.problem.message, added.problem.remedy)
    return Response.json(added, { status: 201 })
  })
}
