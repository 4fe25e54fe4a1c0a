import { existsSync } from 'node:fs'
import type { IncomingMessage, ServerResponse } from 'node:http'
import { join } from 'node:path'
import sirv from 'sirv'
import { ISOLATION, OF_SCRIPTS } from './headers'

const PREFIX = '/_next/static'

/**
 * Answers for the scripts, styles and modules that a build has written into a folder, packed as `scripts/build.sh` has packed them: packing two megabytes for each new visitor took the
 * server a third of a second. Whether it had an answer; what is not there is left to others.
 */
export function staticFiles(folder: string): (request: IncomingMessage, response: ServerResponse) => boolean {
  const send = sirv(folder, {
    gzip: true,
    immutable: true,
    maxAge: 31_536_000,
    setHeaders: (response) => {
      for (const { key, value } of [...ISOLATION, ...OF_SCRIPTS]) response.setHeader(key, value)
    },
  })
  return (request, response) => {
    const { url = '', method } = request
    if ((method !== 'GET' && method !== 'HEAD') || !/^\/_next\/static\/[^?#%]+\.(?:js|css|wasm|svg)(?:$|\?)/.test(url)) return false
    // a folder that is being built anew has lost what was in it
    const file = join(folder, url.slice(PREFIX.length).split('?')[0])
    if (!existsSync(file) || !existsSync(`${file}.gz`)) return false
    // whole files only: a part of a packed one is of no use, and a range that cannot be is not looked for
    delete request.headers.range
    request.url = url.slice(PREFIX.length)
    let sent = true
    send(request, response, () => {
      request.url = url
      sent = false
    })
    return sent
  }
}
