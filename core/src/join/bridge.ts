import type { Manifold } from 'manifold-3d/manifold.js'
import type { SoundTriangles } from '../check/sound-triangles'
import { manifold, type Own, withScope } from '../kernel/manifold'
import { ATTRIBUTES, type AttributeArray, type AttributeName, type Attributes, attributeArray } from '../solid/attributes'
import { type LabelRow, LABELS, labelTable, rowCount, withLabel } from '../solid/labels'
import { joinNames, type Names } from '../solid/operations'
import { attributeOf } from '../solid/shading'
import { type Solid, triangleCount, vertexCount, withParts } from '../solid/solid'
import { longer } from '../solid/vertex-table'
import { attributesByPlace, unit } from './attributes-by-place'
import { type Box, type LooseMesh, type Mended, mendRounded, REMOVED } from './mend'

export type { Manifold }

/** The kernel would not take a solid: it is not closed, or not consistently oriented. */
class KernelError extends Error {
  constructor(status: string) {
    super(`the solid kernel refuses a solid: ${status}`)
    this.name = 'KernelError'
  }
}

/**
 * The one bridge to the solid kernel. `work` puts solids in, lets the kernel work, and takes results out; everything in WASM memory is
 * freed on every way out. Labels go in as original ids and come out by the provenance of every triangle, so that group, letter, layer,
 * band and look survive; the attributes named go along, interpolated by the kernel. Needs the kernel loaded.
 *
 * Attributes must be known for every solid: normals and texture coordinates are made where they are absent; others read as missing. Name
 * none when bodies made by the kernel itself take part (`label`), whose shading is made from their shape afterwards.
 */
export function withKernelSolids<R>(attributes: readonly AttributeName[], work: (kernel: KernelSolids) => R): R {
  return withScope((own) => work(new KernelSolids(own, attributes)))
}

/** Where labels come from, and which of its rows each of the kernel's original ids stands for. */
interface Source {
  readonly names: Names
  readonly ids: ReadonlyMap<number, number>
  /** what was put in, but for bodies of the kernel's own */
  readonly solid?: Solid
}

export class KernelSolids {
  private readonly channels: number
  private readonly sourceOf = new Map<Manifold, Source>()

  /** Made by `withKernelSolids`. */
  constructor(
    readonly own: Own,
    private readonly attributes: readonly AttributeName[],
    private readonly sources: Source[] = [],
  ) {
    // the kernel turns directions only in the first three channels
    if (attributes.some((name, i) => ATTRIBUTES[name].turns && i > 0)) throw new Error('directions come first among the attributes')
    this.channels = attributes.reduce((sum, name) => sum + ATTRIBUTES[name].size, 0)
  }

  /** The solid as the kernel's own; `everySide` keeps sides between triangles of one plane, which it drops otherwise. Throws KernelError when it is not closed and oriented. */
  put(solid: Solid, { everySide = false }: { readonly everySide?: boolean } = {}): Manifold {
    const { Manifold, Mesh } = manifold()
    const rows = rowCount(solid.labels)
    const first = Manifold.reserveIDs(Math.max(1, rows))
    const source: Source = { names: solid, ids: new Map(Array.from({ length: rows }, (_, row) => [first + row, row])), solid }
    this.sources.push(source)
    const triangles = triangleCount(solid)
    // runs of one label, by counting
    const from = new Uint32Array(rows + 1)
    for (let t = 0; t < triangles; t++) from[solid.surface[t] + 1]++
    for (let row = 0; row < rows; row++) from[row + 1] += from[row]
    const order = new Uint32Array(triangles)
    const at = from.slice()
    for (let t = 0; t < triangles; t++) order[at[solid.surface[t]]++] = t
    const used = Array.from({ length: rows }, (_, row) => row).filter((row) => from[row + 1] > from[row])
    const corners = this.cornerVertices(solid, order)
    const mesh = new Mesh({
      numProp: 3 + this.channels,
      vertProperties: corners.properties,
      triVerts: corners.indices,
      mergeFromVert: corners.mergeFrom,
      mergeToVert: corners.mergeTo,
      runIndex: Uint32Array.from([...used.map((row) => 3 * from[row]), 3 * triangles]),
      runOriginalID: Uint32Array.from(used, (row) => first + row),
      ...(everySide ? { faceID: order } : {}),
    })
    // marks the first channels as normals, which the kernel then turns over where it cuts
    if (this.attributes[0] && ATTRIBUTES[this.attributes[0]].turns) (mesh as unknown as { runFlags: Uint8Array }).runFlags = new Uint8Array(used.length).fill(2)
    let body: Manifold
    try {
      body = this.own(Manifold.ofMesh(mesh))
    } catch (error) {
      throw new KernelError(error instanceof Error ? error.message : String(error))
    }
    const status = body.status()
    if (status !== 'NoError') throw new KernelError(status)
    this.sourceOf.set(body, source)
    return body
  }

  /** Lets work on what lies in both of two bodies that were put in; its result knows no names but theirs, and nothing is kept of it afterwards. */
  common<R>(a: Manifold, b: Manifold, work: (kernel: KernelSolids, common: Manifold) => R): R {
    const sources = [a, b].map((body) => {
      const source = this.sourceOf.get(body)
      if (!source) throw new Error('a body that was not put in')
      return source
    })
    return withScope((own) => work(new KernelSolids(own, this.attributes, sources), own(a.intersect(b))))
  }

  /**
   * For bodies that the kernel makes itself, such as hulls: gives a function that labels each as one surface. The rows' numbers are of the
   * lists given, which results then have.
   */
  labelling(names: Omit<Names, 'labels'>): (body: Manifold, row: LabelRow) => Manifold {
    const rows: LabelRow[] = []
    const ids = new Map<number, number>()
    this.sources.push({
      ids,
      get names() {
        return { ...names, labels: labelTable(rows) }
      },
    })
    return (body, row) => {
      const labelled = this.own(body.asOriginal())
      let number = rows.findIndex((known) => LABELS.every((label) => known[label] === row[label]))
      if (number < 0) number = rows.push(row) - 1
      ids.set(labelled.originalID(), number)
      return labelled
    }
  }

  /**
   * A result as a solid of Kelvar's, rounded to the lattice and mended where rounding has spoilt it (see mend.ts), which is looked for in
   * `box`: what the operation cannot have changed lies outside of it, and triangles of `sound`, what was put in, are not held against each
   * other. How the mesh hangs together is the kernel's own word. With `mended.sound` false the solid is as good as it could be made.
   */
  takeMended(body: Manifold, lattice: number, box: Box, sound?: SoundTriangles): { solid: Solid; mended: Mended } {
    const { solid, mended } = this.takeUnnumbered(body, lattice, box, sound)
    return { solid: withParts(solid), mended }
  }

  /** The same, its parts not numbered yet: rows of its labels are those of what was put in, one after another. */
  takeUnnumbered(body: Manifold, lattice: number, box: Box, sound?: SoundTriangles): { solid: Solid; mended: Mended } {
    const { loose, properties, stride, names } = this.loose(body, lattice)
    const mended = mendRounded({ ...loose, positions: loose.positions.subarray(0, 3 * loose.vertices) }, lattice, box, sound)
    return { solid: this.gathered(loose, properties, stride, names, lattice), mended }
  }

  /** A result rounded to the lattice and left as that leaves it: it hangs together as the kernel has it, and what rounding has spoilt is for the caller to mend. */
  takeRounded(body: Manifold, lattice: number): Solid {
    const { loose, properties, stride, names } = this.loose(body, lattice)
    return withParts(this.gathered(loose, properties, stride, names, lattice))
  }

  /**
   * The same with the attributes named, which the kernel need not carry along: they are read by place in the triangles of what was put in, which must have kept every side, and
   * are not turned over; a result that a body was taken off from is not to be taken so.
   */
  takeByPlace(body: Manifold, lattice: number, attributes: readonly AttributeName[]): Solid {
    const { loose, names, mesh } = this.loose(body, lattice)
    const stretches = Array.from(mesh.runOriginalID, (id, run) => {
      const solid = this.sources.find(({ ids }) => ids.has(id))?.solid
      if (!solid) throw new Error('a body that was not put in')
      return { solid, from: mesh.runIndex[run] / 3, to: mesh.runIndex[run + 1] / 3 }
    })
    const positions = loose.positions.slice(0, 3 * loose.vertices)
    const indices = Uint32Array.from(loose.indices)
    return withParts({
      kind: 'solid',
      positions,
      indices,
      surface: loose.surface,
      ...names,
      labels: withLabel(names.labels, 'part', () => 0),
      attributes: attributesByPlace(attributes, positions, indices, stretches, mesh.faceID),
      lattice,
    })
  }

  private loose(body: Manifold, lattice: number) {
    const mesh = body.getMesh()
    const { vertProperties: properties, numProp: stride, triVerts, runIndex, runOriginalID, mergeFromVert, mergeToVert } = mesh
    const names = joinNames(this.sources.map((source) => source.names))
    const rowOf = this.rowFinder()
    const count = properties.length / stride
    const vertexOf = new Int32Array(count).fill(-1)
    if (mergeFromVert && mergeToVert) for (let i = 0; i < mergeFromVert.length; i++) vertexOf[mergeFromVert[i]] = mergeToVert[i] + count
    const positions = new Float64Array(3 * count)
    let vertices = 0
    const number = (v: number): number => {
      if (vertexOf[v] >= count) return (vertexOf[v] = number(vertexOf[v] - count))
      if (vertexOf[v] < 0) {
        for (let k = 0; k < 3; k++) positions[3 * vertices + k] = Math.round(properties[v * stride + k] / lattice) * lattice + 0
        vertexOf[v] = vertices++
      }
      return vertexOf[v]
    }
    const indices = new Int32Array(triVerts.length)
    for (let i = 0; i < triVerts.length; i++) indices[i] = number(triVerts[i])
    const surface = new Uint32Array(triVerts.length / 3)
    for (let run = 0; run < runOriginalID.length; run++) surface.fill(rowOf(runOriginalID[run]), runIndex[run] / 3, runIndex[run + 1] / 3)
    return { loose: { positions, indices, corners: triVerts.slice(), surface, vertices }, properties, stride, names, mesh }
  }

  /** What is left of a mesh that was mended, with the vertices it uses. */
  private gathered(
    { positions, indices, corners, surface, vertices }: LooseMesh & { readonly vertices: number },
    properties: Float32Array,
    stride: number,
    names: Names,
    lattice: number,
  ): Solid {
    const newNumber = new Int32Array(vertices).fill(-1)
    const vertexOf = new Int32Array(properties.length / stride)
    const p = new Float64Array(3 * vertices)
    const ids = new Uint32Array(indices.length)
    const rows = new Uint32Array(surface.length)
    const corner = new Uint32Array(indices.length)
    let [used, kept] = [0, 0]
    for (let t = 0; t < surface.length; t++) {
      if (indices[3 * t] === REMOVED) continue
      for (let k = 0; k < 3; k++) {
        const v = indices[3 * t + k]
        let number = newNumber[v]
        if (number < 0) {
          p[3 * used] = positions[3 * v]
          p[3 * used + 1] = positions[3 * v + 1]
          p[3 * used + 2] = positions[3 * v + 2]
          number = newNumber[v] = used++
        }
        ids[3 * kept + k] = number
        corner[3 * kept + k] = corners[3 * t + k]
        vertexOf[corners[3 * t + k]] = number
      }
      rows[kept++] = surface[t]
    }
    return {
      kind: 'solid',
      positions: p.slice(0, 3 * used),
      indices: ids.slice(0, 3 * kept),
      surface: rows.slice(0, kept),
      ...names,
      labels: withLabel(names.labels, 'part', () => 0),
      attributes: this.attributesOf(properties, stride, corner.subarray(0, 3 * kept), vertexOf, used),
      lattice,
    }
  }

  /** Which row of the joined labels an original id stands for. */
  private rowFinder(): (id: number) => number {
    const rows = new Map<number, number>()
    let base = 0
    for (const { names, ids } of this.sources) {
      for (const [id, row] of ids) rows.set(id, base + row)
      base += rowCount(names.labels)
    }
    return (id) => {
      const row = rows.get(id)
      if (row === undefined) throw new Error(`a triangle of the kernel comes from nowhere (${id})`)
      return row
    }
  }

  private attributesOf(properties: Float32Array, stride: number, corner: Uint32Array, vertexOf: Int32Array, vertices: number): Attributes {
    const out: Partial<Record<AttributeName, AttributeArray>> = {}
    let channel = 3
    for (const name of this.attributes) {
      const { at, size, turns } = ATTRIBUTES[name]
      const array: AttributeArray = attributeArray(name, vertices, corner.length)
      for (let i = 0; i < corner.length; i++) {
        const target = size * (at === 'vertex' ? vertexOf[corner[i]] : i)
        for (let k = 0; k < size; k++) array[target + k] = properties[corner[i] * stride + channel + k]
        if (turns) unit(array, target)
      }
      out[name] = array
      channel += size
    }
    return out as Attributes
  }

  /** Vertices with their properties: one for every vertex of the solid, and more where corners differ there, joined by the merge lists. */
  private cornerVertices(solid: Solid, order: Uint32Array) {
    const { channels } = this
    const stride = 3 + channels
    const { positions: p, indices: corners } = solid
    const vertices = vertexCount(solid)
    // what each channel is read from, one after another
    const values = this.attributes.map((name) => ({ ...ATTRIBUTES[name], array: attributeOf(solid, name) }))
    const indices = new Uint32Array(3 * order.length)
    let properties = new Float32Array(stride * vertices)
    const last = new Int32Array(vertices).fill(-1)
    let before = new Int32Array(vertices)
    const mergeFrom: number[] = []
    const mergeTo: number[] = []
    const first = new Int32Array(vertices).fill(-1)
    const here = new Float32Array(channels)
    let count = 0
    for (let i = 0; i < indices.length; i++) {
      const corner = 3 * order[(i / 3) | 0] + (i % 3)
      const v = corners[corner]
      let c = 0
      for (let n = 0; n < values.length; n++) {
        const { at, size, array } = values[n]
        const from = size * (at === 'vertex' ? v : corner)
        for (let k = 0; k < size; k++) here[c++] = array ? array[from + k] : 0
      }
      let id = last[v]
      while (id >= 0 && !sameChannels(properties, id * stride + 3, here)) id = before[id]
      if (id < 0) {
        id = count++
        if (count > before.length) {
          before = longer(before, 2 * before.length + 16)
          properties = longer(properties, stride * before.length)
        }
        const o = id * stride
        for (let k = 0; k < 3; k++) properties[o + k] = p[3 * v + k]
        for (let k = 0; k < channels; k++) properties[o + 3 + k] = here[k]
        before[id] = last[v]
        last[v] = id
        if (first[v] < 0) first[v] = id
        else {
          mergeFrom.push(id)
          mergeTo.push(first[v])
        }
      }
      indices[i] = id
    }
    return { properties: properties.slice(0, stride * count), indices, mergeFrom: Uint32Array.from(mergeFrom), mergeTo: Uint32Array.from(mergeTo) }
  }
}

function sameChannels(properties: Float32Array, at: number, here: Float32Array): boolean {
  for (let k = 0; k < here.length; k++) if (Math.abs(properties[at + k] - here[k]) > 1e-5) return false
  return true
}
