'use client'
import type { Board } from '@kelvar/core/document/schema'
import { ImagePlus, Image as ImageIcon } from 'lucide-react'
import { useEffect, useState } from 'react'
import { Button, Dialog, DialogTrigger, FileTrigger } from 'react-aria-components'
import styled from 'styled-components'
import { useWorkbench, useWorkbenchStore } from '@/state/context'
import { sendFile } from '@/features/route/controls/send-file'
import { ActionButton, PlainButton } from '@/ui/buttons'
import { NumberInput, PopoverPaper, SliderInput } from '@/ui/controls'
import { LongWorkLine, useLongWork } from '@/ui/long-work'
import type { BoardPoint, BoardTool } from './board'
import { useScale } from './board'
import { currentPiece } from '@/state/work'
import { layUnder, setBoard } from '@/state/actions/board'

type Underlay = NonNullable<Board['picture']>

/** Height over width of a picture, once it has been loaded. */
export function useAspect(picture: Underlay | undefined): number | undefined {
  const [known, setKnown] = useState<{ sha256: string; aspect: number }>()
  useEffect(() => {
    if (!picture || known?.sha256 === picture.sha256) return
    const image = new Image()
    image.onload = () => setKnown({ sha256: picture.sha256, aspect: image.naturalHeight / image.naturalWidth })
    image.src = `/api/assets/${picture.sha256}`
  }, [picture, known])
  return picture && known?.sha256 === picture.sha256 ? known.aspect : undefined
}

export const useUnderlay = () => useWorkbench((s) => currentPiece(s)?.board?.picture)

/** The picture as it lies under the drawing; in the board's millimetres. */
export function UnderlayPicture() {
  const picture = useUnderlay()
  const aspect = useAspect(picture)
  if (!picture || aspect === undefined) return null
  const height = picture.width * aspect
  return (
    <image
      href={`/api/assets/${picture.sha256}`}
      x={0}
      y={0}
      width={picture.width}
      height={height}
      opacity={picture.opacity}
      preserveAspectRatio="none"
      transform={`translate(${picture.x} ${picture.y + height}) scale(1 -1)`}
    />
  )
}

const Body = styled(Dialog)`
  width: 300px;
  padding: 12px 16px 14px;
  outline: none;
  display: grid;
  gap: 6px;
  h2 { font-size: 15px; margin: 0; }
  p { margin: 0; font-size: 12.5px; color: var(--soft); }
  [role='alert'] { color: var(--failure); }
  .row { display: flex; gap: 4px; margin-left: -7px; }
`

/** Chooses the picture to draw over, its strength and its place; `onMeasure` begins giving it its scale by two points. */
export function UnderlayControl({ onMove, onMeasure }: { onMove: () => void; onMeasure: () => void }) {
  const store = useWorkbenchStore()
  const picture = useUnderlay()
  const [message, setMessage] = useState('')
  const work = useLongWork()
  const change = (patch: Partial<Underlay>, label: string) =>
    setBoard(
      store,
      label,
      (board) => {
        if (board.picture) Object.assign(board.picture, patch)
      },
      `underlay/${Object.keys(patch).join()}`,
    )
  async function take(file: File | undefined) {
    // the button is not switched off meanwhile: it would lose the focus, and the keyboard its place
    if (!file || work.busy) return
    // whatever piece is in hand when it has arrived
    const piece = store.getState().pieceId
    const sent = await work.run((signal) => sendFile(file, 'picture', signal))
    if (!sent) return setMessage(`Stopped; ${file.name} was not brought in.`)
    if ('message' in sent) return setMessage(sent.message)
    setMessage('')
    if (!layUnder(store, piece, sent)) setMessage(`${file.name} was read, but the piece it was for is gone.`)
  }
  return (
    <DialogTrigger>
      <PlainButton>
        <ImageIcon size={15} /> {picture ? 'Picture' : 'Picture underneath'}
      </PlainButton>
      <PopoverPaper placement="bottom end">
        <Body aria-label="Picture underneath">
          {({ close }) => (
            <>
              <h2>Picture underneath</h2>
              <p>{picture ? picture.name : 'Lay a photograph or sketch under the board and draw over it. It is never part of the result.'}</p>
              <FileTrigger acceptedFileTypes={['image/png', 'image/jpeg', 'image/webp']} onSelect={(files) => take(files?.[0])}>
                <ActionButton style={{ justifySelf: 'start' }}>
                  <span style={{ display: 'inline-flex', gap: 7, alignItems: 'center' }}>
                    <ImagePlus size={14} /> {work.busy ? 'Reading…' : picture ? 'Choose another picture' : 'Choose a picture'}
                  </span>
                </ActionButton>
              </FileTrigger>
              <LongWorkLine work={work} words="Reading" />
              {message && <p role="alert">{message}</p>}
              {picture && (
                <>
                  <SliderInput label="Strength" value={picture.opacity} onChange={(opacity) => change({ opacity }, 'Picture: strength')} />
                  <NumberInput label="Width" unit="mm" value={picture.width} min={0.1} step={1} onChange={(width) => change({ width }, 'Picture: width')} />
                  <NumberInput label="Across" unit="mm" value={picture.x} step={1} onChange={(x) => change({ x }, 'Picture: place')} />
                  <NumberInput label="Up" unit="mm" value={picture.y} step={1} onChange={(y) => change({ y }, 'Picture: place')} />
                  <div className="row">
                    <PlainButton
                      onPress={() => {
                        close()
                        onMeasure()
                      }}
                    >
                      Scale by two points
                    </PlainButton>
                    <PlainButton
                      onPress={() => {
                        close()
                        onMove()
                      }}
                    >
                      Move
                    </PlainButton>
                    <PlainButton
                      onPress={() =>
                        setBoard(store, 'Take the picture away', (board) => {
                          board.picture = undefined
                        })
                      }
                    >
                      Take away
                    </PlainButton>
                  </div>
                </>
              )}
            </>
          )}
        </Body>
      </PopoverPaper>
    </DialogTrigger>
  )
}

const Asking = styled.div`
  position: absolute;
  left: 50%;
  top: 16px;
  transform: translateX(-50%);
  display: flex;
  align-items: center;
  gap: 10px;
  padding: 8px 14px;
  background: var(--paper);
  border: 1px solid var(--action);
  border-radius: 5px;
  font-size: 13px;
  > div { grid-template-columns: minmax(0, 1fr) !important; width: 84px; }
`

/** Tools that move the picture, or scale it by the true distance of two points on it. */
export function useUnderlayTool(
  mode: 'move' | 'measure' | undefined,
  onDone: () => void,
): { tool: BoardTool | undefined; overlay: React.ReactNode; aside: React.ReactNode; told: string } {
  const store = useWorkbenchStore()
  const picture = useUnderlay()
  const [from, setFrom] = useState<BoardPoint>()
  const [points, setPoints] = useState<readonly (readonly [number, number])[]>([])
  const [distance, setDistance] = useState(100)
  useEffect(() => setPoints([]), [mode])
  const [start, setStart] = useState<{ x: number; y: number; key: string }>()
  if (!mode || !picture) return { tool: undefined, overlay: null, aside: null, told: '' }
  if (mode === 'move')
    return {
      tool: {
        cursor: 'move',
        free: true,
        down(p) {
          setFrom(p)
          setStart({ x: picture.x, y: picture.y, key: `drag:${performance.now()}` })
        },
        drag(p) {
          if (!from || !start) return
          setBoard(
            store,
            'Move the picture',
            (board) => {
              if (board.picture) Object.assign(board.picture, { x: start.x + p.rawX - from.rawX, y: start.y + p.rawY - from.rawY })
            },
            start.key,
          )
        },
        key(event) {
          if (event.key !== 'Escape' && event.key !== 'Enter') return false
          onDone()
          return true
        },
      },
      overlay: null,
      aside: (
        <Asking>
          Drag the picture to its place.
          <PlainButton onPress={onDone}>Done</PlainButton>
        </Asking>
      ),
      told: 'Drag the picture to its place; Enter when it lies right',
    }
  const [a, b] = points
  return {
    tool: {
      cursor: 'crosshair',
      free: true,
      down(p) {
        setPoints((list) => (list.length >= 2 ? [[p.rawX, p.rawY]] : [...list, [p.rawX, p.rawY]]))
      },
      key(event) {
        if (event.key !== 'Escape') return false
        onDone()
        return true
      },
    },
    overlay: <TwoPoints points={points} />,
    aside: (
      <Asking>
        {!a ? (
          'Press on one end of something you know the size of.'
        ) : !b ? (
          'Press on its other end.'
        ) : (
          <>
            These lie
            <NumberInput hideLabel label="True distance" unit="mm" value={distance} min={0.1} onChange={setDistance} />
            apart
            <ActionButton
              onPress={() => {
                const k = distance / Math.hypot(b[0] - a[0], b[1] - a[1])
                // the first point stays where it is
                setBoard(store, 'Scale the picture by two points', (board) => {
                  if (board.picture && Number.isFinite(k))
                    Object.assign(board.picture, {
                      x: a[0] + (board.picture.x - a[0]) * k,
                      y: a[1] + (board.picture.y - a[1]) * k,
                      width: Math.min(100_000, Math.max(0.1, board.picture.width * k)),
                    })
                })
                onDone()
              }}
            >
              Scale
            </ActionButton>
          </>
        )}
        <Button className="plain" onPress={onDone} style={{ border: 0, background: 'none', color: 'var(--soft)', cursor: 'pointer' }}>
          Leave it
        </Button>
      </Asking>
    ),
    told: 'Two points and their true distance give the picture its scale',
  }
}

function TwoPoints({ points }: { points: readonly (readonly [number, number])[] }) {
  const { px } = useScale()
  const at = points.map(([x, y]) => px(x, y))
  return (
    <g stroke="var(--failure)" strokeWidth={1.6} fill="none">
      {at.length === 2 && <path d={`M${at[0]}L${at[1]}`} />}
      {at.map(([x, y], i) => (
        <path key={i} d={`M${x - 7} ${y}H${x + 7}M${x} ${y - 7}V${y + 7}`} />
      ))}
    </g>
  )
}
