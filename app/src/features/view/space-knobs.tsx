'use client'
import { useFrame, useThree } from '@react-three/fiber'
import { type ReactNode, type RefObject, useEffect, useRef, useState } from 'react'
import { useFocusRing } from 'react-aria'
import styled from 'styled-components'
import * as THREE from 'three'
import { useWorkbenchStore } from '@/state/context'
import { Overlay } from './overlay'

export type Point = readonly [number, number, number]

/** How places of the screen are found in space, in the coordinates of what is shown. */
export interface Cast {
  ray(clientX: number, clientY: number): THREE.Ray
  /** the nearest place of a piece under the pointer */
  hit(clientX: number, clientY: number): Point | undefined
  /** how many pixels a millimetre is there */
  pixels(point: Point): number
  /** the nearest place straight below a point, of all pieces but one */
  below(point: Point, but: string): Point | undefined
}

/** Inside the canvas: lends the camera to whoever follows a pointer over it. */
export function CastKeeper({ cast }: { cast: RefObject<Cast | undefined> }) {
  const { camera, gl, scene } = useThree()
  useEffect(() => {
    const caster = new THREE.Raycaster()
    const aim = (x: number, y: number) => {
      const box = gl.domElement.getBoundingClientRect()
      caster.setFromCamera(new THREE.Vector2(((x - box.left) / box.width) * 2 - 1, 1 - ((y - box.top) / box.height) * 2), camera)
    }
    const nearest = (but?: string): Point | undefined => {
      const pieces: THREE.Object3D[] = []
      scene.traverse((object) => object.name === 'piece' && (but === undefined || object.userData.piece !== but) && pieces.push(object))
      const [first] = caster.intersectObjects(pieces, false)
      return first && [first.point.x, first.point.y, first.point.z]
    }
    cast.current = {
      ray(x, y) {
        aim(x, y)
        return caster.ray.clone()
      },
      hit(x, y) {
        aim(x, y)
        return nearest()
      },
      pixels(point) {
        const [at, aside] = [new THREE.Vector3(...point), new THREE.Vector3().setFromMatrixColumn(camera.matrixWorld, 0)]
        const [p, q] = [at.clone().project(camera), at.add(aside).project(camera)]
        return (Math.abs(q.x - p.x) * gl.domElement.clientWidth) / 2
      },
      below(point, but) {
        caster.set(new THREE.Vector3(...point), new THREE.Vector3(0, -1, 0))
        return nearest(but)
      },
    }
    return () => {
      cast.current = undefined
    }
  }, [cast, camera, gl, scene])
  return null
}

/** Something to take in hand in the view. */
export interface SpaceKnob {
  readonly name: string
  readonly at: Point
  readonly icon: ReactNode
  /** what is told of it, and what it does */
  readonly words: string
  readonly label: string
  /** the number behind it, where it has one */
  readonly value?: number
  /** one of many */
  readonly small?: boolean
  /** Takes it in hand at a place of the screen; what comes back follows the pointer, `fine` while Shift is held. */
  begin(x: number, y: number): ((x: number, y: number, fine: boolean) => void) | undefined
  /** An arrow key: so many steps to the right and up. */
  key(right: number, up: number, fine: boolean): void
}

const Knob = styled.div`
  position: absolute;
  left: 0;
  top: 0;
  width: 30px;
  height: 30px;
  margin: -15px 0 0 -15px;
  display: grid;
  place-items: center;
  pointer-events: auto;
  cursor: grab;
  touch-action: none;
  outline: none;
  border-radius: 50%;
  visibility: hidden;
  i { display: grid; place-items: center; width: 22px; height: 22px; border-radius: 50%; background: var(--paper); border: 2px solid var(--action); color: var(--action); box-shadow: 0 1px 5px rgb(var(--shadow) / 0.35); }
  &:hover, &[data-pulling], &[data-focus] { z-index: 1; }
  &[data-small] { width: 22px; height: 22px; margin: -11px 0 0 -11px; }
  &[data-small] i { width: 11px; height: 11px; }
  &:hover i, &[data-pulling] i { background: var(--action); color: var(--action-ink); }
  &[data-pulling] { cursor: grabbing; }
  &[data-focus] { outline: 2px solid var(--action); outline-offset: -1px; }
  span { position: absolute; left: 26px; top: 6px; white-space: nowrap; font: 600 12px/1 var(--text); background: var(--ink); color: var(--paper); padding: 4px 7px; border-radius: 3px; opacity: 0; pointer-events: none; }
  &:hover span, &[data-pulling] span, &[data-focus] span { opacity: 1; }
`
const Layer = styled(Overlay)`
  z-index: 7;
`

/** Knobs over the canvas; `SpaceKnobKeeper` keeps them at their places. */
export function SpaceKnobs({ knobs, layer, label }: { knobs: readonly SpaceKnob[]; layer: RefObject<HTMLDivElement | null>; label: string }) {
  return (
    <Layer ref={layer} role="group" aria-label={label}>
      {knobs.map((knob) => (
        <OneKnob key={knob.name} knob={knob} />
      ))}
    </Layer>
  )
}

function OneKnob({ knob }: { knob: SpaceKnob }) {
  const store = useWorkbenchStore()
  const [pulling, setPulling] = useState(false)
  const follow = useRef<ReturnType<SpaceKnob['begin']>>(undefined)
  const { isFocusVisible, focusProps } = useFocusRing()
  // a knob that goes while it is pulled hears of no end
  useEffect(() => {
    if (pulling) return () => store.getState().pull(false)
  }, [pulling, store])
  return (
    <Knob
      {...focusProps}
      role="slider"
      tabIndex={0}
      aria-label={knob.label}
      aria-valuenow={knob.value ?? 0}
      aria-valuetext={knob.words}
      data-knob={knob.name}
      data-small={knob.small ? '' : undefined}
      data-pulling={pulling ? '' : undefined}
      data-focus={isFocusVisible ? '' : undefined}
      onPointerDown={(event) => {
        if (event.button !== 0) return
        event.preventDefault()
        event.currentTarget.focus({ preventScroll: true })
        follow.current = knob.begin(event.clientX, event.clientY)
        if (!follow.current) return
        event.currentTarget.setPointerCapture(event.pointerId)
        setPulling(true)
        store.getState().pull(true)
      }}
      onPointerMove={(event) => follow.current?.(event.clientX, event.clientY, event.shiftKey)}
      onLostPointerCapture={() => {
        follow.current = undefined
        setPulling(false)
      }}
      onKeyDown={(event) => {
        const way = ({ ArrowRight: [1, 0], ArrowLeft: [-1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] } as const)[event.key as 'ArrowUp']
        if (!way || event.altKey || event.ctrlKey || event.metaKey) return
        event.preventDefault()
        event.stopPropagation()
        knob.key(way[0], way[1], event.shiftKey)
      }}
    >
      <i>{knob.icon}</i>
      <span aria-hidden>{knob.words}</span>
    </Knob>
  )
}

/** Inside the canvas: moves knobs to their places whenever it is drawn. */
export function SpaceKnobKeeper({ knobs, layer }: { knobs: readonly SpaceKnob[]; layer: RefObject<HTMLDivElement | null> }) {
  const invalidate = useThree((s) => s.invalidate)
  useEffect(() => invalidate(), [knobs, invalidate])
  useFrame(({ camera, size }) => {
    for (const { name, at } of knobs) {
      const element = layer.current?.querySelector(`[data-knob="${name}"]`)
      if (!(element instanceof HTMLElement)) continue
      const v = new THREE.Vector3(at[0], at[1], at[2]).project(camera)
      element.style.visibility = v.z < 1 ? 'visible' : 'hidden'
      element.style.transform = `translate(${Math.round((v.x * 0.5 + 0.5) * size.width)}px, ${Math.round((0.5 - v.y * 0.5) * size.height)}px)`
    }
  })
  return null
}

/** Where a ray meets a plane; undefined where it runs beside it. */
export function onPlane(ray: THREE.Ray, point: Point, normal: Point): THREE.Vector3 | undefined {
  const plane = new THREE.Plane().setFromNormalAndCoplanarPoint(new THREE.Vector3(...normal), new THREE.Vector3(...point))
  return ray.intersectPlane(plane, new THREE.Vector3()) ?? undefined
}

/** How far along a line through a point a ray passes nearest, mm. */
export function alongLine(ray: THREE.Ray, point: Point, way: Point): number {
  const [p, d] = [new THREE.Vector3(...point), new THREE.Vector3(...way).normalize()]
  const w = p.clone().sub(ray.origin)
  const [b, e, f] = [d.dot(ray.direction), w.dot(d), w.dot(ray.direction)]
  const sine = 1 - b * b
  return sine < 1e-4 ? 0 : (b * f - e) / sine
}
