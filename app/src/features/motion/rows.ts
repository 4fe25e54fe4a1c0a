import type { PlaceTrack } from '@kelvar/core/document/schema'
import type { Track } from '@kelvar/core/motion/track'
import { fieldsOf } from '@kelvar/core/steps/fields'
import { stepKind } from '@kelvar/core/steps/registry'
import { useMemo } from 'react'
import type { CameraTracks } from '@/state/actions/camera'
import { CAMERA, PLACE, type TrackAt } from '@/state/actions/picked-keys'
import { useWorkbench } from '@/state/context'
import { currentPiece } from '@/state/work'

/** A value that moves, as a row of the time. */
export interface Row extends TrackAt {
  readonly title: string
  readonly field: string
  readonly unit: string | undefined
  readonly track: Track
}

const PLACE_WORDS: Readonly<Record<PlaceTrack, { readonly field: string; readonly unit: string }>> = {
  x: { field: 'across', unit: 'mm' },
  y: { field: 'up', unit: 'mm' },
  z: { field: 'forward', unit: 'mm' },
  turnX: { field: 'turn about x', unit: '°' },
  turnY: { field: 'turn about y', unit: '°' },
  turnZ: { field: 'turn about z', unit: '°' },
  size: { field: 'size', unit: '×' },
}

const CAMERA_WORDS: Readonly<Record<keyof CameraTracks, { readonly field: string; readonly unit: string }>> = {
  at: { field: 'stands', unit: 'mm' },
  aim: { field: 'looks at', unit: 'mm' },
  lens: { field: 'lens', unit: 'mm' },
}

/** What moves: the camera, the piece in hand, and its steps in their order. */
export function useRows(): Row[] {
  const camera = useWorkbench((s) => s.document.camera)
  const route = useWorkbench((s) => currentPiece(s)?.route)
  const placeTracks = useWorkbench((s) => currentPiece(s)?.tracks)
  return useMemo(
    () => [
      ...Object.entries(camera ?? {}).map(
        ([path, track]): Row => ({ step: CAMERA, path, title: 'Camera', ...CAMERA_WORDS[path as keyof CameraTracks], track }),
      ),
      ...Object.entries(placeTracks ?? {}).map(([path, track]): Row => ({ step: PLACE, path, title: 'Place', ...PLACE_WORDS[path as PlaceTrack], track })),
      ...(route ?? []).flatMap((step): Row[] => {
        const kind = stepKind(step.kind)
        const fields = kind ? Object.fromEntries(fieldsOf(kind)) : {}
        return Object.entries(step.tracks ?? {}).map(([path, track]) => ({
          step: step.id,
          path,
          title: kind?.title ?? step.kind,
          field: path === 'on' ? 'switched on' : (fields[path]?.title ?? path).toLowerCase(),
          unit: fields[path]?.unit,
          track,
        }))
      }),
    ],
    [route, placeTracks, camera],
  )
}
