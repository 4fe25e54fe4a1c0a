import { z } from 'zod'
import { pictureKind } from '@kelvar/core/format/picture'
import { assetPart, findAsset } from '@/server/assets'
import { database } from '@/server/database'
import { refuse, withDatabase } from '@/server/http'

/** Pictures are shown as what their bytes are; anything else that is no font is plain bytes, so that no browser runs it. */
function typeOf(type: string, start: Uint8Array): string {
  if (type === 'font') return 'font/ttf'
  const kind = type === 'picture' ? pictureKind(start) : undefined
  return kind ? `image/${kind}` : 'application/octet-stream'
}

export const dynamic = 'force-dynamic'

const name = z.string().regex(/^[0-9a-f]{64}$/)

/** The file itself, sent part by part as fast as it is taken. */
export function GET(request: Request, { params }: { params: Promise<{ sha256: string }> }): Promise<Response> {
  return withDatabase(request, async (em) => {
    const sha256 = name.safeParse((await params).sha256)
    const asset = sha256.success ? await findAsset(em, sha256.data) : null
    const first = asset && (await assetPart(em, asset.sha256, 0))
    if (!asset || !first) return refuse(404, 'no-asset', 'The file is not in the library.', 'Add it again.')
    let number = 1
    const body = new ReadableStream<Uint8Array>({
      start: (controller) => controller.enqueue(new Uint8Array(first)),
      async pull(controller) {
        // the request's own connection may be over by now
        const part = await assetPart((await database()).em.fork(), asset.sha256, number++)
        if (part) controller.enqueue(new Uint8Array(part))
        else controller.close()
      },
    })
    return new Response(body, {
      headers: { 'content-type': typeOf(asset.type, first), 'content-length': asset.size, 'cache-control': 'private, max-age=31536000, immutable' },
    })
  })
}
