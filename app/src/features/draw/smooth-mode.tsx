'use client'
import type { RouteStep } from '@kelvar/core/document/schema'
import { toPath } from '@kelvar/core/outline/nodes'
import { flattenPath } from '@kelvar/core/outline/flatten'
import { lowerLeft } from '@kelvar/core/steps/redraw/index'
import { smoothParams } from '@kelvar/core/steps/smooth/index'
import { Brush } from 'lucide-react'
import { useMemo, useRef, useState } from 'react'
import { useWorkbench, useWorkbenchStore } from '@/features/workbench/context'
import { currentPiece, setParam, setParams } from '@/features/workbench/store'
import { GONE, lettersKept } from '@kelvar/core/steps/lettering/letters'
import { PlainButton } from '@/ui/buttons'
import { NumberInput } from '@/ui/controls'
import { Board, type BoardPoint, type BoardTool, useScale } from './board'
import { boxOf, Ghost } from './ghost'
import { useGround } from './ground'
import { BoardHead } from './toolbar'

const TOOLS = [{ id: 'brush', label: 'Brush', icon: Brush }] as const

/** Brushes over the parts that a Smooth step smooths; every touch belongs to the letter it lies on. */
export function SmoothMode({ step }: { step: RouteStep }) {
  const store = useWorkbenchStore()
  const parsed = smoothParams.safeParse(step.params)
  const params = parsed.success ? parsed.data : smoothParams.parse({})
  const ground = useGround(step.id)
  const drawing = useWorkbench((s) => s.news?.steps.find((n) => n.id === step.id)?.drawing)
  const [radius, setRadius] = useState(6)
  const [hover, setHover] = useState<BoardPoint>()
  const last = useRef<{ x: number; y: number; key: string } | undefined>(undefined)
  const shapes = useMemo(
    () =>
      (ground?.shapes ?? []).map((shape) => ({
        at: shape.at,
        low: lowerLeft(shape),
        rings: shape.paths.map((p) => flattenPath(toPath(p), { tolerance: 0.1, maxTurn: 20 }).xy),
      })),
    [ground],
  )
  /** the letter whose outline lies nearest to a point */
  const letterAt = (x: number, y: number) => {
    let best = shapes[0]
    let least = Infinity
    for (const shape of shapes)
      for (const ring of shape.rings)
        for (let i = 0; i < ring.length; i += 2) {
          const distance = Math.hypot(ring[i] - x, ring[i + 1] - y)
          if (distance >= least) continue
          least = distance
          best = shape
        }
    return best
  }
  const touch = (x: number, y: number, key: string) => {
    if (!ground) return
    const shape = letterAt(x, y)
    const onLetter = shape && shape.at >= 0
    const round = (v: number) => Math.round(v * 1000) / 1000
    const [lowX, lowY] = onLetter ? shape.low : [0, 0]
    const mark = { at: onLetter ? shape.at : -1, x: round(x - lowX), y: round(y - lowY), r: radius }
    const { touches } = smoothParams.parse(currentPiece(store.getState())?.route.find((s) => s.id === step.id)?.params ?? {})
    const list = touches.of === ground.text ? touches.list : carried(touches, ground.text)
    setStep({ touches: { of: ground.text, list: [...list, mark].slice(-5000) } }, 'Brush over a part', key)
  }
  const setStep = (patch: { touches: typeof params.touches }, label: string, key: string) => {
    if (params.where !== 'brushed') setParams(store, step.id, { where: 'brushed', ...patch }, label)
    else setParam(store, step.id, 'touches', patch.touches, label, key)
  }
  const tool: BoardTool = {
    free: true,
    cursor: 'none',
    hover: setHover,
    down(p) {
      last.current = { x: p.rawX, y: p.rawY, key: `drag:${performance.now()}` }
      touch(p.rawX, p.rawY, last.current.key)
    },
    drag(p) {
      setHover(p)
      const from = last.current
      if (!from || Math.hypot(p.rawX - from.x, p.rawY - from.y) < radius / 3) return
      last.current = { ...from, x: p.rawX, y: p.rawY }
      touch(p.rawX, p.rawY, from.key)
    },
  }
  const kept = ground ? lettersKept(params.touches.of, ground.text) : new Map<number, number>()
  const marks = params.touches.list.flatMap(({ at, x, y, r }) => {
    if (at === -1) return [{ x, y, r }]
    const low = shapes.find((s) => s.at === kept.get(at))?.low
    return low ? [{ x: x + low[0], y: y + low[1], r }] : []
  })
  return (
    <Board
      content={boxOf(ground?.drawing)}
      contentKey={step.id}
      typeLines={ground?.guides ?? []}
      tool={tool}
      told={params.touches.list.length === 0 ? 'Brush over what is to be smoother' : `${params.touches.list.length} touches; how much is set at the step`}
      head={
        <BoardHead
          tools={TOOLS}
          value="brush"
          onChange={() => {}}
          options={<NumberInput label="Brush" unit="mm" value={radius} min={0.2} max={200} step={1} onChange={setRadius} />}
          right={
            params.touches.list.length > 0 && (
              <PlainButton onPress={() => setParam(store, step.id, 'touches', { of: '', list: [] }, 'Take all brushing away')}>Take all away</PlainButton>
            )
          }
        />
      }
      under={
        <>
          <Ghost drawing={drawing ?? ground?.drawing} as="filled" />
          <Ghost drawing={ground?.drawing} as="line" />
          <g opacity={0.16} fill="var(--action)" aria-hidden>
            {marks.map((m, i) => (
              <circle key={i} cx={m.x} cy={m.y} r={m.r} />
            ))}
          </g>
        </>
      }
    >
      {hover && <BrushRing at={hover} radius={radius} />}
    </Board>
  )
}

function carried(touches: { of: string; list: readonly { at: number; x: number; y: number; r: number }[] }, text: string) {
  const kept = lettersKept(touches.of, text)
  return touches.list.map((t) => (t.at < 0 ? t : { ...t, at: kept.get(t.at) ?? GONE }))
}

function BrushRing({ at, radius }: { at: BoardPoint; radius: number }) {
  const { unit, px } = useScale()
  const [x, y] = px(at.rawX, at.rawY)
  return <circle cx={x} cy={y} r={radius / unit} fill="none" stroke="var(--action)" strokeWidth={1.5} pointerEvents="none" />
}
