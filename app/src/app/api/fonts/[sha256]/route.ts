import { z } from 'zod'
import { unlistFace } from '@/server/fonts'
import { refuse, withDatabase } from '@/server/http'

export const dynamic = 'force-dynamic'

const name = z.string().regex(/^[0-9a-f]{64}$/)

export function DELETE(request: Request, { params }: { params: Promise<{ sha256: string }> }): Promise<Response> {
  return withDatabase(request, async (em) => {
    const sha256 = name.safeParse((await params).sha256)
    const outcome = sha256.success ? await unlistFace(em, sha256.data) : 'gone'
    if (outcome === 'done') return new Response(null, { status: 204 })
    if (outcome === 'shipped') return refuse(409, 'shipped', 'This face ships with Kelvar and stays in the type case.', 'Take out only faces you have added.')
    return refuse(404, 'gone', 'This face is not in the type case.', 'Reload the page.')
  })
}
