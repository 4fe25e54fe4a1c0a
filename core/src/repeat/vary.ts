import { randomShares } from '../cache/random'
import { lookOf, type Solid, solidBounds } from '../solid/solid'
import type { Assembly } from '../solid/assembly'
import { labelTable, NONE, PLAIN_ROW, rowCount, withLabel } from '../solid/labels'
import { apply, type Matrix } from '../solid/operations'
import { shift, sized, through, turnAbout } from './spots'

/** How copies are made to differ: by how much at most, each way. */
export interface Variation {
  /** mm, in the copy's own directions */
  readonly shift: readonly [number, number, number]
  /** degrees, about its own axis off the ground, and leaning over */
  readonly turn: number
  readonly lean: number
  /** % larger or smaller */
  readonly size: number
  /** 0xrrggbb each; none leaves colours as they are */
  readonly colours: readonly number[]
}

/** How much of the variation a copy takes, −1 to 1, for each of what may vary; and which colour, 0 to under 1 of all of them, or by its turn. */
export interface Share {
  readonly shift: readonly [number, number, number]
  readonly turn: number
  readonly lean: readonly [number, number]
  readonly size: number
  readonly colour: number
}

/** A share that is one number for all. */
export const evenShare = (t: number, colour: number): Share => ({ shift: [t, t, t], turn: t, lean: [t, 0], size: t, colour })

/** Shares drawn by lot: for each copy by its number, whatever the others are. */
export function drawnShare(seed: number, number: number): Share {
  const next = randomShares(Math.imul(seed ^ 0x9e3779b9, 0x85ebca6b) ^ Math.imul(number + 1, 0xc2b2ae35))
  // the first draws of neighbouring seeds are alike
  for (let i = 0; i < 3; i++) next()
  const both = () => 2 * next() - 1
  return { shift: [both(), both(), both()], turn: both(), lean: [both(), both()], size: both(), colour: next() }
}

/** The copies of an assembly: their numbers in order, and for each the entries that make it up. */
export function copiesOf({ placements: { copy } }: Pick<Assembly, 'placements'>): ReadonlyMap<number, readonly number[]> {
  const out = new Map<number, number[]>()
  copy.forEach((number, i) => {
    if (number === NONE) return
    const list = out.get(number)
    if (list) list.push(i)
    else out.set(number, [i])
  })
  return new Map([...out].sort(([a], [b]) => a - b))
}

/** Where each copy stands: the middle of its foot, mm; three numbers a copy, in the order of `copiesOf`. */
export function feetOf(assembly: Assembly, copies: ReadonlyMap<number, readonly number[]>): Float64Array {
  const feet = footOf(assembly)
  const out = new Float64Array(3 * copies.size)
  let i = 0
  for (const [first] of copies.values()) {
    const m = assembly.placements.matrix.subarray(12 * first, 12 * first + 12) as unknown as Matrix
    out.set(apply(m, ...feet(first)), 3 * i++)
  }
  return out
}

/** The middle of the foot of an entry's unit, in the unit's own coordinates. */
function footOf({ units, placements: { unit } }: Assembly): (entry: number) => [number, number, number] {
  const own = units.map(({ positions }): [number, number, number] => {
    const [x0, y0, z0, x1, y1] = solidBounds(positions)
    return Number.isFinite(x0) ? [(x0 + x1) / 2, (y0 + y1) / 2, z0] : [0, 0, 0]
  })
  return (entry) => own[unit[entry]]
}

/** The assembly with every copy moved, turned, sized and coloured about its foot by its share, in the order of `copiesOf`. */
export function varied(assembly: Assembly, copies: ReadonlyMap<number, readonly number[]>, by: Variation, shareOf: (order: number) => Share): Assembly {
  const { placements } = assembly
  const matrix = placements.matrix.slice()
  const colour = by.colours.length > 0 ? (placements.colour?.slice() ?? new Int32Array(placements.unit.length).fill(NONE)) : placements.colour
  const feet = footOf(assembly)
  let order = 0
  for (const entries of copies.values()) {
    const share = shareOf(order++)
    const first = placements.matrix.subarray(12 * entries[0], 12 * entries[0] + 12) as unknown as Matrix
    const [x, y, z] = feet(entries[0])
    const change = through(
      shift(x + share.shift[0] * by.shift[0], y + share.shift[1] * by.shift[1], z + share.shift[2] * by.shift[2]),
      turnAbout('z', share.turn * by.turn),
      turnAbout('x', share.lean[0] * by.lean),
      turnAbout('y', share.lean[1] * by.lean),
      sized(Math.max(0.01, 1 + (share.size * by.size) / 100)),
      shift(-x, -y, -z),
    )
    const whole = entries.length > 1 ? through(first, change, inverse(first)) : undefined
    for (const entry of entries) {
      const own = placements.matrix.subarray(12 * entry, 12 * entry + 12) as unknown as Matrix
      matrix.set(whole ? through(whole, own) : through(own, change), 12 * entry)
      if (colour && by.colours.length > 0) colour[entry] = by.colours[Math.min(by.colours.length - 1, Math.floor(share.colour * by.colours.length))]
    }
  }
  return {
    ...assembly,
    units: by.colours.length > 0 ? assembly.units.map(withLooks) : assembly.units,
    placements: { ...placements, matrix, ...(colour ? { colour } : {}) },
  }
}

/** What turns and moves back. */
function inverse(m: Matrix): Matrix {
  const [a, b, c, , d, e, f, , g, h, i] = m
  const det = a * (e * i - f * h) - b * (d * i - f * g) + c * (d * h - e * g)
  const n = [e * i - f * h, c * h - b * i, b * f - c * e, f * g - d * i, a * i - c * g, c * d - a * f, d * h - e * g, b * g - a * h, a * e - b * d].map(
    (v) => v / det,
  )
  const back = [0, 1, 2].map((r) => -(n[3 * r] * m[3] + n[3 * r + 1] * m[7] + n[3 * r + 2] * m[11]))
  return [n[0], n[1], n[2], back[0], n[3], n[4], n[5], back[1], n[6], n[7], n[8], back[2]]
}

/** A solid whose every surface is dressed as it looks, so that it can be coloured. */
function withLooks(solid: Solid): Solid {
  const { labels, looks } = solid
  if (!labels.look.includes(NONE)) return solid
  const added = Array.from({ length: rowCount(labels) }, (_, row) => lookOf(solid, row))
  return {
    ...solid,
    looks: [...looks, ...added],
    labels: withLabel(labels, 'look', (row) => (labels.look[row] === NONE ? looks.length + row : labels.look[row])),
  }
}

/** Places, three numbers each, as a surface on which a mask can be measured; `letterOf` is the letter each is of. */
export function pointSolid({ letters, lattice }: Pick<Assembly, 'letters' | 'lattice'>, places: Float64Array, letterOf: readonly number[]): Solid {
  const count = letterOf.length
  const own = [...new Set(letterOf)]
  return {
    kind: 'solid',
    positions: places,
    indices: Uint32Array.from({ length: 3 * count }, (_, i) => Math.floor(i / 3)),
    surface: Uint32Array.from(letterOf, (letter) => own.indexOf(letter)),
    labels: labelTable(own.map((letter) => ({ ...PLAIN_ROW, letter }))),
    attributes: {},
    letters,
    layers: [],
    bands: [],
    looks: [],
    lattice,
  }
}
