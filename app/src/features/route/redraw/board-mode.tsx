'use client'
import type { RouteStep } from '@kelvar/core/document/schema'
import { flattenPath } from '@kelvar/core/outline/flatten'
import { windsAbout } from '@kelvar/core/outline/areas'
import { fromPath, type NodePath, toPath } from '@kelvar/core/outline/nodes'
import { controlBounds, toSvgPath, transformPath } from '@kelvar/core/outline/path'
import { lettersKept } from '@kelvar/core/document/letters'
import { mapBetween } from '@kelvar/core/steps/outline/redraw/map-between'
import { type RedrawnLetter, type RedrawParams, redrawParams } from '@kelvar/core/steps/outline/redraw/schema'
import { MousePointer2, Pencil, PenTool } from 'lucide-react'
import { useMemo, useState } from 'react'
import { useWorkbench, useWorkbenchStore } from '@/state/context'
import { PlainButton } from '@/ui/buttons'
import type { BoardGround } from '@/workers/messages'
import { Board, type BoardTool } from '../../draw/board'
import { boxOf, Ghost } from '../../draw/ghost'
import { useGround } from '../../draw/ground'
import { BoardPanel, type EditedShape, type PathTool, usePathEditing } from '../../draw/path-editing'
import { BoardHead } from '../../draw/toolbar'
import { setParam } from '@/state/actions/steps'

const TOOLS = [
  { id: 'nodes', label: 'Nodes', icon: MousePointer2 },
  { id: 'pen', label: 'Pen', icon: PenTool },
  { id: 'pencil', label: 'Pencil', icon: Pencil },
] as const

interface Drawable {
  /** names the shape among those on the board */
  readonly id: string
  readonly shape: BoardGround['shapes'][number]
  /** its place in the list of edits; undefined when it has none */
  readonly edit: number | undefined
  /** its outlines as they are now */
  readonly paths: readonly NodePath[]
}

/** The shapes on the board with what was drawn for them, as the step itself finds them. */
function drawablesOf(ground: BoardGround, edits: RedrawParams['edits']): { drawables: Drawable[]; aside: RedrawnLetter[] } {
  const kept = lettersKept(edits.of, ground.text)
  const used = new Set<number>()
  const drawables = ground.shapes.map((shape, i): Drawable => {
    const edit = edits.list.findIndex(
      (e, k) =>
        !used.has(k) &&
        e.text === shape.text &&
        (shape.at < 0 ? e.at < 0 : e.at >= 0 && kept.get(e.at) === shape.at) &&
        mapBetween(e.base, shape.paths) !== undefined,
    )
    const id = `shape-${i}`
    if (edit < 0) return { id, shape, edit: undefined, paths: shape.paths }
    used.add(edit)
    const map = mapBetween(edits.list[edit].base, shape.paths)
    return { id, shape, edit, paths: map ? edits.list[edit].paths.map((p) => fromPath(transformPath(toPath(p), map))) : shape.paths }
  })
  return { drawables, aside: edits.list.filter((_, k) => !used.has(k)) }
}

/** Changes the outlines of letters by hand: a letter is chosen, then its nodes are moved. */
export function RedrawMode({ step }: { step: RouteStep }) {
  const store = useWorkbenchStore()
  const parsed = redrawParams.safeParse(step.params)
  const { edits } = parsed.success ? parsed.data : redrawParams.parse({})
  const ground = useGround(step.id)
  const drawing = useWorkbench((s) => s.news?.steps.find((n) => n.id === step.id)?.drawing)
  const [tool, setTool] = useState<PathTool>('nodes')
  const [chosen, setChosen] = useState<string>()
  const [hovered, setHovered] = useState<string>()
  const { drawables, aside } = useMemo(() => (ground ? drawablesOf(ground, edits) : { drawables: [], aside: [] }), [ground, edits])
  const inHand = drawables.find((d) => d.id === chosen)
  const rings = useMemo(
    () =>
      drawables.map((d) => {
        const paths = d.paths.map((p) => toPath({ ...p, closed: true }))
        return { id: d.id, box: controlBounds(paths), rings: paths.map((p) => flattenPath(p, { tolerance: 0.1, maxTurn: 20 }).xy) }
      }),
    [drawables],
  )
  // within the letter, or at least within the box about it
  const at = (x: number, y: number) =>
    (rings.find((r) => r.rings.some((ring) => windsAbout(ring, x, y))) ?? rings.find(({ box }) => x > box[0] && y > box[1] && x < box[2] && y < box[3]))?.id

  const save = (drawable: Drawable, paths: readonly NodePath[] | undefined, label: string, gesture?: string, dropped?: RedrawnLetter) => {
    if (!ground) return
    const kept = lettersKept(edits.of, ground.text)
    // the list is written for the text as it is now; what has no place in it is kept without one
    const list = edits.list.flatMap((e, k): RedrawnLetter[] =>
      k === drawable.edit || e === dropped ? [] : [{ ...e, at: e.at < 0 ? -1 : (kept.get(e.at) ?? -1) }],
    )
    const mine: RedrawnLetter[] = paths
      ? [{ at: drawable.shape.at, text: drawable.shape.text, base: drawable.shape.paths as NodePath[], paths: paths as NodePath[] }]
      : []
    setParam(store, step.id, 'edits', { of: ground.text, list: [...list, ...mine] }, label, gesture)
  }
  // what was drawn for such a letter elsewhere, as it would stand here
  const spare = useMemo(() => {
    if (!inHand || inHand.edit !== undefined) return undefined
    for (const edit of aside) {
      const map = edit.text === inHand.shape.text ? mapBetween(edit.base, inHand.shape.paths) : undefined
      if (map) return { edit, paths: edit.paths.map((p) => fromPath(transformPath(toPath(p), map))) }
    }
    return undefined
  }, [inHand, aside])
  const shapes: EditedShape[] = inHand?.paths.map((path, i) => ({ ...path, id: `path-${i}` })) ?? []
  const editing = usePathEditing<EditedShape>({
    shapes,
    onChange: (next, label, gesture) =>
      inHand &&
      save(
        inHand,
        next.map(({ closed, nodes }) => ({ closed, nodes })),
        `${label}${inHand.shape.text ? ` of “${inHand.shape.text}”` : ''}`,
        gesture,
      ),
    tool,
    ...(inHand ? { make: (drawn: NodePath) => ({ ...drawn, id: `path-${shapes.length}` }) } : {}),
    closing: true,
    tolerance: 0.2,
  })
  const boardTool: BoardTool = {
    ...editing.tool,
    hover(p) {
      editing.tool.hover?.(p)
      setHovered(p && tool === 'nodes' ? at(p.rawX, p.rawY) : undefined)
    },
    double(p) {
      const hit = at(p.rawX, p.rawY)
      if (tool === 'nodes' && hit && hit !== chosen) setChosen(hit)
      else editing.tool.double?.(p)
    },
    down(p) {
      const hit = tool === 'nodes' ? at(p.rawX, p.rawY) : undefined
      if (!inHand || (hit && hit !== chosen && editing.chosen.size === 0)) {
        setChosen(hit)
        return
      }
      editing.tool.down?.(p)
    },
    cursor: !inHand ? 'pointer' : editing.tool.cursor,
  }
  const other = hovered !== chosen ? drawables.find((d) => d.id === hovered) : undefined
  return (
    <Board
      content={boxOf(ground?.drawing)}
      contentKey={step.id}
      typeLines={ground?.guides ?? []}
      tool={boardTool}
      told={inHand ? editing.told : 'Press a letter to change its outline'}
      head={
        <BoardHead
          tools={TOOLS}
          value={tool}
          onChange={setTool}
          options={
            <p>
              {inHand
                ? `Changing ${inHand.shape.text ? `“${inHand.shape.text}”` : 'a shape'}. The words stay words.`
                : `${edits.list.length - aside.length} redrawn${aside.length > 0 ? `, ${aside.length} set aside` : ''}.`}
            </p>
          }
          right={
            <>
              {inHand && spare && (
                <PlainButton onPress={() => save(inHand, spare.paths, `Use what was set aside for “${inHand.shape.text}”`, undefined, spare.edit)}>
                  Use the one set aside
                </PlainButton>
              )}
              {inHand?.edit !== undefined && (
                <PlainButton onPress={() => save(inHand, undefined, `Give ${inHand.shape.text ? `“${inHand.shape.text}”` : 'the shape'} its own outline back`)}>
                  Own outline back
                </PlainButton>
              )}
              {inHand && <PlainButton onPress={() => setChosen(undefined)}>Another letter</PlainButton>}
              {aside.length > 0 && (
                <PlainButton
                  onPress={() => setParam(store, step.id, 'edits', { ...edits, list: edits.list.filter((e) => !aside.includes(e)) }, 'Drop what was set aside')}
                >
                  Drop {aside.length} set aside
                </PlainButton>
              )}
            </>
          }
        />
      }
      under={
        <>
          <Ghost drawing={drawing ?? ground?.drawing} as="filled" />
          <Ghost drawing={ground?.drawing} as="line" />
          {other && (
            <path
              d={toSvgPath(
                other.paths.map((p) => toPath({ ...p, closed: true })),
                4,
              )}
              fill="var(--action)"
              fillOpacity={0.22}
              fillRule="evenodd"
              stroke="var(--action)"
              strokeWidth={1.6}
              vectorEffect="non-scaling-stroke"
            />
          )}
        </>
      }
      aside={editing.panel && inHand && <BoardPanel>{editing.panel}</BoardPanel>}
    >
      {inHand && editing.overlay}
    </Board>
  )
}
