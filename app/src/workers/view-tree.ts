import { BufferAttribute, BufferGeometry } from 'three'
import { MeshBVH } from 'three-mesh-bvh'
import type { ViewMesh } from './view-mesh'

/** The bounding-volume tree of a mesh for picking, as it goes from a worker to the page. */
export interface ViewTree {
  readonly version: number
  readonly roots: readonly ArrayBuffer[]
  /** the order in which the tree has the triangles */
  readonly indirectBuffer: Uint32Array | Uint16Array
}

/** Builds the tree; the mesh's own order of triangles is kept. */
export function buildTree({ positions, indices }: Pick<ViewMesh, 'positions' | 'indices'>): ViewTree {
  const geometry = new BufferGeometry()
  geometry.setAttribute('position', new BufferAttribute(positions, 3))
  geometry.setIndex(new BufferAttribute(indices, 1))
  // without the triangles themselves: whoever has the mesh has them
  const { version, roots, indirectBuffer } = MeshBVH.serialize(new MeshBVH(geometry, { indirect: true }), { cloneBuffers: false }) as unknown as ViewTree
  return { version, roots, indirectBuffer }
}

/** Gives a geometry a tree that was built for the same mesh. */
export function plantTree(geometry: BufferGeometry, tree: ViewTree): void {
  geometry.boundsTree = MeshBVH.deserialize({ ...tree, index: null } as never, geometry, { setIndex: false })
}

export const treeBuffers = ({ roots, indirectBuffer }: ViewTree): ArrayBuffer[] => [...roots, indirectBuffer.buffer as ArrayBuffer]
