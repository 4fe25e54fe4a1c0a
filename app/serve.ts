import { createServer, type ServerResponse } from 'node:http'
import { join } from 'node:path'
import { parseArgs } from 'node:util'
import next from 'next'
import { atTheDoor } from './src/server/door'
import { looksInQuiet } from './src/server/first-looks/in-quiet'
import { staticFiles } from './src/server/static-files'

/** Serves the built application on loopback. Every request passes the door first; the rest is Next.js. */
const { port: asked } = parseArgs({ options: { port: { type: 'string', default: '3717' } } }).values
const port = Number(asked)
const hostname = '127.0.0.1'
// what is bundled and what runs beside it must agree that this is no development server
Object.assign(process.env, { NODE_ENV: 'production' })

const app = next({ dev: false, dir: import.meta.dirname, hostname, port })
await app.prepare()
const handle = app.getRequestHandler()
const fromBuild = staticFiles(join(import.meta.dirname, '.next', 'static'))

/** A page of a project that is not there says so; its status is for whoever reads that alone. Next.js has sent it before the page knows. */
async function unlessThere(id: string, response: ServerResponse): Promise<void> {
  const answer = await fetch(`http://${hostname}:${port}/api/projects/${encodeURIComponent(id)}`, { method: 'HEAD' }).catch(() => undefined)
  if (answer?.status !== 404) return
  const writeHead = response.writeHead.bind(response) as (status: number, ...of: unknown[]) => ServerResponse
  response.writeHead = ((status: number, ...of: unknown[]) => writeHead(status === 200 ? 404 : status, ...of)) as typeof response.writeHead
}

const looks = looksInQuiet()

const server = createServer(async (request, response) => {
  const { method, url } = request
  looks.asked(method ?? '')
  const away = atTheDoor({ method, url, host: request.headers.host })
  if (!away) {
    if (fromBuild(request, response)) return
    const project = method === 'GET' && !request.headers.rsc && /^\/project\/([^/?#]+)/.exec(url ?? '')
    if (project) await unlessThere(decodeURIComponent(project[1]), response)
    void handle(request, response).catch((error: unknown) => {
      console.error(error)
      if (!response.headersSent) response.writeHead(500).end()
      else response.destroy()
    })
    return
  }
  response.writeHead(away.status, { ...away.headers, connection: 'close' }).end(method === 'HEAD' ? undefined : away.text)
})
// a body that comes in by drops, or headers that never end, are given up
server.requestTimeout = 15 * 60 * 1000
server.headersTimeout = 20_000

/** What pages are made by is loaded, and has run, before the first is asked for. */
async function warmUp(): Promise<void> {
  const at = `http://${hostname}:${port}`
  const listed = (await (await fetch(`${at}/api/projects`)).json()) as { projects?: readonly { id: string }[] }
  await (await fetch(`${at}/project/${listed.projects?.[0]?.id ?? 'none'}`)).text()
}
server.listen(port, hostname, () => void warmUp().catch(() => undefined))
for (const signal of ['SIGINT', 'SIGTERM'] as const) process.on(signal, () => process.exit(0))
