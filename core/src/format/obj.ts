import { strToU8 } from 'fflate'
import { rgbOf } from '../look/material'
import { normalsOf, uvsOf } from '../solid/shading'
import { type Solid, surfacesOf } from '../solid/solid'
import { archive } from './archive'
import { FormatError, type MeshData } from './mesh-data'

/** What a material file begins with that Kelvar wrote. */
export const MTL_HEAD = '# Made by Kelvar'

/**
 * Wavefront OBJ with its MTL: positions, texture coordinates and normals, a material for every surface. Millimetres, Y up as the
 * solid stands. Numbers are written so that reading them gives the same 32-bit values back. `library` is the MTL's file name.
 */
export function writeObj(solid: Solid, name: string, library: string): { obj: string; mtl: string } {
  const { surfaces, of } = surfacesOf(solid)
  const called = surfaces.map((s, i) => `${s.name.replace(/[^\p{L}\p{N}]+/gu, '_')}_${i + 1}`)
  const lines: string[] = ['# Made by Kelvar, millimetres', `mtllib ${library}`, `o ${name.replace(/\s+/g, '_') || 'piece'}`]
  const { positions: p, indices } = solid
  const [at, facing] = [uvsOf(solid), normalsOf(solid)]
  for (let i = 0; i < p.length; i += 3) lines.push(`v ${p[i]} ${p[i + 1]} ${p[i + 2]}`)
  // corners that agree share their coordinates and normals
  const coordinates = new Map<string, number>()
  const normals = new Map<string, number>()
  const numbered = (known: Map<string, number>, key: string) => {
    let n = known.get(key)
    if (n === undefined) known.set(key, (n = known.size + 1))
    return n
  }
  const faces = surfaces.map((): string[] => [])
  for (let t = 0; t < of.length; t++) {
    const corners = [0, 1, 2].map((k) => {
      const c = 3 * t + k
      const uv = numbered(coordinates, `${short(at[2 * c])} ${short(at[2 * c + 1])}`)
      const n = numbered(normals, `${short(facing[3 * c])} ${short(facing[3 * c + 1])} ${short(facing[3 * c + 2])}`)
      return `${indices[c] + 1}/${uv}/${n}`
    })
    faces[of[t]].push(`f ${corners.join(' ')}`)
  }
  for (const key of coordinates.keys()) lines.push(`vt ${key}`)
  for (const key of normals.keys()) lines.push(`vn ${key}`)
  faces.forEach((list, i) => {
    if (list.length === 0) return
    lines.push(`g ${called[i]}`, `usemtl ${called[i]}`)
    for (const line of list) lines.push(line)
  })
  const mtl = [MTL_HEAD]
  surfaces.forEach(({ material }, i) => {
    const rgb = rgbOf(material.colour)
      .map((c) => (c / 255).toFixed(4))
      .join(' ')
    const glow = material.glow ?? 0
    mtl.push(`newmtl ${called[i]}`, `Kd ${rgb}`, 'Ka 0 0 0', `Ks ${material.metalness > 0.5 ? rgb : '0.04 0.04 0.04'}`)
    // the exponent that looks about as rough (Blinn-Phong to GGX: Karis, 2013); the later roughness keys for readers that know them
    mtl.push(`Ns ${Math.min(1000, Math.max(1, 2 / Math.max(0.02, material.roughness) ** 4 - 2)).toFixed(1)}`, 'illum 2')
    mtl.push(`Pr ${material.roughness}`, `Pm ${material.metalness}`)
    if (glow > 0)
      mtl.push(
        `Ke ${rgb
          .split(' ')
          .map((c) => (Number(c) * glow).toFixed(4))
          .join(' ')}`,
      )
  })
  return { obj: `${lines.join('\n')}\n`, mtl: `${mtl.join('\n')}\n` }
}

/** Both files in one archive, as a browser can hand them over. */
export function writeObjArchive(solid: Solid, name: string): Uint8Array {
  const { obj, mtl } = writeObj(solid, name, 'piece.mtl')
  return archive({ 'piece.obj': strToU8(obj), 'piece.mtl': strToU8(mtl) })
}

const short = (v: number) => String(Number(v.toFixed(5)) + 0)

/** Reads the triangles of an OBJ file; polygons are cut into fans. Millimetres are assumed. Throws FormatError with the line. */
export function readObj(text: string): MeshData {
  const positions: number[] = []
  const indices: number[] = []
  text.split(/\r?\n/).forEach((line, i) => {
    const [word, ...rest] = line.trim().split(/\s+/)
    if (word === 'v') {
      const xyz = rest.slice(0, 3).map(Number)
      if (xyz.length < 3 || !xyz.every(Number.isFinite)) throw new FormatError(`Line ${i + 1} of the OBJ file holds a vertex that is no number.`)
      positions.push(...xyz)
    } else if (word === 'f') {
      const corners = rest.map((corner) => {
        const n = Number.parseInt(corner, 10)
        // counted from 1, or backwards from the last vertex so far
        const v = n < 0 ? positions.length / 3 + n : n - 1
        if (!Number.isInteger(v) || v < 0 || 3 * v >= positions.length) throw new FormatError(`Line ${i + 1} of the OBJ file names a vertex that is not there.`)
        return v
      })
      if (corners.length < 3) throw new FormatError(`Line ${i + 1} of the OBJ file holds a face with fewer than three corners.`)
      for (let k = 2; k < corners.length; k++) indices.push(corners[0], corners[k - 1], corners[k])
    }
  })
  if (indices.length === 0) throw new FormatError('The OBJ file holds no faces.')
  return { positions: Float64Array.from(positions), indices: Uint32Array.from(indices) }
}
