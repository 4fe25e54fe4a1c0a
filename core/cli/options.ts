import { parseArgs } from 'node:util'
import { CommandError } from './errors'

export type Options = ReturnType<typeof parseOptions>['values']

/** The options and positions on the command line. Throws CommandError for those there are not. */
export function parseOptions(args: string[]) {
  try {
    return parseArgs({
      args: joinNegativeNumbers(args),
      allowPositionals: true,
      options: {
        font: { type: 'string' },
        size: { type: 'string' },
        depth: { type: 'string' },
        profile: { type: 'string' },
        edge: { type: 'string' },
        out: { type: 'string' },
        piece: { type: 'string' },
        until: { type: 'string' },
        frame: { type: 'string' },
        frames: { type: 'string' },
        as: { type: 'string' },
        with: { type: 'string', multiple: true },
        set: { type: 'string', multiple: true },
        json: { type: 'boolean' },
        help: { type: 'boolean', short: 'h' },
      },
    })
  } catch (error) {
    throw new CommandError('usage', (error as Error).message.split('\n')[0], 'See kelvar --help.')
  }
}

/** parseArgs takes "--size -1" for two options; the person means a value, which is then refused with its reason. */
function joinNegativeNumbers(args: string[]): string[] {
  const out: string[] = []
  for (let i = 0; i < args.length; i++) {
    if (/^--\w+$/.test(args[i]) && /^-(\d|\.\d|Infinity)/.test(args[i + 1] ?? '')) out.push(`${args[i]}=${args[++i]}`)
    else out.push(args[i])
  }
  return out
}
