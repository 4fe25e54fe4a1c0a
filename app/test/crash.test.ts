import { type ChildProcess, execFileSync, spawn } from 'node:child_process'
import { chownSync, existsSync, mkdtempSync, readdirSync, readFileSync, rmSync } from 'node:fs'
import { createServer } from 'node:net'
import { tmpdir, userInfo } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { newProject } from '@kelvar/core/project/new-project'
import type { ProjectDocument } from '@kelvar/core/document/schema'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'

const app = fileURLToPath(new URL('..', import.meta.url))
const root = fileURLToPath(new URL('../..', import.meta.url))
const asRoot = userInfo().uid === 0
const bin = readdirSync('/usr/lib/postgresql')
  .map((version) => `/usr/lib/postgresql/${version}/bin`)
  .sort()
  .at(-1) as string

/** PostgreSQL refuses to run as root; the system's own user runs it then. */
const postgres = (program: string, ...args: string[]) => {
  const command = [`${bin}/${program}`, ...args]
  return execFileSync(asRoot ? 'runuser' : command[0], asRoot ? ['-u', 'postgres', '--', ...command] : command.slice(1), {
    cwd: '/',
    stdio: ['ignore', 'ignore', 'pipe'],
  })
}

const freePort = () =>
  new Promise<number>((resolve) => {
    const server = createServer().listen(0, '127.0.0.1', () => {
      const { port } = server.address() as { port: number }
      server.close(() => resolve(port))
    })
  })

let data: string
let databasePort: number
let port: number
let server: ChildProcess | undefined

const startDatabase = () =>
  postgres(
    'pg_ctl',
    '-D',
    data,
    '-w',
    '-t',
    '60',
    '-l',
    `${data}/server.log`,
    '-o',
    `-p ${databasePort} -c listen_addresses=127.0.0.1 -c unix_socket_directories='${data}'`,
    'start',
  )

async function startServer(): Promise<void> {
  server = spawn('node', ['--import', 'tsx', 'serve.ts', '--port', String(port)], {
    cwd: app,
    stdio: 'ignore',
    detached: true,
    env: { ...process.env, NODE_ENV: 'production', KELVAR_DATABASE_URL: url() },
  })
  const begun = Date.now()
  while (
    !(await fetch(`${base()}/api/projects`).then(
      (r) => r.ok,
      () => false,
    ))
  ) {
    if (Date.now() - begun > 60_000) throw new Error('the server did not start')
    await wait(100)
  }
}

async function killServer(): Promise<void> {
  const running = server
  if (!running?.pid) return
  server = undefined
  const gone = new Promise((resolve) => running.once('exit', resolve))
  process.kill(-running.pid, 'SIGKILL')
  await gone
}

const url = () => `postgresql://kelvar@127.0.0.1:${databasePort}/kelvar_crash`
const base = () => `http://127.0.0.1:${port}`
const wait = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms))

beforeAll(async () => {
  // built by ./test before this; the crash is of the very server that people run
  expect(existsSync(join(app, '.next/BUILD_ID')), 'run scripts/build.sh first').toBe(true)
  data = mkdtempSync(join(tmpdir(), 'kelvar-crash-'))
  if (asRoot) {
    const [, uid, gid] = /^postgres:[^:]*:(\d+):(\d+)/m.exec(readFileSync('/etc/passwd', 'utf8')) ?? []
    chownSync(data, Number(uid), Number(gid))
  }
  ;[databasePort, port] = [await freePort(), await freePort()]
  postgres('initdb', '-D', data, '-U', 'kelvar', '--auth=trust', '--encoding=UTF8', '--locale=C.UTF-8')
  startDatabase()
  postgres('createdb', '-h', '127.0.0.1', '-p', String(databasePort), '-U', 'kelvar', 'kelvar_crash')
  execFileSync('npx', ['tsx', 'app/scripts/prepare-database.ts'], { cwd: root, env: { ...process.env, KELVAR_DATABASE_URL: url() }, stdio: 'ignore' })
  await startServer()
}, 180_000)

afterAll(async () => {
  await killServer()
  postgres('pg_ctl', '-D', data, '-m', 'immediate', 'stop')
  rmSync(data, { recursive: true, force: true })
})

const json = (method: string, body: unknown): RequestInit => ({
  method,
  headers: { 'content-type': 'application/json', 'x-kelvar': 'test' },
  body: JSON.stringify(body),
})

/** The document that a saver writes as its n-th. */
function written(saver: number, n: number): ProjectDocument {
  const document = newProject()
  document.name = `Saver ${saver}`
  const step = document.pieces[0].route.find((s) => s.kind === 'extrude')
  if (step) step.params.depth = n
  return document
}

interface Saver {
  readonly id: string
  /** what each acknowledged revision held */
  readonly acknowledged: Map<number, ProjectDocument>
}

/** Savers of one project each, saving as fast as they are answered until they are not answered any more; `count` of what was acknowledged. */
async function hammer(savers: number, most: number): Promise<{ count: () => number; done: Promise<Saver[]> }> {
  let count = 0
  const made = await Promise.all(
    Array.from({ length: savers }, async () => ((await (await fetch(`${base()}/api/projects`, json('POST', {}))).json()) as { id: string }).id),
  )
  const one = async (id: string, saver: number): Promise<Saver> => {
    const acknowledged = new Map<number, ProjectDocument>()
    let revision = 1
    for (let n = 1; n <= most; n++) {
      const document = written(saver, n)
      const response = await fetch(`${base()}/api/projects/${id}`, json('PUT', { baseRevision: revision, document })).catch(() => undefined)
      // an answer that is cut short acknowledges nothing
      const answer = response?.ok ? ((await response.json().catch(() => undefined)) as { revision: number } | undefined) : undefined
      if (!answer) break
      revision = answer.revision
      acknowledged.set(revision, document)
      count++
    }
    return { id, acknowledged }
  }
  return {
    count: () => count,
    done: Promise.all(made.map(one)),
  }
}

/** Every acknowledged revision is there and holds what it held. */
async function allThere(savers: readonly Saver[]): Promise<number> {
  let count = 0
  for (const { id, acknowledged } of savers) {
    const { revisions } = (await (await fetch(`${base()}/api/projects/${id}/revisions`)).json()) as { revisions: { id: string; number: number }[] }
    for (const [number, document] of acknowledged) {
      const found = revisions.find((r) => r.number === number)
      expect(found, `revision ${number} of ${id}`).toBeDefined()
      const kept = (await (await fetch(`${base()}/api/projects/${id}/revisions/${found?.id}`)).json()) as { document: ProjectDocument }
      expect(kept.document).toEqual(document)
      count++
    }
    const { revision } = (await (await fetch(`${base()}/api/projects/${id}`)).json()) as { revision: number }
    expect(revision).toBeGreaterThanOrEqual(Math.max(1, ...acknowledged.keys()))
  }
  return count
}

describe('a crash during saves', () => {
  it('of the server (kill -9) loses no revision that was acknowledged', async () => {
    for (const after of [5, 60]) {
      const { count, done } = await hammer(4, 90)
      while (count() < after) await wait(3)
      await killServer()
      const savers = await done
      await startServer()
      expect(await allThere(savers)).toBeGreaterThanOrEqual(after)
    }
  }, 180_000)

  it('of PostgreSQL (kill -9) loses none either; meanwhile the server says so and goes on when it is back', async () => {
    for (const after of [5, 60]) {
      const { count, done } = await hammer(4, 90)
      while (count() < after) await wait(3)
      await killDatabase()
      const savers = await done
      const answer = await fetch(`${base()}/api/projects/${savers[0].id}`, json('PUT', { baseRevision: 1, document: newProject() }))
      expect(answer.status).toBe(503)
      const { error } = (await answer.json()) as { error: { message: string; remedy: string } }
      // what is wrong and what to do, and nothing of what is inside
      expect(error).toMatchObject({
        message: 'The library of projects cannot be reached.',
        remedy: expect.stringContaining('kept as soon as the library is back'),
      })
      expect(JSON.stringify(error)).not.toMatch(/ECONN|sql|5432|at /i)
      startDatabase()
      const begun = Date.now()
      while (
        !(await fetch(`${base()}/api/projects`).then(
          (r) => r.ok,
          () => false,
        ))
      ) {
        expect(Date.now() - begun).toBeLessThan(20_000)
        await wait(100)
      }
      expect(await allThere(savers)).toBeGreaterThanOrEqual(after)
    }
  }, 180_000)
})

/** Kills PostgreSQL with all its processes, and waits until they are gone. */
async function killDatabase(): Promise<void> {
  const [postmaster] = readFileSync(join(data, 'postmaster.pid'), 'utf8').split('\n').map(Number)
  const all = [
    postmaster,
    ...execFileSync('sh', ['-c', `ps -o pid= --ppid ${postmaster} || true`], { encoding: 'utf8' })
      .split('\n')
      .map(Number),
  ].filter(Boolean)
  const alive = (pid: number) => {
    try {
      process.kill(pid, 0)
      return true
    } catch {
      return false
    }
  }
  for (const pid of all) if (alive(pid)) execFileSync('kill', ['-9', String(pid)])
  while (all.some(alive)) await wait(50)
}
