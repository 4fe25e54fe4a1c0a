import type { Memo } from '../cache/memo'
import { type AttributeArray, type AttributeName, ATTRIBUTES, attributeArray, type Attributes, mapAttributes, pickPlaces } from '../solid/attributes'
import { bodiesApart, shadedBodyKey, wholeBody } from '../solid/bodies-apart'
import { triangulateLoops } from '../solid/edge-surface'
import { labelTable, PLAIN_ROW, withLabel } from '../solid/labels'
import { commonNames, gather, joinPlaced, type Placed } from '../solid/operations'
import { attributeOf } from '../solid/shading'
import { type Solid, type SolidLayer, solidBounds, triangleCount, vertexCount, withParts } from '../solid/solid'
import { VertexTable, upTo } from '../solid/vertex-table'
import { volumeOf } from '../solid/volume'
import { openSides, ringsOf } from '../solid/rings'

/** Joins by the kernel, as joinSolid does them without looking for faces; undefined where the result is not sound. */
export interface PlainJoins {
  /** a plate with one partner; its parts are not numbered, and rows of labels from `partnersRow` on are the partner's */
  readonly plate: (plate: Solid, partner: Solid) => { readonly solid: Solid; readonly partnersRow: number } | undefined
  /** a body with several, of which those in `apart` have nothing in common with it */
  readonly body: (body: Solid, partners: readonly Solid[]) => { readonly solid: Solid; readonly apart: readonly number[] } | undefined
}

export interface OnFace {
  readonly solid: Solid
  /** mm³ of it */
  readonly after: number
  /** partners that changed nothing, by their number */
  readonly apart: readonly number[]
}

/** What one body of a partner leaves in a face: its surface beneath it or on top, open where it meets the face. */
interface Print {
  readonly solid: Solid
  readonly gained: number
}

/** Plates reach this far beyond what is joined with them, mm. */
const BEYOND = 1
/** Texture coordinates and directions of one face differ by no more than this from what its plane says. */
const ALIKE = 1e-4

/**
 * Joins partners of which bodies meet a body in one flat face that looks to the front, as letters do that are carved into a plate or raised on it: every one of them by itself with a
 * plate of its own, which the memo keeps, so that of a word typed anew only the letter that is new is joined; then the face is divided anew about all of them. Those that meet anything
 * else as well, such as the plate's edge, are joined with the body before. Undefined where that leaves none or only one.
 *
 * What comes out is sound: prints are, lie to one side of the face, and their boxes do not meet; the face has triangles of one turn and of the right area, all in its plane.
 */
export function joinOnFace(body: Solid, partners: readonly Solid[], how: 'fuse' | 'carve', beside: number, memo: Memo, joins: PlainJoins): OnFace | undefined {
  const { lattice } = body
  const parts = partners.flatMap((partner, of) =>
    (bodiesApart(partner, { voxel: lattice, apart: 2 * beside, lattice }) ?? [wholeBody(partner)]).map((placed) => ({
      of,
      placed,
      box: boxOf(placed, beside),
    })),
  )
  if (parts.length < 2) return undefined
  const { height, fit } = onOneFace(
    body,
    parts.map(({ box }) => box),
  )
  if (fit.filter(Boolean).length < 2) return undefined
  const rest = partners.map((partner, p) => {
    const list = parts.filter(({ of }, i) => of === p && !fit[i]).map(({ placed }) => placed)
    return list.length > 0 ? joinPlaced(list, partner.letters, lattice, partner.layers) : undefined
  })
  const first = rest.some(Boolean)
    ? joins.body(
        body,
        rest.filter((solid) => solid !== undefined),
      )
    : { solid: body, apart: [] }
  if (!first) return undefined
  const face = faceAt(first.solid, height)
  if (!face) return undefined
  const whole = commonNames([body, ...partners])
  const base = partners.map((_, p) => body.letters.length + partners.slice(0, p).reduce((sum, { letters }) => sum + letters.length, 0))
  const prints: Placed[] = []
  let after = volumeOf(first.solid)
  const changed = new Set(partners.flatMap((_, p) => (rest[p] ? [p] : [])).filter((_, i) => !first.apart.includes(i)))
  for (const [i, { of, placed }] of parts.entries()) {
    if (!fit[i]) continue
    const key = `on-face:${how}:${height - placed.dz}:${beside}:${shadedBodyKey(placed.solid)}`
    const print = memo.get(key, () => printOf(placed.solid, height - placed.dz, joins.plate) ?? null)
    if (!print) return undefined
    if (triangleCount(print.solid) === 0) continue
    changed.add(of)
    after += how === 'fuse' ? print.gained : -print.gained
    prints.push({ ...placed, solid: withLayers(print.solid, whole.layers), letters: placed.letters.map((letter) => base[of] + letter) })
  }
  const divided = dividedAnew(first.solid, height, face, prints)
  if (!divided) return undefined
  const letters = [...body.letters.keys(), ...partners.flatMap((partner, p) => (rest[p] ? [...partner.letters.keys()].map((letter) => base[p] + letter) : []))]
  const own: Placed = { solid: withLayers(divided, whole.layers), dx: 0, dy: 0, dz: 0, letters }
  const solid = withParts(welded(joinPlaced([own, ...prints], whole.letters, lattice, whole.layers), height))
  return { solid, after, apart: partners.flatMap((_, p) => (changed.has(p) ? [] : [p])) }
}

const boxOf = ({ solid, dx, dy, dz }: Placed, beside: number) =>
  solidBounds(solid.positions).map((v, k) => v + [dx, dy, dz][k % 3] + (k < 3 ? -beside : beside))

/** The solid with its layers numbered as in a list that has all of them. */
function withLayers(solid: Solid, all: readonly SolidLayer[]): Solid {
  const numbers = solid.layers.map(({ name, colour }) => all.findIndex((layer) => layer.name === name && layer.colour === colour))
  return { ...solid, labels: withLabel(solid.labels, 'layer', (row) => numbers[solid.labels.layer[row]] ?? 0) }
}

/**
 * The height of the face that most of some boxes meet a body in, and which of them: those that meet nothing of it but triangles that lie there and look to the front, and none
 * of the other boxes.
 */
function onOneFace({ positions: p, indices }: Solid, boxes: readonly (readonly number[])[]): { height: number; fit: boolean[] } {
  const all = [0, 1, 2, 3, 4, 5].map((k) => (k < 3 ? Math.min : Math.max)(...boxes.map((box) => box[k])))
  /** of each box the height it meets triangles at; NaN where there are others */
  const heights = boxes.map((box, i): number | undefined => (boxes.some((other, j) => j !== i && meets(box, other)) ? Number.NaN : undefined))
  const around = new Float64Array(6)
  for (let i = 0; i < indices.length; i += 3) {
    const [a, b, c] = [3 * indices[i], 3 * indices[i + 1], 3 * indices[i + 2]]
    for (let k = 0; k < 3; k++) {
      around[k] = Math.min(p[a + k], p[b + k], p[c + k])
      around[k + 3] = Math.max(p[a + k], p[b + k], p[c + k])
    }
    if (!meets(around, all)) continue
    const level = around[2] === around[5] && (p[b] - p[a]) * (p[c + 1] - p[a + 1]) > (p[b + 1] - p[a + 1]) * (p[c] - p[a])
    for (let n = 0; n < boxes.length; n++) {
      if (!meets(around, boxes[n])) continue
      const before = heights[n]
      heights[n] = level && (before === undefined || before === around[2]) ? around[2] : Number.NaN
    }
  }
  const counts = new Map<number, number>()
  for (const height of heights) if (height !== undefined && !Number.isNaN(height)) counts.set(height, (counts.get(height) ?? 0) + 1)
  const [height] = [...counts].sort((a, b) => b[1] - a[1])[0] ?? [Number.NaN]
  return { height, fit: heights.map((h) => h === height) }
}

const meets = (a: ArrayLike<number>, b: readonly number[]) => a[0] <= b[3] && b[0] <= a[3] && a[1] <= b[4] && b[1] <= a[4] && a[2] <= b[5] && b[2] <= a[5]

interface Face {
  /** its triangles, all of one surface */
  readonly triangles: Uint32Array
  readonly isOf: Uint8Array
  readonly row: number
  /** its outline: vertices of the body, outer rings counter-clockwise, holes clockwise */
  readonly loops: readonly number[][]
}

/** All that lies at a height and looks to the front, as one face; undefined where it is of several surfaces or its outline touches itself. */
function faceAt({ positions: p, indices, surface }: Solid, height: number): Face | undefined {
  const found: number[] = []
  const isOf = new Uint8Array(surface.length)
  for (let t = 0; t < surface.length; t++) {
    const [a, b, c] = [3 * indices[3 * t], 3 * indices[3 * t + 1], 3 * indices[3 * t + 2]]
    if (p[a + 2] !== height || p[b + 2] !== height || p[c + 2] !== height) continue
    if ((p[b] - p[a]) * (p[c + 1] - p[a + 1]) - (p[b + 1] - p[a + 1]) * (p[c] - p[a]) <= 0) continue
    if (found.length > 0 && surface[t] !== surface[found[0]]) return undefined
    found.push(t)
    isOf[t] = 1
  }
  const loops = ringsOf(openSides(indices, found))
  return loops && { triangles: Uint32Array.from(found), isOf, row: surface[found[0]], loops }
}

/** One body of a partner joined with a plate of its own; undefined where it reaches through that, or its outline there touches itself. */
function printOf(partner: Solid, height: number, join: PlainJoins['plate']): Print | undefined {
  const box = solidBounds(partner.positions)
  const [x0, y0, z0, x1, y1] = box.map((v, k) => Math.floor(k < 3 ? v - BEYOND : v + BEYOND))
  const plate = plateOf(partner, [x0, y0, Math.min(z0, Math.floor(height - BEYOND)), x1, y1, height])
  const made = join(plate, partner)
  if (!made) return undefined
  const { solid, partnersRow } = made
  const { positions: p, indices, surface } = solid
  const kept: number[] = []
  let others = 0
  for (let t = 0; t < surface.length; t++) {
    if (surface[t] >= partnersRow) kept.push(t)
    else if (p[3 * indices[3 * t] + 2] !== height || p[3 * indices[3 * t + 1] + 2] !== height || p[3 * indices[3 * t + 2] + 2] !== height) others++
  }
  // the plate's four sides and its back as they were
  if (others !== 10) return undefined
  const loops = ringsOf(openSides(indices, kept))
  if (!loops || loops.some((loop) => loop.some((v) => p[3 * v + 2] !== height))) return undefined
  return { solid: gather(solid, kept), gained: Math.abs(volumeOf(solid) - volumeOf(plate)) }
}

/** A plate of two surfaces, its front and the others. */
function plateOf({ lattice, attributes }: Solid, [x0, y0, z0, x1, y1, z1]: readonly number[]): Solid {
  const positions = Float64Array.from({ length: 24 }, (_, i) => [x0, x1, y0, y1, z0, z1][2 * (i % 3) + ((Math.floor(i / 3) >> (i % 3)) & 1)])
  const indices = Uint32Array.from([4, 5, 7, 4, 7, 6, 0, 2, 3, 0, 3, 1, 0, 1, 5, 0, 5, 4, 2, 6, 7, 2, 7, 3, 0, 4, 6, 0, 6, 2, 1, 3, 7, 1, 7, 5])
  return {
    kind: 'solid',
    positions,
    indices,
    surface: Uint32Array.from({ length: 12 }, (_, t) => (t < 2 ? 0 : 1)),
    labels: labelTable([PLAIN_ROW, PLAIN_ROW]),
    attributes: mapAttributes(attributes, (name) => attributeArray(name, 8, 36)),
    letters: [],
    layers: [],
    bands: [],
    looks: [],
    lattice,
  }
}

/** The body with its face divided anew about the outlines of prints, which stay open; undefined where texture or shading are not those of one plane. */
function dividedAnew(body: Solid, height: number, face: Face, prints: readonly Placed[]): Solid | undefined {
  const { positions: p } = body
  const places: number[] = []
  const x: number[] = []
  const y: number[] = []
  const put = (ax: number, ay: number) => places.push(ax, ay, height) && x.push(ax) && y.push(ay) - 1
  const loops = face.loops.map((loop) => loop.map((v) => put(p[3 * v], p[3 * v + 1])))
  const own = x.length
  for (const { solid, dx, dy } of prints) {
    const rings = ringsOf(openSides(solid.indices, upTo(triangleCount(solid))))
    if (!rings) return undefined
    // the face lies across them
    for (const ring of rings) loops.push(ring.reverse().map((v) => put(solid.positions[3 * v] + dx, solid.positions[3 * v + 1] + dy)))
  }
  const found = triangulateLoops(loops, x, y)
  const wanted = loops.reduce(
    (sum, loop) => sum + loop.reduce((part, v, i) => part + x[v] * y[loop[(i + 1) % loop.length]] - x[loop[(i + 1) % loop.length]] * y[v], 0),
    0,
  )
  let area = 0
  for (let i = 0; i < found.length; i += 3) {
    const [a, b, c] = [found[i], found[i + 1], found[i + 2]]
    const twice = (x[b] - x[a]) * (y[c] - y[a]) - (y[b] - y[a]) * (x[c] - x[a])
    if (!(twice > 0)) return undefined
    area += twice
  }
  if (Math.abs(area - wanted) > 1e-9 * wanted) return undefined
  const rest = upTo(triangleCount(body)).filter((t) => !face.isOf[t])
  const base = vertexCount(body)
  const positions = new Float64Array(3 * (base + x.length))
  positions.set(p)
  positions.set(places, 3 * base)
  const ownOf = face.loops.flat()
  const indices = new Uint32Array(3 * rest.length + found.length)
  for (let i = 0; i < rest.length; i++) for (let k = 0; k < 3; k++) indices[3 * i + k] = body.indices[3 * rest[i] + k]
  for (let i = 0; i < found.length; i++) indices[3 * rest.length + i] = found[i] < own ? ownOf[found[i]] : base + found[i]
  const surface = new Uint32Array(indices.length / 3).fill(face.row)
  for (let i = 0; i < rest.length; i++) surface[i] = body.surface[rest[i]]
  const attributes: Partial<Record<AttributeName, AttributeArray>> = {}
  for (const name of Object.keys(body.attributes) as AttributeName[]) {
    const { at, size } = ATTRIBUTES[name]
    const plane = at === 'corner' && planeOf(body, name, face)
    if (!plane) return undefined
    const source = attributeOf(body, name)
    const array = (attributes[name] = attributeArray(name, 0, indices.length))
    for (let i = 0; i < rest.length; i++) for (let k = 0; k < 3 * size; k++) array[3 * size * i + k] = source[3 * size * rest[i] + k]
    for (let i = 0; i < found.length; i++)
      for (let k = 0; k < size; k++) array[size * (3 * rest.length + i) + k] = plane[3 * k] + plane[3 * k + 1] * x[found[i]] + plane[3 * k + 2] * y[found[i]]
  }
  return { ...body, positions, indices, surface, attributes: attributes as Attributes }
}

/** What an attribute is anywhere on a face, three numbers a channel: at (0, 0), and by how much it grows with x and y; undefined where it is not that evenly all over. */
function planeOf(body: Solid, name: AttributeName, { triangles }: Face): Float64Array | undefined {
  const { positions: p, indices } = body
  const { size } = ATTRIBUTES[name]
  const values = attributeOf(body, name)
  const corner = (t: number, k: number) => [p[3 * indices[3 * t + k]], p[3 * indices[3 * t + k] + 1]]
  const twice = (t: number) => {
    const [[ax, ay], [bx, by], [cx, cy]] = [corner(t, 0), corner(t, 1), corner(t, 2)]
    return (bx - ax) * (cy - ay) - (by - ay) * (cx - ax)
  }
  let [largest, most] = [triangles[0], 0]
  for (const t of triangles) if (twice(t) > most) [largest, most] = [t, twice(t)]
  const [[ax, ay], [bx, by], [cx, cy]] = [corner(largest, 0), corner(largest, 1), corner(largest, 2)]
  const plane = new Float64Array(3 * size)
  for (let c = 0; c < size; c++) {
    const [a, b, d] = [0, 1, 2].map((k) => values[size * (3 * largest + k) + c])
    const across = ((b - a) * (cy - ay) - (d - a) * (by - ay)) / most
    const up = ((d - a) * (bx - ax) - (b - a) * (cx - ax)) / most
    plane.set([a - across * ax - up * ay, across, up], 3 * c)
  }
  for (const t of triangles)
    for (let k = 0; k < 3; k++) {
      const [x, y] = corner(t, k)
      for (let c = 0; c < size; c++) {
        const is = values[size * (3 * t + k) + c]
        if (Math.abs(is - plane[3 * c] - plane[3 * c + 1] * x - plane[3 * c + 2] * y) > ALIKE * (1 + Math.abs(is))) return undefined
      }
    }
  return plane
}

/** Vertices at a height that lie at one place become one; those that no triangle names go. */
function welded(solid: Solid, height: number): Solid {
  const { positions: p, lattice } = solid
  const table = new VertexTable(lattice)
  const first: number[] = []
  const same = new Int32Array(vertexCount(solid)).fill(-1)
  const number = new Int32Array(vertexCount(solid)).fill(-1)
  const from = new Uint32Array(vertexCount(solid))
  let count = 0
  const indices = solid.indices.map((v) => {
    if (same[v] < 0) {
      same[v] = v
      if (p[3 * v + 2] === height) {
        const place = table.vertex(p[3 * v], p[3 * v + 1], height)
        if (place === first.length) first.push(v)
        same[v] = first[place]
      }
    }
    const w = same[v]
    if (number[w] < 0) {
      from[count] = w
      number[w] = count++
    }
    return number[w]
  })
  const kept = from.subarray(0, count)
  const positions = new Float64Array(3 * count)
  for (let i = 0; i < count; i++) for (let k = 0; k < 3; k++) positions[3 * i + k] = p[3 * kept[i] + k]
  const attributes = mapAttributes(solid.attributes, (_, array, { at, size }) => (at === 'vertex' ? pickPlaces(array, size, kept) : array))
  return { ...solid, positions, indices, attributes }
}
