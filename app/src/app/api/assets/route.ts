import { createReadStream } from 'node:fs'
import { ASSET_TYPES } from '@kelvar/core/document/schema'
import { z } from 'zod'
import { MAX_PROJECT_ASSETS, storeStream } from '@/server/assets'
import { fileName, refuse, unlessLeft, withDatabase, withSpooled } from '@/server/http'

export const dynamic = 'force-dynamic'

/** What is kept as it is: it is read in the page's workers, which can be stopped. Fonts and drawings are read here and have handlers of their own. */
const type = z.enum(ASSET_TYPES).exclude(['font', 'vector', 'picture'])

/** Largest file of each kind, bytes. */
const LIMITS: Readonly<Record<z.infer<typeof type>, number>> = {
  model: 200 * 1024 * 1024,
  field: 512 * 1024 * 1024,
  bake: 512 * 1024 * 1024,
  paint: 32 * 1024 * 1024,
  sound: 64 * 1024 * 1024,
}

/** The body is the file itself, taken as it comes in; what it is stands in the query (type) and the header x-file-name. */
export function POST(request: Request): Promise<Response> {
  return withDatabase(request, async (em) => {
    const kind = type.safeParse(new URL(request.url).searchParams.get('type'))
    if (!kind.success) return refuse(422, 'invalid', 'The request does not say what kind of file it brings.', 'Reload the page and try again.')
    const limit = Math.min(LIMITS[kind.data], MAX_PROJECT_ASSETS)
    const large = () => refuse(413, 'too-large', `The file is larger than ${limit / 1024 / 1024} MB.`, 'Bring in a smaller one, or a part of it.')
    if (!request.body) return refuse(422, 'empty', 'The file is empty.', 'Choose another one.')
    return withSpooled(request, limit, large, async ({ path }) => {
      const name = fileName(request.headers.get('x-file-name'), 'File')
      const { sha256, size } = await unlessLeft(request, em, (tx) => storeStream(tx, { name, type: kind.data }, createReadStream(path), limit))
      return Response.json({ sha256, name, bytes: size }, { status: 201 })
    })
  })
}
