import { randomShares } from '../cache/random'
import { EASES, type Ease, eased } from '../motion/easing'
import { type Assembly, pickEntries } from '../solid/assembly'
import type { Matrix } from '../solid/operations'
import type { Apart, Thing } from './apart'
import { onItsLattice } from './moved'
import { shift, sized, through, turnAbout } from './spots'

/** Where things are before their turn, seen from where they belong. */
export interface Away {
  /** mm to the right, up and forward */
  readonly shift: readonly [number, number, number]
  /** degrees about the level axis, the upright axis and the axis that looks forward */
  readonly turn: readonly [number, number, number]
  /** % of their own size */
  readonly size: number
  /** mm in a direction and degrees about each axis that are drawn by lot */
  readonly stray: number
  readonly tumble: number
  readonly seed: number
  /** what of a thing stays where it is while it is turned and sized: shares of its box, 0 to 1 */
  readonly pivot: readonly [number, number, number]
  /** a thing is not there before its turn begins */
  readonly unseen: boolean
}

/** How the movement goes through things. */
export interface Course {
  /** how far all of it is, 0 to 1 */
  readonly done: number
  /** 0: all at once; 1: one strictly after another */
  readonly apart: number
  readonly ease: Ease
  /** when each has its turn, 0 the first to 1 the last */
  readonly turns: ArrayLike<number>
}

/**
 * How far each thing is, 0 to 1, eased (which may go beyond). The whole takes as long whatever their number is: of things that go strictly one after another each takes
 * its equal share of the time.
 */
export function sharesDone({ done, apart, ease, turns }: Course): Float64Array {
  const alone = 1 / (1 + apart * Math.max(0, turns.length - 1))
  return Float64Array.from(turns, (turn) => eased(EASES[ease], Math.min(1, Math.max(0, (done - turn * (1 - alone)) / alone))))
}

/** Things of a value, each as far on its way to where it belongs as its turn has come; those that have arrived stand there exactly. */
export function movedInTurn({ assembly, things }: Apart, away: Away, course: Course): Assembly {
  const { placements } = assembly
  const shares = sharesDone(course)
  const matrix = placements.matrix.slice()
  const gone = new Set<number>()
  things.forEach((thing, i) => {
    const left = 1 - shares[i]
    if (left === 0) return
    const size = 1 + ((away.size - 100) / 100) * left
    if (size < 1e-3 || (away.unseen && left === 1)) {
      for (const entry of thing.entries) gone.add(entry)
      return
    }
    const move = way(thing, away, left, size)
    for (const entry of thing.entries) matrix.set(through(move, placements.matrix.subarray(12 * entry, 12 * entry + 12) as unknown as Matrix), 12 * entry)
  })
  const moved = { ...assembly, placements: { ...placements, matrix } }
  const there =
    gone.size === 0
      ? moved
      : pickEntries(
          moved,
          [...placements.unit.keys()].filter((i) => !gone.has(i)),
        )
  return onItsLattice(there)
}

/** The way of a thing that still has a share of it before it. */
function way({ box, lot }: Thing, { shift: by, turn, pivot, stray, tumble, seed }: Away, left: number, size: number): Matrix {
  const at = [0, 1, 2].map((k) => box[k] + pivot[k] * (box[k + 3] - box[k]))
  const next = randomShares(Math.imul(seed ^ 0x51ab3c77, 0x9e3779b1) ^ Math.imul(lot + 1, 0x85ebca6b))
  for (let i = 0; i < 3; i++) next()
  const drawn = () => 2 * next() - 1
  const [dx, dy, dz] = aimed(next(), next())
  const off = [dx, dy, dz].map((d, k) => left * (by[k] + stray * d))
  const turns = turn.map((degrees) => left * (degrees + tumble * drawn()))
  return through(
    shift(at[0] + off[0], at[1] + off[1], at[2] + off[2]),
    turnAbout('y', turns[1]),
    turnAbout('x', turns[0]),
    turnAbout('z', turns[2]),
    sized(size),
    shift(-at[0], -at[1], -at[2]),
  )
}

/** A direction, all alike (Archimedes: heights on a ball are even). */
export function aimed(a: number, b: number): [number, number, number] {
  const z = 2 * a - 1
  const r = Math.sqrt(1 - z * z)
  return [r * Math.cos(2 * Math.PI * b), r * Math.sin(2 * Math.PI * b), z]
}
