import { createServer } from 'node:http'
import { parseArgs } from 'node:util'
import next from 'next'
import { atTheDoor } from './src/server/door'

/** Serves the built application on loopback. Every request passes the door first; the rest is Next.js. */
const { port: asked } = parseArgs({ options: { port: { type: 'string', default: '3717' } } }).values
const port = Number(asked)
const hostname = '127.0.0.1'
// what is bundled and what runs beside it must agree that this is no development server
Object.assign(process.env, { NODE_ENV: 'production' })

const app = next({ dev: false, dir: import.meta.dirname, hostname, port })
await app.prepare()
const handle = app.getRequestHandler()

const server = createServer((request, response) => {
  const { method, url } = request
  const away = atTheDoor({ method, url, host: request.headers.host })
  if (!away) {
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
server.listen(port, hostname)
for (const signal of ['SIGINT', 'SIGTERM'] as const) process.on(signal, () => process.exit(0))
