import { gone, uuid, withDatabase } from '@/server/http'
import { takeOut } from '@/server/project-file'

export const dynamic = 'force-dynamic'

export function GET(request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> {
  return withDatabase(request, async (em) => {
    const id = uuid.safeParse((await params).id)
    const file = id.success ? await takeOut(em, id.data) : undefined
    if (!file) return gone()
    // a plain name for old browsers, the true one for all others (RFC 6266)
    const plain =
      file.name
        .normalize('NFKD')
        .replace(/[^\w -]+/g, '')
        .trim() || 'project'
    const body = new ReadableStream<Uint8Array>({
      async pull(controller) {
        const { done, value } = await file.chunks.next()
        if (done) controller.close()
        else controller.enqueue(value)
      },
      cancel: () => void file.chunks.return(undefined),
    })
    return new Response(body, {
      headers: {
        'content-type': 'application/zip',
        'content-disposition': `attachment; filename="${plain}.kelvar"; filename*=UTF-8''${encodeURIComponent(`${file.name}.kelvar`)}`,
        'cache-control': 'no-store',
      },
    })
  })
}
