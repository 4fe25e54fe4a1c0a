import { type ChildProcess, fork, spawn } from 'node:child_process'
import { rmSync } from 'node:fs'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { build } from 'esbuild'

const root = fileURLToPath(new URL('../..', import.meta.url))
const bundle = join(root, 'core/cli/bundle.mjs')

/** What a call said, its exit status, and how long it took, ms. */
export interface Called {
  readonly status: number | null
  readonly out: string
  readonly err: string
  readonly ms: number
}

/** Takes calls one after the other when it has a parent to hear them from; else makes the one it is started with. */
const SERVED = `
  import { main } from './main'
  if (!process.send) process.exitCode = await main(process.argv.slice(2))
  else {
    let said
    for (const name of ['stdout', 'stderr']) {
      process[name].setMaxListeners(0)
      process[name].write = (text) => ((said[name] += text), true)
    }
    process.on('message', async (args) => {
      said = { stdout: '', stderr: '' }
      const begun = performance.now()
      const status = await main(args)
      process.send({ status, out: said.stdout, err: said.stderr, ms: performance.now() - begun })
    })
  }`

/**
 * The command line, bundled once, in processes that take one call after the other: a hundred calls need not start as many, and read and compile all of it in each.
 * What must find nothing at hand that an earlier call left is called `alone`, in a process of its own.
 */
export class CommandLine {
  private readonly lines: readonly ChildProcess[]
  private readonly idle: ChildProcess[]
  private readonly waiting: ((line: ChildProcess) => void)[] = []

  /** With so many processes. */
  static async open(lines: number): Promise<CommandLine> {
    const stdin = { contents: SERVED, resolveDir: join(root, 'core/cli'), loader: 'ts' as const }
    await build({ stdin, bundle: true, platform: 'node', format: 'esm', packages: 'external', outfile: bundle, logLevel: 'error' })
    return new CommandLine(lines)
  }

  private constructor(lines: number) {
    this.lines = Array.from({ length: lines }, () => fork(bundle, { cwd: root }))
    this.idle = [...this.lines]
  }

  /** Rejects when the process ends in the middle of it. */
  async call(args: readonly string[]): Promise<Called> {
    const line = this.idle.pop() ?? (await new Promise<ChildProcess>((resolve) => this.waiting.push(resolve)))
    const called = await new Promise<Called>((resolve, reject) => {
      const ended = (status: number | null) => reject(new Error(`kelvar ${args.join(' ')} ended its process (${status})`))
      line.once('exit', ended)
      line.once('message', (message) => {
        line.off('exit', ended)
        resolve(message as Called)
      })
      line.send(args)
    })
    const next = this.waiting.shift()
    if (next) next(line)
    else this.idle.push(line)
    return called
  }

  alone(args: readonly string[]): Promise<Called> {
    return started(bundle, args)
  }

  close(): void {
    // also one that a call that took too long still holds
    for (const line of this.lines) line.kill()
    rmSync(bundle, { force: true })
  }
}

/** A program that is started with arguments, to its end. */
export function started(program: string, args: readonly string[]): Promise<Called> {
  const begun = performance.now()
  const child = spawn(process.execPath, [program, ...args], { cwd: root })
  let out = ''
  let err = ''
  child.stdout.on('data', (data) => (out += data))
  child.stderr.on('data', (data) => (err += data))
  return new Promise((resolve) => child.on('close', (status) => resolve({ status, out, err, ms: performance.now() - begun })))
}
