import { existsSync, readdirSync, readFileSync, renameSync, rmSync, statSync, writeFileSync } from 'node:fs'
import { basename, dirname, extname, join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { SHIPPED_FACES, type ShippedFace } from '../fonts/catalogue'
import { hashBytes } from '../src/cache/hash'
import { FontError, FontFace } from '../src/font/face'
import { unpackFont } from '../src/font/unpack'
import { FormatError, MAX_MODEL_BYTES, type MeshData } from '../src/format/mesh-data'
import type { ModelFormat } from '../src/format/model'
import { MTL_HEAD } from '../src/format/obj'
import { readPicture } from '../src/format/picture'
import type { Outline } from '../src/outline/outline'
import { asOneSolid, type Body } from '../src/repeat/united'
import type { Assembly } from '../src/solid/assembly'
import { solidFromTriangles } from '../src/solid/from-triangles'
import type { Solid } from '../src/solid/solid'
import { type AssetSource, MissingAssetError, type Value } from '../src/steps/step'
import { CommandError } from './errors'

export function readBytes(file: string, limit = MAX_MODEL_BYTES): Uint8Array {
  try {
    const stats = statSync(file)
    if (!stats.isFile()) throw new CommandError('file', `${file} is no file.`, 'Name a file: folders, pipes and devices are not read.', 2)
    if (stats.size > limit) throw new CommandError('too-large', `${file} is larger than ${limit / 1024 / 1024} MB.`, 'Choose a smaller file.', 2)
    return new Uint8Array(readFileSync(file))
  } catch (error) {
    if (error instanceof CommandError) throw error
    const reason = (error as NodeJS.ErrnoException).code === 'ENOENT' ? 'does not exist' : 'cannot be read'
    throw new CommandError('file', `${file} ${reason}.`, 'Check the path.', 2)
  }
}

/** Writes files whole or not at all: each beside its place first, then all into their places. */
function writeWhole(files: readonly (readonly [file: string, bytes: Uint8Array | string])[]): void {
  const beside = (file: string) => join(dirname(file), `.${basename(file)}.${process.pid}.part`)
  try {
    for (const [file, bytes] of files) writeFileSync(beside(file), bytes)
    for (const [file] of files) renameSync(beside(file), file)
  } catch (error) {
    for (const [file] of files) rmSync(beside(file), { force: true })
    const [[file]] = files
    if ((error as NodeJS.ErrnoException).code === 'ENOSPC')
      throw new CommandError('disk-full', `The disk is full: ${file} was not written.`, 'Make room on it, then try again.')
    throw new CommandError('file', `${file} cannot be written.`, 'Check that the folder exists and is yours.')
  }
}

const writeBytes = (file: string, bytes: Uint8Array | string): void => writeWhole([[file, bytes]])

/** Throws when a material file of that name is there that Kelvar did not write. */
function keepForeign(library: string): void {
  if (!existsSync(library) || readFileSync(library, 'utf8').startsWith(MTL_HEAD)) return
  throw new CommandError('file', `${library} is there already, and Kelvar did not write it.`, 'Give --out another name, or move that file away.')
}

const fontsFolder = join(dirname(fileURLToPath(import.meta.url)), '../fonts')

const shippedBytes = (face: ShippedFace) => readBytes(join(fontsFolder, face.file))

/** A font by file path (web fonts and collections unpacked, of several the first), or a shipped face; and its asset reference. */
export async function openFont(given: string | undefined): Promise<{ sha256: string; name: string; bytes: Uint8Array }> {
  const found = findFont(given)
  const [bytes] = await unpackFont(found.bytes).catch((error) => {
    throw error instanceof FontError ? new CommandError('font-unreadable', `${found.name}: ${error.message}`, error.remedy) : error
  })
  return bytes === found.bytes ? found : { sha256: hashBytes(bytes), name: found.name, bytes }
}

/** A shipped face by its id or name, or any font file as it is. */
export function findFont(given: string | undefined): { sha256: string; name: string; bytes: Uint8Array } {
  const wanted = given ?? SHIPPED_FACES[0].id
  const shipped = SHIPPED_FACES.find((f) => f.id === wanted.toLowerCase() || f.name.toLowerCase() === wanted.toLowerCase())
  if (shipped) return { sha256: shipped.sha256, name: shipped.name, bytes: shippedBytes(shipped) }
  const bytes = readBytes(wanted)
  return { sha256: hashBytes(bytes), name: wanted.split(/[\\/]/).pop() ?? wanted, bytes }
}

/** Fonts for evaluation: the given ones, then the shipped ones. Each is parsed once. */
export function assetSource(fonts: ReadonlyMap<string, Uint8Array> = new Map(), files: ReadonlyMap<string, Uint8Array> = new Map()): AssetSource {
  const open = new Map<string, Promise<FontFace>>()
  return {
    font(sha256) {
      let face = open.get(sha256)
      if (!face) {
        const shipped = SHIPPED_FACES.find((f) => f.sha256 === sha256)
        const bytes = fonts.get(sha256) ?? (shipped && shippedBytes(shipped))
        if (!bytes) return Promise.reject(new MissingAssetError(sha256))
        face = FontFace.open(bytes, sha256)
        open.set(sha256, face)
      }
      return face
    },
    file(sha256) {
      const bytes = files.get(sha256)
      return bytes ? Promise.resolve(bytes) : Promise.reject(new MissingAssetError(sha256))
    },
    async picture(sha256) {
      const { readWebp } = await import('./webp')
      return readPicture(await this.file(sha256), readWebp)
    },
  }
}

/** What a file holds, by its ending: an outline (.svg) or triangles (see MODEL_ENDINGS); with `pieces` bodies that lie face to face as an assembly of shards. */
export async function readValue(file: string, pieces = false): Promise<Value> {
  const ending = extname(file).toLowerCase()
  if (ending === '.svg' || ending === '.dxf') {
    const { readDrawing } = await import('../src/steps/source/vector-file/make')
    return told(await readDrawing(readBytes(file)))
  }
  const mesh = await readMesh(file)
  if (mesh.indices.length === 0) throw new FormatError('The file holds no triangles.')
  return (pieces ? await piecesOf(mesh) : undefined) ?? solidFromTriangles(mesh)
}

/** Bodies that lie face to face as the pieces they are; undefined where the file is one solid, or none. */
async function piecesOf(mesh: MeshData): Promise<Assembly | undefined> {
  const { bodiesInOrder, checkBodies } = await import('../src/check/bodies')
  const { bodies } = checkBodies(mesh)
  if (!bodies) return undefined
  const { asShards } = await import('../src/break/pieces')
  const solids = bodiesInOrder(mesh).map((body) => solidFromTriangles(body))
  return asShards(solids, { letters: [], lattice: Math.max(...solids.map(({ lattice }) => lattice)) })
}

/** A drawing's outline; what could not be read of it is said on standard error. */
function told({ outline, ignored }: { outline: Outline; ignored: readonly string[] }): Outline {
  if (ignored.length > 0) process.stderr.write(`kelvar: passed over: ${ignored.join(', ')}\n`)
  return outline
}

export async function readMesh(file: string): Promise<MeshData> {
  const ending = extname(file).toLowerCase()
  const bytes = readBytes(file)
  const format = MODEL_ENDINGS[ending]
  if (!format)
    throw new CommandError(
      'unknown-ending',
      `Files ending in “${ending || 'nothing'}” are not read as models.`,
      `Give a ${Object.keys(MODEL_ENDINGS).join(', ')} file.`,
      2,
    )
  if (ending === '.obj') {
    const { picturesOf, readObj } = await import('../src/format/obj')
    const mtl = libraryOf(bytes, file)
    return readObj(new TextDecoder().decode(bytes), mtl, await picturesOf(mtl, (name) => beside(file, name)))
  }
  return (await import('../src/format/model')).readModelAs(format, bytes)
}

/** An archive is of an OBJ file and its materials. */
const MODEL_ENDINGS: Readonly<Record<string, ModelFormat>> = {
  '.stl': 'stl',
  '.obj': 'obj',
  '.ply': 'ply',
  '.glb': 'gltf',
  '.gltf': 'gltf',
  '.3mf': '3mf',
  '.zip': 'obj',
}

/** The materials beside an OBJ file, in the same folder and under a name without a path; empty when there are none. */
function libraryOf(obj: Uint8Array, file: string): string {
  const named = /^mtllib[ \t]+(.+?)[ \t]*$/m.exec(new TextDecoder().decode(obj.subarray(0, 65_536)))?.[1]
  if (!named || basename(named) !== named) return ''
  const path = join(dirname(file), named)
  try {
    return new TextDecoder().decode(readBytes(path))
  } catch {
    // the model is read without
    return ''
  }
}

/** A file in the same folder, by its name whatever the size of its letters; undefined when there is none. */
function beside(file: string, name: string): Uint8Array | undefined {
  try {
    const found = readdirSync(dirname(file)).find((other) => other.toLowerCase() === name)
    return found === undefined ? undefined : readBytes(join(dirname(file), found))
  } catch {
    // the model is read without
    return undefined
  }
}

async function oneSolid(assembly: Assembly): Promise<{ readonly value: Solid; readonly bodies: readonly Body[] }> {
  const one = await asOneSolid(assembly, undefined, true)
  if (!one.ok) throw new CommandError(one.code, one.message, one.remedy)
  return { value: one.solid, bodies: one.bodies }
}

/** Writes a value by the file's ending; an assembly with its copies where the format has them, else as one solid. */
export async function writeValue(given: Value, file: string, name: string): Promise<void> {
  const ending = extname(file).toLowerCase()
  if (given.kind === 'assembly' && ending === '.glb') return writeBytes(file, await (await import('../src/format/glb')).writeGlb(given, name))
  if (given.kind === 'assembly' && ending === '.3mf') return writeBytes(file, (await import('../src/format/3mf')).write3mf(given, name))
  const { value, bodies } = given.kind === 'assembly' ? await oneSolid(given) : { value: given, bodies: [] }
  const refuse = (what: string, endings: string) =>
    new CommandError('unknown-ending', `${what} cannot be written as “${ending || 'a file without an ending'}”.`, `Use ${endings}.`)
  if (value.kind === 'outline') {
    if (ending === '.dxf') {
      writeBytes(file, (await import('../src/format/dxf')).writeDxf(value))
      return
    }
    if (ending !== '.svg') throw refuse('An outline', '.svg or .dxf, or add a form such as Extrude for .stl, .glb and others')
    writeBytes(file, (await import('../src/format/svg')).writeSvg(value))
  } else if (ending === '.stl') writeBytes(file, (await import('../src/format/stl')).writeStl(value))
  else if (ending === '.glb') writeBytes(file, await (await import('../src/format/glb')).writeGlb(value, name))
  else if (ending === '.ply') writeBytes(file, (await import('../src/format/ply')).writePly(value))
  else if (ending === '.3mf') writeBytes(file, (await import('../src/format/3mf')).write3mf(value, name))
  else if (ending === '.obj') {
    const library = `${basename(file, extname(file))}.mtl`
    const { obj, mtl, pictures } = (await import('../src/format/obj')).writeObj(value, name, library, bodies)
    keepForeign(join(dirname(file), library))
    writeWhole([
      [file, obj],
      [join(dirname(file), library), mtl],
      // named by what is in them
      ...Object.entries(pictures).map(([picture, bytes]): [string, Uint8Array] => [join(dirname(file), picture), bytes]),
    ])
  } else throw refuse('A solid', '.stl, .glb, .obj, .ply or .3mf')
}
