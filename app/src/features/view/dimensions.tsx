'use client'
import { useFrame } from '@react-three/fiber'
import { memo, type RefObject, useMemo, useState } from 'react'
import styled from 'styled-components'
import * as THREE from 'three'
import { useThemeColour } from '@/ui/day-and-night'
import type { ViewMesh } from '@/workers/view-mesh'
import { Overlay } from './overlay'
import { Segments } from './segments'

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

/** Which sides of the box the lines stand beside: near or far in z, left or right in x. */
interface Sides {
  /** the side towards the viewer */
  readonly front: 0 | 1
  readonly right: 0 | 1
}

const FROM_THE_FRONT: Sides = { front: 1, right: 1 }

/** Width, height and depth of what is shown, in mm, each beside the outermost edge of its box as it is seen: nothing lies behind a figure. */
function measures([x0, y0, z0, x1, y1, z1]: ViewMesh['box'], { front, right }: Sides): Measure[] {
  const gap = Math.max(x1 - x0, y1 - y0) * 0.055
  const z = front ? z1 : z0
  const outwards = right ? 1 : -1
  const x = right ? x1 : x0
  // what is on the left of the picture, and of its upright edges the outermost
  const left = front ? x0 : x1
  const towards = front ? -1 : 1
  const edge = left === x ? (front ? z0 : z1) : z
  return [
    { from: [x0, y0, z], to: [x1, y0, z], off: [0, 0, front ? gap * 1.5 : -gap * 1.5], value: x1 - x0 },
    { from: [left, y0, edge], to: [left, y1, edge], off: [towards * gap, 0, 0], value: y1 - y0 },
    { from: [x, y0, z0], to: [x, y0, z1], off: [outwards * gap, 0, 0], value: z1 - z0 },
  ]
}

/** The sides as a camera sees a box, told when they change. */
function useSides(): { sides: Sides; look: (camera: THREE.Camera, box: ViewMesh['box']) => void } {
  const [sides, setSides] = useState(FROM_THE_FRONT)
  const look = (camera: THREE.Camera, box: ViewMesh['box']) => {
    const { x, z } = camera.position
    const front = z < (box[2] + box[5]) / 2 ? 0 : 1
    // a camera almost in the middle changes nothing
    const off = (x - (box[0] + box[3]) / 2) / Math.max(1, box[3] - box[0])
    const right = Math.abs(off) < 0.02 ? sides.right : off > 0 ? 1 : 0
    if (front !== sides.front || right !== sides.right) setSides({ front, right })
  }
  return { sides, look }
}

const beyond = (p: Point, off: Point, f: number): [number, number, number] => [p[0] + off[0] * f, p[1] + off[1] * f, p[2] + off[2] * f]

/** The figures, as text above the canvas; `DimensionLines` moves them to their lines whenever it is drawn. */
export function DimensionFigures({ box, layer }: { box: ViewMesh['box']; layer: RefObject<HTMLDivElement | null> }) {
  return (
    <Layer ref={layer} aria-label="Dimensions in millimetres" role="group">
      {measures(box, FROM_THE_FRONT).map((m, i) => (
        <span key={['width', 'height', 'depth'][i]}>{m.value.toFixed(1)}</span>
      ))}
    </Layer>
  )
}

/** Drafting-style dimension lines with ticks and extension lines. */
export const DimensionLines = memo(function DimensionLines({ box, layer }: { box: ViewMesh['box']; layer: RefObject<HTMLDivElement | null> }) {
  const { sides, look } = useSides()
  const list = measures(box, sides)
  useFrame(({ camera, size }) => {
    look(camera, box)
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
  const ink = useThemeColour('--ink')
  const { lines, ticks, leads } = useMemo(() => strokesOf(measures(box, sides)), [box, sides])
  return (
    <>
      <Segments ends={lines} colour={ink} width={1} opacity={0.72} />
      <Segments ends={ticks} colour={ink} width={1.6} opacity={0.72} />
      <Segments ends={leads} colour={ink} width={1} opacity={0.35} />
    </>
  )
})

/** What is drawn for measures: the lines themselves, the ticks at their ends, and what leads to them; both ends of each piece. */
function strokesOf(list: readonly Measure[]): { lines: Float32Array; ticks: Float32Array; leads: Float32Array } {
  const [lines, ticks, leads]: Point[][] = [[], [], []]
  for (const { from, to, off } of list) {
    const length = Math.hypot(...off)
    const span = Math.hypot(to[0] - from[0], to[1] - from[1], to[2] - from[2]) || 1
    const aslant = [0, 1, 2].map((k) => ((to[k] - from[k]) / span + off[k] / length) * length * 0.13) as unknown as Point
    lines.push(beyond(from, off, 1), beyond(to, off, 1))
    for (const end of [from, to]) {
      const at = beyond(end, off, 1)
      ticks.push(beyond(at, aslant, -1), beyond(at, aslant, 1))
      leads.push(beyond(end, off, 0.25), beyond(end, off, 1.2))
    }
  }
  return { lines: Float32Array.from(lines.flat()), ticks: Float32Array.from(ticks.flat()), leads: Float32Array.from(leads.flat()) }
}
