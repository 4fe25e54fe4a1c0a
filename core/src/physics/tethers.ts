import { lengthTo } from '../check/rays'
import { UNDRESSED } from '../look/material'
import type { Apart } from '../repeat/apart'
import { type Assembly, besideAssembly, placedUnits } from '../solid/assembly'
import { solidFromTriangles } from '../solid/from-triangles'
import { apply, type Matrix } from '../solid/operations'
import type { Solid } from '../solid/solid'

export type Point = readonly [number, number, number]

/** One end: in a thing, or fast where it is. */
export interface TetherEnd {
  /** mm, at rest */
  readonly at: Point
  readonly thing?: number
}

/** A rope or chain: its ends never come further apart than it is long. */
export interface Tether {
  readonly from: TetherEnd
  readonly to: TetherEnd
  /** mm */
  readonly length: number
}

export type TetherLook = 'rope' | 'chain'

/** A rope is shown in so many straight pieces. */
const PIECES = 12
/** A chain's links are so many times as long as they are thick, from one to the next. */
const LINK = 3.4
const MOST_LINKS = 120
const NO_LENGTH = 1e-4
/** So many places on either side are tried for a rope's end. */
const TRIED = 4

/**
 * Ropes that hang each thing from above: at so many places near its top, spread over its width, straight up for `length` mm.
 */
export function hungFromAbove({ things }: Pick<Apart, 'things'>, solidOf: (thing: number) => Solid, each: number, length: number): Tether[] {
  return things.flatMap((_, thing) => {
    const solid = solidOf(thing)
    const box = things[thing].box
    return Array.from({ length: each }, (__, i) => {
      const x = box[0] + ((i + 0.5) / each) * (box[3] - box[0])
      const at = topNear(solid, box, x, (box[3] - box[0]) / each)
      return { from: { at: [at[0], at[1] + length, at[2]] as const }, to: { at, thing }, length }
    })
  })
}

/** A high place on a surface near x, in its depth: as far up as can be, and no further aside than is worth it. */
function topNear({ positions: p, indices }: Solid, box: readonly number[], x: number, wide: number): Point {
  let [best, found]: [number, Point] = [-Infinity, [x, box[4], (box[2] + box[5]) / 2]]
  for (let k = -TRIED; k <= TRIED; k++)
    for (const deep of [0.5, 0.3, 0.7]) {
      const from = [x + (k * wide) / (2 * TRIED + 1), box[4] + 1, box[2] + deep * (box[5] - box[2])] as const
      let down = Infinity
      for (let t = 0; t < indices.length / 3; t++) {
        const far = lengthTo(p, indices, t, from, [0, -1, 0])
        if (far > 0 && far < down) down = far
      }
      const worth = from[1] - down - 0.6 * Math.abs(from[0] - x) - 0.01 * Math.abs(deep - 0.5)
      if (worth > best) [best, found] = [worth, [from[0], from[1] - down, from[2]]]
    }
  return found
}

/** Drawn lines as ropes: each end is fast to the thing that it begins in or next to, else where it is. `lines`: x, y, z of their points, mm. Those without length are left out. */
export function drawnTethers({ things }: Pick<Apart, 'things'>, lines: readonly (readonly Point[])[], near: number): Tether[] {
  return lines.flatMap((line) => {
    let length = 0
    for (let i = 1; i < line.length; i++) length += distance(line[i - 1], line[i])
    if (!(length > NO_LENGTH)) return []
    const end = (at: Point): TetherEnd => {
      let [best, thing] = [near, -1]
      things.forEach(({ box }, i) => {
        const off = [0, 1, 2].map((k) => Math.max(0, box[k] - at[k], at[k] - box[k + 3]))
        const far = Math.sqrt(off[0] ** 2 + off[1] ** 2 + off[2] ** 2)
        if (far < best) [best, thing] = [far, i]
      })
      return thing < 0 ? { at } : { at, thing }
    }
    const [from, to] = [end(line[0]), end(line[line.length - 1])]
    // a line within one thing holds nothing
    return from.thing === undefined && to.thing === undefined ? [] : from.thing === to.thing ? [] : [{ from, to, length }]
  })
}

const distance = (a: Point, b: Point) => Math.sqrt((a[0] - b[0]) ** 2 + (a[1] - b[1]) ** 2 + (a[2] - b[2]) ** 2)

/** An assembly with its ropes or chains as they hang between where things are now, with valves at their upper ends where asked; `moveOf`: what brought a thing there. */
export function withTethers(
  assembly: Assembly,
  tethers: readonly Tether[],
  look: TetherLook,
  thick: number,
  moveOf: (thing: number) => Matrix | undefined,
  { knots = false }: { readonly knots?: boolean } = {},
): Assembly {
  if (tethers.length === 0) return assembly
  const matrices: Matrix[] = []
  const at = ({ at: place, thing }: TetherEnd): Point => {
    const move = thing === undefined ? undefined : moveOf(thing)
    return move ? apply(move, ...place) : place
  }
  for (const tether of tethers) {
    const parts = look === 'rope' ? PIECES : Math.min(MOST_LINKS, Math.max(1, Math.round(tether.length / (LINK * thick))))
    const points = hanging(at(tether.from), at(tether.to), tether.length, parts)
    for (let i = 0; i < parts; i++) matrices.push(between(points[i], points[i + 1], look === 'chain' ? i % 2 : 0, look === 'chain' ? LINK * thick : 1))
  }
  const pieces = matrices.length
  if (knots)
    for (const { to } of tethers) {
      const [x, y, z] = at(to)
      matrices.push([1, 0, 0, x, 0, 1, 0, y, 0, 0, 1, z])
    }
  const own = [look === 'rope' ? ropePiece(thick) : chainLink(thick), ...(knots ? [valve(thick)] : [])]
  return besideAssembly(
    assembly,
    placedUnits(
      own,
      matrices.map((_, i) => (i < pieces ? 0 : 1)),
      matrices,
    ),
  )
}

/** Points along a rope between two ends: straight when it is taut, else hanging through as a parabola of its length, downwards. */
export function hanging(a: Point, b: Point, length: number, pieces: number): Point[] {
  const along = (sag: number, count: number) =>
    Array.from({ length: count + 1 }, (_, i) => {
      const t = i / count
      return [a[0] + t * (b[0] - a[0]), a[1] + t * (b[1] - a[1]) - 4 * sag * t * (1 - t), a[2] + t * (b[2] - a[2])] as const
    })
  const long = (points: readonly Point[]) => points.slice(1).reduce((sum, point, i) => sum + distance(point, points[i]), 0)
  let [low, high] = [0, length]
  if (distance(a, b) < length * (1 - 1e-6))
    for (let i = 0; i < 30; i++) {
      const sag = (low + high) / 2
      if (long(along(sag, 32)) < length) low = sag
      else high = sag
    }
  return along(low, pieces)
}

/** What brings a piece that stands on the origin, `long` mm up, between two points; turned a quarter about itself where asked. */
function between(a: Point, b: Point, quarter: number, long: number): Matrix {
  const up = [b[0] - a[0], b[1] - a[1], b[2] - a[2]]
  const far = Math.max(1e-3, Math.sqrt(up[0] ** 2 + up[1] ** 2 + up[2] ** 2))
  const y = up.map((v) => v / far)
  // across: to the right, or forward where it runs to the right itself
  const aside = Math.abs(y[0]) < 0.9 ? [1, 0, 0] : [0, 0, 1]
  const dot = aside[0] * y[0] + aside[1] * y[1] + aside[2] * y[2]
  const flat = aside.map((v, k) => v - dot * y[k])
  const size = Math.sqrt(flat[0] ** 2 + flat[1] ** 2 + flat[2] ** 2)
  const x = flat.map((v) => v / size)
  const z = [x[1] * y[2] - x[2] * y[1], x[2] * y[0] - x[0] * y[2], x[0] * y[1] - x[1] * y[0]]
  const [u, w] = quarter ? [z, x.map((v) => -v)] : [x, z]
  const s = far / long
  return [0, 1, 2].flatMap((k) => [u[k], s * y[k], w[k], a[k]]) as unknown as Matrix
}

const SIDES = 10
const kept = new Map<string, Solid>()

function keptUnit(name: string, thick: number, make: () => Solid): Solid {
  const key = `${name} ${thick}`
  const before = kept.get(key)
  if (before) return before
  if (kept.size > 8) kept.clear()
  const made = make()
  kept.set(key, made)
  return made
}

/** A round bar 1 mm long on the origin, upwards. */
const ropePiece = (thick: number): Solid =>
  keptUnit('rope', thick, () =>
    turned('Rope', '#a5835a', [
      [thick / 2, 0],
      [thick / 2, 1],
    ]),
  )

/** What a balloon is tied at: its neck, the knot in it and the end that hangs out, downwards from the origin. */
const valve = (thick: number): Solid =>
  keptUnit('valve', thick, () =>
    turned(
      'Valve',
      '#d8d3c8',
      [
        [2.1, -5.2],
        [1.1, -4],
        [0.8, -3.2],
        [1.5, -2.7],
        [1.7, -2.1],
        [1.4, -1.5],
        [0.9, -1.1],
        [1.2, 0],
        [1.8, 1],
      ].map(([r, y]) => [r * thick, y * thick] as const),
    ),
  )

/** A solid turned about the Y axis through rings from low to high: radius and height, mm. */
function turned(name: string, colour: string, rings: readonly (readonly [number, number])[]): Solid {
  const positions = rings.flatMap(([r, y]) =>
    Array.from({ length: SIDES }, (_, i) => [r * Math.cos((2 * Math.PI * i) / SIDES), y, r * Math.sin((2 * Math.PI * i) / SIDES)]).flat(),
  )
  const [low, high] = [SIDES * rings.length, SIDES * rings.length + 1]
  positions.push(0, rings[0][1], 0, 0, rings[rings.length - 1][1], 0)
  const indices: number[] = []
  const top = SIDES * (rings.length - 1)
  for (let i = 0; i < SIDES; i++) {
    const j = (i + 1) % SIDES
    for (let ring = 0; ring < top; ring += SIDES) indices.push(ring + i, ring + SIDES + i, ring + j, ring + j, ring + SIDES + i, ring + SIDES + j)
    indices.push(low, i, j, high, top + j, top + i)
  }
  return named(name, colour, positions, indices)
}

/** A link about the Y axis whose neighbours stand LINK·thick below and above it: a bar bent to a long ring, a little apart from theirs. */
const chainLink = (thick: number): Solid =>
  keptUnit('chain', thick, () => {
    const [wide, pitch] = [1.15 * thick, LINK * thick]
    const straight = (pitch + 1.15 * thick) / 2 - wide
    const rings: { x: number; y: number; nx: number; ny: number }[] = []
    for (const side of [1, -1])
      for (let i = 0; i <= 8; i++) {
        const a = (Math.PI * i) / 8 + (side < 0 ? Math.PI : 0)
        rings.push({ x: wide * Math.cos(a), y: pitch / 2 + side * Math.max(0, straight) + wide * Math.sin(a), nx: Math.cos(a), ny: Math.sin(a) })
      }
    const positions: number[] = []
    for (const { x, y, nx, ny } of rings)
      for (let s = 0; s < 8; s++) {
        const [c, d] = [Math.cos((2 * Math.PI * s) / 8), Math.sin((2 * Math.PI * s) / 8)]
        positions.push(x + (thick / 2) * c * nx, y + (thick / 2) * c * ny, (thick / 2) * d)
      }
    const indices: number[] = []
    for (let r = 0; r < rings.length; r++)
      for (let s = 0; s < 8; s++) {
        const [a, b] = [8 * r + s, 8 * r + ((s + 1) % 8)]
        const [c, d] = [8 * ((r + 1) % rings.length) + s, 8 * ((r + 1) % rings.length) + ((s + 1) % 8)]
        indices.push(a, c, b, b, c, d)
      }
    return named('Chain', '#b9bec4', positions, indices)
  })

const named = (part: string, colour: string, positions: number[], indices: number[]): Solid =>
  solidFromTriangles({
    positions,
    indices,
    surface: new Uint8Array(indices.length / 3),
    surfaces: [{ part, look: { name: part.toLowerCase(), material: { ...UNDRESSED, colour } } }],
  })
