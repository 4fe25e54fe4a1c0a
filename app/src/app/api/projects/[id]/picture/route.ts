import { z } from 'zod'
import { base64Png, gone, pngAnswer, readBody, revisionNumber, uuid, withDatabase } from '@/server/http'
import { bringPicture, findProject, projectPicture } from '@/server/projects'

export const dynamic = 'force-dynamic'

type Context = { params: Promise<{ id: string }> }

export function GET(request: Request, { params }: Context): Promise<Response> {
  return withDatabase(request, async (em) => {
    const id = uuid.safeParse((await params).id)
    const picture = id.success ? await projectPicture(em, id.data) : null
    return picture ? pngAnswer(picture) : gone()
  })
}

const bringing = z.object({ revision: revisionNumber, picture: base64Png })

/** A first picture of what is saved; one that is there already, or of an older revision, is left as it is. */
export function PUT(request: Request, { params }: Context): Promise<Response> {
  return withDatabase(request, async (em) => {
    const id = uuid.safeParse((await params).id)
    if (!id.success || !(await findProject(em, id.data))) return gone()
    const read = await readBody(request, bringing)
    if ('refusal' in read) return read.refusal
    await bringPicture(em, id.data, read.body.revision, read.body.picture)
    return new Response(null, { status: 204 })
  })
}
