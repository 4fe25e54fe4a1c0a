import { existsSync, mkdirSync, readdirSync, readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { z } from 'zod'
import { checkBodies } from '../src/check/bodies'
import { checkMesh } from '../src/check/check'
import { NONE } from '../src/solid/labels'
import { breather } from '../src/cache/breathing'
import { type BakeStore, isPartKey } from '../src/cache/bakes'
import { bakeHead } from '../src/format/bake'
import { readProjectFile } from '../src/format/project-file'
import { readDocumentText } from '../src/project/read'
import { momentOf, piecesAt } from '../src/document/moment'
import type { RouteStep } from '../src/document/schema'
import { MOST_FRAMES } from '../src/motion/track'
import { evaluateRoute, type RouteReport } from '../src/evaluate/route'
import { PROFILE_NAMES } from '../src/solid/profile-names'
import { assemblyBounds, assemblyTriangles, copiesIn } from '../src/solid/assembly'
import { latticeFor } from '../src/outline/lattice'
import { repairedModel } from '../src/repair/repaired-model'
import { triangleCount } from '../src/solid/solid'
import { fieldsOf, inputsOf } from '../src/steps/fields'
import { STEPS, stepKind } from '../src/steps/registry'
import { givenBy, type StepContext, type StepKind, type Value } from '../src/steps/step'
import { Memo } from '../src/cache/memo'
import { CommandError } from './errors'
import { thinnestWall } from '../src/join/thinnest'
import { assetSource, openFont, readBytes, readMesh, readValue, writeValue } from './io'
import type { Options } from './options'
import { nodeThreads } from './threads'

type Command = (args: string[], options: Options, json: boolean) => Promise<number>

export const COMMANDS: ReadonlyMap<string, Command> = new Map(Object.entries({ text, outline, build, bake, run, check, steps }))

/** Other cores help with what takes long. */
const threads = nodeThreads()

function numberOption(options: Options, name: 'size' | 'depth' | 'edge'): number | undefined {
  const given = options[name]
  if (given === undefined) return undefined
  const value = Number(given)
  if (given.trim() === '' || !Number.isFinite(value))
    throw new CommandError('bad-value', `--${name} must be a number of millimetres, not “${given}”.`, `Give for example --${name} 12.`)
  return value
}

function outFile(options: Options): string {
  if (!options.out) throw new CommandError('usage', 'No file to write to was named.', 'Add --out FILE, for example --out word.stl.')
  return options.out
}

async function text(args: string[], options: Options, json: boolean): Promise<number> {
  const out = outFile(options)
  if (args.length !== 1) throw new CommandError('usage', 'Give the words as one argument.', 'Put them in quotes: kelvar text "Tern Quay" --out word.stl.')
  const font = await openFont(options.font)
  const depth = numberOption(options, 'depth') ?? 12
  const route: RouteStep[] = [
    {
      id: 'lettering',
      kind: 'lettering',
      on: true,
      params: { text: args[0], font: { sha256: font.sha256, name: font.name }, size: numberOption(options, 'size') ?? 40 },
    },
    { id: 'extrude', kind: 'extrude', on: true, params: { depth, front: frontEdge(options, depth) } },
  ]
  if (/\.(svg|dxf)$/i.test(out)) route.pop()
  const report = await evaluateRoute(route, { assets: assetSource(new Map([[font.sha256, font.bytes]])), threads })
  return finish(report, out, args[0], json)
}

/** What Kelvar makes of a vector file or of words, as an outline. */
async function outline(args: string[], options: Options, json: boolean): Promise<number> {
  const out = outFile(options)
  const [given] = args
  if (args.length !== 1 || !given)
    throw new CommandError(
      'usage',
      'Give a drawing or the words as one argument.',
      'kelvar outline mark.svg --out mark.dxf, or kelvar outline "Tern Quay" --out words.svg.',
    )
  if (!/\.(svg|dxf)$/i.test(out)) throw new CommandError('unknown-ending', 'An outline is written as .svg or .dxf.', 'Let --out end in one of them.')
  if (/\.(svg|dxf)$/i.test(given)) {
    const value = await readValue(given)
    await writeValue(value, out, given)
    say({ file: out, ...facts(value) }, json)
    return 0
  }
  const font = await openFont(options.font)
  const route: RouteStep[] = [
    {
      id: 'lettering',
      kind: 'lettering',
      on: true,
      params: { text: given, font: { sha256: font.sha256, name: font.name }, size: numberOption(options, 'size') ?? 40 },
    },
  ]
  return finish(await evaluateRoute(route, { assets: assetSource(new Map([[font.sha256, font.bytes]])), threads }), out, given, json)
}

/** The front edge asked for: a shipped profile of --edge mm, or a file's points, scaled to --edge mm of inset if given. */
function frontEdge(options: Options, depth: number): Record<string, unknown> {
  const edge = numberOption(options, 'edge')
  const name = options.profile ?? 'chamfer'
  if ((PROFILE_NAMES as readonly string[]).includes(name)) {
    const size = edge ?? Math.min(1.5, depth / 4)
    return { profile: name, inset: size, height: size }
  }
  if (!/\.json$/i.test(name))
    throw new CommandError(
      'unknown-profile',
      `There is no profile “${name}”.`,
      `Use ${PROFILE_NAMES.join(', ')}, or a .json file of [inset mm, height mm] points.`,
    )
  let value: unknown
  try {
    value = JSON.parse(new TextDecoder().decode(readBytes(name)))
  } catch (error) {
    if (error instanceof CommandError) throw error
    throw new CommandError('bad-profile', `${name} is not valid JSON.`, 'Write a list such as [[0, 0], [1, 2], [2, 2]].', 2)
  }
  const points = z
    .array(z.tuple([z.number(), z.number()]))
    .min(2)
    .safeParse(value)
  if (!points.success)
    throw new CommandError('bad-profile', `${name} is no list of at least two [inset, height] points.`, 'Write a list such as [[0, 0], [1, 2], [2, 2]].', 2)
  const last = points.data[points.data.length - 1]
  const factor = edge !== undefined && last[0] > 0 ? edge / last[0] : 1
  return { profile: 'points', points: points.data, inset: last[0] * factor, height: Math.max(0, last[1] * factor) }
}

/** The pieces of a project that a file holds, and the one that is asked for by its name; the first when none is. Throws CommandError. */
async function projectPiece(file: string | undefined, options: Options, usage: string) {
  if (!file) throw new CommandError('usage', 'No project was named.', usage)
  const result = /\.kelvar$/i.test(file) ? await readProjectFile(readBytes(file)) : readDocumentText(new TextDecoder().decode(readBytes(file)))
  if (!result.ok) throw new CommandError(result.problem.code, result.problem.message, result.problem.remedy, 2)
  const { pieces, time } = result.document
  const whole = 'assets' in result ? (result as Extract<Awaited<ReturnType<typeof readProjectFile>>, { ok: true }>) : undefined
  const piece = options.piece ? pieces.find((p) => p.name === options.piece || p.id === options.piece) : pieces[0]
  if (!piece)
    throw new CommandError(
      'no-piece',
      options.piece ? `The project has no piece “${options.piece}”.` : 'The project has no pieces.',
      `Its pieces: ${pieces.map((p) => p.name).join(', ') || 'none'}.`,
    )
  return { piece, pieces, rate: time?.rate ?? RATE, assets: assetSource(whole?.assets, whole?.assets), bakes: whole?.bakes ?? new Map<string, Uint8Array>() }
}

async function build(args: string[], options: Options, json: boolean): Promise<number> {
  const out = outFile(options)
  const { piece, pieces, rate, assets, bakes: carried } = await projectPiece(args[0], options, 'kelvar build PROJECT.kelvar --out FILE.')
  // what was recorded is not recorded again
  const bakes: BakeStore = { read: async (key) => carried.get(key), write: async () => {} }
  if (options.until && !piece.route.some((s) => s.id === options.until))
    throw new CommandError('no-step', `The piece has no step “${options.until}”.`, `Its steps: ${piece.route.map((s) => s.id).join(', ')}.`)
  const memo = new Memo()
  const at = (frame: number) => {
    const then = piecesAt(pieces, frame)
    const { place } = then.find(({ id }) => id === piece.id) ?? piece
    return evaluateRoute(piece.route, {
      assets,
      bakes,
      memo,
      threads,
      until: options.until,
      pieces: then,
      piece: piece.id,
      place,
      tracks: piece.tracks,
      rate,
      moment: momentOf(frame, rate),
    })
  }
  if (options.frames === undefined) return finish(await at(options.frame === undefined ? 0 : frameOf(options.frame)), out, piece.name, json)
  const [first, last] = framesOf(options.frames)
  const digits = Math.max(4, String(last).length)
  mkdirSync(out, { recursive: true })
  for (let frame = first; frame <= last; frame++)
    await finish(await at(frame), join(out, `${String(frame).padStart(digits, '0')}.${options.as ?? 'glb'}`), piece.name, json)
  return 0
}

/** What is kept of a recording while it is made; gone once it is whole. */
const PART = '.bake-part'

/** Records every simulation of a piece into a folder, a file each. Those that are there already, of the same things and values, are left as they are; one that was broken off goes on. */
async function bake(args: string[], options: Options, json: boolean): Promise<number> {
  const out = outFile(options)
  const { piece, pieces, rate, assets, bakes: carried } = await projectPiece(args[0], options, 'kelvar bake PROJECT.kelvar --piece NAME --out DIR.')
  mkdirSync(out, { recursive: true })
  /** by the file's name: a damaged one is made anew under the same */
  const said = new Map<string, { readonly file: string; readonly bytes: number; readonly frames: number; readonly made: boolean }>()
  const tell = (key: string, bytes: Uint8Array, made: boolean) =>
    said.set(key, { file: `${key}.bake`, bytes: bytes.length, frames: bakeHead(bytes)?.frames ?? 0, made })
  const fileOf = (key: string) => join(out, `${key}${isPartKey(key) ? PART : '.bake'}`)
  /** whole or not at all */
  const put = (key: string, bytes: Uint8Array) => {
    const file = fileOf(key)
    writeFileSync(`${file}.new`, bytes)
    renameSync(`${file}.new`, file)
  }
  const bakes: BakeStore = {
    async read(key) {
      const file = fileOf(key)
      if (existsSync(file)) {
        const bytes = new Uint8Array(readFileSync(file))
        if (!isPartKey(key)) tell(key, bytes, false)
        return bytes
      }
      // the project's file has it already
      const bytes = carried.get(key)
      if (!bytes || !bakeHead(bytes)) return undefined
      put(key, bytes)
      tell(key, bytes, false)
      return bytes
    },
    async write(key, bytes) {
      put(key, bytes)
      if (isPartKey(key)) return
      tell(key, bytes, true)
      for (const name of readdirSync(out)) if (name.startsWith(`${key}-p`) && name.endsWith(PART)) rmSync(join(out, name))
    },
  }
  const then = piecesAt(pieces, 0)
  const { place } = then.find(({ id }) => id === piece.id) ?? piece
  const report = await evaluateRoute(piece.route, {
    assets,
    bakes,
    memo: new Memo(),
    threads,
    pieces: then,
    piece: piece.id,
    place,
    tracks: piece.tracks,
    rate,
    moment: momentOf(0, rate),
  })
  const failure = report.steps.find(({ state }) => state === 'failed')?.issues.find(({ severity }) => severity === 'failed')
  if (failure) throw new CommandError(failure.code, failure.message, failure.remedy)
  if (said.size === 0)
    throw new CommandError('nothing-to-bake', `Nothing of “${piece.name}” is simulated.`, 'Name a piece with a step such as Drop, Jelly, Balloon or Drape.')
  if (json) console.log(JSON.stringify({ piece: piece.name, bakes: [...said.values()] }))
  else
    for (const { file, bytes, frames, made } of said.values())
      console.log(`${file}: ${frames} moments, ${(bytes / 1000).toFixed(1)} kB${made ? '' : ', there already'}`)
  return 0
}

/** Frames a second of a project that names none. */
const RATE = 24

/** A frame's number. Throws CommandError for what is none. */
function frameOf(text: string): number {
  const frame = Number(text)
  if (/^\d+$/.test(text) && frame <= MOST_FRAMES) return frame
  throw new CommandError('bad-frame', `“${text}” is no frame.`, `Frames are whole numbers from 0 to ${MOST_FRAMES.toLocaleString('en')}.`)
}

/** The first and the last of a range of frames. Throws CommandError for what is none. */
function framesOf(text: string): [number, number] {
  const [first, last = first] = text.split('-').map((part) => frameOf(part.trim()))
  if (text.split('-').length <= 2 && first <= last) return [first, last]
  throw new CommandError('bad-frame', `“${text}” is no range of frames.`, 'Write the first and the last, such as 0-47.')
}

async function run(args: string[], options: Options, json: boolean): Promise<number> {
  const out = outFile(options)
  const [name, file] = args
  if (name === 'repair') return repair(file, out, json)
  const kind = stepKind(name ?? '')
  if (!kind) throw new CommandError('unknown-step', `There is no step “${name ?? ''}”.`, `Steps: ${STEPS.map((s) => s.kind).join(', ')}.`)
  if (kind.takes.length > 0 && !file)
    throw new CommandError('usage', `${kind.title} works on a file, but none was named.`, `kelvar run ${name} FILE --out FILE.`)
  const params = kind.params.safeParse(withASay(kind, settings(options.set ?? [])))
  if (!params.success) {
    const [issue] = params.error.issues
    throw new CommandError('bad-value', `${issue.path.join('.') || 'The settings'}: ${issue.message}`, `See kelvar steps --json for ${kind.kind}.`)
  }
  const value = file ? await readValue(file, kind.takes.includes('assembly')) : undefined
  const inputs = await withFiles(kind, params.data as Record<string, unknown>, options.with ?? [])
  if (kind.family === 'Join') {
    demandSound(value, file)
    inputs.others?.forEach((other, i) => demandSound(other, options.with?.[i]))
  }
  const context: StepContext = { assets: assetSource(), inputs, memo: new Memo(), progress: () => {}, breathe: breather(undefined), threads }
  const outcome = await kind.evaluate(value, params.data, context)
  if (!outcome.ok) throw new CommandError(outcome.issue.code, outcome.issue.message, outcome.issue.remedy)
  for (const issue of outcome.issues) process.stderr.write(`kelvar: ${issue.message}\n  ${issue.remedy} [${issue.code}]\n`)
  await writeValue(outcome.value, out, file ?? kind.title)
  say({ file: out, ...facts(outcome.value) }, json)
  return 0
}

/** Mends a model from elsewhere and says what was found and done; what is unsound after that is not written. */
async function repair(file: string | undefined, out: string, json: boolean): Promise<number> {
  if (!file) throw new CommandError('usage', 'No model was named.', 'kelvar run repair FILE --out FILE.')
  const mesh = await readMesh(file)
  const lattice = latticeFor(mesh.positions.reduce((most, v) => Math.max(most, Math.abs(v)), 0))
  const { solid, check, repaired, united } = await repairedModel(mesh, lattice)
  const { positions: _p, indices: _i, source: _s, found: _f, ...found } = repaired
  const { sound, findings } = check
  if (!sound) {
    const [{ message, count, places }] = findings
    throw new CommandError(
      'unsound',
      `${file} cannot be repaired exactly: ${message} (${count}×, first at ${places[0].map((v) => v.toFixed(3)).join(', ')} mm)`,
      'Mend it where it was made. What was found is listed by kelvar check.',
    )
  }
  await writeValue(solid, out, file)
  say({ file: out, ...found, united, ...facts(solid) }, json)
  return 0
}

/** Joins are certified on the strength of what goes into them. Throws CommandError for a solid that is none, with the place. */
function demandSound(value: Value | undefined, file: string | undefined): void {
  if (value?.kind !== 'solid') return
  const { sound, findings } = checkMesh(value)
  if (sound) return
  const [{ message, count, places }] = findings
  throw new CommandError(
    'unsound',
    `${file ?? 'The file'} is no sound solid: ${message} (${count}×, first at ${places[0].map((v) => v.toFixed(3)).join(', ')} mm)`,
    'See all of it with kelvar check; only sound solids can be joined.',
  )
}

/** The files given by --with as the step's inputs: one each, in their order, all that are left for the last. */
async function withFiles(kind: StepKind, params: Record<string, unknown>, files: readonly string[]): Promise<Record<string, Value[]>> {
  const inputs = inputsOf(kind, params)
  if (files.length > 0 && inputs.length === 0)
    throw new CommandError('usage', `${kind.title} works with nothing besides its file.`, 'Leave --with out, or see its settings in kelvar steps.')
  const values = await Promise.all(files.map((file) => readValue(file)))
  return Object.fromEntries(inputs.map(({ name }, i) => [name, i === inputs.length - 1 ? values.slice(i) : values.slice(i, i + 1)]))
}

/** x,y,z */
const PLACE = /^-?\d+(\.\d+)?,-?\d+(\.\d+)?,-?\d+(\.\d+)?$/

/** name=value pairs to nested params; values are JSON where they parse as such, or places as x,y,z, else text. "front.inset=2" goes inside. */
/** A value that is set has a say: what it depends on is set with it, unless that is set as well. */
function withASay(kind: StepKind, given: Record<string, unknown>): Record<string, unknown> {
  const out = { ...given }
  const fields = new Map(fieldsOf(kind))
  for (const name of Object.keys(given)) {
    const when = fields.get(name)?.when
    if (when && !(when.field in out) && !when.is.includes(String(fields.get(when.field)?.default))) out[when.field] = when.is[0]
  }
  return out
}

function settings(pairs: readonly string[]): Record<string, unknown> {
  const out: Record<string, unknown> = {}
  for (const pair of pairs) {
    const at = pair.indexOf('=')
    if (at < 1) throw new CommandError('usage', `“${pair}” is no setting.`, 'Write --set name=value.')
    const path = pair.slice(0, at).split('.')
    if (path.some((key) => key === '__proto__' || key === '')) throw new CommandError('usage', `“${pair}” is no setting.`, 'Write --set name=value.')
    let value: unknown = pair.slice(at + 1)
    if (PLACE.test(value as string)) value = `[${value as string}]`
    try {
      value = JSON.parse(value as string)
    } catch {
      // plain text
    }
    let target = out
    for (const key of path.slice(0, -1)) {
      const inner = (target[key] ??= {})
      if (typeof inner !== 'object' || inner === null)
        throw new CommandError('usage', `“${pair}” sets a part of a plain value.`, 'Set either the whole or its parts.')
      target = inner as Record<string, unknown>
    }
    target[path[path.length - 1]] = value
  }
  return out
}

async function check(args: string[], _options: Options, json: boolean): Promise<number> {
  const [file] = args
  if (!file) throw new CommandError('usage', 'No file was named.', 'kelvar check FILE.', 2)
  const mesh = await readMesh(file)
  const report = checkBodies(mesh)
  // of what is open nothing can be said
  const wall = report.closed && !report.bodies ? thinnestWall(mesh)?.thickness : undefined
  const measured = Number.isFinite(wall) ? { wall } : {}
  const { findings, ...rest } = { ...report, ...measured }
  if (json) process.stdout.write(`${JSON.stringify({ ...report, ...measured })}\n`)
  else {
    say(rest, false)
    for (const f of findings) process.stdout.write(`  ${f.message} (${f.count}×, first at ${f.places[0].map((v) => v.toFixed(3)).join(', ')})\n`)
  }
  return report.sound ? 0 : 1
}

async function steps(_args: string[], _options: Options, json: boolean): Promise<number> {
  if (json) {
    const list = STEPS.map(({ kind, version, family, title, summary, takes, gives, params }) => ({
      kind,
      version,
      family,
      title,
      summary,
      takes,
      gives: takes.length > 0 ? [...new Set(takes.map((kind) => givenBy({ gives }, kind)))] : [givenBy({ gives }, undefined)],
      params: z.toJSONSchema(params, { io: 'input' }),
    }))
    process.stdout.write(`${JSON.stringify(list, null, 2)}\n`)
    return 0
  }
  for (const step of STEPS) {
    process.stdout.write(
      `${step.kind}  (${step.family}: ${step.takes.join(' or ') || 'nothing'} → ${[...new Set(step.takes.map((takes) => givenBy(step, takes)))].join(' or ') || givenBy(step, undefined)})\n  ${step.summary}\n`,
    )
    for (const [name, field] of fieldsOf(step))
      process.stdout.write(`    ${name}: ${field.title ?? ''}${field.unit ? `, ${field.unit}` : ''} (${JSON.stringify(field.default)})\n`)
  }
  return 0
}

async function finish(report: RouteReport, out: string, name: string, json: boolean): Promise<number> {
  for (const step of report.steps) {
    for (const issue of step.issues) {
      if (issue.severity === 'failed') throw new CommandError(issue.code, `${step.id}: ${issue.message}`, issue.remedy)
      process.stderr.write(`kelvar: ${step.id}: ${issue.message}\n  ${issue.remedy} [${issue.code}]\n`)
    }
  }
  if (!report.value) throw new CommandError('nothing-made', 'The route makes nothing.', 'Switch a source step on.')
  await writeValue(report.value, out, name)
  say({ file: out, ...facts(report.value), milliseconds: Math.round(report.ms) }, json)
  return 0
}

function facts(value: Value): Record<string, unknown> {
  if (value.kind === 'outline') return { shapes: value.regions.length, letters: value.letters.length }
  if (value.kind === 'assembly') {
    const box = assemblyBounds(value)
    return {
      copies: copiesIn(value),
      ...(value.placements.shard.some((shard) => shard !== NONE) ? { pieces: value.placements.shard.filter((shard) => shard !== NONE).length } : {}),
      triangles: assemblyTriangles(value),
      closed: value.units.every((unit) => checkMesh(unit, { deep: false }).sound),
      size: [0, 1, 2].map((k) => box[k + 3] - box[k]),
    }
  }
  const { sound, parts, volume, area, size } = checkMesh(value, { deep: false })
  return { triangles: triangleCount(value), closed: sound, parts, volume, area, size }
}

function say(facts: Record<string, unknown>, json: boolean): void {
  if (json) {
    process.stdout.write(`${JSON.stringify(facts)}\n`)
    return
  }
  const shown = (v: unknown): string => (typeof v === 'number' ? String(Number(v.toFixed(3))) : Array.isArray(v) ? v.map(shown).join(' × ') : String(v))
  const units: Record<string, string> = { volume: ' mm³', area: ' mm²', size: ' mm', wall: ' mm', milliseconds: '' }
  for (const [name, value] of Object.entries(facts)) process.stdout.write(`${name}: ${shown(value)}${units[name] ?? ''}\n`)
}
