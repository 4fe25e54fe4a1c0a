import { fork } from 'node:child_process'
import { fileURLToPath } from 'node:url'

/** Nothing has been asked of the server for so long, ms. */
const QUIET = 800
const LOOK_AGAIN = 200
/** What one project may take. */
const LIMITS = { ms: 60_000, megabytes: 2000 }
/** The maker goes when it has had nothing to do for so long, ms. */
const IDLE = 5 * 60_000

/** What the maker tells: which project it has begun, or that it is through with it, whether it has a look now and whether there are more. */
export type Report = { readonly begun: string } | { readonly made: boolean; readonly more: boolean }

/** The process that makes looks, as far as it is used, so that another may stand in for it. */
export interface Maker {
  /** with the projects that cannot be made */
  send(without: readonly string[]): unknown
  on(event: 'message', hears: (report: Report) => void): unknown
  on(event: 'exit' | 'error', hears: () => void): unknown
  kill(signal: 'SIGKILL'): unknown
}

function forked(): Maker {
  const child = fork(fileURLToPath(new URL('./maker.ts', import.meta.url)), {
    cwd: fileURLToPath(new URL('../../..', import.meta.url)),
    execArgv: ['--import', 'tsx', `--max-old-space-size=${LIMITS.megabytes}`],
    stdio: ['ignore', 'ignore', 'inherit', 'ipc'],
    env: { PATH: process.env.PATH, HOME: process.env.HOME, NODE_ENV: 'production', KELVAR_DATABASE_URL: process.env.KELVAR_DATABASE_URL },
  })
  // it does not keep the server from ending
  child.unref()
  child.channel?.unref()
  return child as Maker
}

/**
 * Projects that nobody has opened yet, as when files have come in, get the look of their first piece while nothing else is asked of the server, in a process of the lowest
 * priority: one after another, each given up after a minute. `asked` is to hear of every request.
 */
export function looksInQuiet(begin: () => Maker = forked): { readonly asked: (method: string) => void; readonly end: () => void } {
  let [last, worked, wanted] = [Date.now(), Date.now(), true]
  let maker: Maker | undefined
  let busy: NodeJS.Timeout | undefined
  /** those that have been begun and have no look: the last one perhaps not yet */
  const without: string[] = []
  const rest = (more: boolean) => {
    clearTimeout(busy)
    busy = undefined
    worked = Date.now()
    wanted ||= more
  }
  const end = () => {
    const gone = maker
    maker = undefined
    gone?.kill('SIGKILL')
  }
  const started = (): Maker => {
    const made = begin()
    made.on('message', (report) => {
      // what one that was given up has told before it went
      if (maker !== made) return
      if ('begun' in report) {
        without.push(report.begun)
        return
      }
      if (report.made) without.pop()
      rest(report.more)
    })
    // it took too much memory, or does not start
    for (const event of ['exit', 'error'] as const)
      made.on(event, () => {
        if (maker !== made) return
        maker = undefined
        rest(false)
      })
    return made
  }
  const timer = setInterval(() => {
    const now = Date.now()
    if (maker && !busy && now - worked > IDLE) end()
    if (!wanted || busy || now - last < QUIET) return
    wanted = false
    busy = setTimeout(() => {
      end()
      rest(true)
    }, LIMITS.ms)
    busy.unref()
    maker ??= started()
    maker.send(without)
  }, LOOK_AGAIN)
  timer.unref()
  return {
    asked(method) {
      last = Date.now()
      // what only asks brings nothing new
      if (method !== 'GET' && method !== 'HEAD') wanted = true
    },
    end() {
      clearInterval(timer)
      clearTimeout(busy)
      end()
    },
  }
}
