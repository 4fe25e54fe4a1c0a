import { OrbitControls } from '@react-three/drei'
import { useThree } from '@react-three/fiber'
import { useCallback, useEffect, useRef } from 'react'
import * as THREE from 'three'
import type { OrbitControls as Orbit } from 'three-stdlib'
import { useWorkbench } from '@/state/context'
import { type CameraStand, lensOf } from '@kelvar/core/document/camera'
import { lendStand, stand } from './standing'
import { type Box, FIELD_OF_VIEW, framingOf, type StandardView, standFor } from './scene'

/** A turn about the piece, in radians across and over it, and how much nearer to it as a factor of the distance. */
export interface Turn {
  readonly across: number
  readonly over: number
  readonly nearer: number
}

export interface Request {
  readonly view: StandardView | 'Fit' | Turn
  readonly count: number
}

/** What keys do while the view has the focus. */
export const TURNS: Readonly<Record<string, Turn>> = {
  ArrowLeft: { across: -0.1, over: 0, nearer: 1 },
  ArrowRight: { across: 0.1, over: 0, nearer: 1 },
  ArrowUp: { across: 0, over: -0.1, nearer: 1 },
  ArrowDown: { across: 0, over: 0.1, nearer: 1 },
  '+': { across: 0, over: 0, nearer: 0.9 },
  '-': { across: 0, over: 0, nearer: 1 / 0.9 },
}

/** The camera and how it is moved; told what to do through `request`. */
export function Camera({
  box: shownBox,
  pieceKey,
  request,
  led,
  onMove,
  onRest,
}: {
  /** how the project's camera stands, where the view is what it sees */
  led?: CameraStand
  box: Box
  pieceKey: string
  request: Request
  onMove: () => void
  onRest: () => void
}) {
  const controls = useRef<Orbit>(null)
  const pulling = useWorkbench((s) => s.pulling)
  const { camera, size, invalidate } = useThree()
  const box = useRef(shownBox)
  box.current = shownBox
  const shown = useRef<string>(undefined)
  const place = useCallback(
    (view: StandardView | 'Fit') => {
      const framing = framingOf(box.current)
      const target = controls.current?.target ?? new THREE.Vector3()
      const direction = camera.position.clone().sub(target)
      camera.position.copy(standFor(view === 'Fit' ? (direction.lengthSq() > 0 ? direction : 'Three-quarter') : view, framing, size.width / size.height))
      const reach = framing.size.length()
      if (camera instanceof THREE.PerspectiveCamera) {
        camera.near = Math.max(0.5, reach / 60)
        camera.far = reach * 60
        camera.updateProjectionMatrix()
      }
      controls.current?.target.copy(framing.centre)
      controls.current?.update()
      // what is picked before the next frame is drawn is picked from where the camera now stands
      camera.updateMatrixWorld()
      invalidate()
    },
    [camera, size, invalidate],
  )
  const turn = useCallback(
    ({ across, over, nearer }: Turn) => {
      const target = controls.current?.target ?? new THREE.Vector3()
      const stand = new THREE.Spherical().setFromVector3(camera.position.clone().sub(target))
      stand.theta += across
      stand.phi = Math.min(Math.PI - 0.05, Math.max(0.05, stand.phi + over))
      stand.radius = Math.min(20000, Math.max(5, stand.radius * nearer))
      camera.position.copy(target).add(new THREE.Vector3().setFromSpherical(stand))
      controls.current?.update()
      camera.updateMatrixWorld()
      invalidate()
    },
    [camera, invalidate],
  )
  // a new piece, or words that have outgrown the frame, are framed; any other change leaves the camera alone
  const width = shownBox[3] - shownBox[0]
  const framedWidth = useRef(0)
  useEffect(() => {
    if (shown.current !== pieceKey) {
      shown.current = pieceKey
      framedWidth.current = width
      place('Three-quarter')
    } else if (pulling) {
      // what is being pulled must not move under the hand
    } else if (width > framedWidth.current * 1.12 || width < framedWidth.current * 0.6) {
      framedWidth.current = width
      place('Fit')
    }
  }, [pieceKey, width, place, pulling])
  // a view of another shape shows the same from the same side
  const aspect = size.width / size.height
  const framedAspect = useRef(aspect)
  useEffect(() => {
    if (Math.abs(aspect - framedAspect.current) < 0.01) return
    framedAspect.current = aspect
    place('Fit')
  }, [aspect, place])
  const asked = useRef(0)
  useEffect(() => {
    if (request.count === asked.current) return
    asked.current = request.count
    if (typeof request.view === 'object') turn(request.view)
    else place(request.view)
  }, [request, place, turn])
  // through the project's camera; a hand may take the view elsewhere until the next frame
  useEffect(() => {
    if (!led || !(camera instanceof THREE.PerspectiveCamera)) return
    stand(camera, led)
    controls.current?.target.set(...led.aim)
    controls.current?.update()
    camera.updateMatrixWorld()
    invalidate()
    return () => {
      camera.fov = FIELD_OF_VIEW
      camera.updateProjectionMatrix()
      invalidate()
    }
  }, [led, camera, invalidate])
  useEffect(
    () =>
      lendStand(() => {
        const rounded = (v: THREE.Vector3) => v.toArray().map((n) => Number(n.toFixed(3))) as [number, number, number]
        const fov = camera instanceof THREE.PerspectiveCamera ? camera.fov : FIELD_OF_VIEW
        return { at: rounded(camera.position), aim: rounded(controls.current?.target ?? new THREE.Vector3()), lens: Number(lensOf(fov).toFixed(2)) }
      }),
    [camera],
  )
  return <OrbitControls ref={controls} makeDefault enableDamping={false} onStart={onMove} onEnd={onRest} minDistance={5} maxDistance={20000} />
}
