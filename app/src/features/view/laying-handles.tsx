'use client'
import type { StepMarks } from '@kelvar/core/steps/step'
import { stepKind } from '@kelvar/core/steps/registry'
import { effectiveParams, fieldsOf } from '@kelvar/core/steps/fields'
import { Line } from '@react-three/drei'
import { Move, RotateCw, Scaling } from 'lucide-react'
import { type RefObject, useMemo, useRef } from 'react'
import { setParam } from '@/state/actions/steps'
import { useWorkbench, useWorkbenchStore } from '@/state/context'
import { currentPiece } from '@/state/work'
import { useThemeColour } from '@/ui/day-and-night'
import type { ViewMesh } from '@/workers/view-mesh'
import { type Cast, onPlane, type Point, type SpaceKnob } from './space-knobs'

/** The open step's marks in the view, and what it is where it lays words on a surface. */
export function useLaying() {
  const step = useWorkbench((s) => currentPiece(s)?.route.find((r) => r.id === s.openStep && r.on))
  const marks = useWorkbench((s) => s.news?.steps.find(({ id }) => id === s.openStep)?.marks)
  return useMemo(() => {
    const kind = step && stepKind(step.kind)
    if (!kind || !fieldsOf(kind).some(([, { holds }]) => holds === 'spot on the piece')) return undefined
    const params = effectiveParams(kind, step.params)
    return params.lay === 'place' ? undefined : { step, title: kind.title, params, marks }
  }, [step, marks])
}

const SIZE = 14
const round = (v: number, step: number) => Number((Math.round(v / step) * step).toFixed(4))

/** Knobs that slide, turn and size the words of the open step on their surface; none where they are not laid. */
export function useLayingKnobs(mesh: ViewMesh | undefined, cast: RefObject<Cast | undefined>): readonly SpaceKnob[] {
  const store = useWorkbenchStore()
  const laying = useLaying()
  const count = useRef(0)
  return useMemo(() => {
    const frame = laying?.marks?.frame
    if (!laying || !frame || !mesh) return NONE
    const { step, title, params } = laying
    const [x0, y0, z0, x1, y1, z1] = mesh.box
    const arm = Math.max(6, 0.16 * Math.hypot(x1 - x0, y1 - y0, z1 - z0))
    const { point, along, up, normal } = frame
    const from = (u: number, v: number, w = 0.5): Point => [0, 1, 2].map((k) => point[k] + u * along[k] + v * up[k] + w * normal[k]) as unknown as Point
    const wanted = Array.isArray(params.point) ? (params.point as unknown as Point) : from(0, 0)
    const drag = (name: string) => `drag:${step.id}/${name}/${++count.current}`
    const set = (name: string, value: unknown, gesture?: string) =>
      setParam(store, step.id, name, value, `${title}: ${name === 'point' ? 'spot' : name}`, gesture)
    const spot = (p: Point, gesture?: string) =>
      set(
        'point',
        p.map((v) => round(v, 0.01)),
        gesture,
      )
    const angle = Number(params.angle)
    const size = Number(params.size)
    const inPlane = (x: number, y: number) => {
      const ray = cast.current?.ray(x, y)
      const at = ray && onPlane(ray, point, normal)
      if (!at) return undefined
      const d = [at.x - point[0], at.y - point[1], at.z - point[2]]
      return [d[0] * along[0] + d[1] * along[1] + d[2] * along[2], d[0] * up[0] + d[1] * up[1] + d[2] * up[2]] as const
    }
    return [
      {
        name: 'slide',
        // where it is wanted, though the words may still be on their way there
        at: wanted,
        icon: <Move size={SIZE} aria-hidden />,
        words: 'Slide over the surface',
        label: `${title}: slide over the surface`,
        begin() {
          const gesture = drag('point')
          return (x, y) => {
            const hit = cast.current?.hit(x, y)
            if (hit) spot(hit, gesture)
          }
        },
        key: (right, upwards, fine) => spot(from(right * (fine ? 0.1 : 1), upwards * (fine ? 0.1 : 1), 0)),
      },
      {
        name: 'turn',
        at: from(arm, 0),
        icon: <RotateCw size={SIZE} aria-hidden />,
        words: `Angle ${round(angle, 0.1)}°`,
        label: `${title}: turn`,
        value: angle,
        begin(x, y) {
          const start = inPlane(x, y)
          if (!start) return undefined
          const first = Math.atan2(start[1], start[0])
          const gesture = drag('angle')
          return (px, py, fine) => {
            const at = inPlane(px, py)
            if (!at) return
            const turned = ((Math.atan2(at[1], at[0]) - first) * 180) / Math.PI
            const whole = angle + (((turned + 540) % 360) - 180)
            set('angle', round(whole, fine ? 0.1 : 1), gesture)
          }
        },
        key: (right, upwards, fine) => set('angle', round(angle + (upwards - right) * (fine ? 1 : 5), 0.1)),
      },
      {
        name: 'size',
        at: from(0.75 * arm, 0.55 * arm),
        icon: <Scaling size={SIZE} aria-hidden />,
        words: `Size ${round(size, 0.1)} %`,
        label: `${title}: size`,
        value: size,
        begin(x, y) {
          const start = inPlane(x, y)
          const far = start && Math.hypot(...start)
          if (!far) return undefined
          const gesture = drag('size')
          return (px, py, fine) => {
            const at = inPlane(px, py)
            if (at) set('size', Math.min(10_000, Math.max(1, round((size * Math.hypot(...at)) / far, fine ? 0.1 : 1))), gesture)
          }
        },
        key: (right, upwards, fine) => set('size', Math.min(10_000, Math.max(1, round(size + (right + upwards) * (fine ? 1 : 5), 0.1)))),
      },
    ]
  }, [laying, mesh, cast, store])
}

const NONE: readonly SpaceKnob[] = []

/** What the open step's words are wrapped round, and the direction they run in. */
export function LayingMarks({ marks }: { marks: StepMarks }) {
  const colour = useThemeColour('--action')
  const { axis, frame } = marks
  return (
    <>
      {axis && (
        <Line points={[[...axis.from], [...axis.to]]} color={colour} lineWidth={1.4} dashed dashSize={4} gapSize={2} depthTest={false} renderOrder={3} />
      )}
      {frame && (
        <Line
          points={[-9, 9].map((u) => [0, 1, 2].map((k) => frame.point[k] + u * frame.along[k] + 0.3 * frame.normal[k]) as [number, number, number])}
          color={colour}
          lineWidth={1.6}
          depthTest={false}
          renderOrder={3}
        />
      )}
    </>
  )
}
