import { isLocal } from './host'

/** What is answered before anything else looks at a request. */
export interface TurnedAway {
  readonly status: number
  readonly text: string
  readonly headers: Readonly<Record<string, string>>
}

const METHODS = ['GET', 'HEAD', 'POST', 'PUT', 'PATCH', 'DELETE', 'OPTIONS']

/** Nothing of an answer from the door is a page. */
const INERT = {
  'content-type': 'text/plain; charset=utf-8',
  'content-security-policy': "default-src 'none'; frame-ancestors 'none'; sandbox",
  'x-content-type-options': 'nosniff',
  'cache-control': 'no-store',
}

/**
 * Looks at every request first, whatever its path: one that was sent to another name (as when a stranger's page has its name point to this
 * machine), by a method that nothing here has, or with an address that cannot be read, gets no further. Undefined for the others.
 */
export function atTheDoor({ method = '', url = '', host = '' }: { method?: string; url?: string; host?: string }): TurnedAway | undefined {
  const away = (status: number, text: string, more: Record<string, string> = {}): TurnedAway => ({ status, text: `${text}\n`, headers: { ...INERT, ...more } })
  if (!isLocal(host)) return away(403, 'This server answers on the local machine only. Open it as http://127.0.0.1.')
  if (!METHODS.includes(method)) return away(405, `There is nothing here to ${method.slice(0, 20)}.`, { allow: METHODS.join(', ') })
  try {
    if (!url.startsWith('/') || /[\0\r\n]/.test(decodeURIComponent(url))) throw new URIError()
  } catch {
    return away(400, 'The address cannot be read. Open Kelvar from its first page.')
  }
  return undefined
}
