import { type Keyed, type Track, track as trackSchema } from '@kelvar/core/motion/track'
import { paramsAtMoment } from '@kelvar/core/document/moment'
import type { RouteStep } from '@kelvar/core/document/schema'
import { effectiveParams, heldToFields } from '@kelvar/core/steps/fields'
import type { StepKind } from '@kelvar/core/steps/step'
import type { WorkbenchStore } from '../store'
import { routeIn, setParam } from './steps'

type Key = Track['keys'][number]

/** Changes a step's track by its path; undefined takes it away. */
export function setTrack(store: WorkbenchStore, stepId: string, path: string, track: Track | undefined, label: string, gesture?: string): void {
  const { edit, pieceId } = store.getState()
  edit(
    label,
    (draft) => {
      const step = routeIn(draft, pieceId).find((s) => s.id === stepId)
      if (!step) return
      const { [path]: _, ...rest } = step.tracks ?? {}
      const tracks = track ? { ...rest, [path]: track } : rest
      if (Object.keys(tracks).length > 0) step.tracks = tracks
      else delete step.tracks
    },
    gesture,
  )
}

/** A track with a key at a frame, in the place of one that stands there. */
export function withKey(track: Track | undefined, at: number, value: Keyed): Track {
  const keys = track?.keys ?? []
  const here = keys.find((key) => key.at === at)
  // a new key goes on as the one before it does
  const before = keys.findLast((key) => key.at < at)
  const key: Key = { at, value, ease: here?.ease ?? before?.ease ?? 'gentle' }
  const rest = keys.filter((k) => k.at !== at)
  return { ...(track ?? trackSchema.parse({ keys: [key] })), keys: [...rest, key].sort((a, b) => a.at - b.at) }
}

/** A track without a key; undefined when it was the last. */
export function withoutKey(track: Track, at: number): Track | undefined {
  const keys = track.keys.filter((key) => key.at !== at)
  return keys.length > 0 ? { ...track, keys } : undefined
}

/** A track with a key moved to another frame; as it is where one stands there already. */
export function withKeyAt(track: Track, from: number, to: number): Track {
  if (to < 0 || track.keys.some((key) => key.at === to)) return track
  return { ...track, keys: track.keys.map((key) => (key.at === from ? { ...key, at: to } : key)).sort((a, b) => a.at - b.at) }
}

/** Sets a value where one sees it: of one that moves, the key at the frame that is shown. */
export function setValue(store: WorkbenchStore, step: RouteStep, name: string, value: unknown, label: string): void {
  const track = step.tracks?.[name]
  if (!track) return setParam(store, step.id, name, value, label)
  const { frame } = store.getState()
  setTrack(store, step.id, name, withKey(track, frame, value as Keyed), `${label} at frame ${frame}`, `${step.id}/${name}@${frame}`)
}

/** A step's parameters as it takes them at a frame. */
export const paramsAtFrame = (kind: StepKind, step: RouteStep, frame: number): Record<string, unknown> =>
  effectiveParams(kind, step.tracks ? heldToFields(kind, paramsAtMoment(step, { frame, seconds: 0 }).params) : step.params)
