'use client'
import { fitStroke, type PenPoint } from '@kelvar/core/outline/brush'
import {
  closeNodes,
  insertNode,
  joinEnds,
  moveHandle,
  moveNodes,
  type NodeKind,
  type NodePath,
  nearestPlace,
  type PathNode,
  removeNodes,
  reverseNodes,
  setNodeKind,
  splitAt,
  toPath,
} from '@kelvar/core/outline/nodes'
import { NODE_KINDS } from '@kelvar/core/outline/node-path'
import { toSvgPath } from '@kelvar/core/outline/path'
import { type ReactNode, useEffect, useMemo, useRef, useState } from 'react'
import styled from 'styled-components'
import { Choice, PlainButton } from '@/ui/buttons'
import { NumberInput } from '@/ui/controls'
import { type BoardPoint, type BoardTool, NEAR_PX, useScale } from './board'

export interface EditedShape extends NodePath {
  readonly id: string
}

export type PathTool = 'nodes' | 'pen' | 'pencil'

interface Options<S extends EditedShape> {
  readonly shapes: readonly S[]
  /** `gesture` is the same for all changes of one drag */
  readonly onChange: (shapes: readonly S[], label: string, gesture?: string) => void
  readonly tool: PathTool
  /** makes a new shape of a drawn line; left out where none can be added */
  readonly make?: (drawn: NodePath) => S
  /** whether lines can be closed into outlines */
  readonly closing: boolean
  /** how near the pencil's curve keeps to the hand, mm */
  readonly tolerance: number
}

interface Spot {
  readonly shape: string
  readonly node: number
}
const nameOf = ({ shape, node }: Spot) => `${shape}/${node}`
const spotOf = (name: string): Spot => {
  const cut = name.lastIndexOf('/')
  return { shape: name.slice(0, cut), node: Number(name.slice(cut + 1)) }
}
/** The nodes of each shape among spots. */
function byShape(spots: readonly Spot[]): Map<string, number[]> {
  const nodes = new Map<string, number[]>()
  for (const { shape, node } of spots) nodes.set(shape, [...(nodes.get(shape) ?? []), node])
  return nodes
}

type Drag =
  | { kind: 'nodes'; from: readonly EditedShape[]; x: number; y: number; spots: readonly Spot[]; anchor: { x: number; y: number } }
  | { kind: 'handle'; spot: Spot; which: 'in' | 'out' }
  | { kind: 'frame'; x: number; y: number; u: number; v: number; added: boolean }
  | { kind: 'pen'; spot: Spot }
  | { kind: 'pencil'; points: PenPoint[] }

const Panel = styled.div`
  position: absolute;
  right: 12px;
  top: 34px;
  width: 214px;
  padding: 8px 12px 10px;
  border: 1px solid var(--rule);
  border-radius: 5px;
  background: color-mix(in srgb, var(--paper) 94%, transparent);
  box-shadow: 0 6px 20px rgb(var(--shadow) / 0.08);
  font-size: 12.5px;
  h3 { margin: 0 0 4px; font: 600 13.5px/1.4 var(--display); }
  .row { display: flex; flex-wrap: wrap; gap: 2px; margin: 4px -6px 0; }
  .row button { font-size: 12.5px; padding: 4px 6px; }
  .two { display: grid; grid-template-columns: 1fr 1fr; gap: 0 12px; }
  .two small { color: var(--soft); font-size: 11px; }
  .kind > div { grid-template-columns: minmax(0, 1fr); }
  .kind > div > span { display: none; }
`
export { Panel as BoardPanel }

const KIND_WORDS: Record<NodeKind, string> = { corner: 'Corner', smooth: 'Smooth', symmetric: 'Even' }

/** Lines and outlines edited by their nodes, drawn with pen and pencil; gives the board's tool, what it draws and a panel for what is chosen. */
export function usePathEditing<S extends EditedShape>({
  shapes,
  onChange,
  tool,
  make,
  closing,
  tolerance,
}: Options<S>): {
  tool: BoardTool
  overlay: ReactNode
  /** for what is chosen; undefined when nothing is */
  panel: ReactNode | undefined
  /** shapes of which something is chosen */
  chosen: ReadonlySet<string>
  told: string
} {
  const [picked, setPicked] = useState<ReadonlySet<string>>(new Set())
  const [pen, setPen] = useState<string>()
  const [hover, setHover] = useState<BoardPoint>()
  const [frame, setFrame] = useState<Extract<Drag, { kind: 'frame' }>>()
  const [hand, setHand] = useState<NodePath>()
  const drag = useRef<Drag | undefined>(undefined)
  const gesture = useRef('')
  const current = useRef(shapes)
  current.current = shapes
  const unit = useRef(1)

  const byId = useMemo(() => new Map(shapes.map((s) => [s.id, s])), [shapes])
  const spots: Spot[] = useMemo(
    () =>
      [...picked].flatMap((name) => {
        const spot = spotOf(name)
        return spot.node < (byId.get(spot.shape)?.nodes.length ?? 0) ? [spot] : []
      }),
    [picked, byId],
  )
  const chosen = useMemo(() => new Set(spots.map((s) => s.shape)), [spots])
  // another tool ends the line that was being drawn
  useEffect(() => {
    if (tool !== 'pen') setPen(undefined)
  }, [tool])

  const change = (next: readonly S[], label: string, key?: string) => {
    current.current = next
    // each thing done is a step of undo of its own, however quickly the next one follows
    onChange(next, label, key ?? `drag:${performance.now()}`)
  }
  const put = (id: string, path: NodePath | undefined, label: string, key?: string) =>
    change(
      current.current.flatMap((s) => (s.id !== id ? [s] : path ? [{ ...s, closed: path.closed, nodes: path.nodes }] : [])),
      label,
      key,
    )
  const near = (x: number, y: number, u: number, v: number, pixels = NEAR_PX) => Math.hypot(x - u, y - v) < pixels * unit.current

  const hitHandle = (p: BoardPoint): { spot: Spot; which: 'in' | 'out' } | undefined => {
    for (const spot of spots) {
      const node = byId.get(spot.shape)?.nodes[spot.node]
      for (const which of ['out', 'in'] as const) {
        const handle = node?.[which]
        if (node && handle && near(node.x + handle[0], node.y + handle[1], p.rawX, p.rawY)) return { spot, which }
      }
    }
    return undefined
  }
  const hitNode = (p: BoardPoint): Spot | undefined => {
    let best: Spot | undefined
    let least = NEAR_PX * unit.current
    for (const shape of current.current)
      shape.nodes.forEach((node, i) => {
        const distance = Math.hypot(node.x - p.rawX, node.y - p.rawY)
        if (distance >= least) return
        least = distance
        best = { shape: shape.id, node: i }
      })
    return best
  }
  const hitSide = (p: BoardPoint) => {
    let best: { shape: string; side: number; t: number; distance: number } | undefined
    for (const shape of current.current) {
      const place = nearestPlace(shape, p.rawX, p.rawY)
      if (place && place.distance < 6 * unit.current && place.distance < (best?.distance ?? Infinity)) best = { shape: shape.id, ...place }
    }
    return best
  }
  const endPen = () => {
    const line = pen === undefined ? undefined : current.current.find((s) => s.id === pen)
    if (line && line.nodes.length < 2) put(line.id, undefined, 'Drop a single node')
    setPen(undefined)
  }
  const dragKey = () => {
    gesture.current = `drag:${performance.now()}`
    return gesture.current
  }

  const penDown = (p: BoardPoint) => {
    const line = pen === undefined ? undefined : current.current.find((s) => s.id === pen)
    const key = dragKey()
    if (line) {
      const [first] = line.nodes
      if (closing && line.nodes.length > 2 && near(first.x, first.y, p.rawX, p.rawY)) {
        put(line.id, closeNodes(line), 'Close the outline', key)
        setPicked(new Set([nameOf({ shape: line.id, node: 0 })]))
        setPen(undefined)
        return
      }
      put(line.id, { closed: false, nodes: [...line.nodes, { x: p.x, y: p.y, kind: 'corner' }] }, 'Draw with the pen', key)
      const spot = { shape: line.id, node: line.nodes.length }
      drag.current = { kind: 'pen', spot }
      setPicked(new Set([nameOf(spot)]))
      return
    }
    // an end of an open line is gone on from
    const hit = hitNode(p)
    const known = hit && byId.get(hit.shape)
    if (hit && known && !known.closed && (hit.node === 0 || hit.node === known.nodes.length - 1)) {
      if (hit.node === 0 && known.nodes.length > 1) put(known.id, reverseNodes(known), 'Go on drawing', key)
      setPen(known.id)
      const spot = { shape: known.id, node: known.nodes.length - 1 }
      setPicked(new Set([nameOf(spot)]))
      drag.current = { kind: 'pen', spot }
      return
    }
    if (!make) return
    const shape = make({ closed: false, nodes: [{ x: p.x, y: p.y, kind: 'corner' }] })
    change([...current.current, shape], 'Draw with the pen', key)
    setPen(shape.id)
    setPicked(new Set([nameOf({ shape: shape.id, node: 0 })]))
    drag.current = { kind: 'pen', spot: { shape: shape.id, node: 0 } }
  }

  const down = (p: BoardPoint) => {
    if (tool === 'pen') return penDown(p)
    if (tool === 'pencil') {
      if (!make) return
      drag.current = { kind: 'pencil', points: [penPoint(p)] }
      setHand({ closed: false, nodes: [{ x: p.rawX, y: p.rawY }] })
      return
    }
    const added = p.event.shiftKey
    const handle = hitHandle(p)
    if (handle) {
      drag.current = { kind: 'handle', ...handle }
      dragKey()
      return
    }
    const node = hitNode(p)
    if (node) {
      const name = nameOf(node)
      let next = picked
      if (added) {
        const set = new Set(picked)
        if (set.has(name)) set.delete(name)
        else set.add(name)
        next = set
      } else if (!picked.has(name)) next = new Set([name])
      setPicked(next)
      dragKey()
      const at = byId.get(node.shape)?.nodes[node.node] as PathNode
      const list = [...next].map(spotOf)
      drag.current = { kind: 'nodes', from: current.current, x: p.rawX, y: p.rawY, spots: list, anchor: at }
      return
    }
    const side = hitSide(p)
    if (side) {
      // a side taken hold of moves its whole line
      const shape = byId.get(side.shape)
      const list = shape ? shape.nodes.map((_, i) => ({ shape: shape.id, node: i })) : []
      setPicked(new Set([...(added ? picked : []), ...list.map(nameOf)]))
      dragKey()
      drag.current = { kind: 'nodes', from: current.current, x: p.rawX, y: p.rawY, spots: list, anchor: { x: p.rawX, y: p.rawY } }
      return
    }
    drag.current = { kind: 'frame', x: p.rawX, y: p.rawY, u: p.rawX, v: p.rawY, added }
    if (!added) setPicked(new Set())
  }

  const onDrag = (p: BoardPoint) => {
    const d = drag.current
    if (!d) return
    switch (d.kind) {
      case 'nodes': {
        // the node that is held goes to where it is held by; the others go along
        const [dx, dy] = [p.x - d.anchor.x - (p.to.length > 0 ? 0 : d.x - d.anchor.x), p.y - d.anchor.y - (p.to.length > 0 ? 0 : d.y - d.anchor.y)]
        if (Math.hypot(p.rawX - d.x, p.rawY - d.y) < 2 * unit.current && current.current === d.from) return
        const moved = byShape(d.spots)
        change(
          (d.from as readonly S[]).map((s) => (moved.has(s.id) ? { ...s, nodes: moveNodes(s, moved.get(s.id) as number[], dx, dy).nodes } : s)),
          'Move nodes',
          gesture.current,
        )
        return
      }
      case 'handle': {
        const shape = current.current.find((s) => s.id === d.spot.shape)
        const node = shape?.nodes[d.spot.node]
        if (shape && node) put(shape.id, moveHandle(shape, d.spot.node, d.which, p.rawX - node.x, p.rawY - node.y), 'Move a handle', gesture.current)
        return
      }
      case 'pen': {
        const shape = current.current.find((s) => s.id === d.spot.shape)
        const node = shape?.nodes[d.spot.node]
        if (!shape || !node || near(node.x, node.y, p.rawX, p.rawY, 4)) return
        const smooth = { ...shape, nodes: shape.nodes.map((n, i) => (i === d.spot.node ? { ...n, kind: 'symmetric' as const } : n)) }
        put(shape.id, moveHandle(smooth, d.spot.node, 'out', p.rawX - node.x, p.rawY - node.y), 'Draw with the pen', gesture.current)
        return
      }
      case 'pencil': {
        // the device's own points between two frames count too
        const native = p.event.nativeEvent
        const parts = typeof native.getCoalescedEvents === 'function' ? native.getCoalescedEvents() : []
        const toMm = (e: globalThis.PointerEvent) => ({
          x: p.rawX + (e.clientX - p.event.clientX) * unit.current,
          y: p.rawY - (e.clientY - p.event.clientY) * unit.current,
          ...(e.pointerType === 'pen' ? { pressure: e.pressure } : {}),
        })
        if (parts.length > 1) d.points.push(...parts.map(toMm))
        else d.points.push(penPoint(p))
        setHand(fitStroke(d.points, tolerance, false))
        return
      }
      case 'frame': {
        drag.current = { ...d, u: p.rawX, v: p.rawY }
        setFrame(drag.current)
      }
    }
  }

  const up = (p: BoardPoint) => {
    const d = drag.current
    drag.current = undefined
    setFrame(undefined)
    setHand(undefined)
    if (d?.kind === 'frame') {
      const [x0, x1, y0, y1] = [Math.min(d.x, d.u), Math.max(d.x, d.u), Math.min(d.y, d.v), Math.max(d.y, d.v)]
      if (x1 - x0 < 2 * unit.current) return
      const inside = current.current.flatMap((s) =>
        s.nodes.flatMap((n, i) => (n.x >= x0 && n.x <= x1 && n.y >= y0 && n.y <= y1 ? [nameOf({ shape: s.id, node: i })] : [])),
      )
      setPicked(new Set([...(d.added ? picked : []), ...inside]))
    } else if (d?.kind === 'pencil' && make) {
      const [first] = d.points
      let length = 0
      for (let i = 1; i < d.points.length; i++) length += Math.hypot(d.points[i].x - d.points[i - 1].x, d.points[i].y - d.points[i - 1].y)
      const shut = closing && length > 40 * unit.current && near(first.x, first.y, p.rawX, p.rawY, 12)
      const drawn = fitStroke(shut ? [...d.points, first] : d.points, tolerance, false)
      if (!drawn || length < 4 * unit.current) return
      const shape = make(shut ? closeNodes(drawn) : drawn)
      change([...current.current, shape], 'Draw with the pencil')
      setPicked(new Set(shape.nodes.map((_, node) => nameOf({ shape: shape.id, node }))))
    }
  }

  const removePicked = () => {
    const gone = byShape(spots)
    if (gone.size === 0) return
    change(
      current.current.flatMap((s): S[] => {
        const list = gone.get(s.id)
        if (!list) return [s]
        const left = list.length >= s.nodes.length ? undefined : removeNodes(s, list)
        return left ? [{ ...s, closed: left.closed, nodes: left.nodes }] : make ? [] : [s]
      }),
      'Remove nodes',
    )
    setPicked(new Set())
    setPen(undefined)
  }
  const nudge = (dx: number, dy: number) => {
    const moved = byShape(spots)
    change(
      current.current.map((s) => (moved.has(s.id) ? { ...s, nodes: moveNodes(s, moved.get(s.id) as number[], dx, dy).nodes } : s)),
      'Move nodes',
      'nudge',
    )
  }

  const boardTool: BoardTool = {
    down,
    drag: onDrag,
    up,
    hover: setHover,
    double(p) {
      if (tool === 'pen') return endPen()
      const side = tool === 'nodes' && !hitNode(p) ? hitSide(p) : undefined
      const shape = side && byId.get(side.shape)
      if (!side || !shape) return
      put(shape.id, insertNode(shape, side.side, side.t), 'Put in a node')
      setPicked(new Set([nameOf({ shape: shape.id, node: side.side + 1 })]))
    },
    key(event) {
      const by = ({ ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] } as Record<string, [number, number]>)[event.key]
      if (by && spots.length > 0) nudge(by[0] * (event.shiftKey ? 10 : event.altKey ? 0.1 : 1), by[1] * (event.shiftKey ? 10 : event.altKey ? 0.1 : 1))
      else if ((event.key === 'Delete' || event.key === 'Backspace') && spots.length > 0) removePicked()
      else if (event.key === 'Enter' && pen !== undefined) endPen()
      else if (event.key === 'Escape' && (pen !== undefined || spots.length > 0)) {
        endPen()
        setPicked(new Set())
      } else return false
      return true
    },
    cursor: tool === 'nodes' ? 'default' : 'crosshair',
    free: tool === 'pencil',
    nodes: useMemo(
      () =>
        shapes.flatMap((s) =>
          // what is being moved must not be held by itself
          s.nodes.filter((_, i) => !picked.has(nameOf({ shape: s.id, node: i }))).map((n): [number, number] => [n.x, n.y]),
        ),
      [shapes, picked],
    ),
  }

  const single = spots.length === 1 ? spots[0] : undefined
  const [only] = chosen
  const shape = chosen.size === 1 ? byId.get(only) : undefined
  const node = single && shape?.nodes[single.node]
  const isEnd = (s: Spot) => {
    const line = byId.get(s.shape)
    return line !== undefined && !line.closed && (s.node === 0 || s.node === line.nodes.length - 1)
  }
  const joinable = spots.length === 2 && spots.every(isEnd) && spots[0].shape !== spots[1].shape
  const kinds = new Set(spots.map((s) => byId.get(s.shape)?.nodes[s.node].kind ?? 'corner'))
  const setKind = (kind: NodeKind) => {
    change(
      current.current.map((s) => {
        const own = spots.filter((spot) => spot.shape === s.id)
        if (own.length === 0) return s
        return { ...s, nodes: own.reduce<NodePath>((path, spot) => setNodeKind(path, spot.node, kind), s).nodes }
      }),
      `Make nodes ${KIND_WORDS[kind].toLowerCase()}`,
    )
  }

  const panel =
    spots.length === 0 ? undefined : (
      <>
        <h3>{spots.length === 1 ? 'Node' : `${spots.length} nodes`}</h3>
        <div className="kind">
          <Choice
            label="Kind of node"
            value={kinds.size === 1 ? [...kinds][0] : ('' as NodeKind)}
            onChange={(kind) => kind && setKind(kind)}
            options={NODE_KINDS.map((id) => ({ id, label: KIND_WORDS[id] }))}
          />
        </div>
        {node && shape && single && (
          <div className="two">
            {(['x', 'y'] as const).map((axis) => (
              <div key={axis}>
                <small>{axis === 'x' ? 'Across' : 'Up'}</small>
                <NumberInput
                  hideLabel
                  label={axis === 'x' ? 'Node: across' : 'Node: up'}
                  value={node[axis]}
                  unit="mm"
                  step={1}
                  onChange={(v) => put(shape.id, moveNodes(shape, [single.node], axis === 'x' ? v - node.x : 0, axis === 'y' ? v - node.y : 0), 'Move a node')}
                />
              </div>
            ))}
          </div>
        )}
        <div className="row">
          <PlainButton onPress={removePicked}>Remove</PlainButton>
          {single && shape && make && (shape.closed || !isEnd(single)) && (
            <PlainButton
              onPress={() => {
                const [a, b] = splitAt(shape, single.node)
                const rest = b && make(b)
                change(
                  current.current.flatMap((s) =>
                    s.id === shape.id ? [{ ...s, closed: a.closed, nodes: a.nodes }, ...(rest ? [{ ...s, ...rest, id: rest.id }] : [])] : [s],
                  ),
                  'Part the line',
                )
                setPicked(new Set())
              }}
            >
              Part here
            </PlainButton>
          )}
          {joinable && (
            <PlainButton
              onPress={() => {
                const [p, q] = spots
                const [a, b] = [byId.get(p.shape) as S, byId.get(q.shape) as S]
                const joined = joinEnds(a, p.node === 0 ? 'start' : 'end', b, q.node === 0 ? 'start' : 'end')
                change(
                  current.current.flatMap((s) => (s.id === b.id ? [] : s.id === a.id ? [{ ...s, nodes: joined.nodes }] : [s])),
                  'Join two lines',
                )
                setPicked(new Set())
              }}
            >
              Join
            </PlainButton>
          )}
          {closing && shape && !shape.closed && shape.nodes.length > 2 && (
            <PlainButton
              onPress={() => {
                put(shape.id, closeNodes(shape), 'Close the outline')
                setPen(undefined)
              }}
            >
              Close
            </PlainButton>
          )}
        </div>
      </>
    )

  const words = (count: number) => `${count} ${count === 1 ? 'node' : 'nodes'} chosen`
  const told =
    tool === 'pen'
      ? pen === undefined
        ? 'Press to set a node, drag to bend the line'
        : closing
          ? 'Press for the next node; press the first one to close, Enter to leave it open'
          : 'Press for the next node; Enter or a double press ends the line'
      : tool === 'pencil'
        ? `Draw; the curve keeps within ${Number(tolerance.toFixed(2))} mm of your hand`
        : spots.length > 0
          ? `${words(spots.length)} · drag, or arrow keys for 1 mm`
          : 'Drag nodes and lines; double-press a line for a new node'

  return {
    tool: boardTool,
    chosen,
    told,
    panel,
    overlay: (
      <Overlay
        shapes={shapes}
        picked={picked}
        tool={tool}
        pen={pen}
        hover={hover}
        frame={frame}
        hand={hand}
        onUnit={(u) => {
          unit.current = u
        }}
        onFocus={(spot) => setPicked(new Set([nameOf(spot)]))}
      />
    ),
  }
}

const penPoint = (p: BoardPoint): PenPoint => ({ x: p.rawX, y: p.rawY, ...(p.event.pointerType === 'pen' ? { pressure: p.event.pressure } : {}) })

const Drawn = styled.g`
  .line { fill: none; stroke: var(--ink); stroke-width: 1.6; vector-effect: non-scaling-stroke; }
  .line.chosen { stroke: var(--action); stroke-width: 2; }
  .node { fill: var(--paper); stroke: var(--ink); stroke-width: 1.4; }
  .node.picked { fill: var(--action); stroke: var(--action); }
  .node:focus { outline: none; }
  .node:focus-visible { stroke-width: 4; stroke: var(--action); }
  .stem { stroke: var(--action); stroke-width: 1; }
  .handle { fill: var(--paper); stroke: var(--action); stroke-width: 1.4; }
  .band { stroke: var(--action); stroke-width: 1.2; stroke-dasharray: 4 3; fill: none; }
  .frame { fill: color-mix(in srgb, var(--action) 10%, transparent); stroke: var(--action); stroke-dasharray: 4 3; }
`

/** More nodes than this are not reached by the tab key one by one. */
const TABBED = 300

function Overlay({
  shapes,
  picked,
  tool,
  pen,
  hover,
  frame,
  hand,
  onUnit,
  onFocus,
}: {
  shapes: readonly EditedShape[]
  picked: ReadonlySet<string>
  tool: PathTool
  pen: string | undefined
  hover: BoardPoint | undefined
  frame: Extract<Drag, { kind: 'frame' }> | undefined
  hand: NodePath | undefined
  onUnit: (unit: number) => void
  onFocus: (spot: Spot) => void
}) {
  const { unit, px, transform } = useScale()
  onUnit(unit)
  const count = shapes.reduce((sum, s) => sum + s.nodes.length, 0)
  const penLine = pen === undefined ? undefined : shapes.find((s) => s.id === pen)
  const last = penLine?.nodes.at(-1)
  return (
    <Drawn>
      <g transform={transform}>
        {shapes.map((s) =>
          s.nodes.length > 1 ? (
            <path key={s.id} className={`line${s.nodes.some((_, i) => picked.has(`${s.id}/${i}`)) ? ' chosen' : ''}`} d={toSvgPath([toPath(s)], 4)} />
          ) : null,
        )}
        {hand && hand.nodes.length > 1 && <path className="line chosen" d={toSvgPath([toPath(hand)], 4)} />}
      </g>
      {last && hover && tool === 'pen' && (
        <path
          className="band"
          d={`M${px(last.x, last.y)} ${last.out ? `Q${px(last.x + last.out[0] * 1.5, last.y + last.out[1] * 1.5)} ` : 'L'}${px(hover.x, hover.y)}`}
        />
      )}
      {shapes.map((s) =>
        s.nodes.map((node, i) => {
          const name = `${s.id}/${i}`
          if (!picked.has(name)) return null
          return (['in', 'out'] as const).map((which) => {
            const handle = node[which]
            if (!handle) return null
            const [x, y] = px(node.x, node.y)
            const [u, v] = px(node.x + handle[0], node.y + handle[1])
            return (
              <g key={`${name}${which}`}>
                <line className="stem" x1={x} y1={y} x2={u} y2={v} />
                <circle className="handle" cx={u} cy={v} r={4} />
              </g>
            )
          })
        }),
      )}
      {shapes.map((s) =>
        s.nodes.map((node, i) => {
          const name = `${s.id}/${i}`
          const [x, y] = px(node.x, node.y)
          const is = picked.has(name)
          const common = {
            className: `node${is ? ' picked' : ''}`,
            tabIndex: count <= TABBED && tool === 'nodes' ? 0 : undefined,
            role: 'button',
            'aria-label': `Node ${i + 1}, ${node.kind ?? 'corner'}: ${node.x.toFixed(1)} mm across, ${node.y.toFixed(1)} mm up`,
            'aria-pressed': is,
            onFocus: (event: { target: Element }) => event.target.matches(':focus-visible') && onFocus({ shape: s.id, node: i }),
          }
          return !node.kind || node.kind === 'corner' ? (
            <rect key={name} {...common} x={x - 3.6} y={y - 3.6} width={7.2} height={7.2} />
          ) : (
            <circle key={name} {...common} cx={x} cy={y} r={4.2} />
          )
        }),
      )}
      {frame &&
        (() => {
          const [a, b] = [px(frame.x, frame.y), px(frame.u, frame.v)]
          return <rect className="frame" x={Math.min(a[0], b[0])} y={Math.min(a[1], b[1])} width={Math.abs(a[0] - b[0])} height={Math.abs(a[1] - b[1])} />
        })()}
    </Drawn>
  )
}
