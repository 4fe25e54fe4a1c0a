import { readFile } from 'node:fs/promises'
import { join } from 'node:path'
import { SHIPPED_FACES } from '@kelvar/core/fonts'
import { checkOrigin, refuse } from '@/server/http'

/** The licence of a shipped face, as plain text. The file's name comes from the catalogue, never from the request. */
export async function GET(request: Request, { params }: { params: Promise<{ id: string }> }): Promise<Response> {
  const foreign = checkOrigin(request)
  if (foreign) return foreign
  const { id } = await params
  const face = SHIPPED_FACES.find((f) => f.id === id)
  if (!face) return refuse(404, 'no-licence', 'There is no shipped face of that name.', 'Look the face up in the type case.')
  // the server runs in app/
  const text = await readFile(join(process.cwd(), '../core/fonts', face.licence), 'utf8')
  return new Response(text, { headers: { 'content-type': 'text/plain; charset=utf-8', 'cache-control': 'private, max-age=86400' } })
}
