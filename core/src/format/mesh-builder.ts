import { colourOf, type Look, materialKey, UNDRESSED } from '../look/material'
import { longer } from '../solid/vertex-table'
import { FormatError, type MeshData, type ModelSurface, MOST_TRIANGLES } from './mesh-data'

/** A model may have so many vertices, used or not. */
const MOST_VERTICES = 3 * MOST_TRIANGLES

/** Parts and materials beyond this many are not told apart. */
const MOST_SURFACES = 500

/** Colours of single triangles or vertices are brought down to at most so many. */
const MOST_COLOURS = 96

/** A picture is not repeated more often over a model. */
const MOST_REPEATED = 10_000

export const tooManyTriangles = (count: number) =>
  new FormatError(
    `The model has ${count.toLocaleString('en')} triangles; at most ${MOST_TRIANGLES.toLocaleString('en')} are read.`,
    'Reduce it where it was made.',
  )

/** Collects what a reader finds in a model's file; throws FormatError as soon as there is too much of it. */
export class MeshBuilder {
  private xyz = new Float64Array(3 * 1024)
  private corners = new Uint32Array(3 * 1024)
  private rows = new Uint32Array(1024)
  /** red, green, blue as one number, −1 for none */
  private colours: Int32Array | undefined
  private pictureUv: Float32Array | undefined
  private readonly surfaces: ModelSurface[] = []
  private readonly numbers = new Map<string, number>()
  vertices = 0
  triangles = 0

  /** Adds a vertex, mm, and gives its number. */
  vertex(x: number, y: number, z: number): number {
    if (!Number.isFinite(x + y + z)) throw new FormatError('The model holds a coordinate that is no number.')
    const v = this.vertices++
    if (v >= MOST_VERTICES) throw new FormatError(`The model has more than ${MOST_VERTICES.toLocaleString('en')} vertices.`, 'Reduce it where it was made.')
    if (3 * v >= this.xyz.length) this.xyz = longer(this.xyz, 2 * this.xyz.length)
    this.xyz[3 * v] = x
    this.xyz[3 * v + 1] = y
    this.xyz[3 * v + 2] = z
    return v
  }

  /** The number of a part in a material; equal ones have one. */
  surface(part: string, look?: Look): number {
    const key = JSON.stringify([part, look && [look.name, materialKey(look.material)]])
    let n = this.numbers.get(key)
    if (n === undefined) {
      n = this.surfaces.length < MOST_SURFACES ? this.surfaces.push({ part, ...(look ? { look } : {}) }) - 1 : MOST_SURFACES - 1
      this.numbers.set(key, n)
    }
    return n
  }

  /** Adds a triangle; `colour` (red, green, blue as one number) goes before its surface's. */
  triangle(a: number, b: number, c: number, surface: number, colour = -1): void {
    const t = this.triangles++
    if (t >= MOST_TRIANGLES) throw tooManyTriangles(t + 1)
    if (t >= this.rows.length) {
      this.corners = longer(this.corners, 6 * t)
      this.rows = longer(this.rows, 2 * t)
    }
    this.corners[3 * t] = a
    this.corners[3 * t + 1] = b
    this.corners[3 * t + 2] = c
    this.rows[t] = surface
    if (colour >= 0) {
      if (!this.colours) this.colours = new Int32Array(this.rows.length).fill(-1)
      else if (this.colours.length <= t) {
        const had = this.colours.length
        this.colours = longer(this.colours, this.rows.length).fill(-1, had)
      }
      this.colours[t] = colour
    }
  }

  /** Where the three corners of the last triangle lie in its material's picture: numbers of places, two numbers each in the list; what is not there lies at the beginning. */
  pictured(places: ArrayLike<number>, a: number, b: number, c: number): void {
    const t = this.triangles - 1
    if (!this.pictureUv || this.pictureUv.length < 6 * this.triangles) this.pictureUv = longer(this.pictureUv ?? new Float32Array(0), 6 * this.rows.length)
    for (let i = 0; i < 6; i++) {
      const value = places[2 * (i < 2 ? a : i < 4 ? b : c) + (i % 2)]
      this.pictureUv[6 * t + i] = Math.abs(value) < MOST_REPEATED ? value : 0
    }
  }

  /** The triangles so far. */
  finish(): MeshData {
    const { triangles } = this
    const bare = {
      positions: this.xyz.slice(0, 3 * this.vertices),
      indices: this.corners.slice(0, 3 * triangles),
      ...(this.pictureUv ? { pictureUv: longer(this.pictureUv.subarray(0, 6 * triangles), 6 * triangles) } : {}),
    }
    let surfaces: readonly ModelSurface[] = this.surfaces
    let surface: Uint32Array = this.rows.slice(0, triangles)
    if (this.colours) ({ surface, surfaces } = coloured(surface, surfaces, this.colours))
    if (!surfaces.some(({ part, look }) => part || look)) return bare
    return { ...bare, surface, surfaces }
  }
}

/** Surfaces with the colours that single triangles have: few enough to be told apart by people, each the mean of what it stands for. */
function coloured(rows: Uint32Array, surfaces: readonly ModelSurface[], colours: Int32Array): { surface: Uint32Array; surfaces: ModelSurface[] } {
  let bits = 8
  const bucket = (rgb: number) => {
    const shift = 8 - bits
    return (rgb >> (16 + shift)) * 65_536 + (((rgb >> 8) & 255) >> shift) * 256 + ((rgb & 255) >> shift)
  }
  const different = () => {
    const seen = new Set<number>()
    for (let t = 0; t < rows.length; t++) if (t < colours.length && colours[t] >= 0) seen.add(bucket(colours[t]))
    return seen.size
  }
  while (bits > 1 && different() > MOST_COLOURS) bits--
  const sums = new Map<number, [number, number, number, number]>()
  for (let t = 0; t < rows.length; t++) {
    const rgb = t < colours.length ? colours[t] : -1
    if (rgb < 0) continue
    const sum = sums.get(bucket(rgb)) ?? [0, 0, 0, 0]
    sum[0] += rgb >> 16
    sum[1] += (rgb >> 8) & 255
    sum[2] += rgb & 255
    sum[3]++
    sums.set(bucket(rgb), sum)
  }
  const hex = new Map([...sums].map(([key, [r, g, b, n]]) => [key, colourOf([Math.round(r / n), Math.round(g / n), Math.round(b / n)])]))
  const numbers = new Map<string, number>()
  const out: ModelSurface[] = []
  const surface = new Uint32Array(rows.length)
  for (let t = 0; t < rows.length; t++) {
    const rgb = t < colours.length ? colours[t] : -1
    const colour = rgb < 0 ? undefined : hex.get(bucket(rgb))
    const key = `${rows[t]}/${colour}`
    let n = numbers.get(key)
    if (n === undefined) {
      const { part, look } = surfaces[rows[t]]
      n = out.push(colour ? { part, look: { name: colour, material: { ...(look?.material ?? UNDRESSED), colour } } } : surfaces[rows[t]]) - 1
      numbers.set(key, n)
    }
    surface[t] = n
  }
  return { surface, surfaces: out }
}
