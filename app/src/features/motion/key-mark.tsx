'use client'
import { placePart } from '@kelvar/core/document/moment'
import { type Piece, PLACE_TRACKS, type Place, type RouteStep } from '@kelvar/core/document/schema'
import type { Keyed } from '@kelvar/core/motion/track'
import { Button } from 'react-aria-components'
import styled from 'styled-components'
import { setPlaceTracks } from '@/state/actions/pieces'
import { setKeys, withKey, withoutKey } from '@/state/actions/tracks'
import { useFrameAtRest, useWorkbenchStore } from '@/state/context'

const Mark = styled(Button)`
  border: 0;
  background: none;
  padding: 3px;
  width: 26px;
  height: 26px;
  display: grid;
  place-items: center;
  border-radius: 3px;
  cursor: pointer;
  color: var(--soft);
  svg { width: 17px; height: 17px; fill: none; stroke: currentColor; stroke-width: 1.6; stroke-linejoin: round; }
  &[data-hovered] { color: var(--ink); background: color-mix(in srgb, var(--ink) 7%, transparent); }
  &[data-state='moves'] { color: var(--action); }
  &[data-state='here'] { color: var(--action); }
  &[data-state='here'] path.buoy { fill: currentColor; }
`

/** A buoy at its mooring: hollow where a value stands still, with its line where it moves, filled where it has a key at the frame that is shown. */
export function Buoy({ state }: { state: 'still' | 'moves' | 'here' }) {
  return (
    <svg viewBox="0 0 18 18" aria-hidden>
      <path className="buoy" d="M9 2.5 L13 10.5 L5 10.5 Z" />
      {state !== 'still' && <path d="M2 14.5 q1.75 -2.4 3.5 0 t3.5 0 t3.5 0 t3.5 0" />}
    </svg>
  )
}

/** Values that are keyed together: a number by itself, a material by its colour and glow. */
export interface KeyedValue {
  readonly path: string
  readonly value: Keyed
}

/** Keys values at the frame that is shown, or takes their keys there away. */
export function KeyMark({ step, name, title, values }: { step: RouteStep; name: string; title: string; values: readonly KeyedValue[] }) {
  const store = useWorkbenchStore()
  const frame = useFrameAtRest()
  const tracks = values.map(({ path }) => step.tracks?.[path])
  const here = tracks.some((track) => track?.keys.some((key) => key.at === frame))
  const state = here ? 'here' : tracks.some((track) => track !== undefined) ? 'moves' : 'still'
  return (
    <Mark
      data-state={state}
      aria-label={here ? `${title}: take away the key at frame ${frame}` : `${title}: set a key at frame ${frame}`}
      onPress={() => setKeys(store, step, name, values, here ? 'take' : 'set', here ? `${title}: take a key away` : `${title}: set a key`)}
    >
      <Buoy state={state} />
    </Mark>
  )
}

/** Keys where a piece stands, how it is turned and its size at the frame that is shown, or takes those keys away. */
export function PlaceMark({ piece, place }: { piece: Piece; place: Place }) {
  const store = useWorkbenchStore()
  const frame = useFrameAtRest()
  const tracks = piece.tracks ?? {}
  const here = Object.values(tracks).some((track) => track.keys.some((key) => key.at === frame))
  const state = here ? 'here' : Object.keys(tracks).length > 0 ? 'moves' : 'still'
  return (
    <Mark
      data-state={state}
      aria-label={here ? `Place: take away the keys at frame ${frame}` : `Place: set keys at frame ${frame}`}
      onPress={() =>
        setPlaceTracks(
          store,
          piece.id,
          Object.fromEntries(
            PLACE_TRACKS.map((name) => {
              const track = tracks[name]
              return [name, here ? track && withoutKey(track, frame) : withKey(track, frame, placePart(place, name))]
            }),
          ),
          here ? 'Place: take keys away' : 'Place: set keys',
        )
      }
    >
      <Buoy state={state} />
    </Mark>
  )
}
