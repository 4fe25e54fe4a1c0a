import { z } from 'zod'
import { findAsset } from '@/server/assets'
import { refuse, withDatabase } from '@/server/http'

export const dynamic = 'force-dynamic'

const name = z.string().regex(/^[0-9a-f]{64}$/)

export function GET(request: Request, { params }: { params: Promise<{ sha256: string }> }): Promise<Response> {
  return withDatabase(request, async (em) => {
    const sha256 = name.safeParse((await params).sha256)
    const asset = sha256.success ? await findAsset(em, sha256.data) : null
    if (!asset) return refuse(404, 'no-asset', 'The file is not in the library.', 'Add it again.')
    return new Response(new Uint8Array(asset.bytes), {
      headers: { 'content-type': asset.type === 'font' ? 'font/ttf' : 'application/octet-stream', 'cache-control': 'private, max-age=31536000, immutable' },
    })
  })
}
