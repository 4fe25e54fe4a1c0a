import { type LabelRow, labelTable, NONE, PLAIN_ROW } from './labels'
import { type Solid, withParts } from './solid'
import { longer, VertexTable } from './vertex-table'

/**
 * Collects triangles with their corner normals and texture coordinates. Vertices at one lattice point are one vertex. The
 * scratch arrays `n` (three normals) and `uv` (three pairs) are filled before each `triangle`.
 */
export class SolidBuilder extends VertexTable {
  readonly n = new Float64Array(9)
  readonly uv = new Float64Array(6)
  private indices = new Uint32Array(0)
  private surface = new Uint32Array(0)
  /** surfaces met so far, and their numbers by what tells them apart */
  private readonly rows: LabelRow[] = []
  private readonly numbers = new Map<number, number>()
  private lastKey = -1
  private lastRow = 0
  private normals = new Float32Array(0)
  private uvs = new Float32Array(0)
  private count = 0

  /** `shaded` false leaves normals and texture coordinates out: they are made when they are asked for. */
  constructor(
    lattice: number,
    private readonly shaded = true,
  ) {
    super(lattice)
  }

  /** Makes room for vertices over so many more points of the plane and for more vertices and triangles in all, so that nothing is copied as it grows. */
  reserve(points: number, vertices: number, triangles: number): void {
    this.reserveVertices(points, vertices)
    const t = this.count + triangles
    if (t > this.surface.length) this.lengthen(t)
  }

  private lengthen(triangles: number): void {
    this.indices = longer(this.indices, 3 * triangles)
    this.surface = longer(this.surface, triangles)
    if (!this.shaded) return
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
    const { indices, surface, normals, uvs } = this
    const rowOf = this.rows.slice().map(({ group, letter, band }) => this.row(group === from ? to : group, letter, band))
    for (let s = 0, t = count; s < count; s++, t++) {
      surface[t] = rowOf[surface[s]]
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

  /** The number of a surface. */
  private row(group: number, letter: number, band: number): number {
    const key = ((letter + 1) * 256 + band + 1) * 8 + group
    if (key === this.lastKey) return this.lastRow
    let row = this.numbers.get(key)
    if (row === undefined) {
      row = this.rows.push({ ...PLAIN_ROW, group, letter, band }) - 1
      this.numbers.set(key, row)
    }
    this.lastKey = key
    this.lastRow = row
    return row
  }

  /** Adds a triangle with what the scratch arrays hold; one without three different vertices is left out. `up` −1 turns it over. */
  triangle(a: number, b: number, c: number, group: number, letter: number, up: 1 | -1 = 1, band = NONE): void {
    if (a === b || b === c || a === c) return
    const t = this.count++
    if (t >= this.surface.length) this.lengthen(Math.max(256, 2 * t))
    const { n, uv, normals, uvs, indices } = this
    this.surface[t] = this.row(group, letter, band)
    // turned over, the second and the third corner change places
    const q = 3 * t + (up === 1 ? 1 : 2)
    const r = 3 * t + (up === 1 ? 2 : 1)
    indices[3 * t] = a
    indices[q] = b
    indices[r] = c
    if (!this.shaded) return
    normals[9 * t] = n[0]
    normals[9 * t + 1] = n[1]
    normals[9 * t + 2] = n[2]
    normals[3 * q] = n[3]
    normals[3 * q + 1] = n[4]
    normals[3 * q + 2] = n[5]
    normals[3 * r] = n[6]
    normals[3 * r + 1] = n[7]
    normals[3 * r + 2] = n[8]
    uvs[6 * t] = uv[0]
    uvs[6 * t + 1] = uv[1]
    uvs[2 * q] = uv[2]
    uvs[2 * q + 1] = uv[3]
    uvs[2 * r] = uv[4]
    uvs[2 * r + 1] = uv[5]
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

  /** The solid of all that was added, its connected parts numbered; `one` where it is known to hang together. Nothing may be added after it. */
  finish(letters: readonly string[] = [], bands: readonly string[] = [], one = false): Solid {
    const n = this.count
    const solid: Solid = {
      kind: 'solid',
      positions: this.vertexPositions(),
      indices: shortened(this.indices, 3 * n),
      surface: shortened(this.surface, n),
      labels: labelTable(this.rows),
      attributes: this.shaded ? { normal: shortened(this.normals, 9 * n), uv: shortened(this.uvs, 6 * n) } : {},
      letters,
      layers: [],
      bands,
      looks: [],
      lattice: this.lattice,
    }
    return one ? solid : withParts(solid)
  }
}

/** The first so many of an array: itself, where there are no more. */
const shortened = <T extends Uint32Array | Float32Array>(array: T, length: number): T => (array.length === length ? array : (array.slice(0, length) as T))

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
    this.letter = new Int32Array(n).fill(NONE)
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
  walls(mesh: SolidBuilder, zLow: number, zHigh: number, group: number, rows = 1, band = NONE): void {
    if (zHigh <= zLow) return
    const { tangents, next, x, y } = this
    const levels = Array.from({ length: rows + 1 }, (_, k) =>
      k === rows ? zHigh : Math.round((zLow + ((zHigh - zLow) * k) / rows) / mesh.lattice) * mesh.lattice,
    )
    // any vertex over each point leads to the others
    const over = new Int32Array(next.length).fill(-1)
    const at = (i: number, z: number): number => (over[i] = over[i] < 0 ? mesh.vertex(x[i], y[i], z) : mesh.inColumn(over[i], x[i], y[i], z))
    for (let i = 0; i < next.length; i++) {
      const j = next[i]
      for (let k = 0; k < rows; k++) {
        const [z0, z1] = [levels[k], levels[k + 1]]
        const a = at(i, z0)
        const b = at(j, z0)
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
