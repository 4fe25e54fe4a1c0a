import { EdgeTable } from '../check/edge-table'
import { type AttributeArray, type AttributeName, ATTRIBUTES, type Attributes, attributeArray } from '../solid/attributes'
import { triangleMeets } from '../solid/in-box'
import { joinTables, rowCount } from '../solid/labels'
import { attributeOf } from '../solid/shading'
import { type Solid, triangleCount, vertexCount } from '../solid/solid'
import { VertexTable } from '../solid/vertex-table'
import { toTriangle } from '../solid/nearest'
import type { Box } from './mend'
import { openSides, ringsOf } from '../solid/rings'

/**
 * What of a large body lies near what is joined with it, closed far away: the solid kernel works on that, and the rest of the body goes round it. Its time
 * then goes by the place where something happens and no longer by the body.
 */
export interface Near {
  /** a closed mesh that winds round every place in the box as often as the body does; its row `closing` is no part of the body */
  readonly solid: Solid
  readonly closing: number
  /** triangles of the body that are not in it */
  readonly rest: Uint32Array
  /** sides of the body where both meet, from and to, as its vertices; the near triangle lies on their left */
  readonly border: readonly number[]
}

/** Bodies of fewer triangles, and those of which a larger share lies near, go into the kernel whole. */
const FEWEST = 3000
const LARGEST_SHARE = 0.6
/** How often what lies about a place where its border touches itself is taken in. */
const ROUNDS = 8
/** How far off the closing surface lies, in times of the farthest corner of the box or the border, seen from the middle of the box. */
const FAR = 3
/** Degrees between places on the closing surface at most, and how far from straight on a side of the border may be seen. */
const STEP = 45
const WIDEST = 150
/** The pole of the closing surface lies so far from opposite every place of the border at least, degrees. */
const CLEAR = 40

const RADIANS = Math.PI / 180

/**
 * The part of a sound solid that meets a box, closed outside of it; undefined where that does not pay, or no such surface is found.
 *
 * From the border of the part walls run straight away from the middle of the box, which is convex, so that they do not come back to it, onto a ball about it;
 * there they go on along great circles to a pole. Where that winds round the box otherwise than the rest of the body did, cubes about all of it make up for it.
 * Walls may pass through each other: the kernel goes by how often a place is wound round, and nothing else lies out there.
 */
export function nearOf(body: Solid, box: Box, attributes: readonly AttributeName[]): Near | undefined {
  if (triangleCount(body) < FEWEST) return undefined
  const parts = parted(body, box)
  const loops = parts && ringsOf(parts.border)
  if (!parts || !loops) return undefined
  const { near, rest, border } = parts
  const closing = closingOf(body.positions, loops, box)
  if (!closing) return undefined
  const middle = middleOf(box)
  const inside = [0, 1, 2].map((k) => middle[k] + [0.1234567, -0.0876543, 0.0567891][k] * (box[k + 3] - box[k]))
  const round = windings(inside, body.positions, body.indices, rest) - windings(inside, closing.positions, closing.indices)
  // a ray along a side tells nothing
  if (!Number.isInteger(round)) return undefined
  for (let n = 0; n < Math.abs(round); n++) addCube(closing, middle, (1.2 + 0.1 * n) * closing.radius, round > 0)
  return { solid: closedPart(body, near, closing, attributes), closing: rowCount(body.labels), rest, border }
}

/** Triangles that meet a box and the others, and the sides where they meet; undefined where so many are near that it does not pay. */
function parted(body: Solid, box: Box): (Pick<Near, 'rest' | 'border'> & { readonly near: Uint32Array }) | undefined {
  const { indices } = body
  const count = triangleCount(body)
  const isNear = new Uint8Array(count)
  for (let t = 0; t < count; t++) isNear[t] = triangleMeets(body.positions, indices, t, box) ? 1 : 0
  for (let round = 0; round < ROUNDS; round++) {
    let nears = 0
    for (let t = 0; t < count; t++) nears += isNear[t]
    if (nears === 0 || nears > LARGEST_SHARE * count) return undefined
    const near = new Uint32Array(nears)
    const rest = new Uint32Array(count - nears)
    for (let t = 0, n = 0, r = 0; t < count; t++) {
      if (isNear[t]) near[n++] = t
      else rest[r++] = t
    }
    const border = openSides(indices, near)
    // where two rings touch, what lies about that place is near as well
    const begun = new Uint8Array(vertexCount(body))
    let twice = false
    for (let i = 0; i < border.length; i += 2) twice = ++begun[border[i]] > 1 || twice
    if (!twice) return { near, rest, border }
    for (let i = 0; i < indices.length; i++) if (begun[indices[i]] > 1) isNear[Math.floor(i / 3)] = 1
  }
  return undefined
}

/** A surface being made: its vertices from `border` on are its own, those before stand for places of the border, by `border`. */
interface Closing {
  readonly positions: number[]
  readonly indices: number[]
  /** vertices of the body, the first of `positions` */
  readonly border: number[]
  readonly radius: number
}

type Vector = readonly [number, number, number]

const middleOf = (box: Box): Vector => [(box[0] + box[3]) / 2, (box[1] + box[4]) / 2, (box[2] + box[5]) / 2]

/** What closes rings, the other way round than they go, outside of the ball about a box; undefined where that would come near it. */
function closingOf(p: Float64Array, loops: readonly (readonly number[])[], box: Box): Closing | undefined {
  const middle = middleOf(box)
  const reach = Math.hypot(box[3] - box[0], box[4] - box[1], box[5] - box[2]) / 2
  const border = loops.flat()
  let farthest = reach
  const seen = border.map((v): Vector => {
    const d = [0, 1, 2].map((k) => p[3 * v + k] - middle[k])
    const size = Math.hypot(d[0], d[1], d[2])
    farthest = Math.max(farthest, size)
    return [d[0] / size, d[1] / size, d[2] / size]
  })
  const radius = FAR * farthest
  const pole = poleFor(seen)
  if (!pole) return undefined
  const widest = seen.reduce((most, u) => Math.max(most, angleBetween(u, pole)), 0)
  const levels = Math.max(1, Math.ceil(widest / STEP))
  const positions = border.flatMap((v) => [p[3 * v], p[3 * v + 1], p[3 * v + 2]])
  const indices: number[] = []
  const put = (u: Vector) => positions.push(...[0, 1, 2].map((k) => middle[k] + radius * u[k])) / 3 - 1
  /** the places from one on the ball to the pole */
  const way = (u: Vector, end: number) => [...Array.from({ length: levels }, (_, j) => put(between(u, pole, j / levels))), end]
  let base = 0
  for (const loop of loops) {
    const end = put(pole)
    const first = way(seen[base], end)
    let last = first
    for (let i = 0; i < loop.length; i++) {
      const [a, b] = [base + i, base + ((i + 1) % loop.length)]
      const turn = angleBetween(seen[a], seen[b])
      if (turn > WIDEST) return undefined
      const steps = Math.max(1, Math.ceil(turn / STEP))
      for (let s = 1; s <= steps; s++) {
        const next = s < steps ? way(between(seen[a], seen[b], s / steps), end) : i + 1 < loop.length ? way(seen[b], end) : first
        // from the side itself up to the ball, then level by level
        indices.push(a, last[0], next[0])
        for (let j = 0; j + 1 < levels; j++) indices.push(last[j], last[j + 1], next[j + 1], last[j], next[j + 1], next[j])
        indices.push(last[levels - 1], end, next[levels - 1])
        last = next
      }
      indices.push(a, last[0], b)
    }
    base += loop.length
  }
  // what runs from the border is clear of the box as that is convex; chords of the ball might not be
  for (let i = 0; i < indices.length; i += 3) {
    if (Math.min(indices[i], indices[i + 1], indices[i + 2]) < border.length) continue
    if (toTriangle(...middle, positions, 3 * indices[i], 3 * indices[i + 1], 3 * indices[i + 2]) < (1.01 * reach) ** 2) return undefined
  }
  return { positions, indices, border, radius }
}

/** A direction that is far from opposite all of those given: the farthest of the 26 towards the corners, sides and faces of a cube. */
function poleFor(seen: readonly Vector[]): Vector | undefined {
  let best: Vector | undefined
  let widest = CLEAR
  for (let way = 0; way < 27; way++) {
    const [x, y, z] = [(way % 3) - 1, (Math.floor(way / 3) % 3) - 1, Math.floor(way / 9) - 1]
    if (way === 13) continue
    const size = Math.hypot(x, y, z)
    const pole: Vector = [x / size, y / size, z / size]
    const against: Vector = [-pole[0], -pole[1], -pole[2]]
    let clear = 180
    for (let i = 0; i < seen.length && clear > widest; i++) clear = Math.min(clear, angleBetween(seen[i], against))
    if (clear > widest) [best, widest] = [pole, clear]
  }
  return best
}

const angleBetween = (u: Vector, v: Vector): number => Math.acos(Math.max(-1, Math.min(1, u[0] * v[0] + u[1] * v[1] + u[2] * v[2]))) / RADIANS

/** The direction a share of the way from one to another along their great circle (Shoemake, "Animating rotation with quaternion curves", 1985). */
function between(u: Vector, v: Vector, share: number): Vector {
  const angle = angleBetween(u, v) * RADIANS
  if (angle < 1e-9) return u
  const [a, b] = [Math.sin((1 - share) * angle) / Math.sin(angle), Math.sin(share * angle) / Math.sin(angle)]
  return [a * u[0] + b * v[0], a * u[1] + b * v[1], a * u[2] + b * v[2]]
}

/** How often triangles wind round a place, by those that a ray along z leaves or enters through; NaN where it meets a side of one. */
function windings(at: readonly number[], p: ArrayLike<number>, indices: ArrayLike<number>, triangles?: Uint32Array): number {
  const [x, y, z] = at
  const count = triangles ? triangles.length : indices.length / 3
  let sum = 0
  for (let i = 0; i < count; i++) {
    const t = triangles ? triangles[i] : i
    const a = 3 * indices[3 * t]
    const b = 3 * indices[3 * t + 1]
    const c = 3 * indices[3 * t + 2]
    if ((p[a] < x && p[b] < x && p[c] < x) || (p[a] > x && p[b] > x && p[c] > x)) continue
    if ((p[a + 1] < y && p[b + 1] < y && p[c + 1] < y) || (p[a + 1] > y && p[b + 1] > y && p[c + 1] > y)) continue
    const u = (p[b] - x) * (p[c + 1] - y) - (p[b + 1] - y) * (p[c] - x)
    const v = (p[c] - x) * (p[a + 1] - y) - (p[c + 1] - y) * (p[a] - x)
    const w = (p[a] - x) * (p[b + 1] - y) - (p[a + 1] - y) * (p[b] - x)
    if (u === 0 || v === 0 || w === 0) return Number.NaN
    if (u > 0 !== v > 0 || v > 0 !== w > 0) continue
    if ((u * p[a + 2] + v * p[b + 2] + w * p[c + 2]) / (u + v + w) > z) sum += u > 0 ? 1 : -1
  }
  return sum
}

/** A cube about a place, its outside outwards or inwards. */
function addCube({ positions, indices }: Closing, middle: Vector, half: number, outwards: boolean): void {
  const base = positions.length / 3
  for (let corner = 0; corner < 8; corner++) for (let k = 0; k < 3; k++) positions.push(middle[k] + (corner & (1 << k) ? half : -half))
  for (const [a, b, c, d] of [
    [0, 2, 3, 1],
    [4, 5, 7, 6],
    [0, 1, 5, 4],
    [2, 6, 7, 3],
    [0, 4, 6, 2],
    [1, 3, 7, 5],
  ])
    for (const corners of [
      [a, b, c],
      [a, c, d],
    ])
      indices.push(...(outwards ? corners : corners.reverse()).map((corner) => base + corner))
}

/** Some triangles of a body and what closes them, with the attributes named. */
function closedPart(body: Solid, near: Uint32Array, closing: Closing, attributes: readonly AttributeName[]): Solid {
  const vertexOf = new Int32Array(vertexCount(body)).fill(-1)
  const from: number[] = []
  const indices = new Uint32Array(3 * near.length + closing.indices.length)
  const number = (v: number) => (vertexOf[v] < 0 ? (vertexOf[v] = from.push(v) - 1) : vertexOf[v])
  for (let i = 0; i < near.length; i++) for (let k = 0; k < 3; k++) indices[3 * i + k] = number(body.indices[3 * near[i] + k])
  const own = from.length - closing.border.length
  closing.indices.forEach((v, i) => (indices[3 * near.length + i] = v < closing.border.length ? vertexOf[closing.border[v]] : own + v))
  const positions = new Float64Array(3 * from.length + closing.positions.length - 3 * closing.border.length)
  from.forEach((v, i) => positions.set(body.positions.subarray(3 * v, 3 * v + 3), 3 * i))
  positions.set(closing.positions.slice(3 * closing.border.length), 3 * from.length)
  const surface = new Uint32Array(indices.length / 3).fill(rowCount(body.labels))
  for (let i = 0; i < near.length; i++) surface[i] = body.surface[near[i]]
  const made: Partial<Record<AttributeName, AttributeArray>> = {}
  for (const name of attributes) {
    const { at, size } = ATTRIBUTES[name]
    const source = attributeOf(body, name)
    const array = (made[name] = attributeArray(name, positions.length / 3, indices.length))
    if (at === 'vertex') from.forEach((v, i) => copy(source, size * v, array, size * i, size))
    else for (let i = 0; i < near.length; i++) copy(source, 3 * size * near[i], array, 3 * size * i, 3 * size)
  }
  const labels = joinTables([body.labels, body.labels], (_, value) => value)
  return { ...body, positions, indices, surface, labels, attributes: made as Attributes }
}

function copy(from: AttributeArray, at: number, to: AttributeArray, into: number, count: number): void {
  for (let k = 0; k < count; k++) to[into + k] = from[at + k]
}

/**
 * What the kernel made of the part near a box and the rest of the body as one solid again, without what closed the part; the labels are `made`'s.
 * Undefined where the border between them is not what it was.
 */
export function rejoined(body: Solid, { closing, rest, border }: Near, made: Solid): Solid | undefined {
  const closes = new EdgeTable(3 * made.surface.length)
  let kept = 0
  for (let t = 0; t < made.surface.length; t++) {
    if (made.surface[t] !== closing) kept++
    else for (let k = 0; k < 3; k++) closes.value[closes.slot(made.indices[3 * t + k], made.indices[3 * t + ((k + 1) % 3)])] = 1
  }
  // places of the border, by the vertices of the body
  const table = new VertexTable(body.lattice)
  const places: number[] = []
  const sides = new EdgeTable(border.length / 2)
  for (let i = 0; i < border.length; i += 2) {
    const v = border[i]
    table.vertex(body.positions[3 * v], body.positions[3 * v + 1], body.positions[3 * v + 2])
    places.push(v)
    sides.value[sides.slot(v, border[i + 1])] = 1
  }
  const numberOfBody = new Int32Array(vertexCount(body)).fill(-1)
  const numberOfMade = new Int32Array(vertexCount(made)).fill(-1)
  let vertices = 0
  for (const t of rest) for (let k = 0; k < 3; k++) if (numberOfBody[body.indices[3 * t + k]] < 0) numberOfBody[body.indices[3 * t + k]] = vertices++
  const bodyVertexOf = (v: number) => {
    const place = table.vertex(made.positions[3 * v], made.positions[3 * v + 1], made.positions[3 * v + 2])
    return place < places.length ? places[place] : -1
  }
  let found = 0
  for (let t = 0; t < made.surface.length; t++) {
    if (made.surface[t] === closing) continue
    for (let k = 0; k < 3; k++) {
      const [u, v] = [made.indices[3 * t + k], made.indices[3 * t + ((k + 1) % 3)]]
      if (closes.get(v, u, 0) === 0) continue
      const [a, b] = [bodyVertexOf(u), bodyVertexOf(v)]
      if (a < 0 || b < 0 || sides.get(a, b, 0) !== 1) return undefined
      sides.value[sides.slot(a, b)] = 2
      numberOfMade[u] = numberOfBody[a]
      numberOfMade[v] = numberOfBody[b]
      found++
    }
  }
  if (found !== border.length / 2) return undefined
  const indices = new Uint32Array(3 * (rest.length + kept))
  const surface = new Uint32Array(rest.length + kept)
  const corners = new Uint32Array(3 * kept)
  for (let i = 0; i < rest.length; i++) {
    surface[i] = body.surface[rest[i]]
    for (let k = 0; k < 3; k++) indices[3 * i + k] = numberOfBody[body.indices[3 * rest[i] + k]]
  }
  for (let t = 0, at = rest.length; t < made.surface.length; t++) {
    if (made.surface[t] === closing) continue
    surface[at] = made.surface[t]
    for (let k = 0; k < 3; k++) {
      const v = made.indices[3 * t + k]
      if (numberOfMade[v] < 0) numberOfMade[v] = vertices++
      indices[3 * at + k] = numberOfMade[v]
      corners[3 * (at - rest.length) + k] = 3 * t + k
    }
    at++
  }
  const positions = new Float64Array(3 * vertices)
  const place = (from: Float64Array, numbers: Int32Array) =>
    numbers.forEach((n, v) => n >= 0 && ((positions[3 * n] = from[3 * v]), (positions[3 * n + 1] = from[3 * v + 1]), (positions[3 * n + 2] = from[3 * v + 2])))
  place(made.positions, numberOfMade)
  place(body.positions, numberOfBody)
  const attributes: Partial<Record<AttributeName, AttributeArray>> = {}
  for (const name of Object.keys(made.attributes) as AttributeName[]) {
    const { at, size } = ATTRIBUTES[name]
    const [own, theirs] = [attributeOf(body, name), made.attributes[name] as AttributeArray]
    const array = (attributes[name] = attributeArray(name, vertices, indices.length))
    if (at === 'vertex') {
      numberOfMade.forEach((n, v) => n >= 0 && copy(theirs, size * v, array, size * n, size))
      numberOfBody.forEach((n, v) => n >= 0 && copy(own, size * v, array, size * n, size))
    } else {
      for (let i = 0; i < rest.length; i++) copy(own, 3 * size * rest[i], array, 3 * size * i, 3 * size)
      for (let i = 0; i < corners.length; i++) copy(theirs, size * corners[i], array, size * (3 * rest.length + i), size)
    }
  }
  return { ...made, positions, indices, surface, attributes: attributes as Attributes }
}

/** What the kernel made of the part near a box where nothing of the rest is wanted; undefined where something of what closed the part is left. */
export function withoutRest({ closing }: Near, made: Solid): Solid | undefined {
  return made.surface.includes(closing) ? undefined : made
}
