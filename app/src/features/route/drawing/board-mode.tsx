'use client'
import type { RouteStep } from '@kelvar/core/document/schema'
import { type DrawnShape, drawingParams, MAX_SHAPES } from '@kelvar/core/steps/source/drawing/schema'
import { newId } from '@kelvar/core/document/ids'
import { MousePointer2, Pencil, PenTool } from 'lucide-react'
import { useState } from 'react'
import { useWorkbench, useWorkbenchStore } from '@/state/context'
import { type WorkbenchStore } from '@/state/store'
import { PlainButton } from '@/ui/buttons'
import { ColourInput, NumberInput, PickInput } from '@/ui/controls'
import { Board } from '../../draw/board'
import { boxOf, Ghost } from '../../draw/ghost'
import { BoardPanel, type PathTool, usePathEditing } from '../../draw/path-editing'
import { BoardHead } from '../../draw/toolbar'
import { UnderlayControl, UnderlayPicture, useAspect, useUnderlay, useUnderlayTool } from '../../draw/underlay'
import { currentPiece } from '@/state/work'
import { setParam, setParams } from '@/state/actions/steps'

const TOOLS = [
  { id: 'nodes', label: 'Nodes', icon: MousePointer2 },
  { id: 'pen', label: 'Pen', icon: PenTool },
  { id: 'pencil', label: 'Pencil', icon: Pencil },
] as const

/** Heights of letters that are drawn freely: what a sign writer rules first. */
const RULED = [
  { name: 'Baseline', y: 0 },
  { name: 'x-height', y: 28 },
  { name: 'Cap height', y: 40 },
]

/** Draws a Drawing step's outlines and lines with pen and pencil, over a picture. */
export function DrawingMode({ step }: { step: RouteStep }) {
  const store = useWorkbenchStore()
  const parsed = drawingParams.safeParse(step.params)
  const { shapes, layers } = parsed.success ? parsed.data : drawingParams.parse({})
  const drawing = useWorkbench((s) => s.news?.steps.find((n) => n.id === step.id)?.drawing)
  const [tool, setTool] = useState<PathTool>(shapes.length === 0 ? 'pen' : 'nodes')
  const [layer, setLayer] = useState(layers[0].id)
  const [width, setWidth] = useState(0)
  const [tolerance, setTolerance] = useState(0.3)
  const [underlayMode, setUnderlayMode] = useState<'move' | 'measure'>()
  const underlay = useUnderlayTool(underlayMode, () => setUnderlayMode(undefined))
  const picture = useUnderlay()
  const aspect = useAspect(picture)
  const currentLayer = layers.some((l) => l.id === layer) ? layer : layers[0].id

  const editing = usePathEditing<DrawnShape>({
    shapes,
    onChange: (next, label, gesture) => setParam(store, step.id, 'shapes', next.slice(0, MAX_SHAPES), label, gesture),
    tool,
    make: (drawn) => ({
      ...drawn,
      id: newId('shape', shapesNow(store, step.id)),
      layer: currentLayer,
      width: drawn.closed ? 0 : width,
    }),
    closing: true,
    tolerance,
  })
  const chosen = shapes.filter((s) => editing.chosen.has(s.id))
  const changeChosen = (patch: Partial<DrawnShape>, label: string) =>
    setParam(
      store,
      step.id,
      'shapes',
      shapes.map((s) => (editing.chosen.has(s.id) ? { ...s, ...patch } : s)),
      label,
    )
  const content =
    boxOf(drawing) ?? (picture && aspect ? ([picture.x, picture.y, picture.x + picture.width, picture.y + picture.width * aspect] as const) : undefined)
  return (
    <Board
      content={content}
      contentKey={step.id}
      steady
      typeLines={RULED}
      tool={underlay.tool ?? editing.tool}
      told={underlay.told || editing.told}
      head={
        <BoardHead
          tools={TOOLS}
          value={tool}
          onChange={(next) => {
            setTool(next)
            setUnderlayMode(undefined)
          }}
          options={
            <>
              {tool === 'pencil' && <NumberInput label="Within" unit="mm" value={tolerance} min={0.02} max={5} step={0.05} onChange={setTolerance} />}
              {tool !== 'nodes' && <NumberInput label="New lines" unit="mm" value={width} min={0} max={200} step={0.5} onChange={setWidth} />}
              {layers.length > 1 && tool !== 'nodes' && (
                <PickInput bare label="Layer to draw on" value={currentLayer} onChange={setLayer} options={layers.map((l) => ({ id: l.id, label: l.name }))} />
              )}
            </>
          }
          right={<UnderlayControl onMove={() => setUnderlayMode('move')} onMeasure={() => setUnderlayMode('measure')} />}
        />
      }
      under={
        <>
          <UnderlayPicture />
          <Ghost drawing={drawing} as="filled" />
        </>
      }
      aside={
        underlay.aside ??
        (editing.panel && (
          <BoardPanel>
            {editing.panel}
            {chosen.length > 0 && (
              <>
                <h3 style={{ marginTop: 8 }}>{chosen.length === 1 ? (chosen[0].closed ? 'Outline' : 'Line') : `${chosen.length} shapes`}</h3>
                <NumberInput
                  label="Line width"
                  unit="mm"
                  value={chosen[0].width}
                  min={0}
                  max={500}
                  step={0.5}
                  onChange={(w) => changeChosen({ width: w }, 'Line width')}
                />
                <PickInput
                  label="Layer"
                  value={chosen[0].layer}
                  options={[...layers.map((l) => ({ id: l.id, label: l.name })), { id: '+', label: 'A new layer' }]}
                  onChange={(id) => {
                    if (id !== '+') return changeChosen({ layer: id }, 'Move to another layer')
                    const fresh = newId(
                      'layer',
                      layers.map((l) => l.id),
                    )
                    setParams(
                      store,
                      step.id,
                      {
                        layers: [...layers, { id: fresh, name: `Layer ${layers.length + 1}` }],
                        shapes: shapes.map((s) => (editing.chosen.has(s.id) ? { ...s, layer: fresh } : s)),
                      },
                      'Put on a new layer',
                    )
                  }}
                />
                {layers.length > 1 && (
                  <ColourInput
                    label="Colour of the layer"
                    value={layers.find((l) => l.id === chosen[0].layer)?.colour ?? '#20262b'}
                    onChange={(colour) =>
                      setParam(
                        store,
                        step.id,
                        'layers',
                        layers.map((l) => (l.id === chosen[0].layer ? { ...l, colour } : l)),
                        'Colour of a layer',
                      )
                    }
                  />
                )}
                <PlainButton
                  style={{ marginLeft: -7 }}
                  onPress={() => {
                    const ids = shapes.map((s) => s.id)
                    const copies = chosen.map((s) => {
                      const id = newId('shape', ids)
                      ids.push(id)
                      return { ...s, id, nodes: s.nodes.map((n) => ({ ...n, x: n.x + 5, y: n.y - 5 })) }
                    })
                    setParam(store, step.id, 'shapes', [...shapes, ...copies], 'Copy shapes')
                  }}
                >
                  Copy
                </PlainButton>
              </>
            )}
          </BoardPanel>
        ))
      }
    >
      {underlay.tool ? underlay.overlay : editing.overlay}
    </Board>
  )
}

/** The ids of the shapes as the document has them at this moment: a line can be begun before the page has drawn the last one. */
function shapesNow(store: WorkbenchStore, stepId: string): string[] {
  const step = currentPiece(store.getState())?.route.find((s) => s.id === stepId)
  const list = step?.params.shapes
  return Array.isArray(list) ? (list as DrawnShape[]).map((s) => s.id) : []
}
