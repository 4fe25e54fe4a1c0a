import { MAX_FONT_FILE_BYTES } from '@kelvar/core/font/unpack'
import { keepFaces, listFaces, readFacesApart } from '@/server/fonts'
import { refuse, unlessLeft, withDatabase, withSpooled } from '@/server/http'

export const dynamic = 'force-dynamic'

export function GET(request: Request): Promise<Response> {
  return withDatabase(request, async (em) => Response.json({ faces: await listFaces(em) }))
}

const large = () => refuse(413, 'too-large', 'The font file is larger than 30 MB.', 'Choose a font with fewer characters, or a subset of it.')

/** The body is the font file itself. */
export function POST(request: Request): Promise<Response> {
  return withDatabase(request, (em) =>
    withSpooled(request, MAX_FONT_FILE_BYTES, large, async (file) => {
      const read = await readFacesApart(file, request.signal)
      if ('problem' in read) return refuse(422, read.problem.code, read.problem.message, read.problem.remedy)
      return Response.json(await unlessLeft(request, em, (tx) => keepFaces(tx, read.faces)), { status: 201 })
    }),
  )
}
