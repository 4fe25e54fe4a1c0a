'use client'
import { stepKind } from '@kelvar/core/steps/registry'
import type { StepKnob, StepMarks } from '@kelvar/core/steps/step'
import { Line } from '@react-three/drei'
import { Move, MoveHorizontal } from 'lucide-react'
import { type RefObject, useMemo, useRef } from 'react'
import { paramsAtFrame, setValue } from '@/state/actions/tracks'
import { useFrameAtRest, useWorkbench, useWorkbenchStore } from '@/state/context'
import { currentPiece } from '@/state/work'
import { useThemeColour } from '@/ui/day-and-night'
import { alongLine, type Cast, onPlane, type Point, type SpaceKnob } from './space-knobs'

const rounded = (value: number, step: number) => Number((Math.round(value / step) * step).toFixed(4))

interface Entry {
  readonly at: Point
  readonly by: Point
}

/** Knobs that the open step gives: places along the piece, points of a cage. */
export function useStepKnobs(cast: RefObject<Cast | undefined>): readonly SpaceKnob[] {
  const store = useWorkbenchStore()
  const step = useWorkbench((s) => currentPiece(s)?.route.find((r) => r.id === s.openStep && r.on))
  const shown = useFrameAtRest()
  const frame = step?.tracks ? shown : 0
  const knobs = useWorkbench((s) => s.news?.steps.find(({ id }) => id === s.openStep)?.marks?.knobs)
  const count = useRef(0)
  return useMemo(() => {
    const kind = step && stepKind(step.kind)
    if (!kind || !knobs) return NONE
    const params = paramsAtFrame(kind, step, frame)
    const drag = (name: string) => `drag:${step.id}/${name}/${++count.current}`
    /** Follows the pointer in the plane through a place that faces the viewer: so many mm each way. */
    const carried = (x: number, y: number, at: Point, of: string, move: (mm: number[], gesture: string) => void): ReturnType<SpaceKnob['begin']> => {
      const ray = cast.current?.ray(x, y)
      const normal = ray && (ray.direction.toArray() as Point)
      const start = ray && normal && onPlane(ray, at, normal)
      if (!start || !normal) return undefined
      const gesture = drag(of)
      return (px, py, fine) => {
        const next = cast.current?.ray(px, py)
        const to = next && onPlane(next, at, normal)
        if (to)
          move(
            to
              .sub(start)
              .multiplyScalar(fine ? 0.2 : 1)
              .toArray(),
            gesture,
          )
      }
    }
    const lineKnob = ({ name, title, at }: StepKnob, { field, value, unit, step: by, way }: NonNullable<StepKnob['line']>): SpaceKnob => {
      const size = Math.hypot(...way)
      // what is set just now, though the piece may still be on its way there
      const now = Number(params[field] ?? value)
      const set = (to: number, gesture?: string) => setValue(store, step, field, to, `${kind.title}: ${title.toLowerCase()}`, gesture)
      return {
        name,
        at: at.map((v, k) => v + (now - value) * way[k]) as unknown as Point,
        icon: <MoveHorizontal size={14} aria-hidden />,
        words: `${title} ${now} ${unit}`,
        label: `${kind.title}: ${title.toLowerCase()}`,
        value: now,
        begin(x, y) {
          const ray = cast.current?.ray(x, y)
          if (!ray || size === 0) return undefined
          const [start, gesture] = [alongLine(ray, at, way), drag(field)]
          return (px, py, fine) => {
            const next = cast.current?.ray(px, py)
            if (next) set(rounded(now + (alongLine(next, at, way) - start) / size, fine ? 0.1 : 1), gesture)
          }
        },
        key: (right, up, fine) => set(rounded(now + (right + up) * (fine ? 1 : by), 0.1)),
      }
    }
    const spotKnob = ({ name, title, at: there }: StepKnob, { field, step: by }: NonNullable<StepKnob['spot']>): SpaceKnob => {
      const at = (params[field] as Point | null) ?? there
      const set = (to: readonly number[], gesture?: string) => {
        const next = to.map((v) => Math.min(10_000, Math.max(-10_000, rounded(v, 0.1))))
        setValue(store, step, field, next, `${kind.title}: ${title.toLowerCase()}`, gesture)
      }
      return {
        name,
        at,
        icon: <Move size={14} aria-hidden />,
        words: `${title} ${at.map((v) => rounded(v, 0.1)).join(', ')} mm`,
        label: `${kind.title}: ${title.toLowerCase()}`,
        begin: (x, y) =>
          carried(x, y, at, field, (mm, gesture) =>
            set(
              mm.map((v, k) => at[k] + v),
              gesture,
            ),
          ),
        key: (right, up, fine) => set([at[0] + right * (fine ? 0.1 : by), at[1] + up * (fine ? 0.1 : by), at[2]]),
      }
    }
    const freeKnob = ({ name, title, at }: StepKnob, free: NonNullable<StepKnob['free']>): SpaceKnob => {
      const list = (params[free.field] ?? []) as readonly Entry[]
      const here = ({ at: place }: Entry) => place.every((n, k) => n === free.at[k])
      const now = list.find(here)?.by ?? [0, 0, 0]
      const set = (by: readonly number[], gesture?: string) => {
        const next = by.map((v) => Math.min(1000, Math.max(-1000, rounded(v, 0.1))))
        const others = list.filter((entry) => !here(entry))
        const value = next.every((v) => v === 0) ? others : [...others, { at: free.at, by: next }]
        setValue(store, step, free.field, value, `${kind.title}: ${title.toLowerCase()}`, gesture)
      }
      return {
        name,
        at,
        icon: null,
        small: true,
        words: `${title}${now.every((v) => v === 0) ? '' : `: ${now.map((v) => `${v}`).join(', ')} %`}`,
        label: `${kind.title}: ${title.toLowerCase()}`,
        value: Math.hypot(...now),
        begin: (x, y) =>
          carried(x, y, at, name, (mm, gesture) =>
            set(
              mm.map((v, k) => now[k] + v * free.perMm[k]),
              gesture,
            ),
          ),
        key: (right, up, fine) => set([now[0] + right * (fine ? 0.1 : free.step), now[1] + up * (fine ? 0.1 : free.step), now[2]]),
      }
    }
    return knobs.flatMap((knob) =>
      knob.line ? [lineKnob(knob, knob.line)] : knob.spot ? [spotKnob(knob, knob.spot)] : knob.free ? [freeKnob(knob, knob.free)] : [],
    )
  }, [step, knobs, frame, cast, store])
}

const NONE: readonly SpaceKnob[] = []

/** What the open step's knobs belong to. */
export function StepLines({ lines }: { lines: NonNullable<StepMarks['lines']> }) {
  const colour = useThemeColour('--action')
  const segments = useMemo(
    () => lines.flatMap((line) => line.slice(1).flatMap((to, i) => [[...line[i]] as [number, number, number], [...to] as [number, number, number]])),
    [lines],
  )
  return <Line points={segments} segments color={colour} lineWidth={1} transparent opacity={0.55} depthTest={false} renderOrder={3} />
}
