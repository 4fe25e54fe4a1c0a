import { crossingPairs } from '../check/crossings'
import type { SoundTriangles } from '../check/sound-triangles'
import { trianglesCross } from '../check/triangles'
import { triangleMeets } from '../solid/in-box'
import { VertexTable } from '../solid/vertex-table'

/** [minX, minY, minZ, maxX, maxY, maxZ] mm */
export type Box = readonly [number, number, number, number, number, number]

/** A closed mesh whose vertices are numbers, not places, so that rounding does not change how it hangs together. Changed where it is mended. */
export interface LooseMesh {
  /** x, y, z per vertex, on the lattice */
  readonly positions: Float64Array
  /** vertex numbers, three a triangle; the first is REMOVED where the triangle is gone */
  readonly indices: Int32Array
  /** what attributes are read from at each corner */
  readonly corners: Uint32Array
  readonly surface: Uint32Array
}

export const REMOVED = -1

/** Stands for a list that is not empty. */
const LISTED: readonly number[] = [0]

export interface Mended {
  /** nothing crosses any more, and no two vertices lie at one place */
  readonly sound: boolean
  /** what had to be done */
  readonly collapsed: number
  readonly flipped: number
  readonly nudged: number
  /** where it could not be mended, mm */
  readonly places: readonly (readonly [number, number, number])[]
}

/** Sides up to this long may be collapsed and heights up to this flipped, one after another, mm: what is mended is no larger than that. */
const REACHES = [2 ** -11, 2 ** -9, 2 ** -7, 2 ** -6]
const ROUNDS_EACH = 3
const MOST_PAIRS = 400
/** Triangles that reach further through each other than this, mm, are not parted by changes of that size. */
const TOO_DEEP = 4 * REACHES[REACHES.length - 1]

/**
 * Mends what rounding to the lattice has spoilt in the result of a boolean, there and nowhere else: sides of no length are collapsed,
 * vertices that came to lie at one place are moved apart by a step of the lattice, and of triangles that cross, short sides are collapsed,
 * flat ones flipped or corners moved by steps of the lattice, whatever leaves fewer crossings (exact predicates). Looks for crossings among
 * triangles that meet `box` only: outside of it nothing has changed; and among those of `sound`, what the mesh was made of, not at all.
 */
export function mendRounded(mesh: LooseMesh, lattice: number, box: Box, sound?: SoundTriangles): Mended {
  return new Mender(mesh, lattice, box, sound).run()
}

/**
 * How far one of two triangles that cross would have to be moved to part them, mm: the least overlap along their normals and what is square to a side of
 * each (the separating axes of convex bodies: Gottschalk, Lin & Manocha, "OBBTree", 1996).
 */
export function depthOfCrossing(p: ArrayLike<number>, ids: ArrayLike<number>, s: number, t: number): number {
  const corners = (of: number) => [0, 1, 2].map((k) => [0, 1, 2].map((c) => p[3 * ids[3 * of + k] + c]))
  const [a, b] = [corners(s), corners(t)]
  const sides = (q: readonly number[][]) => [0, 1, 2].map((k) => [0, 1, 2].map((c) => q[(k + 1) % 3][c] - q[k][c]))
  const [sa, sb] = [sides(a), sides(b)]
  const square = ([x, y, z]: readonly number[], [u, v, w]: readonly number[]) => [y * w - z * v, z * u - x * w, x * v - y * u]
  const along = (axis: readonly number[], q: readonly number[][]) => q.map((c) => axis[0] * c[0] + axis[1] * c[1] + axis[2] * c[2])
  let least = Infinity
  for (const axis of [square(sa[0], sa[1]), square(sb[0], sb[1]), ...sa.flatMap((u) => sb.map((v) => square(u, v)))]) {
    const length = Math.hypot(axis[0], axis[1], axis[2])
    if (length < 1e-12) continue
    const [m, n] = [along(axis, a), along(axis, b)]
    least = Math.min(least, (Math.max(...m) - Math.min(...n)) / length, (Math.max(...n) - Math.min(...m)) / length)
  }
  return least
}

/** Triangles near those that cross, and their boxes; what is tried on others leaves them as they are. */
interface Beside {
  readonly triangles: readonly number[]
  readonly boxes: Float64Array
}

class Mender {
  private readonly from: Uint32Array
  private readonly listed: Uint32Array
  /** triangles about a vertex where they are others now than at the beginning */
  private readonly changed = new Map<number, number[]>()
  private readonly done = { collapsed: 0, flipped: 0, nudged: 0 }

  constructor(
    private readonly mesh: LooseMesh,
    private readonly lattice: number,
    private readonly box: Box,
    private readonly sound?: SoundTriangles,
  ) {
    const { indices, positions } = mesh
    const from = new Uint32Array(positions.length / 3 + 1)
    for (let i = 0; i < indices.length; i++) from[indices[i] + 1]++
    for (let v = 0; v + 1 < from.length; v++) from[v + 1] += from[v]
    const listed = new Uint32Array(indices.length)
    const at = from.slice()
    for (let i = 0; i < indices.length; i++) listed[at[indices[i]]++] = (i / 3) | 0
    this.from = from
    this.listed = listed
  }

  run(): Mended {
    let apart = this.partPlaces()
    let pairs = this.crossings()
    const { positions, indices } = this.mesh
    const deep = pairs.filter(([s, t]) => depthOfCrossing(positions, indices, s, t) > TOO_DEEP)
    if (deep.length > 0) return this.told(false, deep)
    for (const reach of REACHES) {
      for (let round = 0; round < ROUNDS_EACH && pairs.length > 0 && pairs.length <= MOST_PAIRS; round++) {
        for (const [s, t] of pairs) this.mendPair(s, t, reach)
        apart = this.partPlaces()
        pairs = this.crossings()
      }
    }
    return this.told(apart && pairs.length === 0, pairs)
  }

  private told(sound: boolean, pairs: readonly (readonly [number, number])[]): Mended {
    return { sound, ...this.done, places: pairs.slice(0, 50).map(([s]) => this.place(s)) }
  }

  private place(t: number): [number, number, number] {
    const { indices, positions } = this.mesh
    return [0, 1, 2].map((k) => (positions[3 * indices[3 * t] + k] + positions[3 * indices[3 * t + 1] + k] + positions[3 * indices[3 * t + 2] + k]) / 3) as [
      number,
      number,
      number,
    ]
  }

  private around(v: number): readonly number[] | Uint32Array {
    return this.changed.get(v) ?? this.listed.subarray(this.from[v], this.from[v + 1])
  }

  private alive(t: number): boolean {
    return this.mesh.indices[3 * t] !== REMOVED
  }

  /** Vertices that share a side with this one. */
  private neighbours(v: number): Set<number> {
    const { indices } = this.mesh
    const found = new Set<number>()
    for (const t of this.around(v)) for (let k = 0; k < 3; k++) if (indices[3 * t + k] !== v) found.add(indices[3 * t + k])
    return found
  }

  /** Collapses sides of no length, and moves what lies at one place otherwise apart. False where that did not succeed. */
  private partPlaces(): boolean {
    for (let round = 0; round < 6; round++) {
      const twins = this.twins()
      if (twins.length === 0) return true
      for (const [u, v] of twins) {
        if (!this.same(u, v) || this.around(u).length === 0 || this.around(v).length === 0) continue
        if (this.neighbours(u).has(v) && this.collapse(u, v)) this.done.collapsed++
        else this.moveAway(u, round)
      }
    }
    return this.twins().length === 0
  }

  private same(u: number, v: number): boolean {
    const p = this.mesh.positions
    return p[3 * u] === p[3 * v] && p[3 * u + 1] === p[3 * v + 1] && p[3 * u + 2] === p[3 * v + 2]
  }

  /** Pairs of vertices at one place. */
  private twins(): [number, number][] {
    const { positions: p } = this.mesh
    const [x0, y0, z0, x1, y1, z1] = this.box
    const table = new VertexTable(this.lattice)
    /** the first vertex at each of the table's places */
    const first: number[] = []
    const found: [number, number][] = []
    for (let v = 0; 3 * v < p.length; v++) {
      const [x, y, z] = [p[3 * v], p[3 * v + 1], p[3 * v + 2]]
      if (x < x0 || x > x1 || y < y0 || y > y1 || z < z0 || z > z1 || (this.changed.get(v) ?? LISTED).length === 0 || this.from[v] === this.from[v + 1])
        continue
      const place = table.vertex(x, y, z)
      if (place === first.length) first.push(v)
      else found.push([v, first[place]])
    }
    return found
  }

  /** Moves a vertex by a step of the lattice towards the middle of its neighbours. */
  private moveAway(v: number, round: number): void {
    const { positions: p } = this.mesh
    const around = [...this.neighbours(v)]
    const towards = [0, 1, 2].map((k) => around.reduce((sum, w) => sum + p[3 * w + k], 0) / around.length - p[3 * v + k])
    const most = Math.max(...towards.map(Math.abs)) || 1
    for (let k = 0; k < 3; k++) p[3 * v + k] += Math.round(((round + 1) * towards[k]) / most) * this.lattice
    this.done.nudged++
  }

  /** Pairs of triangles that cross, among those that meet the box. */
  private crossings(): [number, number][] {
    const near = this.within(this.box)
    const { positions, indices } = this.mesh
    const ids = new Uint32Array(3 * near.length)
    for (let i = 0; i < near.length; i++) for (let k = 0; k < 3; k++) ids[3 * i + k] = indices[3 * near[i] + k]
    return crossingPairs(positions, ids, MOST_PAIRS + 1, { owners: this.sound?.ownersIn({ positions, indices: ids }) }).map(([s, t]) => [near[s], near[t]])
  }

  /** Triangles that meet a box. */
  private within(box: Box): number[] {
    const { positions, indices } = this.mesh
    const found: number[] = []
    for (let t = 0; 3 * t < indices.length; t++) if (indices[3 * t] !== REMOVED && triangleMeets(positions, indices, t, box)) found.push(t)
    return found
  }

  /** Tries what may part two triangles, the smallest change first, until one leaves fewer crossings than there were. */
  private mendPair(s: number, t: number, reach: number): void {
    if (!this.alive(s) || !this.alive(t) || !trianglesCross(this.mesh.positions, this.mesh.indices, s, t)) return
    const beside = this.beside(this.boxAbout([s, t], 2 * reach))
    const tried = [...this.collapses(s, reach), ...this.collapses(t, reach), ...this.flips(s, reach), ...this.flips(t, reach)].sort((a, b) => a.size - b.size)
    for (const { attempt } of tried) if (attempt(beside)) return
    for (const corner of [s, t].flatMap((of) => [0, 1, 2].map((k) => this.mesh.indices[3 * of + k]))) if (this.nudge(corner, beside, reach)) return
  }

  private beside(box: Box): Beside {
    const triangles = this.within(box)
    const boxes = new Float64Array(6 * triangles.length)
    triangles.forEach((t, i) => this.boxOf(t, boxes, 6 * i))
    return { triangles, boxes }
  }

  private boxOf(t: number, into: Float64Array, at: number): void {
    const { positions: p, indices } = this.mesh
    const [a, b, c] = [3 * indices[3 * t], 3 * indices[3 * t + 1], 3 * indices[3 * t + 2]]
    for (let k = 0; k < 3; k++) {
      into[at + k] = Math.min(p[a + k], p[b + k], p[c + k])
      into[at + 3 + k] = Math.max(p[a + k], p[b + k], p[c + k])
    }
  }

  /** The box about triangles and those around them. */
  private boxAbout(triangles: readonly number[], margin: number): Box {
    const { positions: p, indices } = this.mesh
    const box: [number, number, number, number, number, number] = [Infinity, Infinity, Infinity, -Infinity, -Infinity, -Infinity]
    for (const t of triangles)
      for (let i = 3 * t; i < 3 * t + 3; i++)
        for (const u of this.around(indices[i]))
          for (let j = 3 * u; j < 3 * u + 3; j++)
            for (let k = 0; k < 3; k++) {
              box[k] = Math.min(box[k], p[3 * indices[j] + k] - margin)
              box[3 + k] = Math.max(box[3 + k], p[3 * indices[j] + k] + margin)
            }
    return box
  }

  private length(u: number, v: number): number {
    const p = this.mesh.positions
    return Math.hypot(p[3 * u] - p[3 * v], p[3 * u + 1] - p[3 * v + 1], p[3 * u + 2] - p[3 * v + 2])
  }

  private collapses(t: number, reach: number): { size: number; attempt: (beside: Beside) => boolean }[] {
    const { indices } = this.mesh
    return [0, 1, 2].flatMap((k) => {
      const [u, v] = [indices[3 * t + k], indices[3 * t + ((k + 1) % 3)]]
      const size = this.length(u, v)
      if (size > reach) return []
      return [
        [u, v],
        [v, u],
      ].map(([gone, stays]) => ({
        size,
        attempt: (beside: Beside) =>
          this.better(new Set([...this.around(gone), ...this.around(stays)]), beside, () => {
            const undo = this.collapse(gone, stays)
            if (undo) this.done.collapsed++
            return undo && (() => (undo(), this.done.collapsed--))
          }),
      }))
    })
  }

  /** Flips the longest side of a triangle whose height over it is small. */
  private flips(t: number, reach: number): { size: number; attempt: (beside: Beside) => boolean }[] {
    const { indices, positions: p } = this.mesh
    return [0, 1, 2].flatMap((k) => {
      const [a, b, c] = [indices[3 * t + k], indices[3 * t + ((k + 1) % 3)], indices[3 * t + ((k + 2) % 3)]]
      const side = this.length(a, b)
      if (side < this.length(b, c) || side < this.length(c, a)) return []
      const [u, v] = [[0, 1, 2].map((i) => p[3 * b + i] - p[3 * a + i]), [0, 1, 2].map((i) => p[3 * c + i] - p[3 * a + i])]
      const size = Math.hypot(u[1] * v[2] - u[2] * v[1], u[2] * v[0] - u[0] * v[2], u[0] * v[1] - u[1] * v[0]) / (side || 1)
      if (size > reach) return []
      const other = [...this.around(a)].find((o) => o !== t && this.cornerOf(o, b) >= 0 && this.cornerOf(o, a) === (this.cornerOf(o, b) + 1) % 3)
      if (other === undefined) return []
      return [
        {
          size,
          attempt: (beside: Beside) =>
            this.better(new Set([t, other]), beside, () => {
              const undo = this.flip(t, other, a, b)
              if (undo) this.done.flipped++
              return undo && (() => (undo(), this.done.flipped--))
            }),
        },
      ]
    })
  }

  private cornerOf(t: number, v: number): number {
    const { indices } = this.mesh
    return [0, 1, 2].find((k) => indices[3 * t + k] === v) ?? -1
  }

  private nudge(v: number, beside: Beside, reach: number): boolean {
    const { positions: p } = this.mesh
    const steps = Math.max(1, Math.min(8, Math.round(reach / this.lattice / 8)))
    const concerned = new Set(this.around(v))
    // what is tried and taken back leaves it as it was
    const before = this.crossingPairs(concerned, beside)
    for (const step of new Set([1, steps]))
      for (let way = 0; way < 27; way++) {
        const move = [(way % 3) - 1, (Math.floor(way / 3) % 3) - 1, Math.floor(way / 9) - 1].map((m) => m * step * this.lattice)
        if (way === 13) continue
        const change = () => {
          const was = p.slice(3 * v, 3 * v + 3)
          for (let k = 0; k < 3; k++) p[3 * v + k] += move[k]
          this.done.nudged++
          return () => {
            p.set(was, 3 * v)
            this.done.nudged--
          }
        }
        const moved = this.better(concerned, beside, change, before)
        if (moved) return true
      }
    return false
  }

  /** Does something to triangles and takes it back unless fewer of them cross others afterwards than `before`. */
  private better(
    concerned: ReadonlySet<number>,
    beside: Beside,
    change: () => (() => void) | undefined,
    before = this.crossingPairs(concerned, beside),
  ): boolean {
    const undo = change()
    if (!undo) return false
    // most changes leave what crossed as it was, which is found without looking at all others
    const { positions, indices } = this.mesh
    const still = before.filter(([s, t]) => this.alive(s) && this.alive(t) && trianglesCross(positions, indices, s, t)).length
    if (still < before.length && this.crossingPairs(concerned, beside, before.length).length < before.length) return true
    undo()
    return false
  }

  /** Pairs of triangles that cross, one of them of those concerned; no more than `most` are looked for. */
  private crossingPairs(concerned: ReadonlySet<number>, { triangles, boxes }: Beside, most = Infinity): [number, number][] {
    const { positions, indices } = this.mesh
    const box = new Float64Array(6)
    const own = [...concerned].filter((t) => this.alive(t))
    const found: [number, number][] = []
    for (let i = 0; i < own.length && found.length < most; i++) {
      for (let j = 0; j < i; j++) if (trianglesCross(positions, indices, own[i], own[j])) found.push([own[i], own[j]])
      this.boxOf(own[i], box, 0)
      for (let j = 0; j < triangles.length; j++) {
        const o = 6 * j
        if (boxes[o] > box[3] || boxes[o + 3] < box[0] || boxes[o + 1] > box[4] || boxes[o + 4] < box[1] || boxes[o + 2] > box[5] || boxes[o + 5] < box[2])
          continue
        const t = triangles[j]
        if (!concerned.has(t) && this.alive(t) && trianglesCross(positions, indices, own[i], t)) found.push([own[i], t])
      }
    }
    return found
  }

  /** Lets a vertex become another one, if the surface stays one; gives what takes it back. */
  private collapse(gone: number, stays: number): (() => void) | undefined {
    const { indices } = this.mesh
    const [a, b] = [this.neighbours(gone), this.neighbours(stays)]
    const common = [...a].filter((v) => b.has(v))
    // the link condition: the two triangles at the side have the only vertices in common
    if (common.length !== 2) return undefined
    const [ours, theirs] = [[...this.around(gone)], [...this.around(stays)]]
    if (ours.length + theirs.length <= 6) return undefined
    const between = ours.filter((t) => this.cornerOf(t, stays) >= 0)
    if (between.length !== 2) return undefined
    const kept = ours.filter((t) => !between.includes(t))
    const saved = ours.map((t) => ({ t, corners: [...indices.subarray(3 * t, 3 * t + 3)] }))
    const lists = [gone, stays, ...common].map((v) => ({ v, list: [...this.around(v)] }))
    for (const t of kept) indices[3 * t + this.cornerOf(t, gone)] = stays
    for (const t of between) indices[3 * t] = REMOVED
    this.changed.set(gone, [])
    this.changed.set(stays, [...theirs.filter((t) => !between.includes(t)), ...kept])
    for (const v of common)
      this.changed.set(
        v,
        [...this.around(v)].filter((t) => !between.includes(t)),
      )
    return () => {
      for (const { t, corners } of saved) indices.set(corners, 3 * t)
      for (const { v, list } of lists) this.changed.set(v, list)
    }
  }

  /** The side a–b of triangle s becomes the one between the two corners across it; gives what takes it back. */
  private flip(s: number, t: number, a: number, b: number): (() => void) | undefined {
    const { indices, corners, surface } = this.mesh
    const [c, d] = [indices[3 * s + ((this.cornerOf(s, b) + 1) % 3)], indices[3 * t + ((this.cornerOf(t, a) + 1) % 3)]]
    if (c === d || this.neighbours(c).has(d)) return undefined
    const at = (of: number, v: number) => corners[3 * of + this.cornerOf(of, v)]
    const saved = [s, t].map((of) => ({
      of,
      ids: [...indices.subarray(3 * of, 3 * of + 3)],
      corners: [...corners.subarray(3 * of, 3 * of + 3)],
      row: surface[of],
    }))
    const lists = [a, b, c, d].map((v) => ({ v, list: [...this.around(v)] }))
    // the flat triangle takes the other one's surface: it has next to none of its own
    const [atA, atB, atC, atD] = [at(t, a), at(t, b), at(s, c), at(t, d)]
    indices.set([a, d, c], 3 * s)
    corners.set([atA, atD, atC], 3 * s)
    indices.set([d, b, c], 3 * t)
    corners.set([atD, atB, atC], 3 * t)
    surface[s] = surface[t]
    const without = (v: number, of: number) =>
      this.changed.set(
        v,
        [...this.around(v)].filter((o) => o !== of),
      )
    without(a, t)
    without(b, s)
    this.changed.set(c, [...this.around(c), t])
    this.changed.set(d, [...this.around(d), s])
    return () => {
      for (const { of, ids, corners: was, row } of saved) {
        indices.set(ids, 3 * of)
        corners.set(was, 3 * of)
        surface[of] = row
      }
      for (const { v, list } of lists) this.changed.set(v, list)
    }
  }
}
