import * as THREE from 'three'
import type { ViewMesh } from '@/workers/view-mesh'
import { standInStage } from './stage-light'

export function setUpRenderer(renderer: THREE.WebGLRenderer): void {
  renderer.toneMapping = THREE.NeutralToneMapping
  renderer.toneMappingExposure = 1.08
  renderer.shadowMap.enabled = true
  renderer.shadowMap.type = THREE.PCFShadowMap
}

/** Of materials that are done with, so many are kept: with its last material a shader would be thrown away, and the next solid would wait for it to be compiled again. */
const MAX_RETIRED = 64
const retired: THREE.Material[] = []

/** Disposes of materials once enough others have followed them. */
export function retire(materials: readonly THREE.Material[]): void {
  retired.push(...materials)
  for (const material of retired.splice(0, Math.max(0, retired.length - MAX_RETIRED))) material.dispose()
}

/** The materials of a mesh's groups; the caller retires them. */
export function groupMaterials(mesh: ViewMesh): THREE.MeshStandardMaterial[] {
  return mesh.groups.map(({ material }) =>
    standInStage(
      new THREE.MeshStandardMaterial({
        color: material.colour,
        roughness: material.roughness,
        metalness: material.metalness,
        emissive: material.glow ? material.colour : '#000000',
        emissiveIntensity: material.glow ?? 0,
      }),
    ),
  )
}

/** Geometries of the groups; the caller disposes of them. The arrays are adopted. */
export function groupGeometries(mesh: ViewMesh): THREE.BufferGeometry[] {
  return mesh.groups.map((group) => {
    const geometry = new THREE.BufferGeometry()
    geometry.setAttribute('position', new THREE.BufferAttribute(group.positions, 3))
    geometry.setAttribute('normal', new THREE.BufferAttribute(group.normals, 3))
    geometry.computeBoundingSphere()
    return geometry
  })
}

/** [minX, minY, maxX, maxY, maxZ] of single letters of a mesh, mm, with a little room; letters without triangles are left out. */
export function letterBoxes(mesh: ViewMesh, letters: readonly number[]): [number, number, number, number, number][] {
  const boxes = new Map(
    letters.map((letter): [number, [number, number, number, number, number]] => [letter, [Infinity, Infinity, -Infinity, -Infinity, -Infinity]]),
  )
  for (const { positions, letters: of } of mesh.groups) {
    for (let t = 0; t < of.length; t++) {
      const box = boxes.get(of[t])
      if (!box) continue
      for (let o = 9 * t; o < 9 * t + 9; o += 3) {
        box[0] = Math.min(box[0], positions[o])
        box[1] = Math.min(box[1], positions[o + 1])
        box[2] = Math.max(box[2], positions[o])
        box[3] = Math.max(box[3], positions[o + 1])
        box[4] = Math.max(box[4], positions[o + 2])
      }
    }
  }
  const room = 0.012 * Math.max(1, mesh.box[4] - mesh.box[1])
  return [...boxes.values()].filter((b) => b[0] <= b[2]).map(([x0, y0, x1, y1, z]) => [x0 - room, y0 - room, x1 + room, y1 + room, z + room / 2])
}

export interface Framing {
  readonly centre: THREE.Vector3
  readonly size: THREE.Vector3
}

export function framingOf(box: ViewMesh['box']): Framing {
  const min = new THREE.Vector3(box[0], box[1], box[2])
  const max = new THREE.Vector3(box[3], box[4], box[5])
  return { centre: min.clone().add(max).multiplyScalar(0.5), size: max.sub(min) }
}

export const STANDARD_VIEWS = ['Front', 'Three-quarter', 'Side', 'Top', 'Back'] as const
export type StandardView = (typeof STANDARD_VIEWS)[number]

const DIRECTIONS: Record<StandardView, [number, number, number]> = {
  Front: [0, 0.06, 1],
  'Three-quarter': [-0.42, 0.26, 1],
  Side: [1, 0.06, 0.0001],
  Top: [0, 1, 0.0001],
  Back: [0, 0.06, -1],
}

export const FIELD_OF_VIEW = 26

/** Where a camera of the given aspect stands to see the whole framing from a direction, with room for dimension lines. */
export function standFor(view: StandardView | THREE.Vector3, { centre, size }: Framing, aspect: number, room = 1.2): THREE.Vector3 {
  const direction = (view instanceof THREE.Vector3 ? view.clone() : new THREE.Vector3(...DIRECTIONS[view])).normalize()
  const right = new THREE.Vector3().crossVectors(new THREE.Vector3(0, 1, 0), direction).normalize()
  const up = new THREE.Vector3().crossVectors(direction, right)
  const extent = (axis: THREE.Vector3) => (Math.abs(axis.x) * size.x + Math.abs(axis.y) * size.y + Math.abs(axis.z) * size.z) / 2
  const half = Math.tan((FIELD_OF_VIEW * Math.PI) / 360)
  const distance = Math.max(extent(up) / half, extent(right) / (half * aspect)) * room + extent(direction)
  return centre.clone().addScaledVector(direction, distance)
}

/** The main light with its shadow, set for a framing. */
export function keyLight({ centre, size }: Framing, shadowSize: number): THREE.DirectionalLight {
  const light = new THREE.DirectionalLight('#fff3df', 1.5)
  const reach = Math.max(size.x, size.y, size.z)
  light.position.copy(centre).add(new THREE.Vector3(-0.42, 0.95, 0.8).multiplyScalar(reach * 1.4))
  light.target.position.copy(centre)
  light.castShadow = true
  light.shadow.mapSize.set(shadowSize, shadowSize)
  light.shadow.radius = 5
  const camera = light.shadow.camera
  camera.left = camera.bottom = -reach * 0.95
  camera.right = camera.top = reach * 0.95
  camera.near = reach * 0.2
  camera.far = reach * 4
  light.shadow.normalBias = reach * 0.0006
  light.shadow.bias = -0.0006
  return light
}
