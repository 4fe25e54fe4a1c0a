import { PairTable } from './pair-table'
import { connectedParts, NO_LETTER, type Solid } from './solid'

/**
 * Collects triangles with their corner normals and texture coordinates. Vertices at one lattice point are one vertex. The
 * scratch arrays `n` (three normals) and `uv` (three pairs) are filled before each `triangle`.
 */
export class SolidBuilder {
  readonly n = new Float64Array(9)
  readonly uv = new Float64Array(6)
  private positions = new Float64Array(3 * 256)
  /** per vertex the first one over its point of the plane, and the next one over it, −1 for none */
  private first = new Int32Array(256)
  private above = new Int32Array(256)
  private vertices = 0
  private indices = new Uint32Array(3 * 256)
  private group = new Uint8Array(256)
  private letter = new Uint16Array(256)
  private band = new Uint8Array(256)
  private normals = new Float32Array(9 * 256)
  private uvs = new Float32Array(6 * 256)
  private count = 0
  private readonly columns = new PairTable(512)

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
      this.positions = longer(this.positions, 2 * this.positions.length)
      this.first = longer(this.first, 2 * this.first.length)
      this.above = longer(this.above, 2 * this.above.length)
    }
    this.positions[3 * v] = x
    this.positions[3 * v + 1] = y
    this.positions[3 * v + 2] = z
    this.above[v] = -1
    this.first[v] = first < 0 ? v : first
    return v
  }

  /** Makes room for vertices over so many more points of the plane and for more vertices and triangles in all, so that nothing is copied as it grows. */
  reserve(points: number, vertices: number, triangles: number): void {
    const [v, t] = [this.vertices + vertices, this.count + triangles]
    this.columns.reserve(points)
    if (3 * v > this.positions.length) {
      this.positions = longer(this.positions, 3 * v)
      this.first = longer(this.first, v)
      this.above = longer(this.above, v)
    }
    if (t > this.group.length) this.lengthen(t)
  }

  private lengthen(triangles: number): void {
    this.indices = longer(this.indices, 3 * triangles)
    this.group = longer(this.group, triangles)
    this.letter = longer(this.letter, triangles)
    this.band = longer(this.band, triangles)
    this.normals = longer(this.normals, 9 * triangles)
    this.uvs = longer(this.uvs, 6 * triangles)
  }

  /**
   * Adds all there is once more, mirrored in the plane halfway up to `height`, mm, a multiple of the lattice, so that the lower
   * side of a solid need not be worked out again; `from` becomes `to` among the groups.
   */
  mirror(height: number, from: number, to: number): void {
    const { vertices, count } = this
    this.reserve(0, vertices, count)
    const image = new Int32Array(vertices)
    for (let v = 0; v < vertices; v++) {
      const { positions } = this
      image[v] = this.inColumn(v, positions[3 * v], positions[3 * v + 1], height - positions[3 * v + 2])
    }
    const { indices, group, letter, band, normals, uvs } = this
    for (let s = 0, t = count; s < count; s++, t++) {
      group[t] = group[s] === from ? to : group[s]
      letter[t] = letter[s]
      band[t] = band[s]
      for (let j = 0; j < 3; j++) {
        // turned over, the second and the third corner change places
        const k = 3 * t + ((3 - j) % 3)
        const l = 3 * s + j
        indices[k] = image[indices[l]]
        normals[3 * k] = normals[3 * l]
        normals[3 * k + 1] = normals[3 * l + 1]
        normals[3 * k + 2] = -normals[3 * l + 2]
        uvs[2 * k] = uvs[2 * l]
        uvs[2 * k + 1] = uvs[2 * l + 1]
      }
    }
    this.count += count
  }

  /** Adds a triangle with what the scratch arrays hold; one without three different vertices is left out. `up` −1 turns it over. */
  triangle(a: number, b: number, c: number, group: number, letter: number, up: 1 | -1 = 1, band = 0): void {
    if (a === b || b === c || a === c) return
    const t = this.count++
    if (t >= this.group.length) this.lengthen(2 * t)
    const { n, uv, normals, uvs, indices } = this
    // turned over, the second and the third corner change places
    const [q, r] = up === 1 ? [1, 2] : [2, 1]
    indices[3 * t] = a
    indices[3 * t + q] = b
    indices[3 * t + r] = c
    for (let k = 0; k < 3; k++) {
      normals[9 * t + k] = n[k]
      normals[9 * t + 3 * q + k] = n[3 + k]
      normals[9 * t + 3 * r + k] = n[6 + k]
    }
    uvs[6 * t] = uv[0]
    uvs[6 * t + 1] = uv[1]
    uvs[6 * t + 2 * q] = uv[2]
    uvs[6 * t + 2 * q + 1] = uv[3]
    uvs[6 * t + 2 * r] = uv[4]
    uvs[6 * t + 2 * r + 1] = uv[5]
    this.group[t] = group
    this.letter[t] = letter
    this.band[t] = band
  }

  /** The scratch normal of corner k (0 to 2). */
  setNormal(k: number, x: number, y: number, z: number): void {
    this.n[3 * k] = x
    this.n[3 * k + 1] = y
    this.n[3 * k + 2] = z
  }

  setUv(k: number, u: number, v: number): void {
    this.uv[2 * k] = u
    this.uv[2 * k + 1] = v
  }

  finish(letters: readonly string[] = [], bands: readonly string[] = []): Solid {
    const n = this.count
    const indices = this.indices.slice(0, 3 * n)
    return {
      kind: 'solid',
      positions: this.positions.slice(0, 3 * this.vertices),
      indices,
      group: this.group.slice(0, n),
      letter: this.letter.slice(0, n),
      layer: new Uint16Array(n),
      ...(bands.length > 0 ? { band: this.band.slice(0, n), bands } : {}),
      layers: [],
      part: connectedParts(indices, this.vertices).part,
      normals: this.normals.slice(0, 9 * n),
      uvs: this.uvs.slice(0, 6 * n),
      letters,
      lattice: this.lattice,
    }
  }
}

/** A longer copy. */
function longer<T extends Float64Array | Float32Array | Int32Array | Uint32Array | Uint16Array | Uint8Array>(array: T, length: number): T {
  const copy = new (array.constructor as new (length: number) => T)(length)
  copy.set(array)
  return copy
}

/** The outline under a solid, point by point: what the kernels of form take tangents, lengths and letters from. */
export class OutlineFrame {
  /** per point: tangents arriving and leaving (x, y each), distance along its ring, length to the next point, the next point */
  readonly tangents: Float64Array
  readonly along: Float64Array
  readonly length: Float64Array
  readonly next: Int32Array
  readonly x: Float64Array
  readonly y: Float64Array
  readonly letter: Int32Array

  constructor(rings: readonly { readonly xy: Float64Array; readonly tangents: Float64Array }[], letterAt: ((x: number, y: number) => number) | undefined) {
    const n = rings.reduce((sum, ring) => sum + ring.xy.length / 2, 0)
    this.tangents = new Float64Array(4 * n)
    this.along = new Float64Array(n)
    this.length = new Float64Array(n)
    this.next = new Int32Array(n)
    this.x = new Float64Array(n)
    this.y = new Float64Array(n)
    this.letter = new Int32Array(n).fill(NO_LETTER)
    let base = 0
    for (const { xy, tangents } of rings) {
      const m = xy.length / 2
      this.tangents.set(tangents, 4 * base)
      let distance = 0
      for (let i = 0; i < m; i++) {
        const j = (i + 1) % m
        const dx = xy[2 * j] - xy[2 * i]
        const dy = xy[2 * j + 1] - xy[2 * i + 1]
        const l = Math.sqrt(dx * dx + dy * dy)
        this.x[base + i] = xy[2 * i]
        this.y[base + i] = xy[2 * i + 1]
        this.along[base + i] = distance
        this.length[base + i] = l
        this.next[base + i] = base + j
        if (letterAt) {
          const probe = Math.min(0.01, l * 0.1)
          this.letter[base + i] = letterAt(xy[2 * i] + dx / 2 - (dy / l) * probe, xy[2 * i + 1] + dy / 2 + (dx / l) * probe)
        }
        distance += l
      }
      base += m
    }
  }

  /** How far along the side that starts at a point (x, y) lies, mm. */
  alongSide(point: number, x: number, y: number): number {
    const j = this.next[point]
    return ((x - this.x[point]) * (this.x[j] - this.x[point]) + (y - this.y[point]) * (this.y[j] - this.y[point])) / this.length[point]
  }

  /**
   * Upright walls on the outline between two heights, cut into `rows`: `group` of the surface, quads split alike. Heights are on
   * the lattice; nothing is built where the upper is not above the lower.
   */
  walls(mesh: SolidBuilder, zLow: number, zHigh: number, group: number, rows = 1, band = 0): void {
    if (zHigh <= zLow) return
    const { tangents, next, x, y } = this
    const levels = Array.from({ length: rows + 1 }, (_, k) =>
      k === rows ? zHigh : Math.round((zLow + ((zHigh - zLow) * k) / rows) / mesh.lattice) * mesh.lattice,
    )
    for (let i = 0; i < next.length; i++) {
      const j = next[i]
      for (let k = 0; k < rows; k++) {
        const [z0, z1] = [levels[k], levels[k + 1]]
        const a = mesh.vertex(x[i], y[i], z0)
        const b = mesh.vertex(x[j], y[j], z0)
        const c = mesh.inColumn(b, x[j], y[j], z1)
        const d = mesh.inColumn(a, x[i], y[i], z1)
        const [nx0, ny0, nx1, ny1] = [tangents[4 * i + 3], -tangents[4 * i + 2], tangents[4 * j + 1], -tangents[4 * j]]
        const u0 = this.along[i]
        const u1 = u0 + this.length[i]
        mesh.setNormal(0, nx0, ny0, 0)
        mesh.setNormal(1, nx1, ny1, 0)
        mesh.setNormal(2, nx1, ny1, 0)
        mesh.setUv(0, u0, z0)
        mesh.setUv(1, u1, z0)
        mesh.setUv(2, u1, z1)
        mesh.triangle(a, b, c, group, this.letter[i], 1, band)
        mesh.setNormal(2, nx0, ny0, 0)
        mesh.setNormal(1, nx1, ny1, 0)
        mesh.setUv(1, u1, z1)
        mesh.setUv(2, u0, z1)
        mesh.triangle(a, c, d, group, this.letter[i], 1, band)
      }
    }
  }
}
