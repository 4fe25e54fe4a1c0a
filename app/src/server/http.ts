import { cutText } from '@kelvar/core/document/words'
import type { EntityManager } from '@mikro-orm/postgresql'
import { z } from 'zod'
import { database } from './database'

/** An answer that tells what is wrong and what to do; never internals. */
export function refuse(status: number, code: string, message: string, remedy: string): Response {
  return Response.json({ error: { code, message, remedy } }, { status })
}

const MAX_BODY = 8 * 1024 * 1024

const isLocal = (host: string) => /^(127\.0\.0\.1|localhost|\[::1\])(:\d+)?$/.test(host)

/** Refuses requests that another site's page or name could have made. */
export function checkOrigin(request: Request): Response | undefined {
  const host = request.headers.get('host') ?? ''
  if (!isLocal(host)) return refuse(403, 'host', 'This server answers on the local machine only.', 'Open it as http://127.0.0.1.')
  const origin = request.headers.get('origin')
  if (request.method !== 'GET' && origin !== null && origin !== `http://${host}`)
    return refuse(403, 'origin', 'The request came from another site.', 'Use the page that Kelvar itself serves.')
  return undefined
}

/** The body's bytes; undefined as soon as it grows beyond the limit, whatever length it announced. */
export async function readBytes(request: Request, limit: number): Promise<Uint8Array | undefined> {
  if (Number(request.headers.get('content-length') ?? 0) > limit) return undefined
  const reader = request.body?.getReader()
  if (!reader) return new Uint8Array()
  const parts: Uint8Array[] = []
  let length = 0
  for (;;) {
    const { done, value } = await reader.read()
    if (done) break
    length += value.byteLength
    if (length > limit) {
      await reader.cancel()
      return undefined
    }
    parts.push(value)
  }
  const bytes = new Uint8Array(length)
  let at = 0
  for (const part of parts) {
    bytes.set(part, at)
    at += part.length
  }
  return bytes
}

/** Does long work that keeps something in the end; when whoever asked has left meanwhile, as by pressing Stop, nothing is kept. */
export function unlessLeft<T>(request: Request, em: EntityManager, work: (em: EntityManager) => Promise<T>): Promise<T> {
  return em.transactional(async (tx) => {
    const result = await work(tx)
    // word of it comes in only when other work gets its turn
    await new Promise((resolve) => setTimeout(resolve))
    request.signal.throwIfAborted()
    return result
  })
}

/** The body as JSON checked by a schema, or the refusal. */
export async function readBody<T>(request: Request, schema: z.ZodType<T>): Promise<{ body: T } | { refusal: Response }> {
  const bytes = await readBytes(request, MAX_BODY)
  if (bytes === undefined) return { refusal: tooLarge() }
  let value: unknown
  try {
    value = JSON.parse(new TextDecoder().decode(bytes))
  } catch {
    return { refusal: refuse(400, 'not-json', 'The request is not valid JSON.', 'Reload the page and try again.') }
  }
  const parsed = schema.safeParse(value)
  if (parsed.success) return { body: parsed.data }
  const [issue] = parsed.error.issues
  return { refusal: refuse(422, 'invalid', `The request is wrong at ${issue.path.join('.') || 'its top'}: ${issue.message}`, 'Reload the page and try again.') }
}

const tooLarge = () => refuse(413, 'too-large', 'The project is larger than 8 MB without its fonts.', 'Split it into several projects.')

/** Runs a handler with its own entity manager; what fails inside becomes a plain answer and a line in the server's log. */
export async function withDatabase(request: Request, work: (em: EntityManager) => Promise<Response>): Promise<Response> {
  const foreign = checkOrigin(request)
  if (foreign) return foreign
  try {
    const orm = await database()
    return await work(orm.em.fork())
  } catch (error) {
    // nobody is there to read this answer
    if (request.signal.aborted) return new Response(null, { status: 499 })
    console.error(error)
    return refuse(503, 'unavailable', 'The library of projects cannot be reached.', 'Your work stays in this page; it is kept as soon as the library is back.')
  }
}

export const uuid = z.string().uuid()
export const gone = () => refuse(404, 'gone', 'There is no such project.', 'Go back to the cabinet.')

/** A small PNG as the page sends it. */
export const base64Png = z
  .string()
  .max(600_000)
  .regex(/^iVBOR[A-Za-z0-9+/=]+$/, 'The picture is no PNG.')

export const pngAnswer = (png: Buffer) => new Response(new Uint8Array(png), { headers: { 'content-type': 'image/png', 'cache-control': 'no-cache' } })

/** A file's name from a header, percent-encoded, as it is shown; it never touches the file system. Cut between letters, never inside one. */
export function fileName(header: string | null, otherwise: string): string {
  try {
    const name = decodeURIComponent(header ?? '')
      .replace(/\p{Control}/gu, '')
      .split(/[\\/]/)
      .at(-1)
    return cutText(name ?? '', 120) || otherwise
  } catch {
    return otherwise
  }
}
