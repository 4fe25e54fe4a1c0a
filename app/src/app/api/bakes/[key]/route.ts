import type { EntityManager } from '@mikro-orm/postgresql'
import { z } from 'zod'
import { BAKE_KEY, isPartKey, MAX_BAKE_BYTES } from '@kelvar/core/cache/bakes'
import { bakeHead } from '@kelvar/core/format/bake'
import { bakePartHead } from '@kelvar/core/format/bake-part'
import { findBake, keepBake, noteUse } from '@/server/bakes'
import { readBytes, refuse, uuid, withDatabase } from '@/server/http'

export const dynamic = 'force-dynamic'

type Context = { params: Promise<{ key: string }> }

const bakeKey = z.string().regex(BAKE_KEY)

/** Notes the project that a whole recording is for, where that is said. */
async function noteProject(em: EntityManager, request: Request, key: string): Promise<void> {
  const project = uuid.safeParse(request.headers.get('x-kelvar-project')).data
  if (project && !isPartKey(key)) await noteUse(em, project, key)
}

/** What was recorded of what the key says; 204 when nobody has kept that. */
export function GET(request: Request, { params }: Context): Promise<Response> {
  return withDatabase(request, async (em) => {
    const key = bakeKey.safeParse((await params).key)
    const bytes = key.success ? await findBake(em, key.data) : undefined
    if (!key.success || !bytes) return new Response(null, { status: 204 })
    await noteProject(em, request, key.data)
    return new Response(new Uint8Array(bytes), { headers: { 'content-type': 'application/octet-stream' } })
  })
}

/** The body is such a recording, or a part of one. */
export function PUT(request: Request, { params }: Context): Promise<Response> {
  return withDatabase(request, async (em) => {
    const key = bakeKey.safeParse((await params).key)
    if (!key.success) return refuse(422, 'invalid', 'The recording has no key of the kind that is kept.', 'Reload the page and try again.')
    const bytes = await readBytes(request, MAX_BAKE_BYTES)
    if (!bytes)
      return refuse(413, 'too-large', 'The recording is larger than 48 MB.', 'It is made anew after a reload; follow it for less time to have it kept.')
    // whoever reads it looks at the rest
    if (!(isPartKey(key.data) ? bakePartHead(bytes) : bakeHead(bytes)))
      return refuse(422, 'invalid', 'The recording is damaged.', 'Reload the page and try again.')
    await keepBake(em, key.data, bytes)
    await noteProject(em, request, key.data)
    return new Response(null, { status: 204 })
  })
}
