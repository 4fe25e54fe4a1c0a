import type { CameraStand } from '@kelvar/core/document/camera'
import type { ProjectDocument } from '@kelvar/core/document/schema'
import { cameraMove, type CameraMove } from '@kelvar/core/project/movements'
import type { WorkbenchStore } from '../store'
import { framesOf } from '../work'
import { withKey } from './tracks'

export type CameraTracks = NonNullable<ProjectDocument['camera']>

/** Gives the project's camera a key at the frame that is shown, standing so; the view then looks through it. */
export function keyCamera(store: WorkbenchStore, stand: CameraStand): void {
  const { document, frame, edit, lookThrough } = store.getState()
  const { camera } = document
  const next: CameraTracks = {
    at: withKey(camera?.at, frame, [...stand.at]),
    aim: withKey(camera?.aim, frame, [...stand.aim]),
    lens: withKey(camera?.lens, frame, stand.lens),
  }
  edit('Camera: set a key', (draft) => {
    draft.camera = next
  })
  lookThrough(true)
}

/** A ready movement of the camera from where the view stands, from the frame that is shown on. */
export function moveCamera(store: WorkbenchStore, move: CameraMove, stand: CameraStand): void {
  const { document, frame, edit, lookThrough } = store.getState()
  const frames = framesOf(document)
  const from = frame < frames - 2 ? frame : 0
  edit(`Camera: ${move}`, (draft) => {
    draft.camera = cameraMove(move, stand, from, Math.max(1, frames - 1 - from))
  })
  lookThrough(true)
}
