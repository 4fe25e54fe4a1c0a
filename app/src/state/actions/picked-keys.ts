import type { PlaceTrack } from '@kelvar/core/document/schema'
import type { Track } from '@kelvar/core/motion/track'
import type { WorkbenchState, WorkbenchStore } from '../store'
import { currentPiece } from '../work'
import type { CameraTracks } from './camera'

/** In the place of a step's id, which has no blanks: the place of the piece in hand, and the project's camera. */
export const PLACE = 'the piece'
export const CAMERA = 'the camera'

/** A track: whose it is (a step by its id, PLACE or CAMERA), and its path there. */
export interface TrackAt {
  readonly step: string
  readonly path: string
}

export interface KeyAt extends TrackAt {
  readonly at: number
}

export interface ChangedTrack extends TrackAt {
  /** undefined takes it away */
  readonly track: Track | undefined
}

const sameTrack = (a: TrackAt, b: TrackAt): boolean => a.step === b.step && a.path === b.path
export const sameKey = (a: KeyAt, b: KeyAt): boolean => sameTrack(a, b) && a.at === b.at

/** The track as it is now. */
export function trackAt(state: WorkbenchState, { step, path }: TrackAt): Track | undefined {
  if (step === CAMERA) return state.document.camera?.[path as keyof CameraTracks]
  const piece = currentPiece(state)
  return step === PLACE ? piece?.tracks?.[path as PlaceTrack] : piece?.route.find(({ id }) => id === step)?.tracks?.[path]
}

/** Changes several tracks as one step of undo. A camera that loses one of its tracks is no camera any more. */
export function setTracks(store: WorkbenchStore, changed: readonly ChangedTrack[], label: string, gesture?: string): void {
  const { edit, pieceId } = store.getState()
  if (changed.length === 0) return
  edit(
    label,
    (draft) => {
      const piece = draft.pieces.find(({ id }) => id === pieceId)
      const change = (holder: { tracks?: Record<string, Track> } | undefined, path: string, track: Track | undefined) => {
        if (!holder) return
        const { [path]: _, ...rest } = holder.tracks ?? {}
        const tracks = track ? { ...rest, [path]: track } : rest
        if (Object.keys(tracks).length > 0) holder.tracks = tracks
        else delete holder.tracks
      }
      for (const { step, path, track } of changed) {
        if (step === CAMERA) {
          if (track && draft.camera) draft.camera[path as keyof CameraTracks] = track
          else delete draft.camera
        } else if (step === PLACE) change(piece as { tracks?: Record<string, Track> } | undefined, path, track)
        else
          change(
            piece?.route.find(({ id }) => id === step),
            path,
            track,
          )
      }
    },
    gesture,
  )
}

/** Keys by the track they are on, each track once, with those frames of it that are picked. */
function byTrack(state: WorkbenchState, picked: readonly KeyAt[]): { readonly of: TrackAt; readonly track: Track; readonly at: ReadonlySet<number> }[] {
  const rows: KeyAt[][] = []
  for (const key of picked) {
    const row = rows.find(([first]) => sameTrack(first, key))
    if (row) row.push(key)
    else rows.push([key])
  }
  return rows.flatMap((row) => {
    const track = trackAt(state, row[0])
    return track ? [{ of: { step: row[0].step, path: row[0].path }, track, at: new Set(row.map(({ at }) => at)) }] : []
  })
}

/**
 * Moves keys by so many frames, all by the same, no further than to their neighbours that stay; one step of undo. Returns where they are then.
 */
export function moveKeys(store: WorkbenchStore, picked: readonly KeyAt[], by: number, gesture: string): readonly KeyAt[] {
  const rows = byTrack(store.getState(), picked)
  let [least, most] = [-Infinity, Infinity]
  for (const { track, at } of rows)
    track.keys.forEach((key, i) => {
      if (!at.has(key.at)) return
      const before = track.keys[i - 1]
      const after = track.keys[i + 1]
      least = Math.max(least, -key.at, before && !at.has(before.at) ? before.at + 1 - key.at : -Infinity)
      most = Math.min(most, after && !at.has(after.at) ? after.at - 1 - key.at : Infinity)
    })
  const held = Math.min(most, Math.max(least, by))
  if (held === 0 || rows.length === 0 || most < least) return picked
  setTracks(
    store,
    rows.map(({ of, track, at }) => ({ ...of, track: { ...track, keys: track.keys.map((key) => (at.has(key.at) ? { ...key, at: key.at + held } : key)) } })),
    picked.length === 1 ? 'Move a key' : `Move ${picked.length} keys`,
    gesture,
  )
  return picked.map((key) => ({ ...key, at: key.at + held }))
}

/** Takes keys away as one step of undo; a track goes with its last one. */
export function takeKeys(store: WorkbenchStore, picked: readonly KeyAt[]): void {
  setTracks(
    store,
    byTrack(store.getState(), picked).map(({ of, track, at }) => {
      const keys = track.keys.filter((key) => !at.has(key.at))
      return { ...of, track: keys.length > 0 ? { ...track, keys } : undefined }
    }),
    picked.length === 1 ? 'Take a key away' : `Take ${picked.length} keys away`,
  )
}

/** Copies keys so that the first of them stands at a frame; they take the place of those they come upon. Returns the copies. */
export function copyKeys(store: WorkbenchStore, picked: readonly KeyAt[], to: number): readonly KeyAt[] {
  const by = to - Math.min(...picked.map(({ at }) => at))
  if (by === 0) return picked
  setTracks(
    store,
    byTrack(store.getState(), picked).map(({ of, track, at }) => {
      const copies = track.keys.filter((key) => at.has(key.at)).map((key) => ({ ...key, at: key.at + by }))
      const taken = new Set(copies.map((key) => key.at))
      return { ...of, track: { ...track, keys: [...track.keys.filter((key) => !taken.has(key.at)), ...copies].sort((a, b) => a.at - b.at) } }
    }),
    `Copy ${picked.length === 1 ? 'a key' : `${picked.length} keys`} to frame ${to}`,
  )
  return picked.map((key) => ({ ...key, at: key.at + by }))
}

/** Lets all of these keys go on to the next in one way. */
export function easeKeys(store: WorkbenchStore, picked: readonly KeyAt[], ease: Track['keys'][number]['ease'], gesture?: string): void {
  setTracks(
    store,
    byTrack(store.getState(), picked).map(({ of, track, at }) => ({
      ...of,
      track: { ...track, keys: track.keys.map((key) => (at.has(key.at) ? { ...key, ease } : key)) },
    })),
    `Way from ${picked.length === 1 ? 'a key' : `${picked.length} keys`} to the next`,
    gesture,
  )
}

/**
 * Stretches keys of several tracks together so that the first of all stands at one frame and the last at another, each at its share of the way; as they are where that
 * is no room for them. Returns where they are then.
 */
export function spanKeys(store: WorkbenchStore, picked: readonly KeyAt[], from: number, to: number, gesture: string): readonly KeyAt[] {
  const [first, last] = [Math.min(...picked.map(({ at }) => at)), Math.max(...picked.map(({ at }) => at))]
  if (from < 0 || to < from || (last > first && to === from)) return picked
  const placed = (at: number) => (last > first ? Math.round(from + ((at - first) * (to - from)) / (last - first)) : from)
  const rows = byTrack(store.getState(), picked)
  const changed = rows.map(({ of, track, at }) => ({
    ...of,
    track: { ...track, keys: track.keys.map((key) => (at.has(key.at) ? { ...key, at: placed(key.at) } : key)).sort((a, b) => a.at - b.at) },
  }))
  // two keys at one frame are none
  if (changed.some(({ track: { keys } }) => keys.some((key, i) => i > 0 && key.at === keys[i - 1].at))) return picked
  setTracks(store, changed, `Stretch ${picked.length} keys`, gesture)
  return picked.map((key) => ({ ...key, at: placed(key.at) }))
}
