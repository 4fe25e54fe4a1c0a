'use client'
import { type CurvePoint, throughPoints } from '@kelvar/core/outline/through-points'
import { Plus, X } from 'lucide-react'
import { useRef, useState } from 'react'
import { useMove } from 'react-aria'
import { Button } from 'react-aria-components'
import styled from 'styled-components'
import { NumberInput } from '@/ui/controls'
import { MOST_CURVE_POINTS } from '@kelvar/core/steps/shared/curve-along'

const Box = styled.fieldset`
  border: 0;
  margin: 4px 0;
  padding: 0;
  min-inline-size: 0;
  legend { color: var(--soft); font-size: 12.5px; padding: 0 0 4px; }
  .frame svg { display: block; width: 100%; height: 86px; overflow: visible; background: var(--paper); border: 1px solid var(--rule); border-radius: 3px; }
  .level { stroke: var(--rule); stroke-width: 1; vector-effect: non-scaling-stroke; }
  .curve { fill: none; stroke: var(--action); stroke-width: 2; vector-effect: non-scaling-stroke; }
  .frame { position: relative; }
  .scale { position: absolute; right: 4px; font-size: 10.5px; color: var(--soft); pointer-events: none; }
  .row { display: grid; grid-template-columns: minmax(0, 1.3fr) minmax(0, 1fr) auto auto; gap: 6px; align-items: center; padding-top: 3px; }
  .row button { border: 0; background: none; color: var(--soft); padding: 4px; border-radius: 3px; cursor: pointer; display: grid; }
  .row button[data-hovered] { color: var(--ink); }
  .row button[data-disabled] { opacity: 0.35; cursor: default; }
`
const Dot = styled.div`
  position: absolute;
  width: 22px;
  height: 22px;
  margin: -11px 0 0 -11px;
  display: grid;
  place-items: center;
  cursor: grab;
  touch-action: none;
  border-radius: 50%;
  &::before { content: ''; width: 9px; height: 9px; border-radius: 50%; background: var(--paper); border: 2px solid var(--action); }
  &[data-chosen]::before { background: var(--action); }
`

const HEIGHT = 86
/** Room between two points along the line. */
const APART = 0.01

/** A value that goes along a length: a curve with points that are dragged, typed, added and taken away. */
export function CurveControl({
  title,
  legend,
  unit = '',
  value,
  least,
  most,
  high,
  step,
  onChange,
}: {
  title: string
  legend: string
  unit?: string
  value: readonly CurvePoint[]
  /** bounds of the value, and what the graph shows as its top */
  least: number
  most: number
  high: number
  step: number
  onChange: (points: CurvePoint[]) => void
}) {
  const [chosen, setChosen] = useState(0)
  const frame = useRef<HTMLDivElement>(null)
  // what goes both ways has its nought in the middle
  const low = least < 0 ? -high : 0
  const top = Math.max(high, ...value.map(([, v]) => v))
  const bottom = Math.min(low, ...value.map(([, v]) => v))
  const up = (v: number) => HEIGHT * (1 - (v - bottom) / (top - bottom))
  const curve = throughPoints(value, 0)
  const at = Math.min(chosen, value.length - 1)
  const point = value[at]

  const move = (i: number, t: number, v: number) => {
    const before = i === 0 ? 0 : value[i - 1][0] + APART
    const after = i === value.length - 1 ? 1 : value[i + 1][0] - APART
    const place = i === 0 ? 0 : i === value.length - 1 ? 1 : Math.min(after, Math.max(before, t))
    const next: CurvePoint = [Number(place.toFixed(4)), Number(Math.min(most, Math.max(least, v)).toFixed(3))]
    onChange(value.map((p, k) => (k === i ? next : p)))
  }
  const add = (t: number, v: number) => {
    if (value.length >= MOST_CURVE_POINTS || value.some(([other]) => Math.abs(other - t) < APART)) return
    const i = value.findIndex(([other]) => other > t)
    setChosen(i)
    onChange([...value.slice(0, i), [Number(t.toFixed(4)), Number(v.toFixed(3))], ...value.slice(i)])
  }
  const remove = () => {
    onChange(value.filter((_, i) => i !== at))
    setChosen(Math.max(0, at - 1))
  }

  return (
    <Box>
      <legend>
        {legend}
        {unit ? `, ${unit}` : ''}
      </legend>
      {/* biome-ignore lint/a11y/noStaticElementInteractions: a shortcut for the button below it */}
      <div
        className="frame"
        ref={frame}
        onDoubleClick={(event) => {
          const box = event.currentTarget.getBoundingClientRect()
          add((event.clientX - box.left) / box.width, bottom + (1 - (event.clientY - box.top) / box.height) * (top - bottom))
        }}
      >
        <svg viewBox={`0 0 100 ${HEIGHT}`} preserveAspectRatio="none" aria-hidden>
          <line className="level" x1={0} x2={100} y1={up(least < 0 ? 0 : Math.min(100, high))} y2={up(least < 0 ? 0 : Math.min(100, high))} />
          <polyline className="curve" points={Array.from({ length: 81 }, (_, i) => `${(i * 100) / 80},${up(curve(i / 80)).toFixed(2)}`).join(' ')} />
        </svg>
        <span className="scale" style={{ top: 2 }} aria-hidden>
          {Math.round(top)}
        </span>
        <span className="scale" style={{ bottom: 2 }} aria-hidden>
          {Math.round(bottom)}
        </span>
        {value.map(([t, v], i) => (
          <CurveDot
            key={i}
            label={`${title}: point ${i + 1}`}
            words={`${Math.round(t * 100)} % along, ${Number(v.toFixed(2))} ${unit}`}
            style={{ left: `${t * 100}%`, top: up(v) }}
            chosen={i === at}
            onChoose={() => setChosen(i)}
            onMove={(dx, dy, typed) => {
              const width = frame.current?.clientWidth ?? 1
              if (typed) move(i, t + Math.sign(dx) * 0.01, v - Math.sign(dy) * step)
              else move(i, t + dx / width, v - (dy / HEIGHT) * (top - bottom))
            }}
          />
        ))}
      </div>
      {point && (
        <div className="row">
          <NumberInput
            hideLabel
            label={`${title}: how far along`}
            unit="% on"
            value={Number((point[0] * 100).toFixed(2))}
            min={0}
            max={100}
            step={1}
            onChange={(percent) => move(at, percent / 100, point[1])}
          />
          <NumberInput
            hideLabel
            label={`${title}: value there`}
            unit={unit}
            value={point[1]}
            min={least}
            max={most}
            step={step}
            onChange={(v) => move(at, point[0], v)}
          />
          <Button
            aria-label={`${title}: add a point after this one`}
            isDisabled={value.length >= MOST_CURVE_POINTS || value.length < 2}
            onPress={() => {
              const [a, b] = at + 1 < value.length ? [at, at + 1] : [at - 1, at]
              const t = (value[a][0] + value[b][0]) / 2
              add(t, curve(t))
            }}
          >
            <Plus size={14} aria-hidden />
          </Button>
          <Button aria-label={`${title}: take this point away`} isDisabled={at === 0 || at === value.length - 1} onPress={remove}>
            <X size={14} aria-hidden />
          </Button>
        </div>
      )}
    </Box>
  )
}

function CurveDot({
  label,
  words,
  style,
  chosen,
  onChoose,
  onMove,
}: {
  label: string
  words: string
  style: { left: string; top: number }
  chosen: boolean
  onChoose: () => void
  onMove: (dx: number, dy: number, typed: boolean) => void
}) {
  const { moveProps } = useMove({
    onMoveStart: onChoose,
    onMove: ({ deltaX, deltaY, pointerType }) => onMove(deltaX, deltaY, pointerType === 'keyboard'),
  })
  return (
    <Dot
      {...moveProps}
      role="slider"
      tabIndex={0}
      aria-label={label}
      aria-valuenow={style.top}
      aria-valuetext={words}
      title={words}
      data-chosen={chosen ? '' : undefined}
      style={style}
      onFocus={onChoose}
    />
  )
}
