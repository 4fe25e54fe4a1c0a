import { strToU8 } from 'fflate'
import { colourOf, type Look, rgbOf, UNDRESSED } from '../look/material'
import { normalsOf, uvsOf } from '../solid/shading'
import { type Solid, surfacesOf } from '../solid/solid'
import { archive, archiveParts } from './archive'
import { MeshBuilder } from './mesh-builder'
import { FormatError, MAX_MODEL_BYTES, type MeshData, MOST_TRIANGLES } from './mesh-data'
import { type ModelPicture, modelPicture, pictured } from './model-picture'

/** What a material file begins with that Kelvar wrote. */
export const MTL_HEAD = '# Made by Kelvar'

/**
 * Wavefront OBJ with its MTL: positions, texture coordinates and normals, a material for every surface. Millimetres, Y up as the
 * solid stands. Numbers are written so that reading them gives the same 32-bit values back. `library` is the MTL's file name. `bodies` are
 * stretches of its triangles, all of them together, that become objects by their names.
 */
export function writeObj(
  solid: Solid,
  name: string,
  library: string,
  bodies: readonly { readonly name: string; readonly triangles: number }[] = [],
): { obj: string; mtl: string /** pictures that the MTL names, by their file names */; pictures: Record<string, Uint8Array> } {
  const { surfaces, of } = surfacesOf(solid)
  const called = surfaces.map((s, i) => `${s.name.replace(/[^\p{L}\p{N}]+/gu, '_')}_${i + 1}`)
  const whole = name.replace(/\s+/g, '_') || 'piece'
  const lines: string[] = ['# Made by Kelvar, millimetres', `mtllib ${library}`]
  const { positions: p, indices } = solid
  const [at, facing] = [uvsOf(solid), normalsOf(solid)]
  const { pictureUv } = solid.attributes
  for (let i = 0; i < p.length; i += 3) lines.push(`v ${p[i]} ${p[i + 1]} ${p[i + 2]}`)
  // corners that agree share their coordinates and normals
  const coordinates = new Map<string, number>()
  const normals = new Map<string, number>()
  const numbered = (known: Map<string, number>, key: string) => {
    let n = known.get(key)
    if (n === undefined) known.set(key, (n = known.size + 1))
    return n
  }
  const ends: { readonly called: string; readonly end: number }[] = []
  for (const { name: own, triangles } of bodies) ends.push({ called: own.replace(/\s+/g, '_') || whole, end: (ends.at(-1)?.end ?? 0) + triangles })
  if (ends.at(-1)?.end !== of.length) ends.splice(0, ends.length, { called: whole, end: of.length })
  const objects = ends.map(({ called: object }) => ({ object, faces: surfaces.map((): string[] => []) }))
  for (let t = 0, body = 0; t < of.length; t++) {
    while (t >= ends[body].end) body++
    const corners = [0, 1, 2].map((k) => {
      const c = 3 * t + k
      // heights in pictures are counted from below
      const place = pictureUv && surfaces[of[t]].material.picture ? [pictureUv[2 * c], 1 - pictureUv[2 * c + 1]] : [at[2 * c], at[2 * c + 1]]
      const uv = numbered(coordinates, `${short(place[0])} ${short(place[1])}`)
      const n = numbered(normals, `${short(facing[3 * c])} ${short(facing[3 * c + 1])} ${short(facing[3 * c + 2])}`)
      return `${indices[c] + 1}/${uv}/${n}`
    })
    objects[body].faces[of[t]].push(`f ${corners.join(' ')}`)
  }
  for (const key of coordinates.keys()) lines.push(`vt ${key}`)
  for (const key of normals.keys()) lines.push(`vn ${key}`)
  for (const { object, faces } of objects) {
    lines.push(`o ${object}`)
    faces.forEach((list, i) => {
      if (list.length === 0) return
      lines.push(`g ${called[i]}`, `usemtl ${called[i]}`)
      for (const line of list) lines.push(line)
    })
  }
  const mtl = [MTL_HEAD]
  const pictures: Record<string, Uint8Array> = {}
  surfaces.forEach(({ material }, i) => {
    const { picture } = material
    const rgb = rgbOf(picture?.tint ?? material.colour)
      .map((c) => (c / 255).toFixed(4))
      .join(' ')
    const glow = material.glow ?? 0
    mtl.push(`newmtl ${called[i]}`, `Kd ${rgb}`, 'Ka 0 0 0', `Ks ${material.metalness > 0.5 ? rgb : '0.04 0.04 0.04'}`)
    // the exponent that looks about as rough (Blinn-Phong to GGX: Karis, 2013); the later roughness keys for readers that know them
    mtl.push(`Ns ${Math.min(1000, Math.max(1, 2 / Math.max(0.02, material.roughness) ** 4 - 2)).toFixed(1)}`, 'illum 2')
    mtl.push(`Pr ${material.roughness}`, `Pm ${material.metalness}`)
    if (material.clear) mtl.push(`d ${1 - material.clear}`)
    if (picture) {
      const file = `${picture.key.slice(0, 12)}.${picture.type.slice('image/'.length)}`
      pictures[file] = picture.bytes
      mtl.push(`map_Kd ${picture.beyond?.includes('border') ? '-clamp on ' : ''}${file}`)
    }
    if (glow > 0)
      mtl.push(
        `Ke ${rgb
          .split(' ')
          .map((c) => (Number(c) * glow).toFixed(4))
          .join(' ')}`,
      )
  })
  return { obj: `${lines.join('\n')}\n`, mtl: `${mtl.join('\n')}\n`, pictures }
}

/** Both files in one archive, as a browser can hand them over. */
export function writeObjArchive(solid: Solid, name: string, bodies?: Parameters<typeof writeObj>[3]): Uint8Array {
  const { obj, mtl, pictures } = writeObj(solid, name, 'piece.mtl', bodies)
  return archive({ 'piece.obj': strToU8(obj), 'piece.mtl': strToU8(mtl), ...pictures })
}

const short = (v: number) => String(Number(v.toFixed(5)) + 0)

/** What is read of texture coordinates: more than a model can have corners are too many. */
const MOST_PLACES = 3 * MOST_TRIANGLES

/**
 * Reads the triangles of an OBJ file; polygons are cut into fans. Objects and groups become parts; materials are those of `mtl` by name, their pictures (map_Kd) those of `pictures` by
 * their file's name in small letters: no other file is looked for. Millimetres are assumed. Throws FormatError with the line.
 */
export function readObj(text: string, mtl = '', pictures: ReadonlyMap<string, ModelPicture> = new Map()): MeshData {
  const looks = readMtl(mtl, pictures)
  const mesh = new MeshBuilder()
  /** across and down, two numbers each; looked at only where there are pictures */
  const coordinates: number[] = []
  const places: number[] = []
  let [object, group, material] = ['', '', '']
  let surface = -1
  let worn = false
  const corners: number[] = []
  let number = 0
  for (let from = 0; from < text.length; ) {
    const end = text.indexOf('\n', from)
    const line = text.slice(from, end < 0 ? text.length : end).trim()
    from = end < 0 ? text.length : end + 1
    number++
    if (line.startsWith('v ') || line.startsWith('v\t')) {
      const [, x, y, z] = line.split(/\s+/)
      const xyz = [x, y, z].map(Number)
      if (z === undefined || !xyz.every(Number.isFinite)) throw new FormatError(`Line ${number} of the OBJ file holds a vertex that is no number.`)
      mesh.vertex(xyz[0], xyz[1], xyz[2])
    } else if (line.startsWith('f ') || line.startsWith('f\t')) {
      if (surface < 0) {
        const look = looks.get(material)
        surface = mesh.surface(object || group, look)
        worn = look?.material.picture !== undefined
      }
      corners.length = 0
      places.length = 0
      for (const corner of line.slice(2).trim().split(/\s+/)) {
        const n = Number.parseInt(corner, 10)
        // counted from 1, or backwards from the last vertex so far
        const v = n < 0 ? mesh.vertices + n : n - 1
        if (!Number.isInteger(v) || v < 0 || v >= mesh.vertices) throw new FormatError(`Line ${number} of the OBJ file names a vertex that is not there.`)
        corners.push(v)
        if (!worn) continue
        const vt = Number.parseInt(corner.split('/')[1] ?? '', 10)
        places.push(vt < 0 ? coordinates.length / 2 + vt : vt - 1)
      }
      if (corners.length < 3) throw new FormatError(`Line ${number} of the OBJ file holds a face with fewer than three corners.`)
      for (let k = 2; k < corners.length; k++) {
        mesh.triangle(corners[0], corners[k - 1], corners[k], surface)
        if (worn) mesh.pictured(coordinates, places[0], places[k - 1], places[k])
      }
    } else if (pictures.size > 0 && /^vt\s/.test(line)) {
      const [, u, v] = line.split(/\s+/)
      // heights in pictures are counted from below here
      if (coordinates.length < 2 * MOST_PLACES) coordinates.push(Number(u), 1 - Number(v))
    } else {
      const word = /^(o|g|usemtl)(?:\s+(.*))?$/.exec(line)
      if (!word) continue
      const name = (word[2] ?? '').slice(0, 200)
      if (word[1] === 'o') object = name
      else if (word[1] === 'g') group = name
      else material = name
      surface = -1
    }
  }
  if (mesh.triangles === 0) throw new FormatError('The OBJ file holds no faces.')
  return mesh.finish()
}

/** An OBJ file and, where they are there, the MTL and the pictures that lie with it in one archive. Throws FormatError. */
export async function readObjArchive(bytes: Uint8Array): Promise<MeshData> {
  const parts = archiveParts(bytes, (name) => /\.(obj|mtl|png|jpe?g|webp)$/i.test(name), MAX_MODEL_BYTES)
  if (parts === 'large') throw new FormatError('The OBJ file in the archive is larger than 256 MB.', 'Export it with fewer triangles.')
  const of = (ending: string) => parts.find(({ name }) => name.toLowerCase().endsWith(ending))
  const obj = of('.obj')
  if (!obj) throw new FormatError('The archive holds no model.', 'Bring in an archive with an OBJ file, or a 3MF file.')
  const text = (part: { bytes: Uint8Array } | undefined) => (part ? new TextDecoder().decode(part.bytes) : '')
  const mtl = text(of('.mtl'))
  return readObj(text(obj), mtl, await picturesOf(mtl, (name) => parts.find((part) => fileName(part.name) === name)?.bytes))
}

/** A file's name without its folders, in small letters: materials name their pictures by paths of the machine they come from. */
const fileName = (path: string): string => (path.split(/[\\/]/).pop() ?? '').toLowerCase()

/** The picture that a line of an MTL file names, behind its options. */
const pictureNamed = (rest: string): string => fileName(rest.trim().replace(/^(-[a-z]+(\s+(-?[\d.]+|on|off))*\s+)*/i, ''))

/** The pictures that the materials of an MTL file name (map_Kd), by their file's name in small letters, from `find`. Those that are not there or cannot be read are left out. */
export async function picturesOf(mtl: string, find: (name: string) => Uint8Array | undefined): Promise<ReadonlyMap<string, ModelPicture>> {
  const names = new Set([...mtl.matchAll(/^\s*map_Kd\s+(.+)$/gim)].slice(0, MOST_PICTURES).map(([, rest]) => pictureNamed(rest)))
  const pictures = new Map<string, ModelPicture>()
  for (const name of names) {
    const found = find(name)
    const picture = found && (await modelPicture(found))
    if (picture) pictures.set(name, picture)
  }
  return pictures
}

/** Of so many materials the pictures are read. */
const MOST_PICTURES = 500

/** The materials of an MTL file by their names. What is no number is left at its usual value. */
function readMtl(text: string, pictures: ReadonlyMap<string, ModelPicture>): Map<string, Look> {
  const looks = new Map<string, Look>()
  let now: { name: string; kd: number[]; ns: number; pr: number; pm: number; ke: number[]; d: number; map: string } | undefined
  const numbers = (words: readonly string[]) => words.map(Number)
  const done = () => {
    if (!now || looks.size >= 5000) return
    const { name, kd, ns, pr, pm, ke, d, map } = now
    const picture = pictures.get(map)
    const share = (v: number, otherwise: number) => (Number.isFinite(v) ? Math.min(1, Math.max(0, v)) : otherwise)
    // black in front of a picture is what exporters write that mean nothing by it
    const dark = picture !== undefined && kd.every((v) => v === 0)
    const rgb = [0, 1, 2].map((k) => Math.round(255 * (dark ? 1 : share(kd[k], picture ? 1 : 0.8)))) as [number, number, number]
    const brightest = Math.max(...[0, 1, 2].map((k) => share(ke[k], 0)))
    const glow = brightest > 0 ? Math.round(100 * share(brightest / Math.max(1 / 255, Math.max(...rgb) / 255), 0)) / 100 : 0
    // the roughness that looks about as an exponent does (Blinn-Phong to GGX: Karis, 2013)
    const rough = Number.isFinite(pr) ? pr : Number.isFinite(ns) ? (2 / (Math.max(0, ns) + 2)) ** 0.25 : UNDRESSED.roughness
    const material = { colour: colourOf(rgb), roughness: Math.round(1000 * share(rough, UNDRESSED.roughness)) / 1000, metalness: share(pm, 0) }
    const clear = Math.round(1000 * (1 - share(d, 1))) / 1000
    const look: Look = { name, material: { ...material, ...(glow > 0 ? { glow } : {}), ...(clear > 0 ? { clear } : {}) } }
    looks.set(name, picture ? pictured(look, picture) : look)
  }
  for (const line of text.split(/\r?\n/)) {
    const [word, ...rest] = line.trim().split(/\s+/)
    if (word === 'newmtl') {
      done()
      now = { name: rest.join(' ').slice(0, 200), kd: [], ns: Number.NaN, pr: Number.NaN, pm: Number.NaN, ke: [], d: 1, map: '' }
    } else if (now) {
      if (word === 'Kd') now.kd = numbers(rest)
      else if (word === 'Ke') now.ke = numbers(rest)
      else if (word === 'Ns') now.ns = Number(rest[0])
      else if (word === 'Pr') now.pr = Number(rest[0])
      else if (word === 'Pm') now.pm = Number(rest[0])
      else if (word === 'd') now.d = Number(rest[0])
      else if (word === 'map_Kd') now.map = pictureNamed(rest.join(' '))
    }
  }
  done()
  return looks
}
