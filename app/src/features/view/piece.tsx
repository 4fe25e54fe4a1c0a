import { Line } from '@react-three/drei'
import { type ThreeEvent, useThree } from '@react-three/fiber'
import { memo, useEffect, useMemo, useState } from 'react'
import * as THREE from 'three'
import { acceleratedRaycast } from 'three-mesh-bvh'
import { sawFirstFrame } from '@/state/first-frame'
import { useThemeColour } from '@/ui/day-and-night'
import { useSteady } from '@/ui/steady'
import { type ViewCopies, type ViewMesh } from '@/workers/view-mesh'
import { plantTree, type ViewTree } from '@/workers/view-tree'
import { CopiesInSpace } from './copies'
import { CopyCaps, type Section, sectionBeside, SectionCaps, useClipping } from './section'
import { letterBoxes, meshGeometry, retire, surfaceMaterials } from './scene'

/** A press that moves further than this, in pixels, turns the view and picks nothing. */
const STILL = 4

const untouched = () => {}

/** Picks by the tree once that is planted. */
function pickable(this: THREE.Mesh, ray: THREE.Raycaster, hits: THREE.Intersection[]): void {
  const { boundsTree, index } = this.geometry as THREE.BufferGeometry
  if (boundsTree || (index?.count ?? 0) / 3 <= WITHOUT_TREE) acceleratedRaycast.call(this, ray, hits)
}

/** Without a tree every triangle is tried: for more than this a press waits until the tree is there. */
const WITHOUT_TREE = 150_000

/** A geometry with its materials, thrown away with the component. */
function useShape(mesh: ViewMesh): { geometry: THREE.BufferGeometry; materials: THREE.Material[] } {
  // in other materials it is the same geometry, which stays on the graphics card with its tree
  // eslint-disable-next-line react-hooks/exhaustive-deps -- the arrays are of one mesh
  const geometry = useMemo(() => meshGeometry(mesh), [mesh.indices])
  const materials = useMemo(() => surfaceMaterials(mesh), [mesh])
  useEffect(() => () => geometry.dispose(), [geometry])
  useEffect(() => () => retire(materials), [materials])
  return { geometry, materials }
}

/** A piece in space. Pressing it tells the letter that was hit, −1 for none, and where. */
export function PieceInSpace({
  mesh,
  matrix,
  tree,
  lighter,
  turning = false,
  section,
  id,
  onPick,
  onPickCopy,
  onWeight,
}: {
  mesh: ViewMesh
  matrix?: THREE.Matrix4
  /** for picking, once it is there */
  tree?: ViewTree
  /** drawn in its place while the view is turned */
  lighter?: ViewMesh
  turning?: boolean
  /** what it is cut open by, in the view's coordinates */
  section?: Section
  /** which piece it is, where several are shown */
  id?: string
  onPick: (letter: number, added: boolean, at: THREE.Vector3, normal: THREE.Vector3) => void
  /** hears which copy of which mesh was pressed */
  onPickCopy?: (copies: ViewCopies, copy: number) => void
  /** hears how strong the mask is under the pointer, undefined where that is beside the piece */
  onWeight?: (weight: number | undefined) => void
}) {
  const { geometry, materials } = useShape(mesh)
  const invalidate = useThree((s) => s.invalidate)
  const gl = useThree((s) => s.gl)
  const planes = useClipping(section)
  const own = useMemo(() => (section && matrix ? sectionBeside(section, matrix) : section), [section, matrix])
  useEffect(() => {
    for (const material of materials) {
      material.clippingPlanes = planes ?? null
      material.clipShadows = true
    }
    invalidate()
  }, [materials, planes, invalidate])
  // of another solid the stage draws the shadow
  useEffect(() => {
    gl.shadowMap.needsUpdate = true
    invalidate()
  }, [planes, gl, invalidate])
  useEffect(() => {
    if (tree) plantTree(geometry, tree)
  }, [geometry, tree])
  const named = useMemo(() => ({ piece: id }), [id])
  const light = turning && lighter !== undefined && section === undefined
  useEffect(() => invalidate(), [light, invalidate])
  // steady, since a handler that is another one has everything drawn anew
  const weigh = useSteady((event: ThreeEvent<PointerEvent>) => {
    if (!event.face || !mesh.weights) return
    const { a, b, c } = event.face
    const { weights, positions } = mesh
    const corner = (v: number) => new THREE.Vector3(positions[3 * v], positions[3 * v + 1], positions[3 * v + 2])
    const shares = THREE.Triangle.getBarycoord(event.object.worldToLocal(event.point.clone()), corner(a), corner(b), corner(c), new THREE.Vector3())
    onWeight?.(shares ? (weights[a] * shares.x + weights[b] * shares.y + weights[c] * shares.z) / 255 : weights[a] / 255)
  })
  const leave = useSteady(() => onWeight?.(undefined))
  const press = useSteady((event: ThreeEvent<MouseEvent>) => {
    event.stopPropagation()
    if (event.delta > STILL || event.faceIndex == null) return
    const normal = event.normal ?? event.face?.normal.clone().transformDirection(event.object.matrixWorld) ?? new THREE.Vector3(0, 0, 1)
    onPick(mesh.letters[event.faceIndex], event.shiftKey || event.ctrlKey || event.metaKey, event.point, normal)
  })
  return (
    <group matrix={matrix} matrixAutoUpdate={matrix === undefined}>
      <mesh
        name="piece"
        userData={named}
        geometry={geometry}
        material={materials}
        visible={!light}
        onAfterRender={sawFirstFrame}
        castShadow
        receiveShadow
        raycast={pickable}
        onPointerMove={onWeight && mesh.weights ? weigh : undefined}
        onPointerOut={onWeight ? leave : undefined}
        onClick={press}
      />
      {mesh.copies?.map((copies, i) => (
        <CopiesInSpace
          key={i}
          copies={copies}
          planes={planes}
          onPick={(copy, event) => {
            if (copies.numbers[copy] >= 0) return onPickCopy?.(copies, copy)
            // a letter that stands by itself is picked as letters are
            const letter = copies.letters[copy] >= 0 ? copies.letters[copy] : copies.mesh.letters[event.faceIndex ?? 0]
            const normal = event.normal ?? new THREE.Vector3(0, 0, 1)
            onPick(letter, event.shiftKey || event.ctrlKey || event.metaKey, event.point, normal)
          }}
        />
      ))}
      {lighter && <Lighter mesh={lighter} visible={light} />}
      {own && <SectionCaps mesh={mesh} section={own} />}
      {own && mesh.copies?.map((copies, i) => <CopyCaps key={i} copies={copies} section={own} />)}
    </group>
  )
}

function Lighter({ mesh, visible }: { mesh: ViewMesh; visible: boolean }) {
  const { geometry, materials } = useShape(mesh)
  return <mesh geometry={geometry} material={materials} visible={visible} receiveShadow raycast={untouched} />
}

/** A frame about every letter that is picked. */
export const PickedLetters = memo(function PickedLetters({ mesh, letters }: { mesh: ViewMesh; letters: readonly number[] }) {
  const boxes = useMemo(() => letterBoxes(mesh, letters), [mesh, letters])
  const action = useThemeColour('--action')
  return boxes.map(([x0, y0, x1, y1, z], i) => (
    <Line
      key={letters[i]}
      points={[
        [x0, y0, z],
        [x1, y0, z],
        [x1, y1, z],
        [x0, y1, z],
        [x0, y0, z],
      ]}
      color={action}
      lineWidth={1.8}
      depthTest={false}
      renderOrder={3}
    />
  ))
})

/** Whether the view is being turned just now; a moment longer than the hand moves, so that nothing flickers. */
export function useTurning(): { turning: boolean; begin: () => void; end: () => void } {
  const [turning, setTurning] = useState(false)
  return { turning, begin: () => setTurning(true), end: () => setTurning(false) }
}
