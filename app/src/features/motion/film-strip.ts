import type { CameraStand } from '@kelvar/core/document/camera'
import { boxAbout } from '@/features/view/scene'
import { studioReady, takePicture } from '@/features/view/pictures'
import { desk } from '@/workers/maker'
import type { Work } from '@/workers/messages'
import { isThere, type ViewMesh } from '@/workers/view-mesh'

/** Pictures of a piece at several moments, all seen from the same place, PNG data URLs; undefined where there is nothing to be seen of it. */
export async function filmStrip(
  works: readonly Work[],
  until: string,
  size: { width: number; height: number },
  signal: AbortSignal,
): Promise<(string | undefined)[]> {
  await studioReady()
  const meshes: (ViewMesh | undefined)[] = []
  for (const work of works) {
    const made = await desk.ask((maker, job) => maker.pictureMesh(job, work, until), signal)
    meshes.push(made?.mesh)
  }
  const about = boxAbout(meshes.flatMap((mesh) => (mesh && isThere(mesh) ? [{ box: mesh.box }] : [])))
  const pictures: (string | undefined)[] = []
  for (const mesh of meshes) {
    signal.throwIfAborted()
    pictures.push(mesh && about && (await takePicture(mesh, size.width, size.height, { about })))
  }
  return pictures
}

/** A mesh as a camera sees it from one stand after another, PNG data URLs. */
export async function cameraStrip(
  mesh: ViewMesh,
  stands: readonly CameraStand[],
  size: { width: number; height: number },
  signal: AbortSignal,
): Promise<string[]> {
  await studioReady()
  const pictures: string[] = []
  for (const from of stands) {
    signal.throwIfAborted()
    pictures.push(await takePicture(mesh, size.width, size.height, { from }))
  }
  return pictures
}
