'use client'
import { type Course, courseOf, easeWith, handleOf, keysOf, roundedFor } from '@kelvar/core/motion/course'
import type { Bezier } from '@kelvar/core/motion/easing'
import { useMemo, useRef, useState } from 'react'
import styled from 'styled-components'
import { NowMark, share } from './lane'
import type { Row } from './rows'

const Sheet = styled.div`
  display: grid;
  grid-template-columns: 168px minmax(0, 1fr);
  height: 132px;
  border-bottom: 1px solid var(--rule);
  .values { position: relative; font-size: 11px; color: var(--soft); font-variant-numeric: tabular-nums; }
  .values span { position: absolute; right: 8px; transform: translateY(-50%); white-space: nowrap; }
  .values .key { left: 14px; right: auto; top: 50%; margin-top: -18px; transform: none; display: grid; gap: 2px; }
  .key em { font-style: normal; display: flex; gap: 6px; align-items: center; }
  .key em::before { content: ''; width: 16px; border-top: 2px solid var(--ink); }
  .key em + em::before { border-top: 1px dashed var(--soft); }
  .lane { position: relative; margin: 0 16px; height: 100%; cursor: pointer; }
  svg { position: absolute; inset: 0; width: 100%; height: 100%; overflow: visible; pointer-events: none; }
  path, line { fill: none; vector-effect: non-scaling-stroke; }
  .rule { stroke: var(--rule); }
  .way { stroke: var(--ink); stroke-width: 1.8; }
  .speed { stroke: var(--soft); stroke-width: 1.2; stroke-dasharray: 3 3; }
  .arm { stroke: var(--action); stroke-width: 1.2; }
`
const Knob = styled.button`
  position: absolute;
  width: 22px;
  height: 22px;
  margin: -11px 0 0 -11px;
  border: 0;
  background: none;
  padding: 0;
  cursor: grab;
  touch-action: none;
  &::before { content: ''; display: block; width: 11px; height: 11px; margin: 5.5px; border-radius: 50%; background: var(--paper); border: 2px solid var(--action); box-sizing: border-box; }
  &[data-handle]::before { border-radius: 2px; width: 9px; height: 9px; margin: 6.5px; }
  &[data-picked]::before { background: var(--action); }
  &:focus-visible { outline: 2px solid var(--action); border-radius: 3px; }
`

interface Gesture {
  readonly name: string
  /** the frame the key stood at when it was last moved */
  readonly from: number
}

/** counted over all sheets, so that no two drags are one step of undo */
let drags = 0

/** The course of one value over all frames, with its speed: keys are moved in time and value, and how the value leaves and reaches the one in hand by its handles. */
export function CourseSheet({
  row,
  frames,
  pickedAt,
  onPick,
  onMove,
  onValue,
  onEase,
  onSeek,
}: {
  row: Row
  frames: number
  /** where the key in hand stands; undefined where none of this row is */
  pickedAt: number | undefined
  onPick: (at: number, more: boolean) => void
  /** moves a key, and tells where it now stands */
  onMove: (to: number, gesture: Gesture) => number
  onValue: (at: number, value: number, gesture: string) => void
  onEase: (at: number, ease: Bezier, gesture: string) => void
  onSeek: (frame: number) => void
}) {
  const lane = useRef<HTMLDivElement>(null)
  const course = useMemo(() => courseOf(row.track, frames), [row.track, frames])
  /** the scale that a drag began with: it must not run away under the hand */
  const [held, hold] = useState<Course>()
  const scale = held ?? course
  const { low, high } = scale
  const y = (value: number) => (100 * (high - value)) / (high - low)
  const keys = keysOf(row.track)
  const picked = keys.findIndex(({ at }) => at === pickedAt)
  const name = `${row.title}, ${row.field}`
  const pointed = (event: React.PointerEvent) => {
    const box = lane.current?.getBoundingClientRect()
    if (!box) return undefined
    return {
      frame: Math.min(frames - 1, Math.max(0, ((event.clientX - box.left) / box.width) * (frames - 1))),
      value: high - ((event.clientY - box.top) / box.height) * (high - low),
    }
  }
  const handles = [
    ...(picked >= 0 && picked < keys.length - 1 ? [{ of: picked, second: false }] : []),
    ...(picked > 0 ? [{ of: picked - 1, second: true }] : []),
  ].flatMap(({ of, second }) => {
    const place = handleOf(keys[of], keys[of + 1], second)
    return place ? [{ of, second, ...place }] : []
  })
  return (
    <Sheet role="group" aria-label={`Course of ${name}`}>
      <div className="values">
        <span style={{ top: `${y(course.most)}%` }}>{words(course.most, row.unit, scale)}</span>
        {course.least < course.most && <span style={{ top: `${y(course.least)}%` }}>{words(course.least, row.unit, scale)}</span>}
        <span className="key">
          <em>value</em>
          <em>speed</em>
        </span>
      </div>
      {/* biome-ignore lint/a11y/noStaticElementInteractions: like a lane, the frames are reached by the fields above as well */}
      <div
        className="lane"
        ref={lane}
        onPointerDown={(event) => {
          if (event.button !== 0 || (event.target instanceof Element && event.target.closest('button'))) return
          event.currentTarget.setPointerCapture(event.pointerId)
          const at = pointed(event)
          if (at) onSeek(at.frame)
        }}
        onPointerMove={(event) => {
          const at = event.currentTarget.hasPointerCapture(event.pointerId) ? pointed(event) : undefined
          if (at) onSeek(at.frame)
        }}
      >
        <svg viewBox="0 0 100 100" preserveAspectRatio="none" aria-hidden>
          {low < 0 && high > 0 && <line className="rule" x1={0} x2={100} y1={y(0)} y2={y(0)} />}
          <path className="speed" d={lineOf(course.speeds.map((speed) => 100 - 24 * speed))} />
          <path className="way" d={lineOf(course.values.map(y))} />
          {handles.map(({ of, second, at, value }) => (
            <line
              key={second ? 'in' : 'out'}
              className="arm"
              x1={across(keys[second ? of + 1 : of].at, frames)}
              y1={y(keys[second ? of + 1 : of].value)}
              x2={across(at, frames)}
              y2={y(value)}
            />
          ))}
        </svg>
        <NowMark frames={frames} />
        {keys.map((key, i) => (
          <Dragged
            key={i}
            label={`${name}: key at frame ${key.at} on its course, ${words(key.value, row.unit, scale)}`}
            picked={i === picked}
            left={share(key.at, frames)}
            top={y(key.value)}
            from={key.at}
            onPick={(more) => onPick(key.at, more)}
            onBegin={() => hold(course)}
            onEnd={() => hold(undefined)}
            onDrag={(event, gesture) => {
              const to = pointed(event)
              if (!to) return gesture.from
              const at = onMove(Math.round(to.frame), gesture)
              onValue(at, roundedFor(scale, to.value), gesture.name)
              return at
            }}
            onArrows={(right, up) => {
              if (right !== 0) onMove(key.at + right, { name: 'key-by-arrows', from: key.at })
              else onValue(key.at, roundedFor(scale, key.value + (up * (high - low)) / 50), 'key-by-arrows')
            }}
          />
        ))}
        {handles.map(({ of, second, at, value }) => (
          <Dragged
            key={second ? 'in' : 'out'}
            handle
            label={second ? `${name}: how it reaches the key at frame ${keys[of + 1].at}` : `${name}: how it leaves the key at frame ${keys[of].at}`}
            picked={false}
            left={share(at, frames)}
            top={Math.min(98, Math.max(2, y(value)))}
            from={at}
            onPick={() => {}}
            onBegin={() => hold(course)}
            onEnd={() => hold(undefined)}
            onDrag={(event, gesture) => {
              const to = pointed(event)
              if (to) onEase(keys[of].at, easeWith(keys[of], keys[of + 1], second, to.frame, to.value), gesture.name)
              return gesture.from
            }}
            onArrows={(right, up) =>
              onEase(keys[of].at, easeWith(keys[of], keys[of + 1], second, at + right / 2, value + (up * (high - low)) / 50), 'course/keys')
            }
          />
        ))}
      </div>
    </Sheet>
  )
}

/** Something that is dragged over the sheet, or moved by arrow keys. */
function Dragged({
  label,
  handle = false,
  picked,
  left,
  top,
  from,
  onPick,
  onBegin,
  onEnd,
  onDrag,
  onArrows,
}: {
  label: string
  handle?: boolean
  picked: boolean
  left: string
  top: number
  from: number
  onPick: (more: boolean) => void
  onBegin: () => void
  onEnd: () => void
  onDrag: (event: React.PointerEvent, gesture: Gesture) => number
  onArrows: (right: number, up: number) => void
}) {
  const gesture = useRef<Gesture>(undefined)
  return (
    <Knob
      type="button"
      aria-label={label}
      data-handle={handle ? '' : undefined}
      data-picked={picked ? '' : undefined}
      style={{ left, top: `${top}%` }}
      onClick={(event) => onPick(event.shiftKey)}
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId)
        gesture.current = { name: `drag:course/${++drags}`, from }
        onBegin()
      }}
      onPointerMove={(event) => {
        if (!gesture.current || !event.currentTarget.hasPointerCapture(event.pointerId)) return
        gesture.current = { ...gesture.current, from: onDrag(event, gesture.current) }
      }}
      onLostPointerCapture={() => {
        gesture.current = undefined
        onEnd()
      }}
      onKeyDown={(event) => {
        const by = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] }[event.key]
        if (!by) return
        event.preventDefault()
        onArrows(by[0] * (event.shiftKey ? 10 : 1), by[1] * (event.shiftKey ? 5 : 1))
      }}
    />
  )
}

const across = (frame: number, frames: number) => (100 * Math.min(frame, frames - 1)) / Math.max(1, frames - 1)

/** A line over the whole width through heights that are evenly apart. */
const lineOf = (heights: readonly number[]) =>
  `M${heights.map((h, i) => `${((100 * i) / Math.max(1, heights.length - 1)).toFixed(3)} ${h.toFixed(2)}`).join('L')}`

const words = (value: number, unit: string | undefined, scale: Course) => `${roundedFor(scale, value)}${unit ? ` ${unit}` : ''}`
