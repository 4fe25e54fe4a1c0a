import { type OverTime, numberAt, goneBy } from '../motion/over-time'
import { noise } from '../solid/noise'

/** Moving air. */
export interface Air {
  /** m/s to the right, up and forward */
  readonly speed: readonly [number, number, number]
  /** how much all of it comes and goes, 0 to 1 */
  readonly gusts: number
  /** how uneven it is from place to place, 0 to 1 */
  readonly turbulence: number
  readonly seed: number
  /** what its speed is multiplied by over time; as it is when left out */
  readonly strength?: OverTime
}

/** kg/m³ at sea level */
const DENSITY = 1.2
/** Eddies are about so large, m, and gusts come about so often, 1/s. */
const EDDY = 0.7
const GUSTS = 0.6

export const isStill = ({ speed }: Air): boolean => speed.every((v) => v === 0)

/**
 * Air as a field in space and time: gusts change all of it, eddies drift along with it (Taylor, "The spectrum of turbulence", 1938). Only sums and products, so that it is the same everywhere, bit
 * for bit.
 */
export function windField({ speed, gusts, turbulence, seed, strength }: Air): (x: number, y: number, z: number, seconds: number, out: Float64Array) => void {
  const fields = [0, 1, 2].map((k) => noise(seed + 7919 * k))
  const comes = noise(seed ^ 0x5bd1e995)
  const strong = Math.sqrt(speed[0] ** 2 + speed[1] ** 2 + speed[2] ** 2)
  // asked for at many places at one moment after another
  const gone = strength && goneBy(strength)
  let [last, times, blown] = [Number.NaN, 1, 0]
  return (x, y, z, seconds, out) => {
    if (seconds !== last) {
      last = seconds
      if (strength && gone) [times, blown] = [numberAt(strength, seconds), gone(seconds)]
      else blown = seconds
    }
    const now = times * Math.max(0, 1 + 1.6 * gusts * comes(GUSTS * seconds + 0.37, 0.71, 0.13))
    const [u, v, w] = [(x - speed[0] * blown) / EDDY, (y - speed[1] * blown) / EDDY, (z - speed[2] * blown) / EDDY]
    for (let k = 0; k < 3; k++) out[k] = now * (speed[k] + (turbulence === 0 ? 0 : 1.5 * turbulence * strong * fields[k](u + 0.31, v + 0.57, w + 0.83)))
  }
}

/**
 * Blows on triangles for a step of time: each is pushed along its normal by the air that meets it, ½ρA(n·v)², and its corners share that (`inverse`: 1/kg each). No triangle makes a corner faster by
 * more than the speed of the air that it meets.
 */
export function blow(
  triangles: Uint32Array,
  positions: Float32Array,
  velocities: Float32Array,
  inverse: Float64Array,
  wind: ReturnType<typeof windField>,
  seconds: number,
  step: number,
  felt?: Float64Array,
): void {
  const air = new Float64Array(3)
  for (let i = 0; i < triangles.length; i += 3) {
    const [a, b, c] = [3 * triangles[i], 3 * triangles[i + 1], 3 * triangles[i + 2]]
    const [x, y, z] = [positions[a], positions[a + 1], positions[a + 2]]
    const [ex, ey, ez] = [positions[b] - x, positions[b + 1] - y, positions[b + 2] - z]
    const [fx, fy, fz] = [positions[c] - x, positions[c + 1] - y, positions[c + 2] - z]
    let [nx, ny, nz] = [ey * fz - ez * fy, ez * fx - ex * fz, ex * fy - ey * fx]
    const doubled = Math.sqrt(nx * nx + ny * ny + nz * nz)
    if (doubled < 1e-12) continue
    nx /= doubled
    ny /= doubled
    nz /= doubled
    wind(x, y, z, seconds, air)
    for (let k = 0; k < 3; k++) air[k] -= (velocities[a + k] + velocities[b + k] + velocities[c + k]) / 3
    const meets = nx * air[0] + ny * air[1] + nz * air[2]
    const push = (0.5 * DENSITY * (doubled / 2) * meets * Math.abs(meets) * step) / 3
    for (const corner of [a, b, c]) {
      const faster = push * inverse[corner / 3]
      const most = Math.abs(meets)
      const own = Math.max(-most, Math.min(most, faster)) * (felt ? felt[corner / 3] : 1)
      velocities[corner] += own * nx
      velocities[corner + 1] += own * ny
      velocities[corner + 2] += own * nz
    }
  }
}

/** The push of the air on a body that shows it so much of itself along each of its own axes (m²): ½ρA·v|v| along each, N. `v`: the air's speed against the body's, along the same axes. */
export const dragOn = (areas: ArrayLike<number>, v: ArrayLike<number>): [number, number, number] =>
  [0, 1, 2].map((k) => 0.5 * DENSITY * areas[k] * v[k] * Math.abs(v[k])) as [number, number, number]
