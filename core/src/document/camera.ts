import { valueAt } from '../motion/track'
import type { ProjectDocument } from './schema'

/** How a camera stands: where, what it looks at, mm, and the focal length of its lens, mm, over a frame 24 mm high. */
export interface CameraStand {
  readonly at: readonly [number, number, number]
  readonly aim: readonly [number, number, number]
  readonly lens: number
}

export const SHORTEST_LENS = 8
export const LONGEST_LENS = 600
/** Half the height of what a lens draws on, mm. */
const HALF_FRAME = 12

/** The upright field of view of a lens, degrees. */
export const fieldOfView = (lens: number): number => (360 / Math.PI) * Math.atan(HALF_FRAME / lens)

/** The lens that has an upright field of view, degrees. */
export const lensOf = (degrees: number): number => HALF_FRAME / Math.tan((degrees * Math.PI) / 360)

/** How the project's camera stands at a frame; undefined where it has none, or none that could look anywhere. */
export function cameraAt({ camera }: Pick<ProjectDocument, 'camera'>, frame: number): CameraStand | undefined {
  if (!camera) return undefined
  const [at, aim, lens] = [valueAt(camera.at, frame), valueAt(camera.aim, frame), valueAt(camera.lens, frame)]
  if (!isPoint(at) || !isPoint(aim) || typeof lens !== 'number') return undefined
  if (at.every((v, k) => Math.abs(v - aim[k]) < 1e-9)) return undefined
  return { at, aim, lens: Math.min(LONGEST_LENS, Math.max(SHORTEST_LENS, lens)) }
}

const isPoint = (value: unknown): value is [number, number, number] => Array.isArray(value) && value.length === 3 && value.every((v) => Number.isFinite(v))
