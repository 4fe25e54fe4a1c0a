import { type Keyed, type Track, track as trackSchema } from '@kelvar/core/motion/track'
import type { Occasion, ReadyMovement } from '@kelvar/core/project/movements'
import { paramsAtMoment } from '@kelvar/core/document/moment'
import type { RouteStep } from '@kelvar/core/document/schema'
import { effectiveParams, heldToFields } from '@kelvar/core/steps/fields'
import { stepKind } from '@kelvar/core/steps/registry'
import type { StepKind } from '@kelvar/core/steps/step'
import type { WorkbenchStore } from '../store'
import { routeIn, setParam } from './steps'

type Key = Track['keys'][number]

/** Puts a ready movement on the piece in hand, as one step of undo; its last step, if it brought one, comes to hand. */
export function addMovement(store: WorkbenchStore, movement: ReadyMovement, occasion: Occasion): void {
  const { edit, pieceId, unfold } = store.getState()
  const route = movement.onto(occasion)
  if (!route) return
  edit(`Movement: ${movement.title}`, (draft) => {
    const piece = draft.pieces.find(({ id }) => id === pieceId)
    if (piece) piece.route = route
  })
  const moving = route.find((step, i) => step !== occasion.route[i])
  if (moving) unfold(moving.id)
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

/** Puts keys of values that go together at the frame that is shown, or takes those there away, as one step of undo. `name` is the parameter they are of. */
export function setKeys(
  store: WorkbenchStore,
  step: RouteStep,
  name: string,
  values: readonly { readonly path: string; readonly value: Keyed }[],
  way: 'set' | 'take',
  label: string,
): void {
  const { frame } = store.getState()
  changeTracks(store, step.id, label, (now) => {
    const tracks = { ...now.tracks }
    for (const { path, value } of values) {
      const track = tracks[path]
      const next = way === 'set' ? withKey(track, frame, value) : track && withoutKey(track, frame)
      if (next) tracks[path] = next
      else delete tracks[path]
    }
    // what is inside of a value that was never set needs the rest of it
    const kind = stepKind(now.kind)
    const inside = kind && values.some(({ path }) => path !== name) && !(name in now.params)
    return { tracks, ...(inside ? { params: { ...now.params, [name]: effectiveParams(kind, now.params)[name] } } : {}) }
  })
}

/** A track whose keys all go from one frame to another: shifted, and stretched or pressed between. As it is where that is no room for them. */
export function spanning(track: Track, from: number, to: number): Track {
  const [first, last] = [track.keys[0].at, track.keys[track.keys.length - 1].at]
  const [begin, end] = [Math.max(0, from), last === first ? Math.max(0, from) : to]
  if (end < begin || (last > first && end - begin < 0.5 * (track.keys.length - 1))) return track
  const factor = last > first ? (end - begin) / (last - first) : 0
  return { ...track, keys: track.keys.map((key) => ({ ...key, at: Number((begin + (key.at - first) * factor).toFixed(3)) })) }
}

/** Sets a value where one sees it: of one that moves, or of what moves in it, the key at the frame that is shown. */
export function setValue(store: WorkbenchStore, step: RouteStep, name: string, value: unknown, label: string, gesture?: string): void {
  const { frame } = store.getState()
  const moving = Object.keys(step.tracks ?? {}).filter((path) => path === name || path.startsWith(`${name}.`))
  if (moving.length === 0) return setParam(store, step.id, name, value, label, gesture)
  changeTracks(
    store,
    step.id,
    `${label} at frame ${frame}`,
    (now) => {
      const tracks = { ...now.tracks }
      for (const path of moving) {
        const inner = path
          .split('.')
          .slice(1)
          .reduce<unknown>((of, part) => (of as Record<string, unknown> | undefined)?.[part], value)
        if (inner !== undefined && tracks[path]) tracks[path] = withKey(tracks[path], frame, inner as Keyed)
      }
      return { tracks, ...(moving.includes(name) ? {} : { params: { ...now.params, [name]: value } }) }
    },
    gesture ?? `${step.id}/${name}@${frame}`,
  )
}

/** Changes a step's tracks, and its parameters where they are given. */
function changeTracks(
  store: WorkbenchStore,
  stepId: string,
  label: string,
  change: (step: RouteStep) => { readonly tracks: Record<string, Track>; readonly params?: Record<string, unknown> },
  gesture?: string,
): void {
  const { edit, pieceId, document } = store.getState()
  const now = document.pieces.find(({ id }) => id === pieceId)?.route.find(({ id }) => id === stepId)
  if (!now) return
  const { tracks, params } = change(now)
  edit(
    label,
    (draft) => {
      const step = routeIn(draft, pieceId).find((s) => s.id === stepId)
      if (!step) return
      if (Object.keys(tracks).length > 0) step.tracks = tracks
      else delete step.tracks
      if (params) step.params = params
    },
    gesture,
  )
}

/** A step's parameters as it takes them at a frame. */
export const paramsAtFrame = (kind: StepKind, step: RouteStep, frame: number): Record<string, unknown> =>
  effectiveParams(kind, step.tracks ? heldToFields(kind, paramsAtMoment(step, { frame, seconds: 0 }).params) : step.params)
