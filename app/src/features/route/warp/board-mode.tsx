'use client'
import type { RouteStep } from '@kelvar/core/document/schema'
import type { NodePath, PathNode } from '@kelvar/core/outline/nodes'
import { warpParams } from '@kelvar/core/steps/outline/warp/schema'
import { MousePointer2 } from 'lucide-react'
import { useRef, useState } from 'react'
import { useWorkbench, useWorkbenchStore } from '@/state/context'
import type { BoardGround } from '@/workers/messages'
import { Board, type BoardTool, NEAR_PX, useScale } from '../../draw/board'
import { boxOf, Ghost } from '../../draw/ghost'
import { useGround } from '../../draw/ground'
import { BoardPanel, type EditedShape, usePathEditing } from '../../draw/path-editing'
import { BoardHead } from '../../draw/toolbar'
import { setParam } from '@/state/actions/steps'

type Box = readonly [number, number, number, number]

/** Draws what a Warp step bends the outline between: two lines, or four corners. Both are kept as shares of the outline's box. */
export function WarpMode({ step }: { step: RouteStep }) {
  const parsed = warpParams.safeParse(step.params)
  const params = parsed.success ? parsed.data : warpParams.parse({})
  const ground = useGround(step.id)
  const box = boxOf(ground?.drawing)
  if (!box)
    return <Board content={undefined} contentKey={step.id} typeLines={[]} tool={{}} told="There is no outline to warp yet" head={<BoardHead tools={[]} />} />
  return params.shape === 'envelope' ? (
    <LinesMode step={step} ground={ground} box={box} top={params.top} bottom={params.bottom} />
  ) : (
    <CornersMode step={step} ground={ground} box={box} corners={params.corners} />
  )
}

const TOOLS = [{ id: 'nodes', label: 'Nodes', icon: MousePointer2 }] as const

function LinesMode({
  step,
  ground,
  box: [x0, y0, x1, y1],
  top,
  bottom,
}: {
  step: RouteStep
  ground: BoardGround | undefined
  box: Box
  top: NodePath
  bottom: NodePath
}) {
  const store = useWorkbenchStore()
  const drawing = useWorkbench((s) => s.news?.steps.find((n) => n.id === step.id)?.drawing)
  const [w, h] = [x1 - x0, y1 - y0]
  const scaled = (line: NodePath, place: (n: PathNode) => PathNode): NodePath => ({ closed: false, nodes: line.nodes.map(place) })
  const toMm = (line: NodePath) =>
    scaled(line, (n) => ({
      ...n,
      x: x0 + n.x * w,
      y: y0 + n.y * h,
      ...(n.in ? { in: [n.in[0] * w, n.in[1] * h] as [number, number] } : {}),
      ...(n.out ? { out: [n.out[0] * w, n.out[1] * h] as [number, number] } : {}),
    }))
  const toShares = (line: NodePath) =>
    scaled(line, (n) => ({
      ...n,
      x: (n.x - x0) / w,
      y: (n.y - y0) / h,
      ...(n.in ? { in: [n.in[0] / w, n.in[1] / h] as [number, number] } : {}),
      ...(n.out ? { out: [n.out[0] / w, n.out[1] / h] as [number, number] } : {}),
    }))
  const shapes: EditedShape[] = [
    { ...toMm(bottom), id: 'bottom' },
    { ...toMm(top), id: 'top' },
  ]
  const editing = usePathEditing<EditedShape>({
    shapes,
    onChange(next, label, gesture) {
      for (const name of ['bottom', 'top'] as const) {
        const line = next.find((s) => s.id === name)
        const before = shapes.find((s) => s.id === name)
        if (line && line.nodes !== before?.nodes) setParam(store, step.id, name, toShares(line), label, gesture)
      }
    },
    tool: 'nodes',
    closing: false,
    tolerance: 0.5,
  })
  return (
    <Board
      content={boxOf(drawing ?? ground?.drawing)}
      contentKey={step.id}
      typeLines={[]}
      tool={editing.tool}
      told={editing.told}
      head={
        <BoardHead
          tools={TOOLS}
          value="nodes"
          onChange={() => {}}
          options={<p>The letters stand between these two lines. Double-press a line for another node.</p>}
        />
      }
      under={<Ghost drawing={drawing ?? ground?.drawing} as="filled" />}
      aside={editing.panel && <BoardPanel>{editing.panel}</BoardPanel>}
    >
      {editing.overlay}
    </Board>
  )
}

const CORNER_NAMES = ['lower left', 'lower right', 'upper right', 'upper left']

function CornersMode({
  step,
  ground,
  box: [x0, y0, x1, y1],
  corners,
}: {
  step: RouteStep
  ground: BoardGround | undefined
  box: Box
  corners: readonly (readonly [number, number])[]
}) {
  const store = useWorkbenchStore()
  const drawing = useWorkbench((s) => s.news?.steps.find((n) => n.id === step.id)?.drawing)
  const points = corners.map(([u, v]): [number, number] => [x0 + u * (x1 - x0), y0 + v * (y1 - y0)])
  const [held, setHeld] = useState(-1)
  const key = useRef('')
  const unit = useRef(1)
  const put = (index: number, x: number, y: number, gesture?: string) => {
    const share = (v: number) => Math.round(Math.max(-10, Math.min(11, v)) * 1e5) / 1e5
    const next = corners.map((c, i) => (i === index ? [share((x - x0) / (x1 - x0)), share((y - y0) / (y1 - y0))] : c))
    setParam(store, step.id, 'corners', next, `Move the ${CORNER_NAMES[index]} corner`, gesture)
  }
  const tool: BoardTool = {
    down(p) {
      const index = points.findIndex(([x, y]) => Math.hypot(x - p.rawX, y - p.rawY) < 1.5 * NEAR_PX * unit.current)
      key.current = `drag:${performance.now()}`
      setHeld(index)
    },
    drag: (p) => held >= 0 && put(held, p.x, p.y, key.current),
    key(event) {
      const by = ({ ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] } as Record<string, [number, number]>)[event.key]
      if (!by || held < 0) return false
      put(held, points[held][0] + by[0], points[held][1] + by[1], 'nudge')
      return true
    },
  }
  return (
    <Board
      content={boxOf(drawing ?? ground?.drawing)}
      contentKey={step.id}
      typeLines={[]}
      tool={tool}
      told="Drag the four corners"
      head={<BoardHead tools={[]} options={<p>Drag the four corners: the outline is seen in that perspective.</p>} />}
      under={<Ghost drawing={drawing ?? ground?.drawing} as="filled" />}
    >
      <Corners points={points} held={held} onUnit={(u) => (unit.current = u)} onFocus={setHeld} />
    </Board>
  )
}

function Corners({
  points,
  held,
  onUnit,
  onFocus,
}: {
  points: readonly [number, number][]
  held: number
  onUnit: (unit: number) => void
  onFocus: (index: number) => void
}) {
  const { unit, px } = useScale()
  onUnit(unit)
  const at = points.map(([x, y]) => px(x, y))
  return (
    <g>
      <path d={`M${at.join('L')}Z`} fill="none" stroke="var(--action)" strokeWidth={1.4} />
      {at.map(([x, y], i) => (
        <circle
          key={CORNER_NAMES[i]}
          cx={x}
          cy={y}
          r={6.5}
          fill={held === i ? 'var(--action)' : 'var(--paper)'}
          stroke="var(--action)"
          strokeWidth={2}
          tabIndex={0}
          role="button"
          aria-label={`The ${CORNER_NAMES[i]} corner`}
          onFocus={(event) => event.target.matches(':focus-visible') && onFocus(i)}
        />
      ))}
    </g>
  )
}
