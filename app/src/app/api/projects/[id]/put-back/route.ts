import { gone, uuid, withDatabase } from '@/server/http'
import { putBack } from '@/server/projects'

export const dynamic = 'force-dynamic'

/** Puts a removed project back into the cabinet. */
export function POST(request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> {
  return withDatabase(request, async (em) => {
    const id = uuid.safeParse((await params).id)
    return id.success && (await putBack(em, id.data)) ? new Response(null, { status: 204 }) : gone()
  })
}
