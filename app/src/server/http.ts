import { malformed } from '@kelvar/core/document/well-formed'
import { cutText } from '@kelvar/core/document/words'
import { isWholePng } from '@kelvar/core/format/picture'
import type { EntityManager } from '@mikro-orm/postgresql'
import { z } from 'zod'
import { counted } from './crowd'
import { database } from './database'
import { isLocal } from './host'
import { ReadersBusy } from './reading/pool'
import { type Spooled, spool } from './spool'

/** An answer that tells what is wrong and what to do; never internals. */
export function refuse(status: number, code: string, message: string, remedy: string): Response {
  return Response.json({ error: { code, message, remedy } }, { status })
}

const MAX_PICTURE_SIDE = 1024
const MAX_BODY = 8 * 1024 * 1024

/** A header that no other site's page can send without being asked first: for scripts, which send no origin. */
const OWN_HEADER = 'x-kelvar'

/** Refuses requests that another site's page or name could have made. */
export function checkOrigin(request: Request): Response | undefined {
  const host = request.headers.get('host') ?? ''
  if (!isLocal(host)) return refuse(403, 'host', 'This server answers on the local machine only.', 'Open it as http://127.0.0.1.')
  if (request.method === 'GET' || request.method === 'HEAD') return undefined
  const origin = request.headers.get('origin')
  const own = origin !== null ? origin === `http://${host}` : request.headers.get('sec-fetch-site') === 'same-origin' || request.headers.has(OWN_HEADER)
  return own
    ? undefined
    : refuse(
        403,
        'origin',
        'The request came from another site, or does not say where from.',
        `Use the page that Kelvar itself serves; scripts send the header ${OWN_HEADER}.`,
      )
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

/**
 * Does something with the body as a file on disk, which is gone afterwards; `large` answers when it grows beyond the limit, whatever length it
 * announced.
 */
export async function withSpooled(request: Request, limit: number, large: () => Response, work: (file: Spooled) => Promise<Response>): Promise<Response> {
  if (Number(request.headers.get('content-length') ?? 0) > limit) return large()
  const file = await spool(chunksOf(request.body), limit)
  if (!file) return large()
  try {
    return await work(file)
  } finally {
    await file.remove()
  }
}

/** The body ended before its end. */
class BrokenOff extends Error {}

async function* chunksOf(body: ReadableStream<Uint8Array> | null): AsyncGenerator<Uint8Array> {
  const reader = body?.getReader()
  try {
    while (reader) {
      const { done, value } = await reader.read().catch(() => {
        throw new BrokenOff()
      })
      if (done) return
      yield value
    }
  } finally {
    await reader?.cancel().catch(() => {})
  }
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
  const broken = malformed(value)
  if (broken)
    return {
      refusal: refuse(
        400,
        'malformed',
        `The request is wrong at ${broken.path.join('.') || 'its top'}: ${broken.what}.`,
        'Correct the text there, and try again.',
      ),
    }
  const parsed = schema.safeParse(value)
  if (parsed.success) return { body: parsed.data }
  const [issue] = parsed.error.issues
  return { refusal: refuse(422, 'invalid', `The request is wrong at ${issue.path.join('.') || 'its top'}: ${issue.message}`, 'Reload the page and try again.') }
}

const tooLarge = () => refuse(413, 'too-large', 'The project is larger than 8 MB without its fonts.', 'Split it into several projects.')

/** Runs a handler with its own entity manager; what fails inside becomes a plain answer and a line in the server's log. */
export async function withDatabase(request: Request, work: (em: EntityManager) => Promise<Response>): Promise<Response> {
  const answer = checkOrigin(request) ?? (await counted(() => answered(request, work)))
  // what is not said to be kept is asked for again
  if (!answer.headers.has('cache-control')) answer.headers.set('cache-control', 'no-store')
  return answer
}

async function answered(request: Request, work: (em: EntityManager) => Promise<Response>): Promise<Response> {
  try {
    const orm = await database()
    return await work(orm.em.fork())
  } catch (error) {
    // nobody is there to read this answer
    if (request.signal.aborted) return new Response(null, { status: 499 })
    if (error instanceof BrokenOff) return refuse(400, 'broken-off', 'The file did not come in whole.', 'Send it again.')
    if (error instanceof ReadersBusy) return refuse(503, 'busy', 'Kelvar is busy reading other files.', 'Try again in a few seconds.')
    console.error(error)
    if (isFull(error)) return refuse(507, 'disk-full', 'The disk is full: nothing of this was kept.', 'Make room on it, then try again.')
    if (isLost(error))
      return refuse(
        503,
        'unavailable',
        'The library of projects cannot be reached.',
        'Your work stays in this page; it is kept as soon as the library is back.',
      )
    return refuse(
      500,
      'fault',
      'Kelvar could not do this: a fault of its own, noted in its log.',
      'Nothing was changed. Try again, or undo the last change first.',
    )
  }
}

interface Caused {
  readonly code?: unknown
  readonly cause?: unknown
  readonly name?: unknown
  readonly message?: unknown
}

/** Whether any cause of an error fits. */
function hasCause(error: unknown, fits: (error: Caused) => boolean): boolean {
  for (let [at, depth] = [error, 0]; at !== null && typeof at === 'object' && depth < 8; depth++) {
    if (fits(at)) return true
    at = (at as Caused).cause
  }
  return false
}

/** PostgreSQL's classes for connections that fail (08), shut down (57P) or are too many (53300), and the network's own words. */
const isLost = (error: unknown) =>
  hasCause(
    error,
    ({ code, name, message }) =>
      name === 'ConnectionException' ||
      (typeof code === 'string' && /^(08...|57P0[123]|53300|ECONNREFUSED|ECONNRESET|EPIPE|ETIMEDOUT)$/.test(code)) ||
      (typeof message === 'string' && /Connection terminated|timeout exceeded when trying to connect|acquiring a connection/.test(message)),
  )

const isFull = (error: unknown) => hasCause(error, ({ code }) => code === 'ENOSPC' || code === '53100')

export const uuid = z.string().uuid()
/** A revision's number, as far as the library can count. */
export const revisionNumber = z
  .number()
  .int()
  .min(1)
  .max(2 ** 31 - 1)
export const gone = () => refuse(404, 'gone', 'There is no such project.', 'Go back to the cabinet.')

/** A small PNG as the page sends it, as its bytes. */
export const base64Png = z
  .string()
  .max(600_000)
  .regex(/^[A-Za-z0-9+/]+={0,2}$/, 'The picture is no PNG.')
  .transform((text) => Buffer.from(text, 'base64'))
  .refine((bytes) => isWholePng(bytes, MAX_PICTURE_SIDE), `The picture is no PNG of at most ${MAX_PICTURE_SIDE} pixels a side.`)

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
