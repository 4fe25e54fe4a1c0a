import { gone, uuid, withDatabase } from '@/server/http'
import { findProject } from '@/server/projects'
import { listRevisions } from '@/server/revisions'

export const dynamic = 'force-dynamic'

export function GET(request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> {
  return withDatabase(request, async (em) => {
    const id = uuid.safeParse((await params).id)
    const row = id.success ? await findProject(em, id.data) : null
    return row ? Response.json({ revisions: await listRevisions(em, row.id) }) : gone()
  })
}
