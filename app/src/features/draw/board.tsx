'use client'
import type { Board as BoardThings } from '@kelvar/core/document/schema'
import { Maximize, Minus, Plus } from 'lucide-react'
import {
  createContext,
  type KeyboardEvent,
  type PointerEvent,
  type ReactNode,
  useCallback,
  useContext,
  useEffect,
  useLayoutEffect,
  useMemo,
  useRef,
  useState,
} from 'react'
import { Button, ToggleButton } from 'react-aria-components'
import styled from 'styled-components'
import { useWorkbench, useWorkbenchStore } from '@/state/context'
import { type Snapped, type SnapGround, roundStep, snapPoint } from './snapping'
import { currentPiece } from '@/state/work'
import { setBoard } from '@/state/actions/board'

const RULER = 22
/** How near, in pixels, a thing must be to be meant. */
export const NEAR_PX = 8

export const Frame = styled.section`
  position: relative;
  display: flex;
  flex-direction: column;
  flex: 1;
  min-width: 0;
  min-height: 0;
  background: var(--board);
`
const Canvas = styled.svg`
  flex: 1;
  min-height: 0;
  width: 100%;
  display: block;
  touch-action: none;
  outline: none;
  user-select: none;
  &:focus-visible { outline: none; box-shadow: inset 0 0 0 2px var(--action); }
  .ruler { fill: var(--paper); }
  .ruler-line { stroke: var(--rule); }
  .tick { stroke: var(--soft); stroke-width: 1; opacity: 0.55; }
  .figure { font: 10px var(--text); fill: var(--soft); font-variant-numeric: tabular-nums; }
  .grid { stroke: var(--rule); stroke-width: 1; opacity: 0.42; }
  .axis { stroke: var(--soft); stroke-width: 1; opacity: 0.5; }
  .type-line { stroke: var(--type-line); stroke-width: 1; stroke-dasharray: 2 4; }
  .type-name { font: 10.5px var(--text); fill: var(--type-name); }
  .guide { stroke: var(--guide); stroke-width: 1; }
  .marker { stroke: var(--action); stroke-width: 1; }
`
const Foot = styled.footer`
  display: flex;
  align-items: center;
  gap: 16px;
  height: 40px;
  flex: none;
  padding: 0 14px 0 20px;
  background: var(--paper);
  border-top: 1px solid var(--rule);
  color: var(--soft);
  font-size: 12.5px;
  white-space: nowrap;
  overflow: hidden;
  .where { min-width: 142px; font-variant-numeric: tabular-nums; }
  .where b { color: var(--ink); font-weight: 600; }
  .told { flex: 1; overflow: hidden; text-overflow: ellipsis; }
  .snaps { display: flex; gap: 2px; align-items: center; }
`
const Snap = styled(ToggleButton)`
  border: 0;
  border-bottom: 2px solid transparent;
  background: none;
  padding: 4px 6px 3px;
  font-size: 12.5px;
  color: var(--soft);
  cursor: pointer;
  &[data-selected] { color: var(--ink); font-weight: 600; border-bottom-color: var(--action); }
`
const Zoom = styled.div`
  position: absolute;
  right: 12px;
  bottom: 12px;
  display: flex;
  border: 1px solid var(--rule);
  border-radius: 4px;
  background: var(--paper);
  button { border: 0; background: none; padding: 6px 8px; display: grid; place-items: center; cursor: pointer; color: var(--soft); }
  button[data-hovered] { color: var(--ink); }
`

export interface BoardPoint extends Snapped {
  /** where the pointer is, mm, drawn to nothing */
  readonly rawX: number
  readonly rawY: number
  readonly event: PointerEvent
}

/** What a tool does with the pointer and keys; points are in mm. */
export interface BoardTool {
  down?(p: BoardPoint): void
  /** moved with the button held since `down` */
  drag?(p: BoardPoint): void
  up?(p: BoardPoint): void
  hover?(p: BoardPoint | undefined): void
  double?(p: BoardPoint): void
  /** true when the key was used */
  key?(event: KeyboardEvent): boolean
  readonly cursor?: string
  /** points that others are drawn to */
  readonly nodes?: readonly (readonly [number, number])[]
  /** a tool that follows the hand is drawn to nothing */
  readonly free?: boolean
}

interface Scale {
  /** mm of a pixel */
  readonly unit: number
  px(x: number, y: number): [number, number]
  /** an SVG transform from mm (Y upwards) to the board's pixels */
  readonly transform: string
}

const ScaleContext = createContext<Scale>({ unit: 1, px: (x, y) => [x, y], transform: '' })
export const useScale = (): Scale => useContext(ScaleContext)

type Box = readonly [number, number, number, number]
interface Stand {
  /** mm in the middle of the board, and px per mm */
  readonly x: number
  readonly y: number
  readonly scale: number
}

const SNAPS = [
  ['grid', 'Grid'],
  ['nodes', 'Nodes'],
  ['guides', 'Guides'],
  ['lines', 'Type lines'],
] as const
type SnapName = (typeof SNAPS)[number][0]

/** A flat board in millimetres: rulers, grid, guides drawn out of the rulers, zoom at the pointer. */
export function Board({
  content,
  contentKey,
  steady = false,
  typeLines,
  tool,
  told,
  head,
  under,
  children,
  aside,
}: {
  /** what is to be in sight at first: minX, minY, maxX, maxY in mm */
  content: Box | undefined
  contentKey: string
  /** an empty board stays where it is when the first thing is drawn on it */
  steady?: boolean
  typeLines: readonly { readonly name: string; readonly y: number }[]
  tool: BoardTool
  /** one line of help or figures at the foot */
  told: ReactNode
  head: ReactNode
  /** drawn in mm, under the guides */
  under?: ReactNode
  /** drawn in pixels; see useScale */
  children?: ReactNode
  aside?: ReactNode
}) {
  const store = useWorkbenchStore()
  const guides = useWorkbench((s) => currentPiece(s)?.board?.guides) ?? NO_GUIDES
  const svg = useRef<SVGSVGElement>(null)
  const [size, setSize] = useState({ width: 900, height: 600 })
  const [stand, setStand] = useState<Stand>({ x: 0, y: 20, scale: 4 })
  const [snaps, setSnaps] = useState<ReadonlySet<SnapName>>(new Set(['nodes', 'guides', 'lines']))
  const [at, setAt] = useState<BoardPoint>()
  const [newGuide, setNewGuide] = useState<BoardThings['guides'][number] & { index?: number }>()
  const held = useRef<'tool' | 'pan' | 'guide' | undefined>(undefined)
  const panFrom = useRef({ x: 0, y: 0, stand })
  const space = useRef(false)

  useLayoutEffect(() => {
    const element = svg.current
    if (!element) return
    const look = () => setSize({ width: element.clientWidth, height: element.clientHeight })
    const observer = new ResizeObserver(look)
    observer.observe(element)
    look()
    return () => observer.disconnect()
  }, [])

  const fit = useCallback(() => {
    const [x0, y0, x1, y1] = content ?? [-60, -10, 60, 60]
    const [w, h] = [Math.max(20, x1 - x0), Math.max(16, y1 - y0)]
    const scale = Math.min((size.width - RULER - 60) / (w * 1.1), (size.height - RULER - 40) / (h * 1.3))
    setStand({ x: (x0 + x1) / 2 - RULER / 2 / scale, y: (y0 + y1) / 2 + RULER / 2 / scale, scale: Math.max(0.05, Math.min(400, scale)) })
  }, [content, size])
  // another piece or step, or a first outline, is brought into sight; drawing on does not move the board
  const fitted = useRef('')
  useEffect(() => {
    const key = `${contentKey}/${content ? 'full' : 'empty'}/${size.width > 0}`
    if (fitted.current === key || size.width < 50) return
    const grownFromNothing = fitted.current === `${contentKey}/empty/true`
    fitted.current = key
    if (!(steady && grownFromNothing)) fit()
  }, [contentKey, content, size, fit, steady])

  const { scale } = stand
  const unit = 1 / scale
  const px = useCallback(
    (x: number, y: number): [number, number] => [(x - stand.x) * stand.scale + size.width / 2, (stand.y - y) * stand.scale + size.height / 2],
    [stand, size],
  )
  const [ox, oy] = px(0, 0)
  const value = useMemo<Scale>(() => ({ unit, px, transform: `translate(${ox} ${oy}) scale(${scale} ${-scale})` }), [unit, px, ox, oy, scale])
  const grid = roundStep(scale, 9)
  const label = roundStep(scale, 58)

  const ground: SnapGround = {
    grid: snaps.has('grid') ? grid : 0,
    nodes: snaps.has('nodes') ? (tool.nodes ?? []) : [],
    uprights: snaps.has('guides') ? guides.filter((g) => g.along === 'x').map((g) => ({ at: g.at, name: 'a guide' })) : [],
    levels: [
      ...(snaps.has('guides') ? guides.filter((g) => g.along === 'y').map((g) => ({ at: g.at, name: 'a guide' })) : []),
      ...(snaps.has('lines') ? typeLines.map((l) => ({ at: l.y, name: `the ${l.name.toLowerCase()}` })) : []),
    ],
  }
  const pointOf = (event: PointerEvent): BoardPoint => {
    const box = (svg.current as SVGSVGElement).getBoundingClientRect()
    const rawX = (event.clientX - box.left - size.width / 2) * unit + stand.x
    const rawY = stand.y - (event.clientY - box.top - size.height / 2) * unit
    const snapped = tool.free || event.altKey ? { x: rawX, y: rawY, to: [] } : snapPoint(rawX, rawY, ground, NEAR_PX * unit)
    const round = (v: number) => Math.round(v * 1e4) / 1e4
    return { ...snapped, x: round(snapped.x), y: round(snapped.y), rawX, rawY, event }
  }
  const onRuler = (event: PointerEvent): 'x' | 'y' | undefined => {
    const box = (svg.current as SVGSVGElement).getBoundingClientRect()
    const [u, v] = [event.clientX - box.left, event.clientY - box.top]
    return v < RULER && u > RULER ? 'y' : u < RULER && v > RULER ? 'x' : undefined
  }
  const guideAt = (p: BoardPoint) => guides.findIndex((g) => Math.abs((g.along === 'x' ? p.rawX : p.rawY) - g.at) < 4 * unit)

  const onPointerDown = (event: PointerEvent<SVGSVGElement>) => {
    event.currentTarget.setPointerCapture(event.pointerId)
    const p = pointOf(event)
    const ruler = onRuler(event)
    if (event.button === 1 || space.current) {
      held.current = 'pan'
      panFrom.current = { x: event.clientX, y: event.clientY, stand }
    } else if (ruler) {
      held.current = 'guide'
      setNewGuide({ along: ruler, at: ruler === 'x' ? p.rawX : p.rawY })
    } else if (event.button === 0) {
      const index = event.shiftKey ? guideAt(p) : -1
      if (index >= 0) {
        held.current = 'guide'
        setNewGuide({ ...guides[index], index })
        return
      }
      held.current = 'tool'
      tool.down?.(p)
    }
  }
  const onPointerMove = (event: PointerEvent<SVGSVGElement>) => {
    const p = pointOf(event)
    setAt(p)
    if (held.current === 'pan') {
      const { x, y, stand: from } = panFrom.current
      setStand({ ...from, x: from.x - (event.clientX - x) * unit, y: from.y + (event.clientY - y) * unit })
    } else if (held.current === 'guide') setNewGuide((g) => g && { ...g, at: g.along === 'x' ? p.rawX : p.rawY })
    else if (held.current === 'tool') tool.drag?.(p)
    else tool.hover?.(p)
  }
  const onPointerUp = (event: PointerEvent<SVGSVGElement>) => {
    const p = pointOf(event)
    const was = held.current
    held.current = undefined
    if (was === 'tool') tool.up?.(p)
    if (was !== 'guide' || !newGuide) return
    const { index, along, at: place } = newGuide
    const gone = onRuler(event) !== undefined
    setNewGuide(undefined)
    const rounded = Math.round(place / (grid / 2)) * (grid / 2)
    if (index === undefined && !gone) setBoard(store, 'Add a guide', (board) => void board.guides.push({ along, at: Number(rounded.toFixed(4)) }))
    else if (index !== undefined)
      setBoard(store, gone ? 'Remove a guide' : 'Move a guide', (board) => {
        if (gone) board.guides.splice(index, 1)
        else board.guides[index].at = Number(rounded.toFixed(4))
      })
  }
  const zoomBy = useCallback(
    (factor: number, clientX?: number, clientY?: number) => {
      setStand((s) => {
        const next = Math.max(0.05, Math.min(400, s.scale * factor))
        const box = svg.current?.getBoundingClientRect()
        if (!box || clientX === undefined || clientY === undefined) return { ...s, scale: next }
        const [u, v] = [clientX - box.left - size.width / 2, clientY - box.top - size.height / 2]
        return { scale: next, x: s.x + u / s.scale - u / next, y: s.y - v / s.scale + v / next }
      })
    },
    [size],
  )
  useEffect(() => {
    const element = svg.current
    if (!element) return
    const onWheel = (event: WheelEvent) => {
      event.preventDefault()
      if (event.ctrlKey || Math.abs(event.deltaX) < Math.abs(event.deltaY))
        zoomBy(Math.exp(-event.deltaY * (event.deltaMode === 1 ? 0.05 : 0.0016)), event.clientX, event.clientY)
      else setStand((s) => ({ ...s, x: s.x + event.deltaX / s.scale }))
    }
    element.addEventListener('wheel', onWheel, { passive: false })
    return () => element.removeEventListener('wheel', onWheel)
  }, [zoomBy])

  const [left, right] = [stand.x - (size.width / 2) * unit, stand.x + (size.width / 2) * unit]
  const [bottom, top] = [stand.y - (size.height / 2) * unit, stand.y + (size.height / 2) * unit]
  const marks = (from: number, to: number, step: number) =>
    Array.from({ length: Math.max(0, Math.min(600, Math.floor(to / step) - Math.ceil(from / step) + 1)) }, (_, i) =>
      Number(((Math.ceil(from / step) + i) * step).toFixed(6)),
    )
  const shownGuides = newGuide ? [...guides.filter((_, i) => i !== newGuide.index), newGuide] : guides

  return (
    <ScaleContext.Provider value={value}>
      <Frame aria-label="Drawing board">
        {head}
        <div style={{ position: 'relative', flex: 1, minHeight: 0, display: 'flex' }}>
          <Canvas
            ref={svg}
            role="application"
            aria-label="Board in millimetres"
            aria-describedby="board-told"
            tabIndex={0}
            style={{ cursor: held.current === 'pan' ? 'grabbing' : tool.cursor }}
            onPointerDown={onPointerDown}
            onPointerMove={onPointerMove}
            onPointerUp={onPointerUp}
            onPointerCancel={onPointerUp}
            onBlur={() => {
              space.current = false
            }}
            onPointerLeave={() => {
              setAt(undefined)
              if (!held.current) tool.hover?.(undefined)
            }}
            onDoubleClick={(event) => tool.double?.(pointOf(event as unknown as PointerEvent))}
            onContextMenu={(event) => event.preventDefault()}
            onKeyDown={(event) => {
              if (event.key === ' ') space.current = true
              if (tool.key?.(event) || event.key === ' ') event.preventDefault()
            }}
            onKeyUp={(event) => {
              if (event.key === ' ') space.current = false
            }}
          >
            <g transform={value.transform}>{under}</g>
            {snaps.has('grid') && (
              <g aria-hidden>
                {marks(left, right, grid).map((x) => (
                  <line key={x} className="grid" x1={px(x, 0)[0]} x2={px(x, 0)[0]} y1={0} y2={size.height} />
                ))}
                {marks(bottom, top, grid).map((y) => (
                  <line key={y} className="grid" y1={px(0, y)[1]} y2={px(0, y)[1]} x1={0} x2={size.width} />
                ))}
              </g>
            )}
            <g aria-hidden>
              <line className="axis" x1={0} x2={size.width} y1={oy} y2={oy} />
              {typeLines.map(({ name, y }) => (
                <g key={name}>
                  <line className="type-line" x1={0} x2={size.width} y1={px(0, y)[1]} y2={px(0, y)[1]} />
                  <text className="type-name" x={size.width - 8} y={px(0, y)[1] - 4} textAnchor="end">
                    {name}
                  </text>
                </g>
              ))}
              {shownGuides.map((g, i) =>
                g.along === 'x' ? (
                  <line key={i} className="guide" x1={px(g.at, 0)[0]} x2={px(g.at, 0)[0]} y1={0} y2={size.height} />
                ) : (
                  <line key={i} className="guide" y1={px(0, g.at)[1]} y2={px(0, g.at)[1]} x1={0} x2={size.width} />
                ),
              )}
            </g>
            {children}
            <g aria-hidden>
              <rect className="ruler" width={size.width} height={RULER} />
              <rect className="ruler" width={RULER} height={size.height} />
              <path className="ruler-line" d={`M0 ${RULER + 0.5}H${size.width}M${RULER + 0.5} 0V${size.height}`} fill="none" />
              {marks(left, right, label / 5).map((x) => (
                <line key={x} className="tick" x1={px(x, 0)[0]} x2={px(x, 0)[0]} y1={isMultiple(x, label) ? 8 : 16} y2={RULER} />
              ))}
              {marks(left + RULER * unit, right, label).map((x) => (
                <text key={x} className="figure" x={px(x, 0)[0] + 3} y={11}>
                  {x}
                </text>
              ))}
              {marks(bottom, top, label / 5).map((y) => (
                <line key={y} className="tick" y1={px(0, y)[1]} y2={px(0, y)[1]} x1={isMultiple(y, label) ? 8 : 16} x2={RULER} />
              ))}
              {marks(bottom, top, label).map((y) => (
                <text key={y} className="figure" transform={`matrix(0 -1 1 0 11 ${px(0, y)[1] - 3})`}>
                  {y}
                </text>
              ))}
              {at && <path className="marker" d={`M${px(at.x, 0)[0]} 0V${RULER}M0 ${px(0, at.y)[1]}H${RULER}`} />}
              <rect className="ruler" width={RULER} height={RULER} />
              <text className="figure" x={3} y={14}>
                mm
              </text>
            </g>
          </Canvas>
          {aside}
          <Zoom>
            <Button aria-label="Smaller" onPress={() => zoomBy(1 / 1.4)}>
              <Minus size={14} />
            </Button>
            <Button aria-label="All in sight" onPress={fit}>
              <Maximize size={14} />
            </Button>
            <Button aria-label="Larger" onPress={() => zoomBy(1.4)}>
              <Plus size={14} />
            </Button>
          </Zoom>
        </div>
        <Foot>
          <span className="where">
            {at ? (
              <>
                <b>{at.x.toFixed(1)}</b> across, <b>{at.y.toFixed(1)}</b> up
              </>
            ) : (
              'Millimetres'
            )}
          </span>
          <span className="told" id="board-told" role="status">
            {at && at.to.length > 0 ? `Held by ${at.to.join(' and ')} · ` : ''}
            {told}
          </span>
          <span className="snaps" role="group" aria-label="What points are held by">
            Hold to
            {SNAPS.map(([name, words]) => (
              <Snap
                key={name}
                isSelected={snaps.has(name)}
                onChange={(on) =>
                  setSnaps((s) => {
                    const next = new Set(s)
                    if (on) next.add(name)
                    else next.delete(name)
                    return next
                  })
                }
              >
                {words}
              </Snap>
            ))}
          </span>
        </Foot>
      </Frame>
    </ScaleContext.Provider>
  )
}

const NO_GUIDES: BoardThings['guides'] = []
const isMultiple = (v: number, of: number) => Math.abs(v / of - Math.round(v / of)) < 1e-6
