import { refuse, uuid, withDatabase } from '@/server/http'
import { removeMask } from '@/server/masks'

export const dynamic = 'force-dynamic'

export function DELETE(request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> {
  return withDatabase(request, async (em) => {
    const id = uuid.safeParse((await params).id)
    if (!id.success || !(await removeMask(em, id.data))) return refuse(404, 'gone', 'There is no such mask.', 'It may have been removed already.')
    return Response.json({ removed: id.data })
  })
}
