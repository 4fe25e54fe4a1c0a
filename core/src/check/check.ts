import { crossingPairs } from './crossings'
import { type Edges, edgesOf, oppositesOf } from './edges'
import { pointHash } from './point-hash'

export type FindingCode = 'empty' | 'not-a-number' | 'degenerate' | 'open' | 'overused' | 'flipped' | 'pinched' | 'inside-out' | 'crossing'

/** One kind of fault: how often, where (at most 50 places, mm), and what it means in plain words. */
export interface Finding {
  readonly code: FindingCode
  readonly count: number
  readonly places: readonly (readonly [number, number, number])[]
  readonly message: string
}

export interface CheckReport {
  readonly sound: boolean
  readonly closed: boolean
  readonly manifold: boolean
  /** pairs of triangles that cross (counting stops at 10,000) */
  readonly crossings: number
  readonly triangles: number
  readonly vertices: number
  readonly parts: number
  /** mm³, signed: negative when the solid is inside out */
  readonly volume: number
  /** mm² */
  readonly area: number
  /** mm, [x, y, z] */
  readonly size: readonly [number, number, number]
  readonly findings: readonly Finding[]
}

export interface CheckInput {
  /** x, y, z per vertex, mm */
  readonly positions: ArrayLike<number>
  /** vertex numbers, three a triangle */
  readonly indices: ArrayLike<number>
}

const MAX_CROSSINGS = 10_000
const MAX_PLACES = 50

const MESSAGES: Record<FindingCode, string> = {
  empty: 'There are no triangles.',
  'not-a-number': 'Some coordinates are not finite numbers.',
  degenerate: 'Some triangles use one point twice.',
  open: 'Some edges belong to one triangle only: the surface has holes.',
  overused: 'Some edges belong to more than two triangles.',
  flipped: 'Some neighbouring triangles face opposite ways.',
  pinched: 'At some points separate sheets of the surface touch.',
  'inside-out': 'The surface faces inwards.',
  crossing: 'Some triangles pass through others.',
}

/**
 * Whether a mesh is the surface of a solid, and its measures. Knows nothing of the kernels it checks: vertices are
 * identified by position, bit for bit, before anything is counted. `deep: false` leaves out self-crossings; `opposite`, as oppositesOf has it, is found where it is not given.
 * Never throws; input is not changed.
 */
export function checkMesh(input: CheckInput, options: { deep?: boolean; opposite?: Int32Array } = {}): CheckReport {
  const { positions, indices } = weldByPosition(input)
  const vertices = positions.length / 3
  const triangles = indices.length / 3
  const faults = new Map<FindingCode, { count: number; places: [number, number, number][] }>()
  const fault = (code: FindingCode, x: number, y: number, z: number) => {
    const f = faults.get(code) ?? { count: 0, places: [] }
    f.count++
    if (f.places.length < MAX_PLACES) f.places.push([x, y, z])
    faults.set(code, f)
  }
  const middle = (a: number, b: number): [number, number, number] => [
    (positions[3 * a] + positions[3 * b]) / 2,
    (positions[3 * a + 1] + positions[3 * b + 1]) / 2,
    (positions[3 * a + 2] + positions[3 * b + 2]) / 2,
  ]
  const at = (v: number): [number, number, number] => [positions[3 * v], positions[3 * v + 1], positions[3 * v + 2]]
  let finite = true
  for (let i = 0; i < positions.length; i++) if (!Number.isFinite(positions[i])) finite = false
  if (triangles === 0) fault('empty', 0, 0, 0)
  if (!finite) fault('not-a-number', 0, 0, 0)
  // each edge must be run along once each way
  const given = positions.length === input.positions.length ? options.opposite : undefined
  const edges = given ? undefined : edgesOf(indices, vertices)
  const opposite = given ?? oppositesOf(indices, edges)
  let paired = true
  for (let h = 0; h < opposite.length && paired; h++) paired = opposite[h] >= 0 && opposite[opposite[h]] === h
  let volume = 0
  let area = 0
  for (let t = 0; t < triangles; t++) {
    const [a, b, c] = [indices[3 * t], indices[3 * t + 1], indices[3 * t + 2]]
    if (a === b || b === c || a === c) {
      fault('degenerate', ...at(a))
      continue
    }
    const ux = positions[3 * b] - positions[3 * a]
    const uy = positions[3 * b + 1] - positions[3 * a + 1]
    const uz = positions[3 * b + 2] - positions[3 * a + 2]
    const vx = positions[3 * c] - positions[3 * a]
    const vy = positions[3 * c + 1] - positions[3 * a + 1]
    const vz = positions[3 * c + 2] - positions[3 * a + 2]
    const nx = uy * vz - uz * vy
    const ny = uz * vx - ux * vz
    const nz = ux * vy - uy * vx
    area += Math.sqrt(nx * nx + ny * ny + nz * nz) / 2
    volume += (positions[3 * a] * nx + positions[3 * a + 1] * ny + positions[3 * a + 2] * nz) / 6
  }
  if (!paired)
    for (const { count, at: h } of oddEdges(indices, edges ?? edgesOf(indices, vertices)))
      fault(count === 1 ? 'open' : count === 2 ? 'flipped' : 'overused', ...middle(indices[h], indices[after(h)]))
  if (faults.size === 0) for (const v of pinchedVertices(indices, vertices, opposite)) fault('pinched', ...at(v))
  const parts = countParts(indices, vertices)
  if (faults.size === 0 && volume <= 0) fault('inside-out', ...at(0))
  let crossings = 0
  if (options.deep !== false && finite && triangles > 0) {
    const pairs = crossingPairs(positions, indices, MAX_CROSSINGS, { opposite })
    crossings = pairs.length
    for (const [s, t] of pairs) fault('crossing', ...where(positions, indices, s, t))
  }
  const box = triangles > 0 && finite ? boxOf(positions) : [0, 0, 0, 0, 0, 0]
  const has = (...codes: FindingCode[]) => codes.some((code) => faults.has(code))
  const closed = triangles > 0 && !has('open', 'not-a-number')
  return {
    sound: faults.size === 0,
    closed,
    manifold: closed && !has('overused', 'flipped', 'pinched', 'degenerate'),
    crossings,
    triangles,
    vertices,
    parts,
    volume,
    area,
    size: [box[3] - box[0], box[4] - box[1], box[5] - box[2]],
    findings: [...faults].map(([code, f]) => ({ code, ...f, message: MESSAGES[code] })),
  }
}

/** About where two triangles meet: the middle of what their boxes have in common. */
function where(p: Float64Array, indices: Uint32Array, s: number, t: number): [number, number, number] {
  const along = (k: number) => {
    const [a, b] = [s, t].map((of) => [0, 1, 2].map((corner) => p[3 * indices[3 * of + corner] + k]))
    return (Math.max(Math.min(...a), Math.min(...b)) + Math.min(Math.max(...a), Math.max(...b))) / 2
  }
  return [along(0), along(1), along(2)]
}

/** How many parts hang together by their vertices. */
function countParts(indices: Uint32Array, vertices: number): number {
  const parent = new Int32Array(vertices)
  for (let v = 0; v < vertices; v++) parent[v] = v
  const root = (start: number): number => {
    let v = start
    while (parent[v] !== v) {
      parent[v] = parent[parent[v]]
      v = parent[v]
    }
    return v
  }
  // every vertex is a part at first, and each two that are joined make one less; those of no triangle are none
  const used = new Uint8Array(vertices)
  let parts = 0
  for (let i = 0; i < indices.length; i++) {
    const v = indices[i]
    if (used[v]) continue
    used[v] = 1
    parts++
  }
  for (let i = 0; i < indices.length; i += 3) {
    const a = root(indices[i])
    for (let k = 1; k < 3; k++) {
      const b = root(indices[i + k])
      if (a === b) continue
      parent[b] = a
      parts--
    }
  }
  return parts
}

function boxOf(positions: Float64Array): number[] {
  const box = [Infinity, Infinity, Infinity, -Infinity, -Infinity, -Infinity]
  for (let i = 0; i < positions.length; i += 3)
    for (let k = 0; k < 3; k++) {
      const value = positions[i + k]
      if (value < box[k]) box[k] = value
      if (value > box[3 + k]) box[3 + k] = value
    }
  return box
}

/** Shared vertices by exact position (−0 counts as 0); returns new arrays. */
export function weldByPosition({ positions, indices }: CheckInput): { positions: Float64Array; indices: Uint32Array } {
  const count = positions.length / 3
  const number = new Uint32Array(count)
  // open addressing over the coordinates' bits; `heads` holds a kept vertex's number plus one
  const slots = 2 ** Math.max(4, Math.ceil(Math.log2(2 * count + 1)))
  const heads = new Int32Array(slots)
  const kept = new Float64Array(positions.length)
  const keptBits = new Int32Array(kept.buffer)
  const point = new Float64Array(3)
  const bits = new Int32Array(point.buffer)
  let used = 0
  for (let v = 0; v < count; v++) {
    for (let k = 0; k < 3; k++) point[k] = positions[3 * v + k] + 0
    let s = pointHash(bits) & (slots - 1)
    while (heads[s] !== 0) {
      const o = 6 * (heads[s] - 1)
      let same = true
      for (let k = 0; k < 6 && same; k++) same = keptBits[o + k] === bits[k]
      if (same) break
      s = (s + 1) & (slots - 1)
    }
    if (heads[s] === 0) {
      kept.set(point, 3 * used)
      heads[s] = ++used
    }
    number[v] = heads[s] - 1
  }
  // not by Uint32Array.from: that takes longer than all of the above
  const welded = new Uint32Array(indices.length)
  for (let i = 0; i < welded.length; i++) welded[i] = number[indices[i]]
  return { positions: kept.slice(0, 3 * used), indices: welded }
}

/** Edges that triangles of three corners do not run along once each way: how many run along each, and a half-edge of it. */
function oddEdges(indices: Uint32Array, { edge, count }: Edges): { count: number; at: number }[] {
  const forth = new Int32Array(count)
  const back = new Int32Array(count)
  const one = new Int32Array(count)
  for (let t = 0; t < indices.length; t += 3) {
    const [a, b, c] = [indices[t], indices[t + 1], indices[t + 2]]
    if (a === b || b === c || a === c) continue
    for (let h = t; h < t + 3; h++) {
      one[edge[h]] = h
      if (indices[h] < indices[after(h)]) forth[edge[h]]++
      else back[edge[h]]++
    }
  }
  const odd: { count: number; at: number }[] = []
  for (let e = 0; e < count; e++) if ((forth[e] !== 1 || back[e] !== 1) && forth[e] + back[e] > 0) odd.push({ count: forth[e] + back[e], at: one[e] })
  return odd
}

/** The half-edge that follows in the same triangle. */
const after = (h: number): number => (h % 3 === 2 ? h - 2 : h + 1)

/** Vertices whose triangles form more than one fan. Only meaningful on a mesh whose edges are paired. */
function pinchedVertices(indices: Uint32Array, vertices: number, opposite: Int32Array): number[] {
  const incident = new Int32Array(vertices)
  for (let i = 0; i < indices.length; i++) incident[indices[i]]++
  const walked = new Uint8Array(vertices)
  const pinched: number[] = []
  for (let i = 0; i < indices.length; i++) {
    const v = indices[i]
    if (walked[v]) continue
    walked[v] = 1
    // each fan once round: from the half-edge that leaves v to the one across the side that comes back to it
    let length = 0
    let h = i
    do {
      h = opposite[h % 3 === 0 ? h + 2 : h - 1]
      length++
    } while (h >= 0 && h !== i && length <= incident[v])
    if (length !== incident[v]) pinched.push(v)
  }
  return pinched
}
