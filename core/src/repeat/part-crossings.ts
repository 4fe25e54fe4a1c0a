import { putPlane, trianglesCross } from '../check/triangles'
import { forMeetingBoxes } from './boxes'

/**
 * Looks for crossing triangles between parts of a mesh, pair of parts by pair: where it is known which parts can meet, and of which it is plain that they do not
 * cross, that is much less than a search through all of them.
 */
export class PartCrossings {
  /** boxes of parts and of triangles, six numbers each: low corner, high corner */
  private readonly boxes: Float64Array
  private readonly own: Float64Array
  /** as `planesOf` gives them, of the triangles that were asked about */
  private readonly planes: Float64Array
  private readonly known: Uint8Array
  /** triangles of a part: from first[part] up to first[part + 1] in the list */
  private readonly first: Uint32Array
  private readonly list: Uint32Array
  readonly found: [number, number][] = []

  /** `owners`: the part of each triangle, of so many parts; no more than `most` pairs are looked for. */
  constructor(
    private readonly positions: Float64Array,
    private readonly indices: Uint32Array,
    owners: Uint32Array,
    private readonly parts: number,
    private readonly most: number,
  ) {
    const own = new Float64Array(2 * indices.length)
    const boxes = new Float64Array(6 * parts)
    for (let o = 0; o < boxes.length; o += 6) boxes.fill(Infinity, o, o + 3).fill(-Infinity, o + 3, o + 6)
    const first = new Uint32Array(parts + 1)
    for (let t = 0; t < owners.length; t++) {
      const o = 6 * owners[t]
      const i = 3 * indices[3 * t]
      const j = 3 * indices[3 * t + 1]
      const l = 3 * indices[3 * t + 2]
      first[owners[t] + 1]++
      for (let k = 0; k < 3; k++) {
        const a = positions[i + k]
        const b = positions[j + k]
        const c = positions[l + k]
        let low = a < b ? a : b
        if (c < low) low = c
        let high = a > b ? a : b
        if (c > high) high = c
        own[6 * t + k] = low
        own[6 * t + 3 + k] = high
        if (low < boxes[o + k]) boxes[o + k] = low
        if (high > boxes[o + 3 + k]) boxes[o + 3 + k] = high
      }
    }
    for (let part = 0; part < parts; part++) first[part + 1] += first[part]
    const next = first.slice()
    const list = new Uint32Array(owners.length)
    for (let t = 0; t < owners.length; t++) list[next[owners[t]]++] = t
    this.own = own
    this.planes = new Float64Array(2 * indices.length)
    this.known = new Uint8Array(owners.length)
    this.boxes = boxes
    this.first = first
    this.list = list
  }

  get full(): boolean {
    return this.found.length >= this.most
  }

  /** Calls `visit` for each two parts whose boxes meet. */
  forMeeting(visit: (one: number, other: number) => void): void {
    const names: number[] = []
    for (let part = 0; part < this.parts; part++) if (this.first[part] < this.first[part + 1]) names.push(part)
    const boxes = new Float64Array(6 * names.length)
    names.forEach((part, i) => boxes.set(this.boxes.subarray(6 * part, 6 * part + 6), 6 * i))
    forMeetingBoxes(boxes, 0, (i, j) => visit(names[i], names[j]))
  }

  /** Looks for triangles of two parts that cross. */
  between(one: number, other: number): void {
    if (!meet(this.boxes, one, this.boxes, other)) return
    const near: number[] = []
    for (let i = this.first[one]; i < this.first[one + 1]; i++) if (meet(this.own, this.list[i], this.boxes, other)) near.push(this.list[i])
    if (near.length === 0) return
    for (let j = this.first[other]; j < this.first[other + 1]; j++) {
      const t = this.list[j]
      if (meet(this.own, t, this.boxes, one)) for (const s of near) this.ask(s, t)
    }
  }

  private ask(s: number, t: number): void {
    if (this.full || !meet(this.own, s, this.own, t)) return
    this.plane(s)
    this.plane(t)
    if (trianglesCross(this.positions, this.indices, s, t, this.planes)) this.found.push([s, t])
  }

  private plane(t: number): void {
    if (this.known[t]) return
    this.known[t] = 1
    putPlane(this.planes, this.positions, this.indices, t)
  }
}

function meet(a: Float64Array, i: number, b: Float64Array, j: number): boolean {
  const [o, q] = [6 * i, 6 * j]
  return a[o] <= b[q + 3] && b[q] <= a[o + 3] && a[o + 1] <= b[q + 4] && b[q + 1] <= a[o + 4] && a[o + 2] <= b[q + 5] && b[q + 2] <= a[o + 5]
}
