import { EdgeTable } from '../check/edge-table'
import { lengthTo, type Point } from '../check/rays'
import { earClip } from '../solid/ear-clip'
import type { Triangles } from '../solid/from-triangles'
import { VertexTable } from '../solid/vertex-table'

/** What was found and mended, each a number of triangles but for holes. */
export interface Repaired {
  readonly positions: Float64Array
  readonly indices: Uint32Array
  /** triangles without three different corners */
  readonly degenerate: number
  /** triangles that were there more than once, or with their backs to each other */
  readonly duplicate: number
  /** triangles that faced another way than their neighbours, or a whole shell that was inside out */
  readonly turned: number
  /** holes that were closed, and with how many triangles */
  readonly holes: number
  readonly closing: number
}

/** Holes with more sides than this are left open. */
const MOST_SIDES = 5000

/**
 * Mends what can be mended exactly in any triangles: vertices at one place of the lattice are one; triangles of no area by their corners
 * and repeated ones go; neighbours are turned to face one way, and shells outwards or, where they lie in another one, inwards; simple holes
 * are closed in their own best plane. The result may still be unsound: the caller checks. Coordinates must be finite.
 */
export function repairTriangles({ positions, indices }: Triangles, lattice: number): Repaired {
  const table = new VertexTable(lattice)
  const count = positions.length / 3
  table.reserveVertices(count, count)
  const number = new Int32Array(count).fill(-1)
  const ids = new Uint32Array(indices.length)
  let [kept, degenerate] = [0, 0]
  for (let i = 0; i + 2 < indices.length; i += 3) {
    for (let k = 0; k < 3; k++) {
      const v = indices[i + k]
      if (number[v] < 0) {
        const at = (j: number) => Math.round(positions[3 * v + j] / lattice) * lattice + 0
        number[v] = table.vertex(at(0), at(1), at(2))
      }
      ids[kept + k] = number[v]
    }
    if (ids[kept] === ids[kept + 1] || ids[kept + 1] === ids[kept + 2] || ids[kept] === ids[kept + 2]) degenerate++
    else kept += 3
  }
  const places = table.vertexPositions()
  const single = withoutDuplicates(ids.subarray(0, kept), places.length / 3)
  const turned = faceOneWay(places, single)
  const closed = closeHoles(places, single)
  return { positions: places, indices: closed.indices, degenerate, duplicate: (kept - single.length) / 3, turned, holes: closed.holes, closing: closed.closing }
}

/** Of triangles with the same corners one is left; of two with their backs to each other none. */
function withoutDuplicates(indices: Uint32Array, vertices: number): Uint32Array {
  // chains of triangles by their two smallest corners
  const first = new Map<number, number>()
  const next = new Int32Array(indices.length / 3).fill(-1)
  const gone = new Uint8Array(indices.length / 3)
  const sorted = (t: number) => [indices[3 * t], indices[3 * t + 1], indices[3 * t + 2]].sort((a, b) => a - b)
  const way = (t: number) => {
    const [a, b, c] = [indices[3 * t], indices[3 * t + 1], indices[3 * t + 2]]
    return (a < b ? 1 : 0) + (b < c ? 1 : 0) + (c < a ? 1 : 0) === 2
  }
  let any = false
  for (let t = 0; t < gone.length; t++) {
    const [a, b, c] = sorted(t)
    const key = a * vertices + b
    const head = first.get(key) ?? -1
    let twin = head
    while (twin >= 0 && (gone[twin] || sorted(twin)[2] !== c)) twin = next[twin]
    if (twin >= 0) {
      any = true
      gone[t] = 1
      if (way(twin) !== way(t)) gone[twin] = 1
      else continue
    }
    next[t] = head
    first.set(key, t)
  }
  return any ? indices.filter((_, i) => !gone[Math.floor(i / 3)]) : indices.slice()
}

/** Turns triangles so that neighbours agree, and shells as they must face; in place. Gives how many were turned. */
function faceOneWay(positions: Float64Array, indices: Uint32Array): number {
  const triangles = indices.length / 3
  const edges = new EdgeTable(indices.length)
  // first and second triangle at a side, whichever way it runs
  const second = new Int32Array(edges.from.length).fill(-1)
  const uses = new Uint8Array(edges.from.length)
  const slotOf = (a: number, b: number) => (a < b ? edges.slot(a, b) : edges.slot(b, a))
  for (let t = 0; t < triangles; t++)
    for (let k = 0; k < 3; k++) {
      const s = slotOf(indices[3 * t + k], indices[3 * t + ((k + 1) % 3)])
      if (uses[s] === 0) edges.value[s] = t
      else if (uses[s] === 1) second[s] = t
      if (uses[s] < 3) uses[s]++
    }
  const turn = new Uint8Array(triangles)
  const shell = new Int32Array(triangles).fill(-1)
  const stack: number[] = []
  const volumes: number[] = []
  const seeds: number[] = []
  for (let seed = 0; seed < triangles; seed++) {
    if (shell[seed] >= 0) continue
    const own = volumes.length
    shell[seed] = own
    stack.push(seed)
    let volume = 0
    while (stack.length > 0) {
      const t = stack.pop() as number
      volume += (turn[t] ? -1 : 1) * volumeOf(positions, indices, t)
      for (let k = 0; k < 3; k++) {
        const [a, b] = [indices[3 * t + k], indices[3 * t + ((k + 1) % 3)]]
        const s = slotOf(a, b)
        // where more than two meet there is no telling
        if (uses[s] !== 2) continue
        const o = edges.value[s] === t ? second[s] : edges.value[s]
        if (shell[o] >= 0) continue
        shell[o] = own
        const sameWay = [0, 1, 2].some((j) => indices[3 * o + j] === a && indices[3 * o + ((j + 1) % 3)] === b)
        turn[o] = sameWay ? 1 - turn[t] : turn[t]
        stack.push(o)
      }
    }
    volumes.push(volume)
    seeds.push(seed)
  }
  const depth = nesting(positions, indices, shell, seeds)
  let turned = 0
  for (let t = 0; t < triangles; t++) {
    const inward = depth[shell[t]] % 2 === 1
    if (volumes[shell[t]] < 0 !== inward) turn[t] = 1 - turn[t]
    if (!turn[t]) continue
    turned++
    ;[indices[3 * t + 1], indices[3 * t + 2]] = [indices[3 * t + 2], indices[3 * t + 1]]
  }
  return turned
}

function volumeOf(p: Float64Array, indices: Uint32Array, t: number): number {
  const [a, b, c] = [3 * indices[3 * t], 3 * indices[3 * t + 1], 3 * indices[3 * t + 2]]
  return (
    (p[a] * (p[b + 1] * p[c + 2] - p[b + 2] * p[c + 1]) + p[a + 1] * (p[b + 2] * p[c] - p[b] * p[c + 2]) + p[a + 2] * (p[b] * p[c + 1] - p[b + 1] * p[c])) / 6
  )
}

/** Of more shells than this it is not worked out which lie in others. */
const MOST_SHELLS = 200

/** A shell lies in another one only if so many of its points do: those that cross each other are no cavities. */
const POINTS = 8

/** In how many other shells each lies: crossings of slanting rays from some of its points, counted per shell. */
function nesting(p: Float64Array, indices: Uint32Array, shell: Int32Array, seeds: readonly number[]): number[] {
  if (seeds.length < 2 || seeds.length > MOST_SHELLS) return seeds.map(() => 0)
  const members: number[][] = seeds.map(() => [])
  for (let t = 0; t < shell.length; t++) members[shell[t]].push(t)
  return members.map((own, number) => {
    const within = new Uint8Array(seeds.length).fill(1)
    within[number] = 0
    for (let i = 0; i < POINTS; i++) {
      const t = own[Math.floor((i * own.length) / POINTS)]
      const v = 3 * indices[3 * t + (i % 3)]
      const from: Point = [p[v], p[v + 1], p[v + 2]]
      const crossed = new Uint32Array(seeds.length)
      for (let o = 0; o < shell.length; o++) if (within[shell[o]] && meetsSlantingRay(p, indices, o, from)) crossed[shell[o]]++
      for (let other = 0; other < within.length; other++) if (crossed[other] % 2 === 0) within[other] = 0
    }
    return within.reduce((sum, inside) => sum + inside, 0)
  })
}

/** No side of anything drawn lies this way. */
const SLANT: Point = [0.4361, 0.7529, 0.4927]

function meetsSlantingRay(p: Float64Array, indices: Uint32Array, t: number, from: Point): boolean {
  const length = lengthTo(p, indices, t, from, SLANT)
  return length > 0 && length < Infinity
}

/** Closes every simple ring of open sides by ears in the plane it lies in best. */
function closeHoles(positions: Float64Array, indices: Uint32Array): { indices: Uint32Array; holes: number; closing: number } {
  const edges = new EdgeTable(indices.length)
  for (let i = 0; i < indices.length; i++) edges.value[edges.slot(indices[i], indices[i % 3 === 2 ? i - 2 : i + 1])]++
  // an open side a → b is closed by one that runs b → a; where rings touch a point has several ways on
  const after = new Map<number, number[]>()
  for (let s = 0; s < edges.from.length; s++) {
    if (edges.from[s] < 0 || edges.value[s] !== 1 || edges.get(edges.to[s], edges.from[s], 0) > 0) continue
    const ways = after.get(edges.to[s])
    if (ways) ways.push(edges.from[s])
    else after.set(edges.to[s], [edges.from[s]])
  }
  const out: number[] = []
  let holes = 0
  for (const start of after.keys()) {
    const walk: number[] = []
    const at = new Map<number, number>()
    for (let v: number | undefined = start; v !== undefined; ) {
      const known: number | undefined = at.get(v)
      if (known !== undefined) {
        // come back to a point: what lies between is a ring
        const ring = walk.splice(known)
        for (const of of ring) at.delete(of)
        if (ring.length >= 3 && ring.length <= MOST_SIDES) {
          holes++
          fill(positions, ring, out)
        }
      }
      at.set(v, walk.length)
      walk.push(v)
      v = after.get(v)?.pop()
    }
  }
  if (out.length === 0) return { indices, holes: 0, closing: 0 }
  const all = new Uint32Array(indices.length + out.length)
  all.set(indices)
  for (let i = 0; i < out.length; i++) all[indices.length + i] = out[i]
  return { indices: all, holes, closing: out.length / 3 }
}

function fill(p: Float64Array, ring: readonly number[], out: number[]): void {
  // Newell's normal of the ring
  const n = [0, 0, 0]
  ring.forEach((v, i) => {
    const w = ring[(i + 1) % ring.length]
    for (let k = 0; k < 3; k++) {
      const [j, l] = [(k + 1) % 3, (k + 2) % 3]
      n[k] += (p[3 * v + j] - p[3 * w + j]) * (p[3 * v + l] + p[3 * w + l])
    }
  })
  const size = Math.hypot(n[0], n[1], n[2]) || 1
  const z = n.map((c) => c / size)
  const axis = Math.abs(z[0]) < 0.6 ? [1, 0, 0] : [0, 1, 0]
  const x = cross(axis, z)
  const lx = Math.hypot(...x) || 1
  const u = x.map((c) => c / lx)
  const v = cross(z, u)
  const across = ring.map((id) => u[0] * p[3 * id] + u[1] * p[3 * id + 1] + u[2] * p[3 * id + 2])
  const up = ring.map((id) => v[0] * p[3 * id] + v[1] * p[3 * id + 1] + v[2] * p[3 * id + 2])
  const local: number[] = []
  earClip(
    ring.map((_, i) => i),
    across,
    up,
    local,
  )
  for (const i of local) out.push(ring[i])
}

const cross = (a: readonly number[], b: readonly number[]) => [a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]]
