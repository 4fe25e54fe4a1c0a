'use client'
import { type Bezier, EASES, eased } from '@kelvar/core/motion/easing'
import type { Track } from '@kelvar/core/motion/track'
import { useMemo, useRef } from 'react'
import styled from 'styled-components'

type Ease = Track['keys'][number]['ease']

const Sheet = styled.svg`
  width: 100%;
  height: 122px;
  flex: none;
  display: block;
  touch-action: none;
  background: color-mix(in srgb, var(--ink) 3%, transparent);
  border-radius: 3px;
  .frame { fill: none; stroke: var(--rule); }
  .way { fill: none; stroke: var(--ink); stroke-width: 1.8; }
  .speed { fill: none; stroke: var(--soft); stroke-width: 1.2; stroke-dasharray: 3 3; }
  .arm { stroke: var(--action); stroke-width: 1.2; }
  circle { fill: var(--paper); stroke: var(--action); stroke-width: 2; cursor: grab; }
  circle:focus-visible { outline: 2px solid var(--action); }
  text { font-size: 10px; fill: var(--soft); }
`

/** The sheet, and where 0 and 1 lie on it: values may go beyond both. */
const WIDTH = 224
const HEIGHT = 122
const LEFT = 12
const RIGHT = WIDTH - 12
const BOTTOM = HEIGHT - 30
const TOP = 30

/** counted over all boxes, so that no two drags are one step of undo */
let drags = 0

const x = (t: number) => LEFT + t * (RIGHT - LEFT)
const y = (v: number) => BOTTOM - v * (BOTTOM - TOP)

/** The way from one key to the next as a curve, value over time, with its speed; its handles are dragged or moved by arrow keys. */
export function CurveBox({ ease, label, onChange }: { ease: Ease; label: string; onChange: (handles: Bezier, gesture: string) => void }) {
  const handles: Bezier | undefined = ease === 'hold' ? undefined : typeof ease === 'string' ? EASES[ease] : ease
  const sheet = useRef<SVGSVGElement>(null)
  const lines = useMemo(() => {
    if (!handles) return undefined
    const values = Array.from({ length: 61 }, (_, i) => eased(handles, i / 60))
    const speeds = values.slice(1).map((v, i) => (v - values[i]) * 60)
    const most = speeds.reduce((a, b) => Math.max(a, Math.abs(b)), 1)
    const path = (points: readonly (readonly [number, number])[]) => `M${points.map(([px, py]) => `${px.toFixed(1)} ${py.toFixed(1)}`).join('L')}`
    return {
      way: path(values.map((v, i) => [x(i / 60), y(v)])),
      speed: path(speeds.map((v, i) => [x((i + 0.5) / 60), HEIGHT - 4 - (Math.abs(v) / most) * 20])),
    }
  }, [handles])
  if (!handles || !lines) return null
  const [x1, y1, x2, y2] = handles
  const set = (second: boolean, px: number, py: number, gesture: string) => {
    const t = Number(Math.min(1, Math.max(0, px)).toFixed(3))
    const v = Number(Math.min(3, Math.max(-2, py)).toFixed(3))
    onChange(second ? [x1, y1, t, v] : [t, v, x2, y2], gesture)
  }
  const handle = (second: boolean) => {
    const [hx, hy] = second ? [x2, y2] : [x1, y1]
    return (
      // biome-ignore lint/a11y/useSemanticElements: a handle in a drawing
      <circle
        cx={x(hx)}
        cy={Math.min(HEIGHT - 6, Math.max(6, y(hy)))}
        r={5.5}
        tabIndex={0}
        role="slider"
        aria-label={second ? `${label}: how it arrives` : `${label}: how it leaves`}
        aria-valuenow={Number(hy.toFixed(2))}
        aria-valuetext={`time ${hx.toFixed(2)}, value ${hy.toFixed(2)}`}
        onPointerDown={(event) => {
          event.currentTarget.setPointerCapture(event.pointerId)
          drags++
        }}
        onPointerMove={(event) => {
          const box = sheet.current?.getBoundingClientRect()
          if (!box || !event.currentTarget.hasPointerCapture(event.pointerId)) return
          const scale = WIDTH / box.width
          const [px, py] = [(event.clientX - box.left) * scale, (event.clientY - box.top) * scale]
          set(second, (px - LEFT) / (RIGHT - LEFT), (BOTTOM - py) / (BOTTOM - TOP), `drag:curve/${drags}`)
        }}
        onKeyDown={(event) => {
          const by = { ArrowLeft: [-0.02, 0], ArrowRight: [0.02, 0], ArrowUp: [0, 0.05], ArrowDown: [0, -0.05] }[event.key]
          if (!by) return
          event.preventDefault()
          set(second, hx + by[0], hy + by[1], 'curve/keys')
        }}
      />
    )
  }
  return (
    <Sheet ref={sheet} viewBox={`0 0 ${WIDTH} ${HEIGHT}`} role="group" aria-label={label}>
      <rect className="frame" x={LEFT} y={TOP} width={RIGHT - LEFT} height={BOTTOM - TOP} />
      <path className="speed" d={lines.speed} />
      <path className="way" d={lines.way} />
      <line className="arm" x1={x(0)} y1={y(0)} x2={x(x1)} y2={y(y1)} />
      <line className="arm" x1={x(1)} y1={y(1)} x2={x(x2)} y2={y(y2)} />
      {handle(false)}
      {handle(true)}
      <text x={LEFT} y={HEIGHT - 4}>
        speed
      </text>
    </Sheet>
  )
}
