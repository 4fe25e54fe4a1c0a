import { type OverTime, numberAt, isOver } from '../motion/over-time'
import { noise } from '../solid/noise'

/** What acts on everything beside gravity and air. Accelerations in m/s², lengths in m. */
export interface Forces {
  /** where it pulls to or whirls about */
  readonly spot: readonly [number, number, number]
  /** towards the spot; below 0 away from it */
  readonly pull: number
  /** about an upright line through the spot, anticlockwise as seen from above */
  readonly whirl: number
  /** every which way, changing from place to place and in time */
  readonly shake: number
  /** half as strong so far from the spot; everywhere alike at 0 */
  readonly reach: number
  readonly seed: number
  /** it acts from one moment until another, s; all the time when left out */
  readonly acts?: readonly [number, number]
  /** what pull, whirl and shaking are multiplied by over time; as they are when left out */
  readonly strength?: OverTime
}

/** Shaking changes over about so far, m, and so often, 1/s. */
const FAR = 0.6
const OFTEN = 1.7

export const isCalm = ({ pull, whirl, shake }: Forces): boolean => pull === 0 && whirl === 0 && shake === 0

/** Whether forces act at a moment, or will later on. */
export const isCalmFrom = (forces: Forces, seconds: number): boolean =>
  isCalm(forces) || (forces.acts !== undefined && seconds >= forces.acts[1]) || (forces.strength !== undefined && isOver(forces.strength, seconds))

/** The acceleration of what is at a place at a moment. Sums, products and roots only: the same everywhere, bit for bit. */
export function accelerations({
  spot,
  pull,
  whirl,
  shake,
  reach,
  seed,
  acts,
  strength,
}: Forces): (x: number, y: number, z: number, seconds: number, out: Float64Array) => void {
  const fields = [0, 1, 2].map((k) => noise(seed + 6151 * k + 17))
  // asked for at many places at one moment after another
  let [last, now] = [Number.NaN, 1]
  return (x, y, z, seconds, out) => {
    if (acts && !(seconds >= acts[0] && seconds < acts[1])) {
      out.fill(0)
      return
    }
    const [dx, dy, dz] = [spot[0] - x, spot[1] - y, spot[2] - z]
    const far2 = dx * dx + dy * dy + dz * dz
    const share = reach > 0 ? 1 / (1 + far2 / (reach * reach)) : 1
    // at the spot itself there is no way to it
    const far = Math.sqrt(far2) + 0.05
    const flat = Math.sqrt(dx * dx + dz * dz) + 0.05
    out[0] = share * ((pull * dx) / far + (whirl * -dz) / flat)
    out[1] = (share * pull * dy) / far
    out[2] = share * ((pull * dz) / far + (whirl * dx) / flat)
    if (shake !== 0) {
      const t = OFTEN * seconds
      for (let k = 0; k < 3; k++) out[k] += 1.5 * shake * fields[k](x / FAR + t, y / FAR + 0.37, z / FAR - t)
    }
    if (strength) {
      if (seconds !== last) [last, now] = [seconds, numberAt(strength, seconds)]
      for (let k = 0; k < 3; k++) out[k] *= now
    }
  }
}

/** The same with its lengths times `size`. */
export const inMetres = (forces: Forces, size: number): Forces => ({
  ...forces,
  spot: [forces.spot[0] * size, forces.spot[1] * size, forces.spot[2] * size],
  reach: forces.reach * size,
})

/** Makes points faster by the forces on them for a step of time, s; those without an inverse mass stay. Places and speeds: x, y, z each, m and m/s; `felt`: how much of it each feels, 0 to 1. */
export function forceOn(
  places: Float32Array,
  speeds: Float32Array,
  inverse: Float64Array,
  field: ReturnType<typeof accelerations>,
  seconds: number,
  step: number,
  felt?: Float64Array,
): void {
  const by = new Float64Array(3)
  for (let i = 0; i < inverse.length; i++) {
    if (inverse[i] === 0) continue
    field(places[3 * i], places[3 * i + 1], places[3 * i + 2], seconds, by)
    for (let k = 0; k < 3; k++) speeds[3 * i + k] += by[k] * step * (felt ? felt[i] : 1)
  }
}
