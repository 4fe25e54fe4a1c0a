import { useRef } from 'react'
import styled from 'styled-components'
import { useWorkbench } from '@/state/context'
import { Buoy } from './key-mark'

const Key = styled.button`
  position: absolute;
  top: 50%;
  width: 20px;
  height: 20px;
  margin: -10px 0 0 -10px;
  border: 0;
  background: none;
  padding: 1px;
  color: var(--action);
  cursor: grab;
  touch-action: none;
  svg { width: 18px; height: 18px; fill: var(--paper); stroke: currentColor; stroke-width: 1.8; stroke-linejoin: round; }
  &[data-picked] svg path.buoy { fill: currentColor; }
  &:focus-visible { outline: 2px solid var(--action); border-radius: 3px; }
`
const Now = styled.div`
  position: absolute;
  top: 0;
  bottom: 0;
  width: 2px;
  margin-left: -1px;
  background: var(--ink);
  pointer-events: none;
  z-index: 3;
`
/** Where the frame that is shown stands on a lane. */
export function NowMark({ frames }: { frames: number }) {
  const frame = useWorkbench((s) => s.frame)
  return <Now style={{ left: share(frame, frames) }} />
}

/** Where a frame stands on a strip of so many. */
export const share = (frame: number, frames: number) => `${(100 * Math.min(frame, frames - 1)) / Math.max(1, frames - 1)}%`

/** A strip of time: pressing or dragging over it shows the frame there. */
export function Lane({ frames, label, onSeek, children }: { frames: number; label?: string; onSeek: (frame: number) => void; children: React.ReactNode }) {
  const at = (event: React.PointerEvent) => {
    const box = event.currentTarget.getBoundingClientRect()
    onSeek(Math.min(frames - 1, Math.max(0, ((event.clientX - box.left) / box.width) * (frames - 1))))
  }
  return (
    <div
      className="lane"
      role={label ? 'group' : undefined}
      aria-label={label}
      onPointerDown={(event) => {
        if (event.button !== 0 || (event.target instanceof Element && event.target.closest('button'))) return
        event.currentTarget.setPointerCapture(event.pointerId)
        at(event)
      }}
      onPointerMove={(event) => event.currentTarget.hasPointerCapture(event.pointerId) && at(event)}
    >
      {children}
    </div>
  )
}

/** A key on its strip: pressed to be picked, dragged or moved by arrow keys, taken away by Delete. */
export function KeyHandle({
  at,
  frames,
  label,
  picked,
  onPick,
  onMove,
  onRemove,
}: {
  at: number
  frames: number
  label: string
  picked: boolean
  /** `more` when it is to be picked besides the others, or let go of again */
  onPick: (more: boolean) => void
  /** moves it, and tells where it now stands */
  onMove: (to: number, gesture: { readonly name: string; readonly from: number }) => number
  onRemove: () => void
}) {
  const drag = useRef<{ from: number; name: string }>(undefined)
  const count = useRef(0)
  return (
    <Key
      type="button"
      aria-label={label}
      data-picked={picked ? '' : undefined}
      style={{ left: share(at, frames) }}
      onClick={(event) => onPick(event.shiftKey)}
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId)
        drag.current = { from: at, name: `drag:key/${++count.current}` }
      }}
      onPointerMove={(event) => {
        const lane = event.currentTarget.closest('.lane')?.getBoundingClientRect()
        if (!drag.current || !lane || !event.currentTarget.hasPointerCapture(event.pointerId)) return
        const to = Math.round(Math.min(frames - 1, Math.max(0, ((event.clientX - lane.left) / lane.width) * (frames - 1))))
        drag.current.from = onMove(to, drag.current)
      }}
      onLostPointerCapture={() => {
        drag.current = undefined
      }}
      onKeyDown={(event) => {
        const by = { ArrowLeft: -1, ArrowRight: 1 }[event.key]
        if (by) {
          event.preventDefault()
          onMove(at + by * (event.shiftKey ? 10 : 1), { name: 'key-by-arrows', from: at })
        } else if (event.key === 'Delete' || event.key === 'Backspace') {
          event.preventDefault()
          onRemove()
        }
      }}
    >
      <Buoy state="here" />
    </Key>
  )
}
