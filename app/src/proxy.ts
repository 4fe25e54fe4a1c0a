import { type NextRequest, NextResponse } from 'next/server'
import { NONCE_HEADER } from '@/ui/nonce'

/**
 * Gives every page a Content Security Policy with a nonce of its own: only scripts that the server itself put into the page
 * run, only style sheets that it or those scripts put there hold, nothing is fetched from elsewhere, and no other page can
 * frame it. A style attribute may stand in the page, where a component has one: it reaches its own element only.
 */
export function proxy(request: NextRequest): NextResponse {
  const nonce = btoa(String.fromCharCode(...crypto.getRandomValues(new Uint8Array(16))))
  const policy = [
    `default-src 'self'`,
    `script-src 'self' 'nonce-${nonce}' 'strict-dynamic' 'wasm-unsafe-eval'`,
    `style-src 'self' 'nonce-${nonce}'`,
    `style-src-attr 'unsafe-inline'`,
    `img-src 'self' data: blob:`,
    `font-src 'self'`,
    `connect-src 'self'`,
    `worker-src 'self'`,
    `object-src 'none'`,
    `base-uri 'none'`,
    `form-action 'self'`,
    `frame-ancestors 'none'`,
  ].join('; ')
  const headers = new Headers(request.headers)
  // Next.js reads the nonce for its own scripts from here
  headers.set('content-security-policy', policy)
  headers.set(NONCE_HEADER, nonce)
  const response = NextResponse.next({ request: { headers } })
  response.headers.set('content-security-policy', policy)
  return response
}

export const config = { matcher: ['/((?!api/|_next/static/|icon.svg$).*)'] }
