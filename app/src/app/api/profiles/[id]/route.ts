import { refuse, uuid, withDatabase } from '@/server/http'
import { removeProfile } from '@/server/profiles'

export const dynamic = 'force-dynamic'

export function DELETE(request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> {
  return withDatabase(request, async (em) => {
    const id = uuid.safeParse((await params).id)
    if (!id.success || !(await removeProfile(em, id.data))) return refuse(404, 'gone', 'There is no such profile.', 'It may have been removed already.')
    return Response.json({ removed: id.data })
  })
}
