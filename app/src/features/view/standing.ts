import { type CameraStand, fieldOfView } from '@kelvar/core/document/camera'
import type { Place } from '@kelvar/core/document/schema'
import * as THREE from 'three'
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

/** How a camera of the project stands to a piece that has a place there. */
export function standBeside({ at, aim, lens }: CameraStand, place: Place | undefined): CameraStand {
  const back = matrixOf(place).invert()
  const seen = (point: CameraStand['at']) => new THREE.Vector3(...point).applyMatrix4(back).toArray()
  return { at: seen(at), aim: seen(aim), lens }
}
