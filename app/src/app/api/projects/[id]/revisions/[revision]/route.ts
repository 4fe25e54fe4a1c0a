import { readDocument } from '@kelvar/core/project/read'
import { z } from 'zod'
import { readBody, refuse, uuid, withDatabase } from '@/server/http'
import { findRevision, nameRevision } from '@/server/revisions'

export const dynamic = 'force-dynamic'

type Context = { params: Promise<{ id: string; revision: string }> }

const place = z.object({ id: uuid, revision: uuid })
const gone = () => refuse(404, 'gone', 'There is no such revision.', 'Choose another one; old ones without a name are thinned out.')

export function GET(request: Request, { params }: Context): Promise<Response> {
  return withDatabase(request, async (em) => {
    const at = place.safeParse(await params)
    const row = at.success ? await findRevision(em, at.data.id, at.data.revision) : null
    if (!row) return gone()
    const result = readDocument(row.document)
    return result.ok ? Response.json({ document: result.document }) : refuse(409, result.problem.code, result.problem.message, result.problem.remedy)
  })
}

const naming = z.object({ name: z.string().trim().max(80, 'A name has at most 80 letters.') })

/** Names a revision; an empty name takes it away. */
export function PATCH(request: Request, { params }: Context): Promise<Response> {
  return withDatabase(request, async (em) => {
    const at = place.safeParse(await params)
    if (!at.success) return gone()
    const read = await readBody(request, naming)
    if ('refusal' in read) return read.refusal
    return (await nameRevision(em, at.data.id, at.data.revision, read.body.name || null)) ? new Response(null, { status: 204 }) : gone()
  })
}
