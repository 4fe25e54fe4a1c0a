import { labelAt, type Solid, triangleCount, vertexCount } from '../solid/solid'
import { edgesOf } from '../check/edges'
import { WindingTree } from '../volume/winding-tree'
import { NearPlaces } from './near'

/** Bars between nodes. */
export interface StrutGraph {
  /** x, y, z a node, mm */
  readonly nodes: Float64Array
  /** the letter of each node, −1 for none */
  readonly letter: Int32Array
  /** the vertex of the surface that a node is, −1 inside */
  readonly vertex: Int32Array
  /** two nodes a bar */
  readonly bars: Uint32Array
}

/** The sides of a solid's triangles as bars; of quads the sides that two triangles share within are left out. Nodes nearer than `least` mm along a bar become one. */
export function surfaceGraph(solid: Solid, mesh: 'triangles' | 'quads', least: number): StrutGraph {
  const { positions: p, indices } = solid
  const { edge, count } = edgesOf(indices)
  const ends = new Int32Array(2 * count)
  const beside = new Int32Array(2 * count).fill(-1)
  for (let h = 0; h < indices.length; h++) {
    const e = edge[h]
    ends[2 * e] = indices[h]
    ends[2 * e + 1] = indices[h % 3 === 2 ? h - 2 : h + 1]
    if (beside[2 * e] < 0) beside[2 * e] = Math.floor(h / 3)
    else beside[2 * e + 1] = Math.floor(h / 3)
  }
  const inner = mesh === 'quads' ? withinQuads(p, ends, beside, count) : new Uint8Array(count)
  const { nodes, of, members } = merged(p, ends, count, vertexCount(solid), least)
  const letter = new Int32Array(members.length).fill(-1)
  for (let t = 0; t < triangleCount(solid); t++) for (let k = 0; k < 3; k++) letter[of[indices[3 * t + k]]] = labelAt(solid, t, 'letter')
  const bars: number[] = []
  const seen = new Set<number>()
  for (let e = 0; e < count; e++) {
    const [a, b] = [of[ends[2 * e]], of[ends[2 * e + 1]]]
    if (a === b || inner[e]) continue
    const key = Math.min(a, b) * members.length + Math.max(a, b)
    if (seen.has(key)) continue
    seen.add(key)
    bars.push(a, b)
  }
  return { nodes, letter, vertex: members, bars: Uint32Array.from(bars) }
}

/**
 * Vertices gathered to nodes at least `least` mm apart along sides: the shortest sides first, each node the middle of its vertices, so that a row of short sides
 * becomes a row of nodes and not one. `of` names each vertex's node, `members` one vertex of each node.
 */
function merged(
  p: Float64Array,
  ends: Int32Array,
  count: number,
  vertices: number,
  least: number,
): { nodes: Float64Array; of: Int32Array; members: Int32Array } {
  const parent = Int32Array.from({ length: vertices }, (_, v) => v)
  const find = (start: number): number => {
    let v = start
    while (parent[v] !== v) v = parent[v] = parent[parent[v]]
    return v
  }
  const sum = p.slice()
  const size = new Float64Array(vertices).fill(1)
  const apart = (a: number, b: number) => Math.hypot(...[0, 1, 2].map((k) => sum[3 * a + k] / size[a] - sum[3 * b + k] / size[b]))
  for (;;) {
    const short: [number, number, number][] = []
    for (let e = 0; e < count; e++) {
      const [a, b] = [find(ends[2 * e]), find(ends[2 * e + 1])]
      if (a === b) continue
      const far = apart(a, b)
      if (far < least) short.push([far, a, b])
    }
    if (short.length === 0) break
    short.sort((x, y) => x[0] - y[0] || x[1] - y[1] || x[2] - y[2])
    const moved = new Set<number>()
    for (const [, a, b] of short) {
      if (moved.has(a) || moved.has(b)) continue
      moved.add(a).add(b)
      parent[b] = a
      size[a] += size[b]
      for (let k = 0; k < 3; k++) sum[3 * a + k] += sum[3 * b + k]
    }
  }
  const numbers = new Int32Array(vertices).fill(-1)
  const members: number[] = []
  const of = Int32Array.from({ length: vertices }, (_, v) => {
    const root = find(v)
    if (numbers[root] < 0) numbers[root] = members.push(root) - 1
    return numbers[root]
  })
  return {
    nodes: Float64Array.from({ length: 3 * members.length }, (_, i) => sum[3 * members[Math.floor(i / 3)] + (i % 3)] / size[members[Math.floor(i / 3)]]),
    of,
    members: Int32Array.from(members),
  }
}

/** Sides between two triangles that make the best quads, flattest and squarest first; each triangle is of one quad at most. */
function withinQuads(p: Float64Array, ends: Int32Array, beside: Int32Array, count: number): Uint8Array {
  const length = (a: number, b: number) => Math.hypot(p[3 * a] - p[3 * b], p[3 * a + 1] - p[3 * b + 1], p[3 * a + 2] - p[3 * b + 2])
  // the longest side of both its triangles is the diagonal of a quad
  const longest = new Map<number, number>()
  for (let e = 0; e < count; e++) {
    const own = length(ends[2 * e], ends[2 * e + 1])
    for (const t of [beside[2 * e], beside[2 * e + 1]]) if (t >= 0 && own > (longest.get(t) ?? 0)) longest.set(t, own)
  }
  const order = Array.from({ length: count }, (_, e) => {
    const own = length(ends[2 * e], ends[2 * e + 1])
    return { e, cost: 2 - own / (longest.get(beside[2 * e]) ?? own) - own / (longest.get(beside[2 * e + 1]) ?? own) }
  }).sort((a, b) => a.cost - b.cost || a.e - b.e)
  const used = new Set<number>()
  const inner = new Uint8Array(count)
  for (const { e, cost } of order) {
    const [s, t] = [beside[2 * e], beside[2 * e + 1]]
    if (cost > 0.3 || s < 0 || t < 0 || used.has(s) || used.has(t)) continue
    used.add(s).add(t)
    inner[e] = 1
  }
  return inner
}

/**
 * A graph with bars through the inside: body-centred cells, `cell` mm wide, as far as they lie in the solid, tied to the nearest node of the surface where they end.
 */
export function withInside(solid: Solid, graph: StrutGraph, cell: number, least: number): StrutGraph {
  const tree = new WindingTree(solid)
  const surface = new NearPlaces(1.1 * cell)
  const count = graph.letter.length
  for (let i = 0; i < count; i++) surface.add(graph.nodes[3 * i], graph.nodes[3 * i + 1], graph.nodes[3 * i + 2])
  const low = [Infinity, Infinity, Infinity]
  const high = [-Infinity, -Infinity, -Infinity]
  for (let i = 0; i < graph.nodes.length; i++) {
    low[i % 3] = Math.min(low[i % 3], graph.nodes[i])
    high[i % 3] = Math.max(high[i % 3], graph.nodes[i])
  }
  const nodes = [...graph.nodes]
  const letter = [...graph.letter]
  const bars = [...graph.bars]
  const numbers = new Map<string, number>()
  const inside = (x: number, y: number, z: number) => tree.at(x, y, z) > 0.5 && surface.nearest(x, y, z) > Math.max(least, 0.45 * cell)
  // corners and middles of cells, by half steps; cells lie evenly about the middle
  const half = cell / 2
  const steps = [0, 1, 2].map((k) => Math.floor((high[k] - low[k]) / 2 / half))
  const at = (i: number, k: number) => (low[k] + high[k]) / 2 + i * half
  const nearestNode = (x: number, y: number, z: number): number => {
    let [best, found] = [Infinity, -1]
    surface.nearest(x, y, z, (n) => {
      const far = (graph.nodes[3 * n] - x) ** 2 + (graph.nodes[3 * n + 1] - y) ** 2 + (graph.nodes[3 * n + 2] - z) ** 2
      if (far < best) [best, found] = [far, n]
      return true
    })
    return found
  }
  for (let i = -steps[0]; i <= steps[0]; i++)
    for (let j = -steps[1]; j <= steps[1]; j++)
      for (let k = -steps[2]; k <= steps[2]; k++) {
        if (((i ^ j) & 1) !== 0 || ((i ^ k) & 1) !== 0) continue
        const [x, y, z] = [at(i, 0), at(j, 1), at(k, 2)]
        if (!inside(x, y, z)) continue
        numbers.set(`${i} ${j} ${k}`, letter.length)
        nodes.push(x, y, z)
        const near = nearestNode(x, y, z)
        letter.push(near < 0 ? -1 : graph.letter[near])
      }
  const tied = new Set<string>()
  for (const [key, node] of numbers) {
    const [i, j, k] = key.split(' ').map(Number)
    for (const a of [-1, 1])
      for (const b of [-1, 1])
        for (const c of [-1, 1]) {
          const other = numbers.get(`${i + a} ${j + b} ${k + c}`)
          if (other !== undefined) {
            if (other > node) bars.push(node, other)
            continue
          }
          const end = nearestNode(at(i + a, 0), at(j + b, 1), at(k + c, 2))
          if (end < 0 || tied.has(`${node} ${end}`)) continue
          tied.add(`${node} ${end}`)
          bars.push(node, end)
        }
  }
  const vertex = new Int32Array(letter.length).fill(-1)
  vertex.set(graph.vertex)
  return { nodes: Float64Array.from(nodes), letter: Int32Array.from(letter), vertex, bars: Uint32Array.from(bars) }
}
