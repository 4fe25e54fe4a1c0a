import { edgesOf } from '../check/edges'
import { earClip } from '../solid/ear-clip'

/** Holes with more sides than this are left open. */
const MOST_SIDES = 5000

/** A hole that was closed: a point of its rim, and its number of triangles. */
export interface Closed {
  readonly at: number
  readonly triangles: number
}

/**
 * Closes every simple ring of open sides by ears in the plane it lies in best. `source` gives for each new triangle one that was there at
 * its rim.
 */
export function closeHoles(positions: Float64Array, indices: Uint32Array): { added: Uint32Array; source: Uint32Array; holes: Closed[] } {
  const { edge, count } = edgesOf(indices)
  const next = (i: number) => indices[i % 3 === 2 ? i - 2 : i + 1]
  const uses = new Uint32Array(count)
  for (let i = 0; i < edge.length; i++) uses[edge[i]]++
  // an open side a → b is closed by one that runs b → a; where rings touch a point has several ways on
  const after = new Map<number, number[]>()
  for (let i = 0; i < edge.length; i++) {
    if (uses[edge[i]] !== 1) continue
    const ways = after.get(next(i))
    if (ways) ways.push(indices[i])
    else after.set(next(i), [indices[i]])
  }
  if (after.size === 0) return { added: new Uint32Array(0), source: new Uint32Array(0), holes: [] }
  // a triangle at each point of a rim
  const rim = new Map<number, number>()
  for (let i = 0; i < indices.length; i++) if (after.has(indices[i])) rim.set(indices[i], Math.floor(i / 3))
  const out: number[] = []
  const source: number[] = []
  const holes: Closed[] = []
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
          const had = out.length
          fill(positions, ring, out)
          holes.push({ at: ring[0], triangles: (out.length - had) / 3 })
          for (let i = had; i < out.length; i += 3) source.push(rim.get(out[i]) ?? 0)
        }
      }
      at.set(v, walk.length)
      walk.push(v)
      v = after.get(v)?.pop()
    }
  }
  return { added: Uint32Array.from(out), source: Uint32Array.from(source), holes }
}

/** Rings of more sides are always closed in a plane. */
const MOST_CURVED = 160

/** What lies further off its best plane than this share of its size is curved. */
const CURVED = 1e-3

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
  if (ring.length <= MOST_CURVED) {
    const off = ring.map((id) => z[0] * p[3 * id] + z[1] * p[3 * id + 1] + z[2] * p[3 * id + 2])
    const span = (of: readonly number[]) => Math.max(...of) - Math.min(...of)
    if (span(off) > CURVED * Math.max(span(across), span(up))) {
      leastArea(p, ring, out)
      return
    }
  }
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

/** Closes a ring by the triangles of least area together (Barequet & Sharir, "Filling gaps in the boundary of a polyhedron", 1995). */
function leastArea(p: Float64Array, ring: readonly number[], out: number[]): void {
  const n = ring.length
  const least = new Float64Array(n * n)
  const middle = new Int32Array(n * n)
  const area = (i: number, j: number, k: number) => {
    const [a, b, c] = [3 * ring[i], 3 * ring[j], 3 * ring[k]]
    const u = [p[b] - p[a], p[b + 1] - p[a + 1], p[b + 2] - p[a + 2]]
    const v = [p[c] - p[a], p[c + 1] - p[a + 1], p[c + 2] - p[a + 2]]
    return Math.hypot(...cross(u, v))
  }
  for (let wide = 2; wide < n; wide++)
    for (let i = 0; i + wide < n; i++) {
      const k = i + wide
      let best = Infinity
      for (let j = i + 1; j < k; j++) {
        const sum = least[i * n + j] + least[j * n + k] + area(i, j, k)
        if (sum < best) {
          best = sum
          middle[i * n + k] = j
        }
      }
      least[i * n + k] = best
    }
  const stack = [[0, n - 1]]
  while (stack.length > 0) {
    const [i, k] = stack.pop() as [number, number]
    if (k - i < 2) continue
    const j = middle[i * n + k]
    out.push(ring[i], ring[j], ring[k])
    stack.push([i, j], [j, k])
  }
}
