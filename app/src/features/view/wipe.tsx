'use client'
import { useFrame, useThree } from '@react-three/fiber'
import { type ReactNode, useEffect, useRef, useState } from 'react'
import { useMove } from 'react-aria'
import styled from 'styled-components'
import type * as THREE from 'three'
import { useWorkbench } from '@/state/context'
import { desk } from '@/workers/maker'
import { SUPERSEDED } from '@/workers/supervisor'
import type { ViewMesh } from '@/workers/view-mesh'
import { currentWork } from '@/state/work'

/** The piece before the open step, while that is wanted; null when nothing of it can be seen. */
export function useBefore(wanted: boolean): ViewMesh | null | undefined {
  const work = useWorkbench(currentWork)
  const step = useWorkbench((s) => s.openStep)
  const [mesh, setMesh] = useState<ViewMesh | null>()
  useEffect(() => {
    if (!wanted) return setMesh(undefined)
    const leaving = new AbortController()
    const { signal } = leaving
    const ask = async () => (work && step ? desk.ask((maker, job) => maker.before(job, work, step), signal) : null)
    ask()
      .then((found) => !signal.aborted && setMesh(found))
      .catch((error) => {
        if (signal.aborted) return
        console.error(error)
        setMesh(null)
      })
    return () => leaving.abort(SUPERSEDED)
  }, [wanted, work, step])
  return mesh
}

/** Draws `before` left of the line and `after` right of it, in place of the view's own drawing. */
export function WipedScene({ at, before, after }: { at: number; before: ReactNode; after: ReactNode }) {
  const left = useRef<THREE.Group>(null)
  const right = useRef<THREE.Group>(null)
  const invalidate = useThree((s) => s.invalidate)
  useEffect(() => {
    invalidate()
    return () => invalidate()
  }, [at, before, after, invalidate])
  useFrame(({ gl, scene, camera, size }) => {
    const line = Math.round(size.width * at)
    const draw = (first: boolean, x: number, width: number) => {
      if (!left.current || !right.current || width <= 0) return
      left.current.visible = first
      right.current.visible = !first
      gl.shadowMap.needsUpdate = true
      gl.setScissor(x, 0, width, size.height)
      gl.render(scene, camera)
    }
    gl.setScissorTest(true)
    draw(true, 0, line)
    draw(false, line, size.width - line)
    gl.setScissorTest(false)
  }, 1)
  return (
    <>
      <group ref={left}>{before}</group>
      <group ref={right}>{after}</group>
    </>
  )
}

const Line = styled.div`
  position: absolute;
  top: 0;
  bottom: 0;
  width: 24px;
  margin-left: -12px;
  cursor: col-resize;
  touch-action: none;
  z-index: 7;
  /* below the views' names */
  &::before { content: ''; position: absolute; left: 11px; top: 46px; bottom: 0; width: 2px; background: var(--action); }
  &:focus-visible { outline-offset: -4px; }
  span { position: absolute; bottom: 14px; white-space: nowrap; font: 600 12px/1 var(--text); background: var(--ink); color: var(--paper); padding: 5px 8px; border-radius: 3px; }
  span:first-child { right: 20px; }
  span:last-child { left: 20px; }
`

/** The line between before and after, dragged or moved with the arrow keys. */
export function WipeLine({ at, width, left, right, onChange }: { at: number; width: number; left: string; right: string; onChange: (at: number) => void }) {
  const now = useRef(at)
  now.current = at
  const { moveProps } = useMove({
    onMove({ deltaX, deltaY, pointerType }) {
      const by = pointerType === 'keyboard' ? 0.02 * Math.sign(deltaX - deltaY) : deltaX / Math.max(1, width)
      now.current = Math.min(0.98, Math.max(0.02, now.current + by))
      onChange(now.current)
    },
  })
  return (
    <Line
      {...moveProps}
      role="slider"
      tabIndex={0}
      aria-label="Line between before and after"
      aria-valuemin={2}
      aria-valuemax={98}
      aria-valuenow={Math.round(at * 100)}
      style={{ left: `${at * 100}%` }}
    >
      <span aria-hidden>{left}</span>
      <span aria-hidden>{right}</span>
    </Line>
  )
}
