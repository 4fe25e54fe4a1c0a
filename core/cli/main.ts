import { CommandError } from './errors'
import { parseOptions } from './options'

const USAGE = `kelvar: three-dimensional lettering on the command line

  kelvar text "WORDS" [--font FILE|FACE] [--size MM] [--depth MM] [--profile NAME|FILE.json] [--edge MM] --out FILE
  kelvar outline FILE.svg|FILE.dxf|"WORDS" [--font FILE] --out FILE.svg|FILE.dxf
  kelvar build PROJECT.kelvar|PROJECT.json [--piece NAME] [--until STEP] [--frame N] --out FILE
  kelvar build PROJECT.kelvar|PROJECT.json [--piece NAME] --frames FIRST-LAST [--as ENDING] --out FOLDER
  kelvar bake PROJECT.kelvar|PROJECT.json [--piece NAME] --out FOLDER
  kelvar run STEP [FILE] [--with FILE]… [--set name=value]… --out FILE
  kelvar run repair FILE --out FILE
  kelvar check FILE
  kelvar steps

  FILE's ending picks the format. Outlines are written and read as .svg and .dxf; solids as .stl, .glb, .obj (with its .mtl), .ply
  and .3mf; read are these five, .gltf, and .zip with an .obj in it. Sizes are millimetres; the size of lettering is its cap height, its depth runs from back
  to face. --with names what a step works with besides, such as the words to cut out, placed as they lie in their files. Results go to FILE, facts to standard output (--json for machines), errors to standard error.
`

/** Runs the command line; the promise is the exit status. */
export async function main(args: string[]): Promise<number> {
  const json = args.includes('--json')
  // a reader that has seen enough, as in `kelvar steps | head`, is no fault
  process.stdout.on('error', (error: NodeJS.ErrnoException) => process.exit(error.code === 'EPIPE' ? 0 : 74))
  try {
    const { values, positionals } = parseOptions(args)
    const [command, ...rest] = positionals
    if (!command || values.help) {
      ;(command || values.help ? process.stdout : process.stderr).write(USAGE)
      return values.help ? 0 : 1
    }
    const commands = await import('./commands')
    const run = commands.COMMANDS.get(command)
    if (!run) throw new CommandError('unknown-command', `There is no command “${command}”.`, 'Use text, outline, build, bake, run, check or steps.')
    return await run(rest, values, json)
  } catch (error) {
    const { code, message, remedy, status } = describe(error)
    process.stderr.write(json ? `${JSON.stringify({ error: { code, message, remedy } })}\n` : `kelvar: ${message}\n  ${remedy} [${code}]\n`)
    return status
  }
}

function describe(error: unknown): { code: string; message: string; remedy: string; status: number } {
  if (error instanceof CommandError) return error
  const known = error as { code?: unknown; remedy?: unknown; message?: unknown }
  if (error instanceof Error && typeof known.code === 'string' && typeof known.remedy === 'string')
    return { code: known.code, message: error.message, remedy: known.remedy, status: 2 }
  return {
    code: 'internal',
    message: `Kelvar failed: ${error instanceof Error ? error.message : String(error)}`,
    remedy: 'This is a fault in Kelvar, not in your input.',
    status: 70,
  }
}
