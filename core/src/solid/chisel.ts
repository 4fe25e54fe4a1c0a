import type { Flat } from '../outline/flatten'
import type { PolygonSet } from '../outline/polygon'
import { edgeSurface } from './edge-surface'
import { SideBuilder } from './extrude'
import { FACE } from './labels'
import { gather } from './operations'
import { patchesOf } from './patches'
import { cutProfile, type Profile, type ProfileCut } from './profile'
import { normalsOf, uvsOf } from './shading'
import { labelAt, type Solid, triangleCount, vertexCount, withParts } from './solid'

/** A flat stretch of a front: triangles of certain groups in one plane z = const that look to +Z and hang together. */
export interface FlatFace {
  readonly triangles: readonly number[]
  /** the rows of the labels it has */
  readonly rows: readonly number[]
  /** its borders about the point (x, y), so that alike faces have alike rings */
  readonly set: PolygonSet
  readonly x: number
  readonly y: number
  readonly z: number
}

/** Turns of a border below this are taken for the facets of a curve, degrees. */
const FACET_TURN = 16

/** The flat stretches of a solid that look forward and are of these groups, of its front unless others are named, in the order of their first triangles. */
export function flatFaces(solid: Solid, groups: readonly number[] = [FACE]): FlatFace[] {
  const { positions: p, indices, surface, labels } = solid
  const level = (t: number): boolean => {
    const [a, b, c] = [3 * indices[3 * t], 3 * indices[3 * t + 1], 3 * indices[3 * t + 2]]
    if (p[a + 2] !== p[b + 2] || p[b + 2] !== p[c + 2]) return false
    return (p[b] - p[a]) * (p[c + 1] - p[a + 1]) - (p[b + 1] - p[a + 1]) * (p[c] - p[a]) > 0
  }
  return patchesOf(indices, (t) => (groups.includes(labels.group[surface[t]]) && level(t) ? labels.group[surface[t]] : -1)).map(
    ({ triangles, rings }): FlatFace => {
      const corner = rings[0]?.[0] ?? indices[3 * triangles[0]]
      const [x, y, z] = [p[3 * corner], p[3 * corner + 1], p[3 * corner + 2]]
      const set = { rings: rings.map((ring) => asFlat(ring, p, x, y)), lattice: solid.lattice }
      return { triangles, rows: [...new Set(triangles.map((t) => surface[t]))], x, y, z, set }
    },
  )
}

/** A ring of vertices as a flat contour; neighbouring sides that turn little share their tangent. */
function asFlat(ring: readonly number[], p: Float64Array, x: number, y: number): Flat {
  const n = ring.length
  const xy = new Float64Array(2 * n)
  ring.forEach((v, i) => {
    xy[2 * i] = p[3 * v] - x
    xy[2 * i + 1] = p[3 * v + 1] - y
  })
  const tangents = new Float64Array(4 * n)
  const limit = Math.cos((FACET_TURN * Math.PI) / 180)
  for (let i = 0; i < n; i++) {
    const [h, j] = [(i + n - 1) % n, (i + 1) % n]
    const before = [xy[2 * i] - xy[2 * h], xy[2 * i + 1] - xy[2 * h + 1]]
    const after = [xy[2 * j] - xy[2 * i], xy[2 * j + 1] - xy[2 * i + 1]]
    const [l0, l1] = [Math.hypot(before[0], before[1]), Math.hypot(after[0], after[1])]
    let [ax, ay, bx, by] = [before[0] / l0, before[1] / l0, after[0] / l1, after[1] / l1]
    if (ax * bx + ay * by > limit) {
      // the shorter side tells more of the tangent here
      const [sx, sy] = [ax * l1 + bx * l0, ay * l1 + by * l0]
      const size = Math.hypot(sx, sy)
      ax = bx = sx / size
      ay = by = sy / size
    }
    tangents.set([ax, ay, bx, by], 4 * i)
  }
  return { xy, tangents, closed: true }
}

export interface ChiselledFace {
  /** the new surface about the face's point, its border at z nought; `letter` tells which of the face's rows was there */
  readonly solid: Solid
  /** ridges cut to plateaus by the fallback kernel */
  readonly approximate: boolean
}

/**
 * The surface over a flat face whose height is a curve over the distance to the face's border: the edge kernel with round corners, whose
 * arcs are as fine as keeps heights within `within` mm of curve(distance). Needs the manifold kernel loaded.
 */
export function chiselledFace(solid: Solid, face: FlatFace, profile: Profile, within: number): ChiselledFace {
  const { set } = face
  const cut = cutProfile(profile, 0.5 * within, set.lattice, { byHeight: true })
  const stepped = cut.risers.slice(1).map((list) => list.length > 0)
  const arc = arcFor(cut, 0.4 * within)
  const surfaceAt = (share: number) => edgeSurface(set, cut.levels, stepped, 'round', arc * share).surface
  // other arcs meet elsewhere: what cannot be certified with one can with the next
  let surface = surfaceAt(1)
  for (const share of OTHER_ARCS) if (surface.approximate) surface = surfaceAt(share)
  const builder = new SideBuilder(set, rowFinder(solid, face), true)
  builder.side(surface, cut, 0, 1)
  return { solid: builder.mesh.finish(), approximate: surface.approximate }
}

const OTHER_ARCS = [0.83, 0.71, 0.57] as const

/** The arcs, degrees, of round corners with which no height is off by more than `within`: an arc of 2a takes distances short by cos a. */
function arcFor(cut: ProfileCut, within: number): number {
  let most = 0
  for (const { inset0, inset1, height0, height1 } of cut.strips) most = Math.max(most, (Math.abs(height1 - height0) / (inset1 - inset0)) * inset1)
  // a plateau behind the last level ends where its border is
  return Math.max(2, Math.min(15, (2 * Math.acos(Math.max(0, 1 - within / Math.max(within, most))) * 180) / Math.PI))
}

/** Which of the face's rows a point of it had. */
function rowFinder({ positions: p, indices, surface }: Solid, { triangles, rows, x: dx, y: dy }: FlatFace): (x: number, y: number) => number {
  if (rows.length === 1) return () => 0
  let last = triangles[0]
  const holds = (t: number, x: number, y: number): boolean => {
    for (let k = 0; k < 3; k++) {
      const [a, b] = [3 * indices[3 * t + k], 3 * indices[3 * t + ((k + 1) % 3)]]
      if ((p[b] - p[a]) * (y - p[a + 1]) - (p[b + 1] - p[a + 1]) * (x - p[a]) < 0) return false
    }
    return true
  }
  return (u, v) => {
    const [x, y] = [u + dx, v + dy]
    if (!holds(last, x, y)) last = triangles.find((t) => holds(t, x, y)) ?? last
    return rows.indexOf(surface[last])
  }
}

/**
 * A solid with flat faces replaced by chiselled ones (`made[i]` for `faces[i]`), sewn on at their borders, which are the same bit for bit. What
 * was face stays face, with its letter, layer and material. Whether it crosses itself elsewhere is for the caller to check.
 */
export function withChiselled(solid: Solid, faces: readonly FlatFace[], made: readonly Solid[]): Solid {
  const gone = new Uint8Array(triangleCount(solid))
  const heights = new Set<number>()
  for (const { triangles, z } of faces) {
    heights.add(z)
    for (const t of triangles) gone[t] = 1
  }
  const left: number[] = []
  for (let t = 0; t < gone.length; t++) if (!gone[t]) left.push(t)
  const shaded: Solid = { ...solid, attributes: { normal: normalsOf(solid), uv: uvsOf(solid) } }
  const kept = gather(shaded, left)
  const [triangles, vertices] = [left.length, vertexCount(kept)]
  const total = made.reduce((sum, one) => sum + triangleCount(one), triangles)
  const positions = new Float64Array(3 * made.reduce((sum, one) => sum + vertexCount(one), vertices))
  positions.set(kept.positions)
  const indices = new Uint32Array(3 * total)
  indices.set(kept.indices)
  const surface = new Uint32Array(total)
  left.forEach((t, i) => (surface[i] = solid.surface[t]))
  const normal = new Float32Array(9 * total)
  normal.set(normalsOf(kept))
  const uv = new Float32Array(6 * total)
  uv.set(uvsOf(kept))
  /** what borders are sewn on: vertices in the planes of the faces */
  const borders = new Map<string, number>()
  for (let v = 0; v < vertices; v++) {
    const [x, y, z] = kept.positions.subarray(3 * v, 3 * v + 3)
    if (heights.has(z)) borders.set(`${x} ${y} ${z}`, v)
  }
  let [v, t] = [vertices, triangles]
  made.forEach((one, i) => {
    const { x: dx, y: dy, z: dz, rows } = faces[i]
    const numbers = new Int32Array(vertexCount(one))
    for (let j = 0; j < numbers.length; j++) {
      const [x, y, z] = [one.positions[3 * j] + dx, one.positions[3 * j + 1] + dy, one.positions[3 * j + 2] + dz]
      const border = z === dz ? borders.get(`${x} ${y} ${z}`) : undefined
      numbers[j] = border ?? v
      if (border !== undefined) continue
      positions[3 * v] = x
      positions[3 * v + 1] = y
      positions[3 * v++ + 2] = z
    }
    normal.set(normalsOf(one), 9 * t)
    uv.set(uvsOf(one), 6 * t)
    for (let j = 0; j < triangleCount(one); j++, t++) {
      for (let k = 0; k < 3; k++) indices[3 * t + k] = numbers[one.indices[3 * j + k]]
      surface[t] = rows[labelAt(one, j, 'letter')] ?? rows[0]
    }
  })
  return withParts({ ...solid, positions: positions.slice(0, 3 * v), indices, surface, attributes: { normal, uv } })
}
