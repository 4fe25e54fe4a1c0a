import { z } from 'zod'
import { pictureKind } from '@kelvar/core/format/picture'
import { findAsset } from '@/server/assets'
import type { AssetRow } from '@/server/entities'
import { refuse, withDatabase } from '@/server/http'

/** Pictures are shown as what their bytes are; anything else that is no font is plain bytes, so that no browser runs it. */
function typeOf({ type, bytes }: AssetRow): string {
  if (type === 'font') return 'font/ttf'
  const kind = type === 'picture' ? pictureKind(bytes) : undefined
  return kind ? `image/${kind}` : 'application/octet-stream'
}

export const dynamic = 'force-dynamic'

const name = z.string().regex(/^[0-9a-f]{64}$/)

export function GET(request: Request, { params }: { params: Promise<{ sha256: string }> }): Promise<Response> {
  return withDatabase(request, async (em) => {
    const sha256 = name.safeParse((await params).sha256)
    const asset = sha256.success ? await findAsset(em, sha256.data) : null
    if (!asset) return refuse(404, 'no-asset', 'The file is not in the library.', 'Add it again.')
    return new Response(new Uint8Array(asset.bytes), {
      headers: { 'content-type': typeOf(asset), 'cache-control': 'private, max-age=31536000, immutable' },
    })
  })
}
