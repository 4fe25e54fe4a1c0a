'use client'
import type { RouteStep } from '@kelvar/core/document/schema'
import { toPath } from '@kelvar/core/outline/nodes'
import { flattenPath } from '@kelvar/core/outline/flatten'
import { isUntouched, smoothParams } from '@kelvar/core/steps/outline/smooth/schema'
import { MOST_TOUCHES, readTouches, type Touch, writeTouches } from '@kelvar/core/steps/outline/smooth/touches'
import { type QueryClient, useQuery, useQueryClient } from '@tanstack/react-query'
import { Brush } from 'lucide-react'
import { useEffect, useMemo, useRef, useState } from 'react'
import { useWorkbench, useWorkbenchStore } from '@/state/context'
import { GONE, lettersKept } from '@kelvar/core/document/letters'
import { PlainButton } from '@/ui/buttons'
import { NumberInput } from '@/ui/controls'
import { Board, type BoardPoint, type BoardTool, useScale } from '../../draw/board'
import { boxOf, Ghost } from '../../draw/ghost'
import { useGround } from '../../draw/ground'
import { BoardHead } from '../../draw/toolbar'
import { lowerLeft } from '@kelvar/core/outline/letter-shapes'
import { setMadeFile } from '@/state/actions/files'
import { placeOf, routeIn, setParam, type StepPlace } from '@/state/actions/steps'
import { keepLocally, madeBytes } from '@/state/local-assets'

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
  const last = useRef<{ x: number; y: number } | undefined>(undefined)
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
  const client = useQueryClient()
  const all = useTouches(params.touches)
  /** this drag's, until they are in the document; a ref beside it, for events come faster than renders */
  const [fresh, setFresh] = useState<readonly Touch[]>([])
  const waiting = useRef<Touch[]>([])
  /** drags are kept one after the other, each on top of what the one before it has left */
  const keeping = useRef(Promise.resolve())
  /** where it was brushed before the outline was there */
  const early = useRef<{ x: number; y: number }[]>([])
  const touch = (x: number, y: number) => {
    if (!ground) {
      early.current.push({ x, y })
      return
    }
    const shape = letterAt(x, y)
    const onLetter = shape && shape.at >= 0
    const round = (v: number) => Math.round(v * 1000) / 1000
    const [lowX, lowY] = onLetter ? shape.low : [0, 0]
    waiting.current.push({ at: onLetter ? shape.at : -1, x: round(x - lowX), y: round(y - lowY), r: radius })
    setFresh([...waiting.current])
  }
  const done = () => {
    if (!ground || !all || waiting.current.length === 0) return
    const drag = waiting.current.splice(0)
    const at = placeOf(store, step.id)
    keeping.current = keeping.current
      .catch(() => {})
      .then(() => keep(at, drag, ground.text))
      .finally(() => setFresh([...waiting.current]))
  }
  /** Puts the touches of one drag on those that the step has by now. */
  const keep = async (at: StepPlace, drag: readonly Touch[], text: string) => {
    const now = routeIn(store.getState().document, at.piece).find((s) => s.id === at.step)
    if (!now) return
    const { of, list, file: kept } = smoothParams.catch(params).parse(now.params).touches
    const before = await touchesOf(client, list, kept)
    const touches = [...(of === text ? before : carried(of, before, text)), ...drag].slice(-MOST_TOUCHES)
    const file = await keepLocally(writeTouches(touches), 'paint', 'Brushed')
    const { sha256, name } = file
    client.setQueryData(['touches', sha256], touches)
    setMadeFile(store, at, { where: 'brushed', touches: { of: text, list: [], file: { sha256, name } } }, file, 'Brush over a part')
  }
  const down = useRef(false)
  const tool: BoardTool = {
    free: true,
    cursor: 'none',
    hover: setHover,
    down(p) {
      down.current = true
      last.current = { x: p.rawX, y: p.rawY }
      touch(p.rawX, p.rawY)
    },
    drag(p) {
      setHover(p)
      const from = last.current
      if (!from || Math.hypot(p.rawX - from.x, p.rawY - from.y) < radius / 3) return
      last.current = { x: p.rawX, y: p.rawY }
      touch(p.rawX, p.rawY)
    },
    up() {
      down.current = false
      done()
    },
  }
  // a drag that began before the outline, or the touches so far, were there is taken up when they are
  useEffect(() => {
    if (!ground || !all) return
    for (const { x, y } of early.current.splice(0)) touch(x, y)
    if (!down.current) done()
  })
  const kept = ground ? lettersKept(params.touches.of, ground.text) : new Map<number, number>()
  const marks = [...(all ?? []), ...fresh].flatMap(({ at, x, y, r }) => {
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
      told={isUntouched(params.touches) ? 'Brush over what is to be smoother' : `${all?.length ?? '…'} touches; how much is set at the step`}
      head={
        <BoardHead
          tools={TOOLS}
          value="brush"
          onChange={() => {}}
          options={<NumberInput label="Brush" unit="mm" value={radius} min={0.2} max={200} step={1} onChange={setRadius} />}
          right={
            !isUntouched(params.touches) && (
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

type TouchFile = { readonly sha256: string }

/** How the touches of a file are asked for; no file has none. */
const touchQuery = (file: TouchFile | undefined) => ({
  queryKey: ['touches', file?.sha256 ?? ''],
  queryFn: async (): Promise<readonly Touch[]> => (file ? readTouches(await madeBytes(file.sha256)) : []),
  staleTime: Number.POSITIVE_INFINITY,
})

const touchesOf = async (client: QueryClient, list: readonly Touch[], file: TouchFile | undefined) => [...list, ...(await client.fetchQuery(touchQuery(file)))]

/** All touches of the step: those in its file, and those an older document has in its values; undefined until they are there. */
function useTouches({ list, file }: { list: readonly Touch[]; file?: TouchFile }): readonly Touch[] | undefined {
  const { data } = useQuery(touchQuery(file))
  return useMemo(() => data && [...list, ...data], [list, data])
}

function carried(of: string, touches: readonly Touch[], text: string): Touch[] {
  const kept = lettersKept(of, text)
  return touches.map((t) => (t.at < 0 ? t : { ...t, at: kept.get(t.at) ?? GONE }))
}

function BrushRing({ at, radius }: { at: BoardPoint; radius: number }) {
  const { unit, px } = useScale()
  const [x, y] = px(at.rawX, at.rawY)
  return <circle cx={x} cy={y} r={radius / unit} fill="none" stroke="var(--action)" strokeWidth={1.5} pointerEvents="none" />
}
