import { placeMatrix, relativePlace, UNMOVED_PLACE } from '@kelvar/core/document/place'
import type { Place } from '@kelvar/core/document/schema'
import * as THREE from 'three'
import type { ViewCopies, ViewMesh } from '@/workers/view-mesh'
import { wearPicture } from './material-pictures'
import { standInStage } from './stage-light'

export function setUpRenderer(renderer: THREE.WebGLRenderer): void {
  renderer.toneMapping = THREE.NeutralToneMapping
  renderer.toneMappingExposure = 1.08
  renderer.shadowMap.enabled = true
  // asking whether a shader is in order waits until it is compiled; they are known to be
  renderer.debug.checkShaderErrors = process.env.NODE_ENV !== 'production'
  // a section clips by its materials
  renderer.localClippingEnabled = true
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

/** Of shards that touch, what one is inside comes a little before the other's outside, in which it ends: so a crack is seen as a line all along, and not in single dots. */
const CRACK = { polygonOffset: true, polygonOffsetFactor: -1, polygonOffsetUnits: -1 }

/** The materials of a mesh's surfaces; the caller retires them. */
export function surfaceMaterials(mesh: ViewMesh): THREE.MeshStandardMaterial[] {
  if (mesh.weights) return mesh.surfaces.map(() => standInStage(new THREE.MeshStandardMaterial({ vertexColors: true, roughness: 0.75, metalness: 0 })))
  return mesh.surfaces.map(({ group, material }) => {
    const made = standInStage(
      new THREE.MeshStandardMaterial({
        color: material.colour,
        roughness: material.roughness,
        metalness: material.metalness,
        emissive: material.glow ? material.colour : '#000000',
        emissiveIntensity: material.glow ?? 0,
        // what is behind clear glass is drawn first, and it hides nothing
        ...(material.clear ? { transparent: true, opacity: 1 - material.clear, depthWrite: false } : {}),
        ...(mesh.shards && group === 'inside' ? CRACK : {}),
      }),
    )
    return material.picture && mesh.pictureUv ? wearPicture(made, material.picture) : made
  })
}

/** What a mask is shown in: where it is nought, at a half, and where it is whole. Lighter to darker, so that it is told without colour, too. */
export const MASK_COLOURS = ['#e9e2d3', '#d9a441', '#7a2f2a'] as const

/** Red, green and blue for each vertex, of its weight of 255. */
function maskColours(weights: Uint8Array): Float32Array {
  const [none, half, whole] = MASK_COLOURS.map((colour) => new THREE.Color(colour))
  const colour = new THREE.Color()
  const table = Array.from({ length: 256 }, (_, w) =>
    (w < 128 ? colour.lerpColors(none, half, w / 127.5) : colour.lerpColors(half, whole, w / 127.5 - 1)).toArray(),
  )
  const out = new Float32Array(3 * weights.length)
  for (let v = 0; v < weights.length; v++) out.set(table[weights[v]], 3 * v)
  return out
}

/** One geometry with a group for every surface; the caller disposes of it. The arrays are adopted. */
export function meshGeometry(mesh: ViewMesh): THREE.BufferGeometry {
  const geometry = new THREE.BufferGeometry()
  geometry.setAttribute('position', new THREE.BufferAttribute(mesh.positions, 3))
  geometry.setAttribute('normal', new THREE.BufferAttribute(mesh.normals, 3, true))
  geometry.setIndex(new THREE.BufferAttribute(mesh.indices, 1))
  if (mesh.weights) geometry.setAttribute('color', new THREE.BufferAttribute(maskColours(mesh.weights), 3))
  if (mesh.pictureUv) geometry.setAttribute('uv', new THREE.BufferAttribute(mesh.pictureUv, 2))
  mesh.surfaces.forEach(({ start, count }, i) => geometry.addGroup(start, count, i))
  const [x0, y0, z0, x1, y1, z1] = mesh.box
  geometry.boundingBox = new THREE.Box3(new THREE.Vector3(x0, y0, z0), new THREE.Vector3(x1, y1, z1))
  geometry.boundingSphere = geometry.boundingBox.getBoundingSphere(new THREE.Sphere())
  return geometry
}

/** Copies as one drawing for each surface of their mesh; the caller disposes of geometry and materials. */
export function instancedCopies(
  { mesh, matrices }: ViewCopies,
  geometry = meshGeometry(mesh),
): { object: THREE.InstancedMesh; geometry: THREE.BufferGeometry; materials: THREE.Material[] } {
  const materials = surfaceMaterials(mesh)
  const object = new THREE.InstancedMesh(geometry, materials, matrices.length / 16)
  object.instanceMatrix = new THREE.InstancedBufferAttribute(matrices, 16)
  object.castShadow = true
  object.receiveShadow = true
  return { object, geometry, materials }
}

/** [minX, minY, maxX, maxY, maxZ] of single letters of a mesh, mm, with a little room; letters without triangles are left out. */
export function letterBoxes({ positions, indices, letters: of, box: whole }: ViewMesh, letters: readonly number[]): [number, number, number, number, number][] {
  const boxes = new Map(
    letters.map((letter): [number, [number, number, number, number, number]] => [letter, [Infinity, Infinity, -Infinity, -Infinity, -Infinity]]),
  )
  for (let t = 0; t < of.length; t++) {
    const box = boxes.get(of[t])
    if (!box) continue
    for (let k = 3 * t; k < 3 * t + 3; k++) {
      const o = 3 * indices[k]
      box[0] = Math.min(box[0], positions[o])
      box[1] = Math.min(box[1], positions[o + 1])
      box[2] = Math.max(box[2], positions[o])
      box[3] = Math.max(box[3], positions[o + 1])
      box[4] = Math.max(box[4], positions[o + 2])
    }
  }
  const room = 0.012 * Math.max(1, whole[4] - whole[1])
  return [...boxes.values()].filter((b) => b[0] <= b[2]).map(([x0, y0, x1, y1, z]) => [x0 - room, y0 - room, x1 + room, y1 + room, z + room / 2])
}

export type Box = ViewMesh['box']

/** The box about boxes, each through a matrix of its own; undefined for none. */
export function boxAbout(list: readonly { readonly box: Box; readonly matrix?: THREE.Matrix4 }[]): Box | undefined {
  const whole = new THREE.Box3()
  for (const { box, matrix } of list) {
    const part = new THREE.Box3(new THREE.Vector3(box[0], box[1], box[2]), new THREE.Vector3(box[3], box[4], box[5]))
    whole.union(matrix ? part.applyMatrix4(matrix) : part)
  }
  return whole.isEmpty() ? undefined : [...whole.min.toArray(), ...whole.max.toArray()]
}

/** The matrix of a place. */
export function matrixOf(place: Place | undefined): THREE.Matrix4 {
  const matrix = new THREE.Matrix4()
  return place ? matrix.set(...placeMatrix(place), 0, 0, 0, 1) : matrix
}

/** What brings the coordinates of a piece at one place into those of the piece at another. */
export const relativeMatrix = (own: Place, other: Place | undefined): THREE.Matrix4 =>
  new THREE.Matrix4().set(...relativePlace(own, other ?? UNMOVED_PLACE), 0, 0, 0, 1)

export interface Framing {
  readonly centre: THREE.Vector3
  readonly size: THREE.Vector3
}

export function framingOf(box: Box): Framing {
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

/** The part of the ground, at the foot of a box, that its shadow can fall on, with room for the soft border: nothing is drawn where there is no shade. */
export function shadedGround([x0, y0, z0, x1, y1, z1]: Box, light: THREE.DirectionalLight): { x: number; z: number; width: number; depth: number } {
  const down = light.target.position.clone().sub(light.position)
  const [dx, dz] = [down.x, down.z].map((along) => (along / -down.y) * (y1 - y0))
  const room = Math.max(x1 - x0, y1 - y0, z1 - z0) * 0.1
  const [left, right] = [Math.min(x0, x0 + dx) - room, Math.max(x1, x1 + dx) + room]
  const [back, front] = [Math.min(z0, z0 + dz) - room, Math.max(z1, z1 + dz) + room]
  return { x: (left + right) / 2, z: (back + front) / 2, width: right - left, depth: front - back }
}
