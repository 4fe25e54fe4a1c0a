'use client'
import type { RouteStep } from '@kelvar/core/document/schema'
import { stepKind } from '@kelvar/core/steps/registry'
import { useFrame, useThree } from '@react-three/fiber'
import { type RefObject, useEffect, useMemo, useRef, useState } from 'react'
import { mergeProps, useFocusRing, useMove } from 'react-aria'
import styled from 'styled-components'
import * as THREE from 'three'
import { useFrameAtRest, useWorkbench, useWorkbenchStore } from '@/state/context'
import type { ViewMesh } from '@/workers/view-mesh'
import { Overlay } from './overlay'
import { type Handle, handlesOf, pulled } from './pulling'
import { fieldsOf } from '@kelvar/core/steps/fields'
import { currentPiece } from '@/state/work'
import { paramsAtFrame, setValue } from '@/state/actions/tracks'

const Layer = styled(Overlay)`
  z-index: 6;
`
const Knob = styled.div`
  position: absolute;
  left: 0;
  top: 0;
  width: 26px;
  height: 26px;
  margin: -13px 0 0 -13px;
  display: grid;
  place-items: center;
  pointer-events: auto;
  cursor: grab;
  touch-action: none;
  outline: none;
  border-radius: 50%;
  i { width: 13px; height: 13px; border-radius: 50%; background: var(--paper); border: 3px solid var(--action); box-shadow: 0 1px 5px rgb(var(--shadow) / 0.35); transition: transform 0.1s; }
  &:hover i, &[data-pulling] i { transform: scale(1.25); background: var(--action); }
  &[data-pulling] { cursor: grabbing; }
  &[data-focus] { outline: 2px solid var(--action); outline-offset: -2px; }
  span { position: absolute; left: 22px; top: 3px; white-space: nowrap; font: 600 12px/1 var(--text); background: var(--ink); color: var(--paper); padding: 4px 7px; border-radius: 3px; opacity: 0; pointer-events: none; }
  &:hover span, &[data-pulling] span, &[data-focus] span { opacity: 1; }
  svg { position: absolute; overflow: visible; width: 1px; height: 1px; left: 13px; top: 13px; z-index: -1; }
  line { stroke: var(--action); stroke-width: 2; }
`

/** How each handle lies on the screen: per mm along its direction, in pixels. */
export type Screen = Map<string, { x: number; y: number }>

/** The open step with the handles it has on a mesh; undefined while none is open. */
function useHandles(mesh: ViewMesh) {
  const step = useWorkbench((s) => currentPiece(s)?.route.find((r) => r.id === s.openStep && r.on))
  const shown = useFrameAtRest()
  const frame = step?.tracks ? shown : 0
  return useMemo(() => {
    const kind = step && stepKind(step.kind)
    if (!kind) return undefined
    const params = paramsAtFrame(kind, step, frame)
    return { step, title: kind.title, params, handles: handlesOf(fieldsOf(kind), params, mesh.box) }
  }, [step, mesh, frame])
}

/** Knobs for the open step's values, over the canvas; `HandlePlacer` moves them whenever it is drawn. */
export function Handles({ mesh, layer, screen }: { mesh: ViewMesh; layer: RefObject<HTMLDivElement | null>; screen: Screen }) {
  const open = useHandles(mesh)
  if (!open) return null
  const { step, title, params, handles } = open
  return (
    <Layer key={step.id} ref={layer} role="group" aria-label={`Handles of ${title}`}>
      {handles.map((handle) => (
        <HandleKnob key={handle.name} step={step} title={title} handle={handle} params={params} screen={screen} />
      ))}
    </Layer>
  )
}

function HandleKnob({
  step,
  title,
  handle,
  params,
  screen,
}: {
  step: RouteStep
  title: string
  handle: Handle
  params: Record<string, unknown>
  screen: Screen
}) {
  const store = useWorkbenchStore()
  const [pulling, setPulling] = useState(false)
  const { isFocusVisible, focusProps } = useFocusRing()
  const pull = useRef({ mm: 0, from: handle, params, gesture: '', axis: { x: 0, y: -1 } })
  const count = useRef(0)
  const { moveProps } = useMove({
    onMoveStart() {
      count.current++
      pull.current = { mm: 0, from: handle, params, gesture: `drag:${step.id}/${handle.name}/${count.current}`, axis: axisOf(screen, handle) }
      setPulling(true)
      store.getState().pull(true)
    },
    onMove({ deltaX, deltaY, pointerType, shiftKey }) {
      const { axis, from, gesture, params: before } = pull.current
      if (pointerType === 'keyboard') {
        // right and up pull outwards, whichever way the handle lies on the screen
        pull.current.mm += (Math.sign(deltaX) - Math.sign(deltaY)) * (shiftKey ? 0.1 : 1) * from.step
      } else pull.current.mm += ((deltaX * axis.x + deltaY * axis.y) / (axis.x ** 2 + axis.y ** 2)) * (shiftKey ? 0.2 : 1)
      const value = pulled(from, before, pull.current.mm)
      setValue(store, step, handle.name, value, `${title}: ${handle.title.toLowerCase()}`, gesture)
    },
    onMoveEnd() {
      setPulling(false)
    },
  })
  // a knob that goes while it is pulled hears of no end
  useEffect(() => {
    if (pulling) return () => store.getState().pull(false)
  }, [pulling, store])
  const shown = handle.value(params)
  const words = `${handle.title} ${Number(shown.toFixed(2))} ${handle.unit}`
  return (
    <Knob
      {...mergeProps(moveProps, focusProps)}
      role="slider"
      tabIndex={0}
      aria-label={`${title}: pull ${handle.title.toLowerCase()}`}
      aria-valuenow={shown}
      aria-valuetext={words}
      aria-valuemin={handle.min}
      aria-valuemax={handle.max}
      data-handle={handle.name}
      data-pulling={pulling ? '' : undefined}
      data-focus={isFocusVisible ? '' : undefined}
    >
      <svg aria-hidden>
        <line />
      </svg>
      <i />
      <span aria-hidden>{words}</span>
    </Knob>
  )
}

/** Where a handle's direction leads on the screen; upwards when it leads nearly at the viewer. */
function axisOf(screen: Screen, { name }: Handle): { x: number; y: number } {
  const axis = screen.get(name) ?? { x: 0, y: -1 }
  return Math.hypot(axis.x, axis.y) < 0.25 ? { x: 0, y: -1 } : axis
}

const STEM = 30

/** Inside the canvas: keeps the knobs at their places. */
export function HandlePlacer({ mesh, layer, screen }: { mesh: ViewMesh; layer: RefObject<HTMLDivElement | null>; screen: Screen }) {
  const open = useHandles(mesh)
  const invalidate = useThree((s) => s.invalidate)
  useEffect(() => invalidate(), [open, invalidate])
  useFrame(({ camera, size }) => {
    const project = (p: readonly number[]) => {
      const v = new THREE.Vector3(p[0], p[1], p[2]).project(camera)
      return { x: (v.x * 0.5 + 0.5) * size.width, y: (0.5 - v.y * 0.5) * size.height, behind: v.z > 1 }
    }
    for (const { name, at, along } of open?.handles ?? []) {
      const knob = layer.current?.querySelector(`[data-handle="${name}"]`)
      if (!(knob instanceof HTMLElement)) continue
      const from = project(at)
      const to = project(at.map((v, k) => v + along[k]))
      const axis = { x: to.x - from.x, y: to.y - from.y }
      screen.set(name, axis)
      const length = Math.hypot(axis.x, axis.y) || 1
      const [dx, dy] = length < 0.25 ? [0, -STEM] : [(axis.x / length) * STEM, (axis.y / length) * STEM]
      knob.style.visibility = from.behind ? 'hidden' : 'visible'
      knob.style.transform = `translate(${Math.round(from.x + dx)}px, ${Math.round(from.y + dy)}px)`
      const line = knob.querySelector('line')
      line?.setAttribute('x2', String(-dx))
      line?.setAttribute('y2', String(-dy))
    }
  })
  return null
}
