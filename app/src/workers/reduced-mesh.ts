import { MeshoptSimplifier } from 'meshoptimizer/simplifier'
import { meshTriangles, type ViewMesh, type ViewSurface } from './view-mesh'

/** How far the surface may move when a mesh is made lighter, as a share of its size: less than a pixel of a small picture. */
const ERROR = 0.01

/**
 * A mesh with at most about so many triangles that looks the same from afar, for small pictures and while the view is turned; the mesh
 * itself when it is light enough. Arrays are new. By meshoptimizer's edge collapse, surface by surface; letters are not told apart.
 */
export async function lighterMesh(mesh: ViewMesh, triangles: number): Promise<ViewMesh> {
  if (meshTriangles(mesh) <= triangles) return mesh
  await MeshoptSimplifier.ready
  const share = triangles / meshTriangles(mesh)
  const parts = mesh.surfaces.map(({ start, count }) => {
    const own = mesh.indices.slice(start, start + count)
    const target = Math.max(3, Math.floor((count * share) / 3) * 3)
    const [kept] = MeshoptSimplifier.simplify(own, mesh.positions, 3, target, ERROR, ['Permissive'])
    return kept.length > 2 * target ? MeshoptSimplifier.simplifySloppy(own, mesh.positions, 3, null, target, 1)[0] : kept
  })
  const indices = new Uint32Array(parts.reduce((sum, part) => sum + part.length, 0))
  const surfaces: ViewSurface[] = []
  let at = 0
  parts.forEach((part, i) => {
    indices.set(part, at)
    surfaces.push({ ...mesh.surfaces[i], start: at, count: part.length })
    at += part.length
  })
  return {
    shape: `${mesh.shape} with ${indices.length / 3} triangles`,
    ...compacted(mesh, indices),
    letters: new Int32Array(indices.length / 3).fill(-1),
    surfaces,
    box: mesh.box,
    ...(mesh.shards ? { shards: true } : {}),
    ...(mesh.copies ? { copies: mesh.copies, texts: mesh.texts } : {}),
  }
}

/** Only the vertices that are still used. */
function compacted({ positions, normals, pictureUv }: ViewMesh, indices: Uint32Array): Pick<ViewMesh, 'positions' | 'normals' | 'indices' | 'pictureUv'> {
  const number = new Int32Array(positions.length / 3).fill(-1)
  const used: number[] = []
  const renumbered = indices.map((v) => {
    if (number[v] < 0) number[v] = used.push(v) - 1
    return number[v]
  })
  const p = new Float32Array(3 * used.length)
  const n = new Int16Array(3 * used.length)
  used.forEach((v, i) => {
    for (let k = 0; k < 3; k++) {
      p[3 * i + k] = positions[3 * v + k]
      n[3 * i + k] = normals[3 * v + k]
    }
  })
  if (!pictureUv) return { positions: p, normals: n, indices: renumbered }
  const places = new Float32Array(2 * used.length)
  used.forEach((v, i) => {
    places[2 * i] = pictureUv[2 * v]
    places[2 * i + 1] = pictureUv[2 * v + 1]
  })
  return { positions: p, normals: n, indices: renumbered, pictureUv: places }
}
