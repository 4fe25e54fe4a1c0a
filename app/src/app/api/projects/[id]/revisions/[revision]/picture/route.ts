import { gone, pngAnswer, uuid, withDatabase } from '@/server/http'
import { revisionPicture } from '@/server/revisions'

export const dynamic = 'force-dynamic'

export function GET(request: Request, { params }: { params: Promise<{ id: string; revision: string }> }): Promise<Response> {
  return withDatabase(request, async (em) => {
    const at = await params
    const [id, revision] = [uuid.safeParse(at.id), uuid.safeParse(at.revision)]
    const picture = id.success && revision.success ? await revisionPicture(em, id.data, revision.data) : null
    return picture ? pngAnswer(picture) : gone()
  })
}
