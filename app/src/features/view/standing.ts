import { type CameraStand, fieldOfView } from '@kelvar/core/document/camera'
import { piecesAt } from '@kelvar/core/document/moment'
import type { Place } from '@kelvar/core/document/schema'
import * as THREE from 'three'
import type { WorkbenchState } from '@/state/store'
import { matrixOf } from './scene'

let ask: (() => CameraStand) | undefined

/** Called by the view's camera, which then tells how it stands; the returned function takes that away. */
export function lendStand(tell: () => CameraStand): () => void {
  ask = tell
  return () => {
    if (ask === tell) ask = undefined
  }
}

/** How the view's camera stands now; undefined while there is no view. */
export const standNow = (): CameraStand | undefined => ask?.()

/** Puts a camera where one is said to stand. */
export function stand(camera: THREE.PerspectiveCamera, { at, aim, lens }: CameraStand): void {
  camera.position.set(...at)
  camera.fov = fieldOfView(lens)
  camera.lookAt(...aim)
  camera.updateProjectionMatrix()
}

const through = ({ at, aim, lens }: CameraStand, matrix: THREE.Matrix4): CameraStand => {
  const moved = (point: CameraStand['at']) => new THREE.Vector3(...point).applyMatrix4(matrix).toArray()
  return { at: moved(at), aim: moved(aim), lens }
}

/** How a camera of the project stands to a piece that has a place there: what is seen of a piece by itself. */
export const standBeside = (stand: CameraStand, place: Place | undefined): CameraStand => through(stand, matrixOf(place).invert())

/** How one that stands before a piece by itself stands in the project. */
export const standInProject = (stand: CameraStand, place: Place | undefined): CameraStand => through(stand, matrixOf(place))

/** Where the piece in hand stands in the project at the frame that is shown; nowhere else than in the view where all pieces are looked at. */
const placeInView = ({ document, pieceId, frame, together }: WorkbenchState): Place | undefined =>
  together ? undefined : piecesAt(document.pieces, frame).find(({ id }) => id === pieceId)?.place

/** How the view's camera stands in the project now; undefined while there is no view. */
export function projectStandNow(state: WorkbenchState): CameraStand | undefined {
  const now = standNow()
  return now && standInProject(now, placeInView(state))
}
