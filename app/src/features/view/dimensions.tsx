'use client'
import { Line } from '@react-three/drei'
import { useFrame } from '@react-three/fiber'
import type { RefObject } from 'react'
import styled from 'styled-components'
import * as THREE from 'three'
import { useThemeColour } from '@/ui/day-and-night'
import type { ViewMesh } from '@/workers/view-mesh'
import { Overlay } from './overlay'

const Layer = styled(Overlay)`
  span {
    position: absolute;
    left: 0;
    top: 0;
    font: 600 11.5px/1 var(--text);
    background: color-mix(in srgb, var(--stage) 88%, transparent);
    padding: 3px 6px;
    border-radius: 2px;
    white-space: nowrap;
  }
`

type Point = readonly [number, number, number]

interface Measure {
  readonly from: Point
  readonly to: Point
  /** leads from the object to the dimension line */
  readonly off: Point
  readonly value: number
}

/** Width, height and depth of what is shown, in mm. */
function measures(box: ViewMesh['box']): Measure[] {
  const [x0, y0, z0, x1, y1, z1] = box
  const gap = Math.max(x1 - x0, y1 - y0) * 0.055
  return [
    { from: [x0, y0, z1], to: [x1, y0, z1], off: [0, 0, gap * 1.5], value: x1 - x0 },
    { from: [x0, y0, z1], to: [x0, y1, z1], off: [-gap, 0, 0], value: y1 - y0 },
    { from: [x1, y0, z0], to: [x1, y0, z1], off: [gap, 0, 0], value: z1 - z0 },
  ]
}

const beyond = (p: Point, off: Point, f: number): [number, number, number] => [p[0] + off[0] * f, p[1] + off[1] * f, p[2] + off[2] * f]

/** The figures, as text above the canvas; `DimensionLines` moves them to their lines whenever it is drawn. */
export function DimensionFigures({ box, layer }: { box: ViewMesh['box']; layer: RefObject<HTMLDivElement | null> }) {
  return (
    <Layer ref={layer} aria-label="Dimensions in millimetres" role="group">
      {measures(box).map((m, i) => (
        <span key={['width', 'height', 'depth'][i]}>{m.value.toFixed(1)}</span>
      ))}
    </Layer>
  )
}

/** Drafting-style dimension lines with ticks and extension lines. */
export function DimensionLines({ box, layer }: { box: ViewMesh['box']; layer: RefObject<HTMLDivElement | null> }) {
  const list = measures(box)
  useFrame(({ camera, size }) => {
    list.forEach((m, i) => {
      const figure = layer.current?.children[i]
      if (!(figure instanceof HTMLElement)) return
      const project = (p: Point) => {
        const v = new THREE.Vector3(...beyond(p, m.off, 1)).project(camera)
        return [(v.x * 0.5 + 0.5) * size.width, (0.5 - v.y * 0.5) * size.height, v.z]
      }
      const [a, b] = [project(m.from), project(m.to)]
      // a line seen end on has no room for its figure
      const visible = a[2] < 1 && b[2] < 1 && Math.hypot(a[0] - b[0], a[1] - b[1]) > 22
      figure.style.visibility = visible ? 'visible' : 'hidden'
      figure.style.transform = `translate(${Math.round((a[0] + b[0]) / 2)}px, ${Math.round((a[1] + b[1]) / 2)}px) translate(-50%, -50%)`
    })
  })
  return (
    <>
      {list.map((m, i) => (
        <DimensionLine key={['width', 'height', 'depth'][i]} {...m} />
      ))}
    </>
  )
}

function DimensionLine({ from, to, off }: Measure) {
  const length = Math.hypot(...off)
  const span = Math.hypot(to[0] - from[0], to[1] - from[1], to[2] - from[2]) || 1
  const a = beyond(from, off, 1)
  const b = beyond(to, off, 1)
  const tick = (p: Point): [number, number, number][] => {
    const d: Point = [0, 1, 2].map((k) => ((to[k] - from[k]) / span + off[k] / length) * length * 0.13) as unknown as Point
    return [beyond(p, d, -1), beyond(p, d, 1)]
  }
  const ink = useThemeColour('--ink')
  const style = { color: ink, lineWidth: 1, transparent: true, opacity: 0.72 } as const
  return (
    <group>
      <Line points={[a, b]} {...style} />
      <Line points={tick(a)} {...style} lineWidth={1.6} />
      <Line points={tick(b)} {...style} lineWidth={1.6} />
      <Line points={[beyond(from, off, 0.25), beyond(from, off, 1.2)]} {...style} opacity={0.35} />
      <Line points={[beyond(to, off, 0.25), beyond(to, off, 1.2)]} {...style} opacity={0.35} />
    </group>
  )
}
