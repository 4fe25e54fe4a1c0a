import { randomShares } from '../cache/random'
import type { Apart, Thing } from '../repeat/apart'
import { movedThings } from '../repeat/moved'
import { aimed } from '../repeat/in-turn'
import { shift, through, turnAbout } from '../repeat/spots'
import type { Assembly } from '../solid/assembly'
import type { Matrix } from '../solid/operations'
import { BURST_FROM } from './burst-from'

export type BurstFrom = (typeof BURST_FROM)[number]

export interface Burst {
  /** how strong, 1 for 100 %; below 0 things are drawn together */
  readonly strength: number
  readonly from: BurstFrom
  /** of spot and line, mm */
  readonly spot: readonly [number, number, number]
  /** the line's direction, or where everything flies: a unit vector */
  readonly way: readonly [number, number, number]
  /** how far things fly at 100 %, mm, and how they turn, degrees about each axis at most */
  readonly far: number
  readonly turn: number
  /** half as far at this distance from the spot or the line, mm; 0 for no fall-off */
  readonly reach: number
  /** 0 to 1: how much further or less far each flies, by lot */
  readonly uneven: number
  /** how much strength passes before each begins, 1 for 100 % */
  readonly delays: ArrayLike<number>
  readonly seed: number
}

/**
 * Things flown apart. At a strength of 0 everything stands where it stood, exactly; below it things go the way together: towards the spot or the line, all of
 * it at −100 %, or against the direction. A thing's lots are its own, whatever stands before it.
 */
export function burst(apart: Apart, how: Burst): Assembly {
  return movedThings(apart, (thing, i) => {
    const strength = Math.sign(how.strength) * Math.max(0, Math.abs(how.strength) - how.delays[i])
    return strength === 0 ? undefined : flight(thing, how, strength)
  })
}

function flight({ box, lot }: Thing, { from, spot, way, far, turn, reach, uneven, seed }: Burst, strength: number): Matrix {
  const next = randomShares(Math.imul(seed ^ 0x7a1c4b35, 0x9e3779b1) ^ Math.imul(lot + 1, 0x85ebca6b))
  for (let i = 0; i < 3; i++) next()
  const drawn = () => 2 * next() - 1
  const any = aimed(next(), next())
  const faster = 1 + uneven * drawn()
  const turns = [drawn(), drawn(), drawn()]
  const at = [0, 1, 2].map((k) => (box[k] + box[k + 3]) / 2)
  let off = at.map((v, k) => v - spot[k])
  if (from === 'line') {
    const along = off[0] * way[0] + off[1] * way[1] + off[2] * way[2]
    off = off.map((v, k) => v - along * way[k])
  }
  const distance = Math.hypot(off[0], off[1], off[2])
  const aim = from === 'way' ? way : from === 'lot' ? any : distance > 1e-9 ? off.map((v) => v / distance) : any
  const falls = reach > 0 && (from === 'spot' || from === 'line') ? 1 / (1 + (distance / reach) ** 2) : 1
  // drawn together nothing goes further than to the spot
  const together = strength < 0 && (from === 'spot' || from === 'line')
  const by = together ? Math.max(-1, strength) * distance : strength * far * falls * faster
  const [x, y, z] = aim.map((v) => v * by)
  const angle = turns.map((share) => share * turn * strength * falls)
  return through(
    shift(at[0] + x, at[1] + y, at[2] + z),
    turnAbout('y', angle[1]),
    turnAbout('x', angle[0]),
    turnAbout('z', angle[2]),
    shift(-at[0], -at[1], -at[2]),
  )
}
