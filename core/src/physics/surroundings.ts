import type { Solid } from '../solid/solid'
import type { World } from './world'

/** Where things fall. */
export interface Surroundings {
  /** m/s² at the size that things seem to have */
  readonly gravity: number
  /** so many mm seem a metre: the larger, the quicker things fall */
  readonly metre: number
  readonly friction: number
  readonly bounce: number
  /** the floor's height, mm; none when left out */
  readonly floor?: number
  /** walls about the floor, this far from the middle of everything: half its width and depth, mm; none when left out */
  readonly pen?: readonly [number, number]
  /** mm/s the floor goes to the right, and takes along what lies on it */
  readonly belt?: number
  /** what things fall upon, in their own coordinates */
  readonly obstacles: readonly Solid[]
}

/** Adds the floor, its walls and what stands in the way to a world. `box`: of all that falls, mm. */
export function addSurroundings(
  world: World,
  box: readonly number[],
  { metre, friction, bounce, floor: height, belt = 0, pen, obstacles }: Surroundings,
): void {
  const size = 1 / metre
  const middle = [0, 1, 2].map((k) => ((box[k] + box[k + 3]) / 2) * size)
  if (height !== undefined) {
    const floor = height * size
    // a floor that goes on is long enough for half a minute of it
    if (belt === 0) world.addBox([middle[0], floor - 5, middle[2]], [40, 5, 40], friction, bounce)
    else world.addBox([middle[0], floor - 5, middle[2]], [40 + 60 * Math.abs(belt * size), 5, 40], friction, bounce, [belt * size, 0, 0])
    if (pen) {
      const [across, deep] = pen.map((v) => v * size)
      for (const side of [-1, 1]) {
        world.addBox([middle[0] + side * (across + 1), floor + 20, middle[2]], [1, 25, deep + 2], friction, bounce)
        world.addBox([middle[0], floor + 20, middle[2] + side * (deep + 1)], [across + 2, 25, 1], friction, bounce)
      }
    }
  }
  addObstacles(world, { metre, friction, bounce, obstacles })
}

/** Adds what stands in the way to a world. */
export function addObstacles(world: World, { metre, friction, bounce, obstacles }: Pick<Surroundings, 'metre' | 'friction' | 'bounce' | 'obstacles'>): void {
  const size = 1 / metre
  for (const { positions, indices } of obstacles)
    world.addMesh(
      positions.map((v) => v * size),
      indices,
      friction,
      bounce,
    )
}
