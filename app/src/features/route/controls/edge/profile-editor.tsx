'use client'
import { insertNode, moveHandle, nearestPlace, type NodeKind, type NodePath, removeNodes, setNodeKind, toPath } from '@kelvar/core/outline/nodes'
import { NODE_KINDS } from '@kelvar/core/outline/node-path'
import { type Path, toSvgPath } from '@kelvar/core/outline/path'
import { shippedProfile } from '@kelvar/core/solid/profile'
import { PROFILE_NAMES } from '@kelvar/core/solid/profile-names'
import { heldProfile, mirroredProfile, profileFromStroke, profileNodes, profileSize, scaledNodes } from '@kelvar/core/solid/profile-drawing'
import { Trash2, X } from 'lucide-react'
import { type KeyboardEvent, type PointerEvent, useEffect, useMemo, useRef, useState } from 'react'
import { createPortal } from 'react-dom'
import { Button, Heading, Input, Label, TextField } from 'react-aria-components'
import styled from 'styled-components'
import { useWorkbench } from '@/state/context'
import { DRAWER } from '@/ui/drawer'
import { Choice, PlainButton } from '@/ui/buttons'
import { NumberInput, PickInput, SwitchInput } from '@/ui/controls'
import { useMade } from '@/state/use-made'
import { useKeptProfiles } from './kept-profiles'
import { nameOf } from './profile-names'
import type { EdgeParams } from '@kelvar/core/steps/shared/edge'
import { workOf } from '@/state/work'

const Sheet = styled.section`
  outline: none;
  padding: 10px 20px 12px;
  background: var(--paper);
  border-top: 1px solid var(--ink);
  header { display: flex; align-items: baseline; gap: 12px; }
  header h2 { font: 600 16px/1.3 var(--display); }
  header p { margin: 0; color: var(--soft); font-size: 12px; flex: 1; }
  header button { align-self: center; }
  .board { display: grid; grid-template-columns: minmax(0, 1fr) 176px 176px; gap: 20px; margin-top: 8px; }
  svg.curve { width: 100%; height: 300px; border: 1px solid var(--rule); border-radius: 3px; background: var(--ground); touch-action: none; display: block; }
  .grid { stroke: color-mix(in srgb, var(--rule) 60%, transparent); stroke-width: 1px; vector-effect: non-scaling-stroke; }
  .axis { stroke: color-mix(in srgb, var(--ink) 45%, transparent); stroke-width: 1px; vector-effect: non-scaling-stroke; }
  .stone { fill: color-mix(in srgb, var(--ink) 13%, transparent); stroke: none; }
  .line { fill: none; stroke: var(--ink); stroke-width: 2.2px; vector-effect: non-scaling-stroke; stroke-linejoin: round; }
  .limit { stroke: var(--caution); stroke-width: 1.4px; stroke-dasharray: 6 4; vector-effect: non-scaling-stroke; }
  .beyond { fill: color-mix(in srgb, var(--caution) 9%, transparent); }
  .handle { stroke: var(--action); stroke-width: 1px; vector-effect: non-scaling-stroke; }
  .node { fill: var(--paper); stroke: var(--ink); stroke-width: 2px; vector-effect: non-scaling-stroke; cursor: grab; outline: none; }
  .node[data-chosen] { fill: var(--action); stroke: var(--action); }
  .node:focus-visible { stroke: var(--action); stroke-width: 3.5px; }
  .knob { fill: var(--paper); stroke: var(--action); stroke-width: 1.6px; vector-effect: non-scaling-stroke; cursor: grab; }
  text { fill: var(--soft); font-family: var(--text); }
  /* the line of another limit does not run through it */
  text.limit-told { fill: var(--caution); font-weight: 600; paint-order: stroke; stroke: var(--ground); stroke-linejoin: round; }
  .side { display: grid; gap: 4px; align-content: start; }
  .kind > div { grid-template-columns: minmax(0, 1fr); }
  .kind > div > span { display: none; }
  .side h3 { font: 600 12.5px/1.4 var(--display); margin-top: 4px; }
  .two { display: grid; grid-template-columns: 1fr 1fr; gap: 0 10px; }
  .two small { color: var(--soft); font-size: 11px; }
  .foot { display: grid; gap: 4px; margin-top: 4px; border-top: 1px solid var(--rule); padding-top: 8px; }
  .foot .acts { display: flex; justify-content: space-between; margin-left: -7px; }
  .foot .name { display: grid; gap: 1px; }
  .ridge { margin: 4px 0 0; color: var(--caution); font-size: 12px; }
  .foot label { color: var(--soft); font-size: 11px; }
  .foot input { border: 0; border-bottom: 1px solid var(--ink); background: none; padding: 3px 2px; font-weight: 600; }
  .told { color: var(--failure); font-size: 12px; margin: 6px 0 0; }
`
const Round = styled(Button)`
  border: 0;
  background: none;
  padding: 4px;
  color: var(--soft);
  cursor: pointer;
  display: grid;
  border-radius: 3px;
  &[data-hovered] { color: var(--ink); }
`
const Strokes = styled.div`
  display: flex;
  flex-wrap: wrap;
  gap: 5px;
  margin-top: 4px;
  button { width: 60px; height: 40px; border: 1px solid var(--rule); border-radius: 3px; background: var(--paper); padding: 2px; cursor: pointer; }
  button[data-hovered] { border-color: var(--action); }
  svg { width: 100%; height: 100%; }
  path { fill: none; stroke: var(--ink); stroke-width: 1.6px; vector-effect: non-scaling-stroke; }
`

const BOARD = { width: 500, height: 300 }
const KINDS: Record<NodeKind, string> = { corner: 'Corner', smooth: 'Smooth', symmetric: 'Even' }

/** The frame in mm, of the board's shape: the whole profile, its wall and some face, with room. */
function frameOf(drawn: NodePath, limit: number | undefined): readonly [number, number, number, number] {
  const { inset } = profileSize(drawn)
  const lowest = Math.min(0, ...drawn.nodes.map((n) => n.y))
  const highest = Math.max(0.2, ...drawn.nodes.map((n) => n.y))
  // the place where strokes close is worth seeing while it is not far away
  const width = Math.max(inset * 1.62, limit && limit < inset * 3.5 ? limit * 1.42 : 0, ((highest - lowest) * 1.55 * BOARD.width) / BOARD.height, 1)
  const tall = (width * BOARD.height) / BOARD.width
  return [-width * 0.14, (highest + lowest - tall) / 2 + tall * 0.02, width, tall]
}

/** 1, 2 or 5 times a power of ten, about a sixth of the frame. */
function gridStep(width: number): number {
  const rough = width / 7
  const ten = 10 ** Math.floor(Math.log10(rough))
  return ten * (rough / ten > 5 ? 10 : rough / ten > 2 ? 5 : rough / ten > 1 ? 2 : 1)
}

/** The curve of an edge drawn large: nodes dragged or typed, with the place where strokes close in ridges, live in the view. */
export function ProfileEditor({
  title,
  stepId,
  value,
  onChange,
  onClose,
}: {
  title: string
  stepId: string
  value: EdgeParams
  onChange: (edge: EdgeParams) => void
  onClose: () => void
}) {
  const svg = useRef<SVGSVGElement>(null)
  const [chosen, setChosen] = useState(0)
  const [drawer, setDrawer] = useState<HTMLElement | null>(null)
  useEffect(() => setDrawer(globalThis.document.getElementById(DRAWER)), [])
  const [held, setHeld] = useState<{ kind: 'node' | 'in' | 'out'; index: number; frame: readonly [number, number, number, number] }>()
  const [snapping, setSnapping] = useState(true)
  const [mirrored, setMirrored] = useState(false)
  const [name, setName] = useState(value.name ?? '')
  const [message, setMessage] = useState('')
  const [taking, setTaking] = useState(false)
  const { keep, remove, list: profiles } = useKeptProfiles()
  const document = useWorkbench((s) => s.document)
  const pieceId = useWorkbench((s) => s.pieceId)
  const work = useMemo(() => workOf(document, pieceId), [document, pieceId])
  // only what comes before the step decides how wide the strokes are
  const before = JSON.stringify(
    work?.route.slice(
      0,
      work.route.findIndex((s) => s.id === stepId),
    ),
  )
  const strokes = useMade(async (maker) => (work ? maker.strokeHalfWidths(work, stepId) : null), [before], 250)
  const drawn = useMemo(() => drawnOf(value), [value])
  const frame = held?.frame ?? frameOf(drawn, strokes?.most)
  const [x, y, width, height] = frame
  const unit = width / BOARD.width
  const step = gridStep(width)
  const last = drawn.nodes.length - 1
  const index = Math.min(chosen, last)
  const node = drawn.nodes[index]

  const put = (next: NodePath, more: Partial<EdgeParams> = {}) => {
    const usable = mirrored && next.nodes.length > 2 ? mirroredProfile(heldProfile(next)) : heldProfile(next)
    const size = profileSize(usable)
    if (size.inset <= 0.01) return
    onChange({ ...value, profile: 'drawn', drawn: usable, inset: rounded(size.inset), height: rounded(size.height), ...more })
  }
  const placeOf = (event: PointerEvent): [number, number] => {
    const box = (svg.current as SVGSVGElement).getBoundingClientRect()
    return [x + ((event.clientX - box.left) / box.width) * width, y + height - ((event.clientY - box.top) / box.height) * height]
  }
  const snapped = (v: number, to: readonly number[]) => {
    if (!snapping) return v
    const near = [...to, Math.round(v / (step / 5)) * (step / 5)].filter((s) => Math.abs(s - v) < 6 * unit)
    return near.length > 0 ? near.reduce((a, b) => (Math.abs(b - v) < Math.abs(a - v) ? b : a)) : v
  }
  const moveTo = (i: number, px: number, py: number) => {
    if (i === 0) return
    const others = drawn.nodes.filter((_, k) => k !== i)
    const tx = snapped(px, [...others.map((n) => n.x), ...(strokes ? [strokes.least, strokes.most] : [])])
    const ty = snapped(
      py,
      others.map((n) => n.y),
    )
    const low = drawn.nodes[i - 1].x
    const high = drawn.nodes[i + 1]?.x ?? Infinity
    put({ ...drawn, nodes: drawn.nodes.map((n, k) => (k === i ? { ...n, x: Math.max(low, Math.min(high, tx)), y: ty } : n)) })
  }
  const removeAt = (i: number) => {
    if (i === 0 || i === last || drawn.nodes.length < 3) return
    const next = removeNodes(drawn, [i])
    if (next) put(next)
    setChosen(Math.max(0, i - 1))
  }
  const onKey = (i: number) => (event: KeyboardEvent) => {
    const by = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] }[event.key]
    if (event.key === 'Delete' || event.key === 'Backspace') removeAt(i)
    else if (by && i > 0) {
      const far = (event.shiftKey ? 10 : 1) * (step / 10)
      const n = drawn.nodes[i]
      put({ ...drawn, nodes: drawn.nodes.map((m, k) => (k === i ? { ...m, x: Math.max(drawn.nodes[i - 1].x, n.x + by[0] * far), y: n.y + by[1] * far } : m)) })
    } else return
    event.preventDefault()
    event.stopPropagation()
  }
  const lines = (from: number, size: number) =>
    Array.from({ length: Math.ceil(size / step) + 1 }, (_, i) => (Math.ceil(from / step) + i) * step).filter((v) => v < from + size)
  const path = toSvgPath([toPath(drawn)], 4, true)
  const end = drawn.nodes[last]
  const ridge = strokes && end.x > strokes.least

  if (!drawer) return null
  return createPortal(
    <Sheet aria-label={`${title}: profile`}>
      <header>
        <Heading level={2}>{title}</Heading>
        <p>Drag the nodes; press the line to add one, double-click to remove it.</p>
        <Round aria-label="Close the profile editor" onPress={onClose}>
          <X size={17} aria-hidden />
        </Round>
      </header>
      <div className="board">
        <svg
          ref={svg}
          className="curve"
          viewBox={[x, -y - height, width, height].join(' ')}
          role="group"
          aria-label="Nodes of the profile"
          onPointerMove={(event) => {
            if (!held) return
            const [px, py] = placeOf(event)
            if (held.kind === 'node') moveTo(held.index, px, py)
            else {
              const n = drawn.nodes[held.index]
              put(moveHandle(drawn, held.index, held.kind, px - n.x, py - n.y))
            }
          }}
          onPointerUp={() => setHeld(undefined)}
        >
          {lines(x, width).map((gx) => (
            <g key={`x${gx}`}>
              <line className="grid" x1={gx} x2={gx} y1={-y} y2={-y - height} />
              <text x={gx} y={-y - 5 * unit} fontSize={10 * unit} textAnchor="middle">
                {rounded(gx)}
              </text>
            </g>
          ))}
          {lines(y, height).map((gy) => (
            <g key={`y${gy}`}>
              <line className="grid" y1={-gy} y2={-gy} x1={x} x2={x + width} />
              <text x={x + 4 * unit} y={-gy - 2.5 * unit} fontSize={10 * unit}>
                {rounded(gy)}
              </text>
            </g>
          ))}
          <path className="stone" d={`${path.replace(/^M/, `M0 ${-y}L0 0L`)}L${x + width} ${-end.y}L${x + width} ${-y}Z`} />
          <line className="axis" x1={0} x2={0} y1={-y} y2={-y - height} />
          <line className="axis" x1={x} x2={x + width} y1={0} y2={0} />
          {strokes &&
            (strokes.most - strokes.least > width / 40 ? [strokes.least, strokes.most] : [strokes.most]).map(
              (half, i, all) =>
                half < x + width && (
                  <g key={half}>
                    {i === all.length - 1 && <rect className="beyond" x={half} width={x + width - half} y={-y - height} height={height} />}
                    <line className="limit" x1={half} x2={half} y1={-y} y2={-y - height} />
                    <text
                      className="limit-told"
                      x={half + (i > 0 && (x + width - half) / unit > 130 ? 4 : -4) * unit}
                      y={-y - height + (14 + 13 * i) * unit}
                      fontSize={10.5 * unit}
                      strokeWidth={5 * unit}
                      textAnchor={i > 0 && (x + width - half) / unit > 130 ? 'start' : 'end'}
                    >
                      {`half ${all.length === 1 ? 'the stroke' : i === 0 ? 'the thinnest stroke' : 'the widest'} ${half.toFixed(2)} mm`}
                    </text>
                  </g>
                ),
            )}
          {strokes && strokes.least > x + width && (
            <text className="limit-told" x={x + width - 6 * unit} y={-y - height + 14 * unit} fontSize={10.5 * unit} strokeWidth={5 * unit} textAnchor="end">
              {`half the thinnest stroke ${strokes.least.toFixed(2)} mm ▸`}
            </text>
          )}
          <path className="line" d={`M0 ${-y}L0 0${path.replace(/^M[^A-Z]*/, '')}L${x + width} ${-end.y}`} style={{ pointerEvents: 'none' }} />
          <path
            d={path}
            fill="none"
            stroke="transparent"
            strokeWidth={13 * unit}
            style={{ cursor: 'copy' }}
            onPointerDown={(event) => {
              const [px, py] = placeOf(event)
              const place = nearestPlace(drawn, px, py)
              if (!place) return
              put(insertNode(drawn, place.side, place.t))
              setChosen(place.side + 1)
            }}
          />
          {drawn.nodes.map(({ x: nx, y: ny, in: arriving, out }, i) =>
            ([arriving && (['in', arriving] as const), out && (['out', out] as const)] as const).map(
              (h) =>
                h &&
                (i === index || Math.abs(i - index) === 1) && (
                  <g key={`${i}${h[0]}`}>
                    <line className="handle" x1={nx} y1={-ny} x2={nx + h[1][0]} y2={-ny - h[1][1]} />
                    <rect
                      className="knob"
                      x={nx + h[1][0] - 3.6 * unit}
                      y={-ny - h[1][1] - 3.6 * unit}
                      width={7.2 * unit}
                      height={7.2 * unit}
                      onPointerDown={(event) => {
                        event.stopPropagation()
                        event.currentTarget.ownerSVGElement?.setPointerCapture(event.pointerId)
                        setChosen(i)
                        setHeld({ kind: h[0], index: i, frame })
                      }}
                    />
                  </g>
                ),
            ),
          )}
          {drawn.nodes.map((n, i) => (
            <circle
              key={i}
              className="node"
              data-chosen={i === index ? '' : undefined}
              cx={n.x}
              cy={-n.y}
              r={5.4 * unit}
              tabIndex={0}
              role="button"
              aria-label={`Node ${i + 1}: inset ${rounded(n.x)} mm, height ${rounded(n.y)} mm`}
              onFocus={() => setChosen(i)}
              onKeyDown={onKey(i)}
              onDoubleClick={() => removeAt(i)}
              onPointerDown={(event) => {
                event.stopPropagation()
                event.currentTarget.ownerSVGElement?.setPointerCapture(event.pointerId)
                setChosen(i)
                setHeld({ kind: 'node', index: i, frame })
              }}
            />
          ))}
        </svg>
        <div className="side">
          <h3>Node {index + 1}</h3>
          <div className="two">
            <div>
              <small>Inset</small>
              <NumberInput hideLabel label="Node: inset" value={node.x} min={0} max={500} step={0.1} unit="mm" onChange={(v) => moveExact(index, v, node.y)} />
            </div>
            <div>
              <small>Height</small>
              <NumberInput
                hideLabel
                label="Node: height"
                value={node.y}
                min={-500}
                max={500}
                step={0.1}
                unit="mm"
                onChange={(v) => moveExact(index, node.x, v)}
              />
            </div>
          </div>
          <div className="kind">
            <Choice
              label="Kind of node"
              value={node.kind ?? 'corner'}
              options={NODE_KINDS.map((id) => ({ id, label: KINDS[id] }))}
              onChange={(kind) => put(setNodeKind(drawn, index, kind))}
            />
          </div>
          <PlainButton style={{ justifySelf: 'start', marginLeft: -7 }} isDisabled={index === 0 || index === last} onPress={() => removeAt(index)}>
            Remove node
          </PlainButton>
          {ridge && (
            <p className="ridge">
              Wider than half of {end.x > (strokes?.most ?? 0) ? 'every stroke: the letters close' : 'some strokes: those letters close'} in ridges.
            </p>
          )}
        </div>
        <div className="side">
          <h3>Curve</h3>
          <SwitchInput label="Snap" value={snapping} onChange={setSnapping} />
          <SwitchInput
            label="Halves alike"
            value={mirrored}
            onChange={(on) => {
              setMirrored(on)
              if (on && drawn.nodes.length > 2) put(mirroredProfile(drawn))
            }}
          />
          <PickInput
            bare
            label="Begin with a profile"
            value="none"
            options={[{ id: 'none', label: 'Begin with…' }, ...PROFILE_NAMES.filter((n) => n !== 'square').map((id) => ({ id, label: nameOf(id) }))]}
            onChange={(id) => {
              if (id === 'none') return
              setChosen(0)
              put(profileNodes(shippedProfile(id, value.inset || 1.5, value.height || 1.5), value.inset || 1.5, value.height || 1.5), { name: undefined })
            }}
          />
          <PlainButton style={{ justifySelf: 'start', marginLeft: -7 }} aria-expanded={taking} onPress={() => setTaking(!taking)}>
            Take a drawn stroke
          </PlainButton>
          <div className="foot">
            <TextField className="name" value={name} onChange={setName} maxLength={60}>
              <Label>Name in the cabinet</Label>
              <Input placeholder="e.g. Pier rail" />
            </TextField>
            <div className="acts">
              <PlainButton
                isDisabled={name.trim() === ''}
                onPress={async () => {
                  const failed = await keep({ name: name.trim(), drawn })
                  setMessage(failed ?? '')
                  if (!failed) onChange({ ...value, profile: 'drawn', drawn, ...sizeOf(drawn), name: name.trim() })
                }}
              >
                Keep in the cabinet
              </PlainButton>
              {profiles.some((p) => p.name === name.trim()) && (
                <Round
                  aria-label={`Remove ${name.trim()} from the cabinet`}
                  onPress={async () => setMessage((await remove(profiles.find((p) => p.name === name.trim())?.id ?? '')) ?? '')}
                >
                  <Trash2 size={15} aria-hidden />
                </Round>
              )}
            </div>
          </div>
        </div>
      </div>
      {taking && (
        <DrawnStrokes
          onTake={(path) => {
            setTaking(false)
            const taken = heldProfile(profileFromStroke(path))
            const size = profileSize(taken)
            if (size.inset <= 0.01) return setMessage('That stroke goes straight up: it has no inset.')
            setMessage('')
            setChosen(0)
            // at the size the edge has, whatever the drawing's scale
            put(scaledNodes(taken, (value.inset || 1.5) / size.inset, size.height > 0 ? (value.height || 1.5) / size.height : 1))
          }}
        />
      )}
      {message && (
        <p className="told" role="alert">
          {message}
        </p>
      )}
    </Sheet>,
    drawer,
  )

  function moveExact(i: number, nx: number, ny: number) {
    if (i === 0) return
    put({ ...drawn, nodes: drawn.nodes.map((n, k) => (k === i ? { ...n, x: nx, y: ny } : n)) })
  }
}

/** The open strokes of every piece, to take one as a profile. */
function DrawnStrokes({ onTake }: { onTake: (path: Path) => void }) {
  const document = useWorkbench((s) => s.document)
  const strokes = useMade(
    async (maker) =>
      (await Promise.all(document.pieces.map(async (piece) => maker.openStrokes(workOf(document, piece.id) as NonNullable<ReturnType<typeof workOf>>)))).flat(),
    [document],
    400,
  )
  if (!strokes) return <p data-pulse>Looking for strokes…</p>
  if (strokes.length === 0)
    return <p style={{ margin: '8px 0 0', color: 'var(--soft)' }}>No piece has an open stroke. Draw one, or bring in a vector file that has.</p>
  return (
    <Strokes aria-label="Drawn strokes" role="group">
      {strokes.map((path, i) => {
        const xs = path.coords.filter((_, k) => k % 2 === 0)
        const ys = path.coords.filter((_, k) => k % 2 === 1)
        const box = [Math.min(...xs), -Math.max(...ys), Math.max(...xs) - Math.min(...xs), Math.max(...ys) - Math.min(...ys)]
        const room = Math.max(box[2], box[3], 1) * 0.08
        return (
          <Button key={i} aria-label={`Stroke ${i + 1}`} onPress={() => onTake(path)}>
            <svg viewBox={[box[0] - room, box[1] - room, box[2] + 2 * room, box[3] + 2 * room].join(' ')} aria-hidden>
              <path d={toSvgPath([path], 3, true)} />
            </svg>
          </Button>
        )
      })}
    </Strokes>
  )
}

const rounded = (v: number) => Number(v.toFixed(3))
const sizeOf = (drawn: NodePath) => {
  const { inset, height } = profileSize(drawn)
  return { inset: rounded(inset), height: rounded(height) }
}

/** Any edge as nodes at its own size. */
export function drawnOf(edge: EdgeParams): NodePath {
  const { profile, inset, height } = edge
  if (profile === 'drawn' && edge.drawn) {
    const size = profileSize(edge.drawn)
    return size.inset > 0 ? scaledNodes(edge.drawn, inset / size.inset, size.height > 0 ? height / size.height : 1) : edge.drawn
  }
  if (profile === 'points' && edge.points && edge.points.length > 1) {
    const [lx, ly] = edge.points[edge.points.length - 1]
    return { closed: false, nodes: edge.points.map(([px, py]) => ({ x: (px * inset) / (lx || 1), y: (py * height) / (ly || 1), kind: 'corner' as const })) }
  }
  return profileNodes(
    profile === 'drawn' || profile === 'points' ? undefined : shippedProfile(profile, inset, height),
    Math.max(inset, 0.5),
    Math.max(height, 0.5),
  )
}
