import { ATTRIBUTES, type AttributeArray, attributeArray, type AttributeName, type Attributes } from '../solid/attributes'
import { attributeOf } from '../solid/shading'
import type { Solid } from '../solid/solid'

/** What is narrower than this counts as a line, mm: rounding to the lattice moves places as far. */
const THIN = 2 ** -12

/** A stretch of a mesh's triangles, from one to before another, all parts of triangles of one solid. */
export interface Stretch {
  readonly solid: Solid
  readonly from: number
  readonly to: number
}

/**
 * The attributes named of a mesh whose triangles lie in those of solids: at a corner of theirs what it has there, between them weighed by how near it lies to each (barycentric
 * coordinates in the axis plane that the triangle faces most). `positions` three a vertex, mm; `indices` three a triangle; `triangle`: of each the one it is part of. Stretches hold all of them.
 */
export function attributesByPlace(
  names: readonly AttributeName[],
  positions: Float64Array,
  indices: Uint32Array,
  stretches: readonly Stretch[],
  triangle: Uint32Array,
): Attributes {
  const corners = indices.length
  // of each corner the one it lies at, of its solid's, or −1 and how much each of the triangle's three has in it
  const same = new Int32Array(corners)
  const shares = new Float64Array(3 * corners)
  for (const { solid, from, to } of stretches)
    for (let t = from; t < to; t++)
      for (let h = 3 * t, k = 0; k < 3; k++)
        same[h + k] = weigh(positions, 3 * indices[h + k], solid.positions, solid.indices, 3 * triangle[t], shares, 3 * (h + k))
  const out: Partial<Record<AttributeName, AttributeArray>> = {}
  for (const name of names) {
    const { at, size, turns } = ATTRIBUTES[name]
    const made = attributeArray(name, positions.length / 3, corners)
    for (const { solid, from, to } of stretches) {
      const values = attributeOf(solid, name)
      const place = at === 'vertex' ? solid.indices : undefined
      for (let t = from; t < to; t++) {
        const source = 3 * triangle[t]
        if (!place && same[3 * t] === source && same[3 * t + 1] === source + 1 && same[3 * t + 2] === source + 2) {
          for (let n = 0; n < 3 * size; n++) made[3 * size * t + n] = values[size * source + n]
          continue
        }
        const i = size * (place ? place[source] : source)
        const j = size * (place ? place[source + 1] : source + 1)
        const k = size * (place ? place[source + 2] : source + 2)
        for (let h = 3 * t; h < 3 * t + 3; h++) {
          const target = size * (place ? indices[h] : h)
          if (same[h] >= 0) {
            const at = size * (place ? place[same[h]] : same[h])
            for (let n = 0; n < size; n++) made[target + n] = values[at + n]
            continue
          }
          for (let n = 0; n < size; n++)
            made[target + n] = shares[3 * h] * values[i + n] + shares[3 * h + 1] * values[j + n] + shares[3 * h + 2] * values[k + n]
          if (turns) unit(made, target)
        }
      }
    }
    out[name] = made
  }
  return out as Attributes
}

/** The corner of a triangle, which begins at `source` among the indices, that a place is; else −1, and how much each has in the place: none is below 0, and together they are 1. */
function weigh(positions: Float64Array, at: number, p: Float64Array, indices: Uint32Array, source: number, into: Float64Array, o: number): number {
  const x = positions[at]
  const y = positions[at + 1]
  const z = positions[at + 2]
  for (let n = 0; n < 3; n++) {
    const v = 3 * indices[source + n]
    if (p[v] === x && p[v + 1] === y && p[v + 2] === z) return source + n
  }
  const a = 3 * indices[source]
  const b = 3 * indices[source + 1]
  const c = 3 * indices[source + 2]
  const ux = p[b] - p[a]
  const uy = p[b + 1] - p[a + 1]
  const uz = p[b + 2] - p[a + 2]
  const vx = p[c] - p[a]
  const vy = p[c + 1] - p[a + 1]
  const vz = p[c + 2] - p[a + 2]
  const wx = x - p[a]
  const wy = y - p[a + 1]
  const wz = z - p[a + 2]
  const nx = uy * vz - uz * vy
  const ny = uz * vx - ux * vz
  const nz = ux * vy - uy * vx
  const uu = ux * ux + uy * uy + uz * uz
  const vv = vx * vx + vy * vy + vz * vz
  const uv = ux * vx + uy * vy + uz * vz
  const longest = Math.max(uu, vv, uu + vv - 2 * uv)
  let j = 0
  let k = 0
  if (nx * nx + ny * ny + nz * nz > THIN * THIN * longest) {
    let all = nx
    let second = wy * vz - wz * vy
    let third = uy * wz - uz * wy
    if (Math.abs(ny) > Math.abs(all)) {
      all = ny
      second = wz * vx - wx * vz
      third = uz * wx - ux * wz
    }
    if (Math.abs(nz) > Math.abs(all)) {
      all = nz
      second = wx * vy - wy * vx
      third = ux * wy - uy * wx
    }
    j = Math.max(0, second / all)
    k = Math.max(0, third / all)
  } else if (longest > 0) {
    // hardly wider than a line: along its longest side
    const wu = wx * ux + wy * uy + wz * uz
    const wv = wx * vx + wy * vy + wz * vz
    if (longest === uu) j = share(wu / uu)
    else if (longest === vv) k = share(wv / vv)
    else {
      k = share((wv - wu + uu - uv) / longest)
      j = 1 - k
    }
  }
  const i = Math.max(0, 1 - j - k)
  const sum = i + j + k
  into[o] = i / sum
  into[o + 1] = j / sum
  into[o + 2] = k / sum
  return -1
}

const share = (value: number): number => Math.min(1, Math.max(0, value))

/** Makes three numbers a direction of length 1; nought stays. */
export function unit(array: AttributeArray, at: number): void {
  const size = Math.sqrt(array[at] ** 2 + array[at + 1] ** 2 + array[at + 2] ** 2)
  if (size > 0) for (let k = 0; k < 3; k++) array[at + k] /= size
}
