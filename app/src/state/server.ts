import { z } from 'zod'

const refusal = z.object({ error: z.object({ message: z.string(), remedy: z.string() }) })

/** What the server said instead of doing what was asked, or that it does not answer: a sentence to show. */
export class ServerSays extends Error {
  constructor(
    message: string,
    /** HTTP status; 0 when there was no answer */
    readonly status: number,
  ) {
    super(message)
    this.name = 'ServerSays'
  }
}

/** The server's refusal in words, where a body holds one. */
export function refusalOf(body: unknown): string | undefined {
  const told = refusal.safeParse(body)
  return told.success ? `${told.data.error.message} ${told.data.error.remedy}` : undefined
}

/**
 * Asks the server and gives its answer, checked. Rejects with ServerSays where it refuses or does not answer (`silent` is then said), and with the
 * signal's reason when it is stopped.
 */
export async function ask<T>(
  path: string,
  answer: z.ZodType<T>,
  init: RequestInit = {},
  silent = 'The server does not answer. Nothing is lost; try again.',
): Promise<T> {
  let response: Response
  let body: unknown
  try {
    response = await fetch(path, init)
    body = response.status === 204 ? undefined : await response.json()
  } catch (error) {
    init.signal?.throwIfAborted()
    console.error(error)
    throw new ServerSays(silent, 0)
  }
  if (!response.ok) throw new ServerSays(refusalOf(body) ?? silent, response.status)
  const parsed = answer.safeParse(body)
  if (!parsed.success) throw new ServerSays(silent, response.status)
  return parsed.data
}

/** A request with a JSON body. */
export const json = (method: 'POST' | 'PUT' | 'PATCH', body: unknown): RequestInit => ({
  method,
  headers: { 'content-type': 'application/json' },
  body: JSON.stringify(body),
})

/** For answers of which nothing is wanted but that they came. */
export const anything = z.unknown()
