'use client'
import type { RouteStep } from '@kelvar/core/document/schema'
import type { NodePath } from '@kelvar/core/outline/nodes'
import { anchorAt } from '@kelvar/core/steps/outline/extend/anchors'
import { extendParams, type Limb } from '@kelvar/core/steps/outline/extend/schema'
import { GONE, lettersKept } from '@kelvar/core/document/letters'
import { MousePointer2, Pencil, PenTool } from 'lucide-react'
import { useState } from 'react'
import { useWorkbench, useWorkbenchStore } from '@/state/context'
import { NumberInput } from '@/ui/controls'
import { Board } from '../../draw/board'
import { boxOf, Ghost } from '../../draw/ghost'
import { useGround } from '../../draw/ground'
import { BoardPanel, type EditedShape, type PathTool, usePathEditing } from '../../draw/path-editing'
import { BoardHead } from '../../draw/toolbar'
import { setParam } from '@/state/actions/steps'

const TOOLS = [
  { id: 'pencil', label: 'Limb by hand', icon: Pencil },
  { id: 'pen', label: 'Limb with the pen', icon: PenTool },
  { id: 'nodes', label: 'Nodes', icon: MousePointer2 },
] as const

/** An end this near to an outline, mm, is laid on it. */
const REACH = 5

/** Draws limbs from outline to outline. */
export function ExtendMode({ step }: { step: RouteStep }) {
  const store = useWorkbenchStore()
  const parsed = extendParams.safeParse(step.params)
  const { limbs } = parsed.success ? parsed.data : extendParams.parse({})
  const ground = useGround(step.id)
  const drawing = useWorkbench((s) => s.news?.steps.find((n) => n.id === step.id)?.drawing)
  const [tool, setTool] = useState<PathTool>(limbs.list.length === 0 ? 'pencil' : 'nodes')
  const [sizes, setSizes] = useState({ width: 4, endWidth: 4, blend: 2 })
  const shapes = limbs.list.map((limb, i): EditedShape => ({ ...limb.line, id: `limb-${i}` }))

  /** The line with its ends laid on the outlines next to them. */
  const anchored = (line: NodePath, old: Limb | undefined): Limb => {
    const { nodes } = line
    const [a, b] = [nodes[0], nodes[nodes.length - 1]].map((n) => anchorAt(ground?.shapes ?? [], n.x, n.y, REACH))
    const place = ({ at, contour, share }: typeof a) => ({ at, contour, share })
    return {
      ...(old ?? sizes),
      from: place(a),
      to: place(b),
      line: { closed: false, nodes: nodes.map((n, i) => (i === 0 ? { ...n, x: a.x, y: a.y } : i === nodes.length - 1 ? { ...n, x: b.x, y: b.y } : n)) },
    }
  }
  const put = (list: readonly Limb[], label: string, gesture?: string) => setParam(store, step.id, 'limbs', { of: ground?.text ?? '', list }, label, gesture)
  const editing = usePathEditing<EditedShape>({
    shapes,
    onChange(next, label, gesture) {
      if (!ground) return
      const kept = lettersKept(limbs.of, ground.text)
      const onText = (limb: Limb): Limb => {
        const carry = (a: Limb['from']) => (a.at < 0 ? a : { ...a, at: kept.get(a.at) ?? GONE })
        return { ...limb, from: carry(limb.from), to: carry(limb.to) }
      }
      put(
        next.map((s) => {
          const index = Number(s.id.slice('limb-'.length))
          const old = limbs.list[index]
          if (old && old.line.nodes === s.nodes) return onText(old)
          return s.nodes.length > 1 ? anchored(s, old && onText(old)) : { ...(old ?? sizes), from: FREE, to: FREE, line: { closed: false, nodes: s.nodes } }
        }),
        label,
        gesture,
      )
    },
    tool,
    make: (line) => ({ ...line, id: `limb-${shapes.length}` }),
    closing: false,
    tolerance: 0.4,
  })
  const [chosen] = editing.chosen
  // of one limb alone there is no doubt which is meant
  const index = chosen !== undefined ? Number(chosen.slice('limb-'.length)) : limbs.list.length === 1 && tool === 'nodes' ? 0 : -1
  const limb = limbs.list[index]
  const change = (patch: Partial<Pick<Limb, 'width' | 'endWidth' | 'blend'>>, label: string) => {
    setSizes((s) => ({ ...s, ...patch }))
    if (limb)
      put(
        limbs.list.map((l, i) => (i === index ? { ...l, ...patch } : l)),
        label,
        `limb/${index}/${Object.keys(patch).join()}`,
      )
  }
  const shown = limb ?? sizes
  return (
    <Board
      content={boxOf(ground?.drawing)}
      contentKey={step.id}
      typeLines={ground?.guides ?? []}
      tool={editing.tool}
      told={limbs.list.length === 0 && tool === 'pencil' ? 'Draw from one letter’s edge to another’s: the limb grows into both' : editing.told}
      head={
        <BoardHead
          tools={TOOLS}
          value={tool}
          onChange={setTool}
          options={
            <>
              <NumberInput
                label="From"
                unit="mm"
                value={shown.width}
                min={0.1}
                max={500}
                step={0.5}
                onChange={(width) => change({ width }, 'Limb: width at the start')}
              />
              <NumberInput
                label="to"
                unit="mm"
                value={shown.endWidth}
                min={0.1}
                max={500}
                step={0.5}
                onChange={(endWidth) => change({ endWidth }, 'Limb: width at the end')}
              />
              <NumberInput
                label="Corners filled"
                unit="mm"
                value={shown.blend}
                min={0}
                max={200}
                step={0.5}
                onChange={(blend) => change({ blend }, 'Limb: corners')}
              />
            </>
          }
        />
      }
      under={<Ghost drawing={drawing ?? ground?.drawing} as="filled" />}
      aside={editing.panel && <BoardPanel>{editing.panel}</BoardPanel>}
    >
      {editing.overlay}
    </Board>
  )
}

const FREE = { at: -1, contour: 0, share: 0 }
