import { type CameraStand, fieldOfView } from '@kelvar/core/document/camera'
import type * as THREE from 'three'

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
