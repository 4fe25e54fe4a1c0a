import { edgesOf } from '../check/edges'
import { upTo } from '../solid/vertex-table'

/** Places where points that lay on or next to other triangles' open sides were joined to them. */
export interface Seams {
  readonly indices: Uint32Array
  /** for each triangle the one it was cut from */
  readonly source: Uint32Array
  /** points that stood in the middle of a side, and points that were drawn together */
  readonly splits: readonly number[]
  readonly joined: readonly number[]
}

/** Open sides are gone over so often: what one round joins opens the way for the next. */
const ROUNDS = 3

/** With more open sides than this it is no surface with seams in it. */
const MOST_OPEN = 300_000

/** A side is looked along for so many cells, each as long as a mean side. */
const MOST_CELLS = 4096

/**
 * Joins open sides that lie along each other: points of open sides nearer to each other than `reach` become one, and a side with open
 * points on it (T-junctions) is split there. Triangles that lose their area by it are left out.
 */
export function joinSeams(positions: Float64Array, given: Uint32Array, reach: number): Seams {
  let indices = given
  let source = upTo(given.length / 3)
  const splits: number[] = []
  const joined: number[] = []
  for (let round = 0; round < ROUNDS; round++) {
    const open = openSides(indices)
    if (open.length === 0 || open.length > MOST_OPEN) break
    const drawn = drawTogether(positions, indices, open, reach)
    joined.push(...drawn.joined)
    const cut = splitSides(positions, drawn.indices, drawn.joined.length > 0 ? openSides(drawn.indices) : open, reach)
    splits.push(...cut.splits)
    if (drawn.joined.length + cut.splits.length === 0) break
    // of what was drawn together, triangles with two corners in one are over
    const kept: number[] = []
    const from: number[] = []
    for (let t = 0; t < cut.source.length; t++) {
      const [a, b, c] = [cut.indices[3 * t], cut.indices[3 * t + 1], cut.indices[3 * t + 2]]
      if (a === b || b === c || a === c) continue
      kept.push(a, b, c)
      from.push(source[cut.source[t]])
    }
    indices = Uint32Array.from(kept)
    source = Uint32Array.from(from)
  }
  return { indices, source, splits, joined }
}

/** Corners at which a side without a counterpart begins. */
function openSides(indices: Uint32Array): number[] {
  const { edge, count } = edgesOf(indices)
  const uses = new Uint32Array(count)
  for (let i = 0; i < edge.length; i++) uses[edge[i]]++
  const open: number[] = []
  for (let i = 0; i < edge.length; i++) if (uses[edge[i]] === 1) open.push(i)
  return open
}

/** Points of open sides in cells as large as a side is long. */
class Cells {
  private readonly cells = new Map<string, number[]>()
  constructor(
    private readonly p: Float64Array,
    readonly size: number,
  ) {}
  private key = (x: number, y: number, z: number) => `${Math.floor(x / this.size)},${Math.floor(y / this.size)},${Math.floor(z / this.size)}`
  add(v: number): void {
    const key = this.key(this.p[3 * v], this.p[3 * v + 1], this.p[3 * v + 2])
    const list = this.cells.get(key)
    if (list) list.push(v)
    else this.cells.set(key, [v])
  }
  /** Points in the cells that a box meets. */
  *within(low: readonly number[], high: readonly number[]): Generator<number> {
    const [from, to] = [low, high].map((of) => of.map((v) => Math.floor(v / this.size)))
    for (let i = from[0]; i <= to[0]; i++)
      for (let j = from[1]; j <= to[1]; j++) for (let k = from[2]; k <= to[2]; k++) yield* this.cells.get(`${i},${j},${k}`) ?? []
  }
}

const ends = (indices: Uint32Array, i: number): [number, number] => [indices[i], indices[i % 3 === 2 ? i - 2 : i + 1]]

function drawTogether(p: Float64Array, indices: Uint32Array, open: readonly number[], reach: number): { indices: Uint32Array; joined: number[] } {
  const cells = new Cells(p, 2 * reach)
  const of = new Map<number, number>()
  const joined: number[] = []
  for (const v of new Set(open.flatMap((i) => ends(indices, i)))) {
    const at = [p[3 * v], p[3 * v + 1], p[3 * v + 2]]
    let near = -1
    for (const w of cells.within(
      at.map((c) => c - reach),
      at.map((c) => c + reach),
    ))
      if (Math.hypot(p[3 * w] - at[0], p[3 * w + 1] - at[1], p[3 * w + 2] - at[2]) <= reach) near = w
    if (near >= 0) {
      of.set(v, near)
      joined.push(near)
    } else cells.add(v)
  }
  return { indices: joined.length > 0 ? indices.map((v) => of.get(v) ?? v) : indices, joined }
}

function splitSides(p: Float64Array, indices: Uint32Array, open: readonly number[], reach: number) {
  const lengths = open.map((i) => {
    const [a, b] = ends(indices, i)
    return Math.hypot(p[3 * a] - p[3 * b], p[3 * a + 1] - p[3 * b + 1], p[3 * a + 2] - p[3 * b + 2])
  })
  const mean = lengths.reduce((sum, l) => sum + l, 0) / Math.max(1, lengths.length)
  const cells = new Cells(p, Math.max(mean, 4 * reach, 1e-9))
  for (const v of new Set(open.flatMap((i) => ends(indices, i)))) cells.add(v)
  const most = MOST_CELLS * cells.size
  const splits: number[] = []
  /** per triangle, per side: the points on it in their order */
  const on = new Map<number, number[][]>()
  open.forEach((i, n) => {
    // a side so much longer than the others is not worth the cells it goes through
    if (lengths[n] > most) return
    const [a, b] = ends(indices, i)
    const t = Math.floor(i / 3)
    const from = [0, 1, 2].map((k) => p[3 * a + k])
    const way = [0, 1, 2].map((k) => p[3 * b + k] - from[k])
    const long = lengths[n] ** 2
    const found: [number, number][] = []
    const corners = indices.subarray(3 * t, 3 * t + 3)
    const pieces = Math.max(1, Math.ceil(lengths[n] / cells.size))
    const near = new Set<number>()
    for (let piece = 0; piece < pieces; piece++) {
      const [begin, end] = [piece, piece + 1].map((s) => from.map((c, k) => c + (way[k] * s) / pieces))
      const low = begin.map((c, k) => Math.min(c, end[k]) - reach)
      for (const v of cells.within(
        low,
        begin.map((c, k) => Math.max(c, end[k]) + reach),
      ))
        near.add(v)
    }
    for (const v of near) {
      if (corners.includes(v)) continue
      const to = [0, 1, 2].map((k) => p[3 * v + k] - from[k])
      const share = (to[0] * way[0] + to[1] * way[1] + to[2] * way[2]) / long
      if (!(share > 0 && share < 1)) continue
      if (Math.hypot(...to.map((c, k) => c - share * way[k])) <= reach) found.push([share, v])
    }
    if (found.length === 0) return
    found.sort((x, y) => x[0] - y[0])
    const sides = on.get(t) ?? [[], [], []]
    sides[i % 3] = found.map(([, v]) => v)
    on.set(t, sides)
    splits.push(...sides[i % 3])
  })
  if (splits.length === 0) return { indices, source: upTo(indices.length / 3), splits }
  const out: number[] = []
  const source: number[] = []
  for (let t = 0; t < indices.length / 3; t++) {
    const sides = on.get(t)
    const corners = [indices[3 * t], indices[3 * t + 1], indices[3 * t + 2]]
    if (!sides) {
      out.push(...corners)
      source.push(t)
      continue
    }
    // side by side, so that no triangle of three points on one side is made
    let rest: [number, number, number][] = [corners as [number, number, number]]
    sides.forEach((points, k) => {
      const [a, b] = [corners[k], corners[(k + 1) % 3]]
      const at = rest.findIndex((of) => [0, 1, 2].some((j) => of[j] === a && of[(j + 1) % 3] === b))
      if (points.length === 0 || at < 0) return
      const [whole] = rest.splice(at, 1)
      const apex = whole.find((v) => v !== a && v !== b) as number
      const row = [a, ...points, b]
      rest = [...rest, ...row.slice(1).map((v, j): [number, number, number] => [row[j], v, apex])]
    })
    for (const of of rest) {
      out.push(...of)
      source.push(t)
    }
  }
  return { indices: Uint32Array.from(out), source: Uint32Array.from(source), splits }
}
