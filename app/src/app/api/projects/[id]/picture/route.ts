import { gone, pngAnswer, uuid, withDatabase } from '@/server/http'
import { projectPicture } from '@/server/projects'

export const dynamic = 'force-dynamic'

export function GET(request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> {
  return withDatabase(request, async (em) => {
    const id = uuid.safeParse((await params).id)
    const picture = id.success ? await projectPicture(em, id.data) : null
    return picture ? pngAnswer(picture) : gone()
  })
}
