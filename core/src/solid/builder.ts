import { connectedParts, NO_LETTER, type Solid } from './solid'

/**
 * Collects triangles with their corner normals and texture coordinates. Vertices at one lattice point are one vertex. The
 * scratch arrays `n` (three normals) and `uv` (three pairs) are filled before each `triangle`.
 */
export class SolidBuilder {
  readonly n = new Float64Array(9)
  readonly uv = new Float64Array(6)
  private readonly positions: number[] = []
  private readonly indices: number[] = []
  private readonly group: number[] = []
  private readonly letter: number[] = []
  private readonly band: number[] = []
  private readonly normals: number[] = []
  private readonly uvs: number[] = []
  /** first vertex over each point of the plane; per vertex that first one and the next over the same point */
  private readonly columns = new Map<number, number>()
  private readonly first: number[] = []
  private readonly above: number[] = []

  constructor(readonly lattice: number) {}

  get triangles(): number {
    return this.group.length
  }

  /** The vertex at a lattice point. */
  vertex(x: number, y: number, z: number): number {
    const key = Math.round(x / this.lattice) * 67108864 + Math.round(y / this.lattice)
    const first = this.columns.get(key)
    if (first === undefined) {
      const v = this.add(x, y, z, -1)
      this.columns.set(key, v)
      return v
    }
    return this.inColumn(first, x, y, z)
  }

  /** The vertex at height z over the same point of the plane as another vertex. */
  inColumn(other: number, x: number, y: number, z: number): number {
    const { positions, above, first } = this
    let v = first[other]
    for (;;) {
      if (positions[3 * v + 2] === z) return v
      const next = above[v]
      if (next < 0) break
      v = next
    }
    const made = this.add(x, y, z, first[other])
    above[v] = made
    return made
  }

  private add(x: number, y: number, z: number, first: number): number {
    const v = this.above.length
    this.positions.push(x, y, z)
    this.above.push(-1)
    this.first.push(first < 0 ? v : first)
    return v
  }

  /** Adds a triangle with what the scratch arrays hold; one without three different vertices is left out. `up` −1 turns it over. */
  triangle(a: number, b: number, c: number, group: number, letter: number, up: 1 | -1 = 1, band = 0): void {
    if (a === b || b === c || a === c) return
    const { n, uv } = this
    if (up === 1) {
      this.indices.push(a, b, c)
      this.normals.push(n[0], n[1], n[2], n[3], n[4], n[5], n[6], n[7], n[8])
      this.uvs.push(uv[0], uv[1], uv[2], uv[3], uv[4], uv[5])
    } else {
      this.indices.push(a, c, b)
      this.normals.push(n[0], n[1], n[2], n[6], n[7], n[8], n[3], n[4], n[5])
      this.uvs.push(uv[0], uv[1], uv[4], uv[5], uv[2], uv[3])
    }
    this.group.push(group)
    this.letter.push(letter)
    this.band.push(band)
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
    const indices = Uint32Array.from(this.indices)
    return {
      kind: 'solid',
      positions: Float64Array.from(this.positions),
      indices,
      group: Uint8Array.from(this.group),
      letter: Uint16Array.from(this.letter),
      layer: new Uint16Array(indices.length / 3),
      ...(bands.length > 0 ? { band: Uint8Array.from(this.band), bands } : {}),
      layers: [],
      part: connectedParts(indices, this.positions.length / 3).part,
      normals: Float32Array.from(this.normals),
      uvs: Float32Array.from(this.uvs),
      letters,
      lattice: this.lattice,
    }
  }
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

  constructor(
    rings: readonly { readonly xy: Float64Array; readonly tangents: Float64Array }[],
    letterAt: ((x: number, y: number) => number) | undefined,
  ) {
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
        const l = Math.hypot(dx, dy)
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
