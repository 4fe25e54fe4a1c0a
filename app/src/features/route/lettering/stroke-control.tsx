'use client'
import { controlBounds, toSvgPath } from '@kelvar/core/outline/path'
import { simplifyPoints, smoothPath } from '@kelvar/core/outline/spline'
import type { StrokeParams } from '@kelvar/core/steps/source/lettering/schema'
import { Pencil } from 'lucide-react'
import { type KeyboardEvent, type PointerEvent, useRef, useState } from 'react'
import { ToggleButton } from 'react-aria-components'
import styled from 'styled-components'
import { FieldName, PlainButton } from '@/ui/buttons'
import { SwitchInput } from '@/ui/controls'

const Box = styled.div`
  display: grid;
  gap: 4px;
  padding: 3px 0;
  svg { width: 100%; height: 150px; border: 1px solid var(--rule); border-radius: 3px; background: var(--paper); touch-action: none; display: block; }
  svg[data-drawing] { cursor: crosshair; border-color: var(--action); }
  .grid { stroke: color-mix(in srgb, var(--rule) 55%, transparent); stroke-width: 1px; vector-effect: non-scaling-stroke; }
  .line { fill: none; stroke: var(--ink); stroke-width: 2px; vector-effect: non-scaling-stroke; }
  circle { fill: var(--paper); stroke: var(--action); stroke-width: 2px; vector-effect: non-scaling-stroke; cursor: grab; outline: none; }
  circle:focus-visible { fill: var(--action); }
  .head { display: flex; align-items: center; justify-content: space-between; }
  .tools { display: flex; gap: 2px; }
  p { margin: 0; color: var(--soft); font-size: 11.5px; }
`
const Draw = styled(ToggleButton)`
  display: inline-flex;
  gap: 5px;
  align-items: center;
  border: 0;
  border-radius: 3px;
  background: none;
  padding: 4px 7px;
  color: var(--soft);
  cursor: pointer;
  &[data-selected] { background: var(--tint); color: var(--action); font-weight: 600; }
`

type Point = [number, number]
type Frame = readonly [x: number, y: number, width: number, height: number]

const BOARD = { width: 296, height: 150 }

/** The part of the plane to be shown, Y upwards, of the board's shape, with room about the stroke. */
function frameOf(points: readonly Point[]): Frame {
  const [x0, y0, x1, y1] = controlBounds([{ verbs: new Uint8Array(), coords: Float64Array.from(points.flat()), closed: false }])
  const width = Math.max((x1 - x0) * 1.25, ((y1 - y0) * 1.5 * BOARD.width) / BOARD.height, 40)
  const height = (width * BOARD.height) / BOARD.width
  return [(x0 + x1 - width) / 2, (y0 + y1 - height) / 2, width, height]
}

/** The stroke that words run along: its points are dragged, added by a press on the line, removed, or all drawn anew by hand. */
export function StrokeControl({ title, value, onChange }: { title: string; value: StrokeParams; onChange: (stroke: StrokeParams) => void }) {
  const svg = useRef<SVGSVGElement>(null)
  const [drawing, setDrawing] = useState(false)
  const [hand, setHand] = useState<Point[]>()
  // while a point is dragged the frame stays
  const [held, setHeld] = useState<{ index: number; frame: Frame }>()
  const points = value.points as Point[]
  const frame = held?.frame ?? frameOf(points)
  const [x, y, width, height] = frame
  const unit = width / BOARD.width
  let line = ''
  try {
    line = toSvgPath([smoothPath(points, value.closed)], 2, true)
  } catch {
    // points that coincide have no line; the step says so
  }
  const placeOf = (event: PointerEvent): Point => {
    const box = (svg.current as SVGSVGElement).getBoundingClientRect()
    const px = x + ((event.clientX - box.left) / box.width) * width
    const py = y + height - ((event.clientY - box.top) / box.height) * height
    return [Number(px.toFixed(2)), Number(py.toFixed(2))]
  }
  const move = (index: number, to: Point) => onChange({ ...value, points: points.map((p, i) => (i === index ? to : p)) })
  const insert = (at: Point) => {
    // between the two neighbours that it lies nearest to
    const spans = points.map((p, i) => {
      const q = points[(i + 1) % points.length]
      return i === points.length - 1 && !value.closed
        ? Infinity
        : Math.hypot(at[0] - p[0], at[1] - p[1]) + Math.hypot(at[0] - q[0], at[1] - q[1]) - Math.hypot(q[0] - p[0], q[1] - p[1])
    })
    const after = spans.indexOf(Math.min(...spans))
    onChange({ ...value, points: [...points.slice(0, after + 1), at, ...points.slice(after + 1)] })
  }
  const remove = (index: number) => points.length > 2 && onChange({ ...value, points: points.filter((_, i) => i !== index) })
  const onKey = (index: number) => (event: KeyboardEvent) => {
    const by = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] }[event.key]
    if (event.key === 'Delete' || event.key === 'Backspace') remove(index)
    else if (by) move(index, [points[index][0] + by[0] * (event.shiftKey ? 10 : 1), points[index][1] + by[1] * (event.shiftKey ? 10 : 1)])
    else return
    event.preventDefault()
  }
  const step = 10 ** Math.floor(Math.log10(width / 3))
  const lines = (from: number, size: number) => Array.from({ length: Math.ceil(size / step) + 1 }, (_, i) => (Math.floor(from / step) + i) * step)
  return (
    <Box>
      <div className="head">
        <FieldName>{title}</FieldName>
        <span className="tools">
          <Draw aria-label="Draw the stroke by hand" isSelected={drawing} onChange={setDrawing}>
            <Pencil size={13} /> Draw
          </Draw>
          <PlainButton style={{ fontSize: 12.5 }} onPress={() => onChange({ ...value, points: points.map(([px, py]): Point => [-px, py]).reverse() })}>
            Mirror
          </PlainButton>
        </span>
      </div>
      <svg
        ref={svg}
        viewBox={[x, -y - height, width, height].join(' ')}
        data-drawing={drawing ? '' : undefined}
        role="group"
        aria-label="Points of the stroke"
        onPointerDown={(event) => {
          if (!drawing) return
          event.currentTarget.setPointerCapture(event.pointerId)
          setHand([placeOf(event)])
        }}
        onPointerMove={(event) => {
          if (hand) setHand([...hand, placeOf(event)])
          else if (held) move(held.index, placeOf(event))
        }}
        onPointerUp={() => {
          if (hand && hand.length > 2) onChange({ ...value, points: simplifyPoints(hand, 3 * unit).slice(0, 200) as Point[] })
          if (hand) setDrawing(false)
          setHand(undefined)
          setHeld(undefined)
        }}
      >
        {lines(x, width).map((gx) => (
          <line key={`x${gx}`} className="grid" x1={gx} x2={gx} y1={-y} y2={-y - height} />
        ))}
        {lines(y, height).map((gy) => (
          <line key={`y${gy}`} className="grid" y1={-gy} y2={-gy} x1={x} x2={x + width} />
        ))}
        {hand ? (
          <polyline className="line" points={hand.map(([px, py]) => `${px},${-py}`).join(' ')} />
        ) : (
          <>
            <path className="line" d={line} />
            <path
              d={line}
              fill="none"
              stroke="transparent"
              strokeWidth={12 * unit}
              style={{ cursor: 'copy' }}
              onPointerDown={(event) => !drawing && insert(placeOf(event))}
            />
            {points.map(([px, py], i) => (
              <circle
                key={i}
                cx={px}
                cy={-py}
                r={5 * unit}
                tabIndex={0}
                role="button"
                aria-label={`Point ${i + 1}: ${px.toFixed(1)} mm along, ${py.toFixed(1)} mm up`}
                onKeyDown={onKey(i)}
                onDoubleClick={() => remove(i)}
                onPointerDown={(event) => {
                  if (drawing) return
                  event.stopPropagation()
                  event.currentTarget.ownerSVGElement?.setPointerCapture(event.pointerId)
                  setHeld({ index: i, frame })
                }}
              />
            ))}
          </>
        )}
      </svg>
      <p>Drag points; press the line to add one, double-click to remove. Squares of {step} mm.</p>
      <SwitchInput label="Closed" value={value.closed} onChange={(closed) => onChange({ ...value, closed })} />
    </Box>
  )
}
