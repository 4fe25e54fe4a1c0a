import { z } from 'zod'
import { gone, readBytes, refuse, uuid, withDatabase } from '@/server/http'
import { findLook, keepLook, MAX_LOOK_BYTES } from '@/server/looks'
import { unpackLook } from '@/state/look'

export const dynamic = 'force-dynamic'

type Context = { params: Promise<{ id: string; piece: string }> }

const place = z.object({ id: uuid, piece: z.string().min(1).max(80) })

/** What the piece last looked like, packed as state/look.ts does; 204 when nobody has kept that. */
export function GET(request: Request, { params }: Context): Promise<Response> {
  return withDatabase(request, async (em) => {
    const at = place.safeParse(await params)
    const bytes = at.success ? await findLook(em, at.data.id, at.data.piece) : undefined
    if (!bytes) return new Response(null, { status: 204 })
    return new Response(new Uint8Array(bytes), { headers: { 'content-type': 'application/octet-stream' } })
  })
}

/** The body is such a look. */
export function PUT(request: Request, { params }: Context): Promise<Response> {
  return withDatabase(request, async (em) => {
    const at = place.safeParse(await params)
    if (!at.success) return gone()
    const bytes = await readBytes(request, MAX_LOOK_BYTES)
    if (!bytes) return refuse(413, 'too-large', 'The look of the piece is larger than 8 MB.', 'It is made anew whenever it is opened.')
    if (!unpackLook(bytes)) return refuse(422, 'invalid', 'The look of the piece is damaged.', 'Reload the page and try again.')
    return (await keepLook(em, at.data.id, at.data.piece, bytes)) ? new Response(null, { status: 204 }) : gone()
  })
}
