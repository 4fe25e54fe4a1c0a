import { type ChildProcess, fork } from 'node:child_process'
import { existsSync, readFileSync } from 'node:fs'
import { setPriority } from 'node:os'
import { join } from 'node:path'
import { isCrowded } from '../crowd'
import type { ReadingAnswer, ReadingJob, ReadProblem } from './messages'

/** So many files are read side by side. */
const SIDE_BY_SIDE = 2
/** So many more wait for their turn. */
const MAX_WAITING = 8
/** Who has waited so long, ms, is told that readers are busy, and may ask again. */
const PATIENCE = 1200
/** What one file may take. */
const LIMITS = { seconds: 20, megabytes: 1500 }
/** A reader that holds more than this when it is done is not used again. */
const TIDY_MEGABYTES = 600
/** What is read sooner than this, ms, is read as fast as it can; what takes longer goes behind the rest in a crowd, by so much (as nice has it). */
const AT_ONCE = 300
const BEHIND = 10
/** How often memory is looked at, ms. */
const LOOK = 50

/** All readers are reading, and as many files as may wait are waiting, or one has waited long enough. */
export class ReadersBusy extends Error {}

interface Reader {
  readonly process: ChildProcess
  /** resolves once it listens, rejects when it never did */
  readonly ready: Promise<void>
}

const idle: Reader[] = []
let reading = 0
const waiting: (() => void)[] = []

/**
 * Reads a file in a process of its own, which is ended when it takes more than the limits, or when the signal is given:
 * whatever a file holds, the server goes on answering. Rejects with ReadersBusy when too many wait, or it has waited too long, and with the signal's reason.
 */
export async function readApart(job: ReadingJob, signal?: AbortSignal, limits = LIMITS): Promise<ReadingAnswer> {
  signal?.throwIfAborted()
  if (reading >= SIDE_BY_SIDE) {
    if (waiting.length >= MAX_WAITING) throw new ReadersBusy()
    await turn(signal)
  } else reading++
  try {
    return await readIn(idleReader() ?? start(), job, signal, limits)
  } finally {
    const next = waiting.shift()
    if (next) next()
    else reading--
  }
}

/** A reader that waits for work; one that has ended by itself meanwhile is passed over. */
function idleReader(): Reader | undefined {
  for (let reader = idle.pop(); reader; reader = idle.pop()) if (reader.process.connected) return reader
  return undefined
}

/** Starts a reader before it is needed. */
export function warmReaders(): void {
  if (idle.length === 0 && reading === 0) idle.push(start())
}

/** Waits until another one is done, whose place is handed on; rejects with ReadersBusy after a while. */
function turn(signal: AbortSignal | undefined): Promise<void> {
  return new Promise((resolve, reject) => {
    const done = () => {
      clearTimeout(patience)
      signal?.removeEventListener('abort', stopped)
    }
    const go = () => {
      done()
      resolve()
    }
    const leave = (why: unknown) => {
      const at = waiting.indexOf(go)
      if (at < 0) return
      waiting.splice(at, 1)
      done()
      reject(why)
    }
    const stopped = () => leave(signal?.reason)
    const patience = setTimeout(() => leave(new ReadersBusy()), PATIENCE)
    waiting.push(go)
    signal?.addEventListener('abort', stopped, { once: true })
  })
}

function start(): Reader {
  // the file is run as it stands: a bundle of the server knows nothing of it
  const folder = ['src', 'app/src']
    .map((at) => join(/* turbopackIgnore: true */ process.cwd(), at))
    .find((at) => existsSync(join(at, 'server/reading/reader.ts')))
  const child = fork(/* turbopackIgnore: true */ join(folder ?? '', 'server/reading/reader.ts'), {
    execArgv: ['--import', 'tsx', `--max-old-space-size=${LIMITS.megabytes}`],
    serialization: 'advanced',
    stdio: ['ignore', 'ignore', 'inherit', 'ipc'],
    env: { PATH: process.env.PATH, HOME: process.env.HOME, NODE_ENV: 'production' },
  })
  child.on('error', () => {})
  const ready = new Promise<void>((resolve, reject) => {
    child.once('message', () => resolve())
    child.once('exit', () => reject(new Error('a reader did not start')))
  })
  ready.catch(() => {})
  // it does not keep a server from ending that has nothing else to do
  child.unref()
  child.channel?.unref()
  return { process: child, ready }
}

async function readIn(reader: Reader, job: ReadingJob, signal: AbortSignal | undefined, { seconds, megabytes }: typeof LIMITS): Promise<ReadingAnswer> {
  const { process: child } = reader
  let watch: NodeJS.Timeout | undefined
  let leave: (() => void) | undefined
  let over = false
  let behind = false
  try {
    return await new Promise<ReadingAnswer>((resolve, reject) => {
      leave = () => reject(signal?.reason)
      signal?.addEventListener('abort', leave, { once: true })
      reader.ready.then(() => {
        // what ends a reader in its work is the engine's own bound of memory
        child.once('exit', () => resolve({ ok: false, problem: tooMuchMemory(megabytes) }))
        const begun = performance.now()
        watch = setInterval(() => {
          // in a crowd whoever asks for anything else goes before those who have brought in what is hard to read
          if (!behind && isCrowded() && performance.now() - begun > AT_ONCE) behind = giveWay(child, BEHIND)
          if (performance.now() - begun > seconds * 1000) resolve({ ok: false, problem: tooLong(seconds) })
          else if (megabytesOf(child) > megabytes) resolve({ ok: false, problem: tooMuchMemory(megabytes) })
        }, LOOK)
        child.once('message', (answer) => {
          over = true
          resolve(answer as ReadingAnswer)
        })
        child.send(job, (error) => error && reject(error))
      }, reject)
    })
  } finally {
    clearInterval(watch)
    if (leave) signal?.removeEventListener('abort', leave)
    child.removeAllListeners('exit')
    child.removeAllListeners('message')
    // only who may do all things may go before again
    const asBefore = !behind || giveWay(child, 0)
    if (over && asBefore && child.connected && megabytesOf(child) < TIDY_MEGABYTES) idle.push(reader)
    else {
      child.kill('SIGKILL')
      // whoever waits for an answer gets it first: a process is started in one go
      setImmediate(() => idle.length === 0 && reading < SIDE_BY_SIDE && idle.push(start()))
    }
  }
}

const REMEDY = 'Simplify it where it was made, or bring in a part of it.'
const tooLong = (seconds: number): ReadProblem => ({ code: 'too-long', message: `Reading the file was ended after ${seconds} seconds.`, remedy: REMEDY })
const tooMuchMemory = (megabytes: number): ReadProblem => ({
  code: 'too-much-memory',
  message: `Reading the file took more than ${megabytes} MB of memory and was ended.`,
  remedy: REMEDY,
})

/** Lets a process go behind others by so much; false where that may not be, or it has ended. */
function giveWay({ pid }: ChildProcess, by: number): boolean {
  try {
    if (pid !== undefined) setPriority(pid, by)
    return pid !== undefined
  } catch {
    return false
  }
}

/** What a process holds, where the system tells (Linux); 0 elsewhere, where the time alone is bounded. */
function megabytesOf({ pid }: ChildProcess): number {
  try {
    // pages of 4 kB
    return (Number(readFileSync(`/proc/${pid}/statm`, 'utf8').split(' ')[1]) * 4096) / 1e6
  } catch {
    return 0
  }
}
