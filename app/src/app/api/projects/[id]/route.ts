import { readDocument } from '@kelvar/core/project/read'
import { z } from 'zod'
import { MAX_PROJECT_ASSETS } from '@/server/assets'
import { base64Png, gone, readBody, refuse, revisionNumber, uuid, withDatabase } from '@/server/http'
import { findProject, removeProject, saveProject } from '@/server/projects'
import { inCabinet } from '@/server/revisions'

export const dynamic = 'force-dynamic'

type Context = { params: Promise<{ id: string }> }

export function GET(request: Request, { params }: Context): Promise<Response> {
  return withDatabase(request, async (em) => {
    const id = uuid.safeParse((await params).id)
    const row = id.success ? await findProject(em, id.data) : null
    if (!row) return gone()
    const result = readDocument(row.document)
    if (!result.ok) return refuse(409, result.problem.code, result.problem.message, result.problem.remedy)
    return Response.json({ document: result.document, revision: row.revision })
  })
}

/** Whether it is there at all, for the door of its page: nothing of it is read. */
export function HEAD(request: Request, { params }: Context): Promise<Response> {
  return withDatabase(request, async (em) => {
    const id = uuid.safeParse((await params).id)
    return new Response(null, { status: id.success && (await inCabinet(em, id.data)) ? 200 : 404 })
  })
}

const saving = z.object({
  baseRevision: revisionNumber,
  document: z.unknown(),
  picture: base64Png.optional(),
})

export function PUT(request: Request, { params }: Context): Promise<Response> {
  return withDatabase(request, async (em) => {
    const id = uuid.safeParse((await params).id)
    if (!id.success) return gone()
    const read = await readBody(request, saving)
    if ('refusal' in read) return read.refusal
    const result = readDocument(read.body.document)
    if (!result.ok) return refuse(422, result.problem.code, result.problem.message, result.problem.remedy)
    const outcome = await saveProject(em, id.data, read.body.baseRevision, result.document, read.body.picture)
    if (outcome.saved) return Response.json({ revision: outcome.revision })
    if (outcome.reason === 'gone') return gone()
    if (outcome.reason === 'ahead')
      return refuse(422, 'ahead', 'The save builds on a revision that is not there yet.', 'Reload the page; what is in it now can be copied out first.')
    if (outcome.reason === 'too-large')
      return refuse(
        413,
        'too-large',
        `The files that the project carries take ${Math.ceil(outcome.bytes / 1024 / 1024)} MB; it may carry ${MAX_PROJECT_ASSETS / 1024 / 1024} MB.`,
        'Take out steps with large files, or split the project.',
      )
    return refuse(
      409,
      'conflict',
      'The project was changed in another window meanwhile.',
      'Both versions are kept: look at what differs and choose the one to go on with.',
    )
  })
}

export function DELETE(request: Request, { params }: Context): Promise<Response> {
  return withDatabase(request, async (em) => {
    const id = uuid.safeParse((await params).id)
    return id.success && (await removeProject(em, id.data)) ? new Response(null, { status: 204 }) : gone()
  })
}
