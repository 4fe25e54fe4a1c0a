import { PairTable } from './pair-table'

/** Numbers the points of a lattice as they come: one vertex for each, found by the point of the plane below it and its height. */
export class VertexTable {
  protected positions = new Float64Array(0)
  /** per vertex the first one over its point of the plane, and the next one over it, −1 for none */
  private first = new Int32Array(0)
  private above = new Int32Array(0)
  protected vertices = 0
  private readonly columns = new PairTable(64)

  constructor(readonly lattice: number) {}

  /** The vertex at a lattice point. */
  vertex(x: number, y: number, z: number): number {
    // shifted so that both are whole numbers above zero
    const i = Math.round(x / this.lattice) + 1073741824
    const j = Math.round(y / this.lattice) + 1073741824
    const first = this.columns.get(i, j)
    if (first >= 0) return this.inColumn(first, x, y, z)
    const v = this.add(x, y, z, -1)
    this.columns.set(i, j, v)
    return v
  }

  /** The vertex at height z over the same point of the plane as another vertex. */
  inColumn(other: number, x: number, y: number, z: number): number {
    let v = this.first[other]
    for (;;) {
      if (this.positions[3 * v + 2] === z) return v
      const next = this.above[v]
      if (next < 0) break
      v = next
    }
    const made = this.add(x, y, z, this.first[other])
    this.above[v] = made
    return made
  }

  private add(x: number, y: number, z: number, first: number): number {
    const v = this.vertices++
    if (3 * v >= this.positions.length) {
      const room = Math.max(256, 2 * v)
      this.positions = longer(this.positions, 3 * room)
      this.first = longer(this.first, room)
      this.above = longer(this.above, room)
    }
    this.positions[3 * v] = x
    this.positions[3 * v + 1] = y
    this.positions[3 * v + 2] = z
    this.above[v] = -1
    this.first[v] = first < 0 ? v : first
    return v
  }

  /** Makes room, so that nothing is copied as it grows. */
  reserveVertices(points: number, vertices: number): void {
    const v = this.vertices + vertices
    this.columns.reserve(points)
    if (3 * v <= this.positions.length) return
    this.positions = longer(this.positions, 3 * v)
    this.first = longer(this.first, v)
    this.above = longer(this.above, v)
  }

  /** x, y, z of all vertices so far, a new array. */
  vertexPositions(): Float64Array {
    return this.positions.slice(0, 3 * this.vertices)
  }
}

/** A longer copy. */
export function longer<T extends Float64Array | Float32Array | Int32Array | Uint32Array | Uint16Array | Uint8Array>(array: T, length: number): T {
  const copy = new (array.constructor as new (length: number) => T)(length)
  copy.set(array)
  return copy
}

/** The numbers 0 to n − 1. */
export function upTo(n: number): Uint32Array {
  const out = new Uint32Array(n)
  for (let i = 0; i < n; i++) out[i] = i
  return out
}
