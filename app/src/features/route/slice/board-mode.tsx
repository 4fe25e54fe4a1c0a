'use client'
import type { RouteStep } from '@kelvar/core/document/schema'
import { type NodePath } from '@kelvar/core/outline/nodes'
import { nodePath } from '@kelvar/core/outline/node-path'
import { MousePointer2, Pencil, PenTool } from 'lucide-react'
import { useState } from 'react'
import { z } from 'zod'
import { useWorkbench, useWorkbenchStore } from '@/state/context'
import { Board } from '../../draw/board'
import { boxOf, Ghost } from '../../draw/ghost'
import { useGround } from '../../draw/ground'
import { BoardPanel, type EditedShape, type PathTool, usePathEditing } from '../../draw/path-editing'
import { BoardHead } from '../../draw/toolbar'
import { setParam, setParams } from '@/state/actions/steps'

const TOOLS = [
  { id: 'pen', label: 'Cut with the pen', icon: PenTool },
  { id: 'pencil', label: 'Cut by hand', icon: Pencil },
  { id: 'nodes', label: 'Nodes', icon: MousePointer2 },
] as const

const lines = z.array(nodePath).max(24).catch([])

/** Draws the lines that a Slice step cuts along. */
export function SliceMode({ step }: { step: RouteStep }) {
  const store = useWorkbenchStore()
  const drawn = lines.parse(step.params.lines ?? [])
  const ground = useGround(step.id)
  const drawing = useWorkbench((s) => s.news?.steps.find((n) => n.id === step.id)?.drawing)
  const [tool, setTool] = useState<PathTool>(drawn.length === 0 ? 'pen' : 'nodes')
  const shapes = drawn.map((line, i): EditedShape => ({ ...line, id: `line-${i}` }))
  const editing = usePathEditing<EditedShape>({
    shapes,
    onChange(next, label, gesture) {
      const kept = next.slice(0, 24).map(({ closed, nodes }): NodePath => ({ closed, nodes }))
      if (step.params.cut === 'drawn') setParam(store, step.id, 'lines', kept, label, gesture)
      else setParams(store, step.id, { cut: 'drawn', lines: kept }, label)
    },
    tool,
    make: (line) => ({ ...line, id: `line-${shapes.length}` }),
    closing: true,
    tolerance: 0.5,
  })
  return (
    <Board
      content={boxOf(ground?.drawing)}
      contentKey={step.id}
      typeLines={ground?.guides ?? []}
      tool={editing.tool}
      told={drawn.length === 0 && tool === 'pen' ? 'Press on either side of the letters: the line goes on straight beyond its ends' : editing.told}
      head={<BoardHead tools={TOOLS} value={tool} onChange={setTool} options={<p>Lines to cut along. Each side becomes a layer of its own.</p>} />}
      under={<Ghost drawing={drawing ?? ground?.drawing} as="filled" />}
      aside={editing.panel && <BoardPanel>{editing.panel}</BoardPanel>}
    >
      {editing.overlay}
    </Board>
  )
}
