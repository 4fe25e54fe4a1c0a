import { textOfLetters } from '@kelvar/core/mask/painted'
import { effectiveParams } from '@kelvar/core/steps/fields'
import { stepKind } from '@kelvar/core/steps/registry'
import type { ByHand } from '@kelvar/core/steps/shared/repeating'
import { Line } from '@react-three/drei'
import { type ThreeEvent, useThree } from '@react-three/fiber'
import { Move } from 'lucide-react'
import { type RefObject, useEffect, useMemo, useRef } from 'react'
import * as THREE from 'three'
import { changeCopy, changeOf, copyingStep, HAND } from '@/state/actions/copies'
import { useWorkbench, useWorkbenchStore } from '@/state/context'
import type { PickedCopy } from '@/state/store'
import { currentPiece } from '@/state/work'
import { useThemeColour } from '@/ui/day-and-night'
import { useSteady } from '@/ui/steady'
import type { ViewCopies, ViewMesh } from '@/workers/view-mesh'
import { instancedCopies, meshGeometry, retire } from './scene'
import { type Cast, onPlane, type Point, type SpaceKnob } from './space-knobs'

/** Copies of one mesh in space. Pressing one tells which. */
export function CopiesInSpace({
  copies,
  planes,
  onPick,
}: {
  copies: ViewCopies
  planes: THREE.Plane[] | undefined
  onPick: (copy: number, event: ThreeEvent<MouseEvent>) => void
}) {
  // what only stands elsewhere stays on the graphics card
  // eslint-disable-next-line react-hooks/exhaustive-deps -- the arrays are of one mesh
  const geometry = useMemo(() => meshGeometry(copies.mesh), [copies.mesh.indices])
  useEffect(() => () => geometry.dispose(), [geometry])
  const made = useMemo(() => instancedCopies(copies, geometry), [copies, geometry])
  const invalidate = useThree((s) => s.invalidate)
  const gl = useThree((s) => s.gl)
  useEffect(() => {
    for (const material of made.materials) material.clippingPlanes = planes ?? null
    invalidate()
  }, [made, planes, invalidate])
  // of other copies the stage draws the shadow
  useEffect(() => {
    gl.shadowMap.needsUpdate = true
    invalidate()
  }, [planes, gl, invalidate])
  useEffect(
    () => () => {
      made.object.dispose()
      retire(made.materials)
    },
    [made],
  )
  const press = useSteady((event: ThreeEvent<MouseEvent>) => {
    event.stopPropagation()
    if (event.delta <= 4 && event.instanceId !== undefined) onPick(event.instanceId, event)
  })
  return <primitive object={made.object} dispose={null} onClick={press} />
}

/** What happens when a copy is pressed: the step that made it comes to hand, with the copy picked. */
export function useCopyPick(mesh: ViewMesh | undefined): (copies: ViewCopies, copy: number) => void {
  const store = useWorkbenchStore()
  const text = useMemo(() => textOfLetters(mesh?.texts ?? []), [mesh])
  return (copies, copy) => {
    const state = store.getState()
    const step = copyingStep(currentPiece(state)?.route ?? [], state.until)
    if (!step || !mesh) return
    if (state.openStep !== step.id) state.unfold(step.id)
    const letter = copies.letters[copy]
    state.pickCopy({
      step: step.id,
      number: copies.numbers[copy],
      of: text.text,
      at: letter < 0 ? -1 : text.offsets[letter],
      letter: mesh.texts?.[letter] ?? '',
      spot: [...copies.spots.subarray(3 * copy, 3 * copy + 3)] as [number, number, number],
    })
  }
}

/** Where the picked copy stands, in all its meshes; none where it is left out. */
function placesOf(mesh: ViewMesh | undefined, picked: PickedCopy | undefined): { readonly copies: ViewCopies; readonly matrix: THREE.Matrix4 }[] {
  if (!mesh?.copies || !picked) return []
  return mesh.copies.flatMap((copies) =>
    [...copies.numbers.keys()]
      .filter((i) => copies.numbers[i] === picked.number)
      .map((i) => ({ copies, matrix: new THREE.Matrix4().fromArray(copies.matrices, 16 * i) })),
  )
}

/** A frame about the picked copy. */
export function PickedCopyFrame({ mesh }: { mesh: ViewMesh }) {
  const picked = useWorkbench((s) => s.copy)
  const colour = useThemeColour('--action')
  const lines = useMemo(
    () =>
      placesOf(mesh, picked).map(({ copies: { mesh: unit }, matrix }) => {
        const [x0, y0, z0, x1, y1, z1] = unit.box
        const at = (x: number, y: number, z: number) => new THREE.Vector3(x, y, z).applyMatrix4(matrix).toArray() as [number, number, number]
        const low = [at(x0, y0, z0), at(x1, y0, z0), at(x1, y1, z0), at(x0, y1, z0), at(x0, y0, z0)]
        const high = [at(x0, y0, z1), at(x1, y0, z1), at(x1, y1, z1), at(x0, y1, z1), at(x0, y0, z1)]
        return [...low.slice(0, 4).flatMap((p, i) => [p, low[i + 1], high[i], high[i + 1], p, high[i]])]
      }),
    [mesh, picked],
  )
  return lines.map((points, i) => <Line key={i} points={points} segments color={colour} lineWidth={1.8} depthTest={false} renderOrder={3} />)
}

/** A knob that moves the picked copy over its ground. */
export function useCopyKnob(mesh: ViewMesh | undefined, cast: RefObject<Cast | undefined>): readonly SpaceKnob[] {
  const store = useWorkbenchStore()
  const picked = useWorkbench((s) => s.copy)
  const step = useWorkbench((s) => currentPiece(s)?.route.find(({ id }) => id === s.copy?.step))
  const count = useRef(0)
  return useMemo(() => {
    const [first] = placesOf(mesh, picked)
    const kind = step && stepKind(step.kind)
    if (!first || !picked || !kind || !step) return NONE
    const place = new THREE.Vector3().setFromMatrixPosition(first.matrix)
    const at = place.toArray() as Point
    const normal = new THREE.Vector3().setFromMatrixColumn(first.matrix, 2).normalize().toArray() as Point
    const now = changeOf(effectiveParams(kind, step.params)[HAND] as ByHand, picked)?.by ?? [0, 0, 0]
    const rounded = (v: number) => Number(v.toFixed(2))
    const move = (x: number, y: number, z: number, gesture?: string) =>
      changeCopy(store, picked, { by: [rounded(now[0] + x), rounded(now[1] + y), rounded(now[2] + z)] }, gesture)
    const knob: SpaceKnob = {
      name: 'copy',
      at,
      icon: <Move size={13} aria-hidden />,
      words: `Copy ${picked.number + 1}${now.some((v) => v !== 0) ? `, moved by ${now.map(rounded).join(', ')} mm` : ''}`,
      label: `Copy ${picked.number + 1}: move`,
      value: rounded(Math.hypot(...now)),
      begin(x, y) {
        const ray = cast.current?.ray(x, y)
        const start = ray && onPlane(ray, at, normal)
        if (!start) return undefined
        const gesture = `drag:copy/${++count.current}`
        return (px, py, fine) => {
          const next = cast.current?.ray(px, py)
          const to = next && onPlane(next, at, normal)
          if (!to) return
          const by = to.sub(start).multiplyScalar(fine ? 0.2 : 1)
          move(by.x, by.y, by.z, gesture)
        }
      },
      key: (right, up, fine) => move(right * (fine ? 0.1 : 0.5), up * (fine ? 0.1 : 0.5), 0),
    }
    return [knob]
  }, [mesh, picked, step, store, cast])
}

const NONE: readonly SpaceKnob[] = []
