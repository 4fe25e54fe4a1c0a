'use client'
import { momentOf, piecesAt } from '@kelvar/core/document/moment'
import { cameraAt } from '@kelvar/core/document/camera'
import { CAMERA_MOVES, type CameraMove, cameraMove, type Occasion, READY_MOVEMENTS, type ReadyMovement } from '@kelvar/core/project/movements'
import { Wind } from 'lucide-react'
import { useEffect, useMemo, useState } from 'react'
import { Button } from 'react-aria-components'
import styled from 'styled-components'
import { projectStandNow, standBeside } from '@/features/view/standing'
import { moveCamera } from '@/state/actions/camera'
import { addMovement } from '@/state/actions/tracks'
import { useFrameAtRest, useWorkbench, useWorkbenchStore } from '@/state/context'
import { currentPiece, framesOf, rateOf, workOf } from '@/state/work'
import { PlainButton } from '@/ui/buttons'
import { SheetDialog } from '@/ui/controls'
import { SUPERSEDED } from '@/workers/supervisor'
import { cameraStrip, filmStrip } from './film-strip'

const List = styled.ul`
  list-style: none;
  margin: 0;
  padding: 6px;
`
const Scroll = styled.div`
  border-top: 1px solid var(--rule);
  max-height: 580px;
  overflow: auto;
`
const Movement = styled(Button)`
  width: 100%;
  display: grid;
  grid-template-columns: 220px minmax(0, 1fr);
  gap: 14px;
  align-items: center;
  text-align: left;
  padding: 7px 10px;
  border: 0;
  border-radius: 4px;
  background: none;
  cursor: pointer;
  b { display: block; font-weight: 600; }
  small { color: var(--soft); font-size: 12px; }
  .strip { display: grid; grid-template-columns: repeat(5, minmax(0, 1fr)); gap: 3px; }
  .strip > * { aspect-ratio: 116 / 76; border-radius: 3px; background: linear-gradient(var(--stage-near), var(--stage)); width: 100%; object-fit: contain; }
  &[data-hovered] { background: color-mix(in srgb, var(--ink) 5%, transparent); }
  &[data-focus-visible] { outline: 2px solid var(--action); outline-offset: -2px; }
  &[data-disabled] { cursor: default; }
  &[data-disabled] b { color: var(--soft); }
`

const Heading = styled.h3`
  margin: 0;
  padding: 12px 16px 4px;
  border-top: 1px solid var(--rule);
  font-size: 13px;
  font-weight: 600;
`

const CAMERA_WORDS: Readonly<Record<CameraMove, { readonly title: string; readonly summary: string }>> = {
  push: { title: 'Slowly nearer', summary: 'The camera goes towards what it looks at.' },
  orbit: { title: 'In an arc about it', summary: 'It goes round a part of a circle, and looks at the middle.' },
  slide: { title: 'Sideways past it', summary: 'It goes past from left to right, and looks straight on.' },
}

const SIZE = { width: 116, height: 76 }
/** Shares of a movement's time that its strip shows. */
const SHOWN = [0.06, 0.3, 0.52, 0.74, 1]
/** frames in which a camera's move is looked at */
const MOMENTS = 100

/** The button and the sheet of ready movements, each shown as a strip of frames of the piece in hand. */
export function MovementsSheet() {
  const store = useWorkbenchStore()
  const [open, setOpen] = useState(false)
  const piece = useWorkbench(currentPiece)
  const frame = useFrameAtRest()
  const frames = useWorkbench((s) => framesOf(s.document))
  const rate = useWorkbench((s) => rateOf(s.document))
  const mesh = useWorkbench((s) => (open ? s.mesh : undefined))
  const occasion = useMemo((): Occasion | undefined => {
    if (!open || !piece || !mesh) return undefined
    const [x0, y0, z0, x1, y1, z1] = mesh.box
    // from the frame in hand on, where there is room for it
    const at = frame + Math.min(12, frames / 4) < frames ? frame : 0
    // of a piece of which nothing is there yet, measures that do
    const size = x1 >= x0 ? ([x1 - x0, y1 - y0, z1 - z0] as const) : ([100, 40, 10] as const)
    return { route: piece.route, size, at, frames: Math.max(2, Math.min(Math.round(1.5 * rate), frames - 1 - at)) }
  }, [open, piece, mesh, frame, frames, rate])
  return (
    <>
      <PlainButton onPress={() => setOpen(true)} style={{ color: 'var(--action)', fontWeight: 600, display: 'flex', gap: 6, alignItems: 'center' }}>
        <Wind size={16} aria-hidden /> Movements
      </PlainButton>
      <SheetDialog title="Ready movements" open={open} onClose={() => setOpen(false)} width={880}>
        <Scroll>
          <List aria-label="Ready movements">
            {occasion &&
              READY_MOVEMENTS.map((movement) => (
                <li key={movement.id}>
                  <Choose
                    movement={movement}
                    occasion={occasion}
                    onChoose={() => {
                      addMovement(store, movement, occasion)
                      setOpen(false)
                    }}
                  />
                </li>
              ))}
          </List>
          <Heading id="camera-moves">Camera, from where you look now</Heading>
          <List aria-labelledby="camera-moves">
            {open &&
              CAMERA_MOVES.map((move) => (
                <li key={move}>
                  <ChooseCamera move={move} onChoose={() => setOpen(false)} />
                </li>
              ))}
          </List>
        </Scroll>
      </SheetDialog>
    </>
  )
}

function Choose({ movement, occasion, onChoose }: { movement: ReadyMovement; occasion: Occasion; onChoose: () => void }) {
  const store = useWorkbenchStore()
  const [pictures, setPictures] = useState<readonly (string | undefined)[]>([])
  const route = useMemo(() => movement.onto(occasion), [movement, occasion])
  useEffect(() => {
    if (!route) return
    const leaving = new AbortController()
    const { document, pieceId } = store.getState()
    const work = workOf(document, pieceId, route)
    const works = SHOWN.map((share) => work && { ...work, moment: momentOf(Math.round(occasion.at + share * occasion.frames), rateOf(document)) })
    filmStrip(
      works.filter((each) => each !== undefined),
      route[route.length - 1].id,
      SIZE,
      leaving.signal,
    )
      .then(setPictures)
      .catch((error) => !leaving.signal.aborted && console.error(error))
    return () => leaving.abort(SUPERSEDED)
  }, [route, occasion, store])
  return (
    <Offer
      title={movement.title}
      summary={route ? movement.summary : (movement.needs ?? '')}
      said={`${movement.title}: ${movement.summary}`}
      pictures={route && pictures}
      onChoose={onChoose}
    />
  )
}

/** A movement of the camera from where the view stands, shown as what it will see of the piece as it is now. */
function ChooseCamera({ move, onChoose }: { move: CameraMove; onChoose: () => void }) {
  const store = useWorkbenchStore()
  const [pictures, setPictures] = useState<readonly string[]>([])
  const [from] = useState(() => projectStandNow(store.getState()))
  useEffect(() => {
    const { mesh, document, pieceId, frame } = store.getState()
    if (!from || !mesh) return
    const leaving = new AbortController()
    // the camera moves in the project, the piece is drawn by itself
    const place = piecesAt(document.pieces, frame).find(({ id }) => id === pieceId)?.place
    const camera = cameraMove(move, from, 0, MOMENTS)
    const stands = SHOWN.flatMap((share) => cameraAt({ camera }, share * MOMENTS) ?? []).map((stand) => standBeside(stand, place))
    cameraStrip(mesh, stands, SIZE, leaving.signal)
      .then(setPictures)
      .catch((error) => !leaving.signal.aborted && console.error(error))
    return () => leaving.abort(SUPERSEDED)
  }, [store, move, from])
  const { title, summary } = CAMERA_WORDS[move]
  return (
    <Offer
      title={title}
      summary={summary}
      said={`${title}: ${summary}`}
      pictures={from && pictures}
      onChoose={() => {
        if (from) moveCamera(store, move, from)
        onChoose()
      }}
    />
  )
}

/** One line of the sheet: words, and a strip of frames once they are drawn; without any it cannot be chosen. */
function Offer({
  title,
  summary,
  said,
  pictures,
  onChoose,
}: {
  title: string
  summary: string
  said: string
  pictures: readonly (string | undefined)[] | undefined
  onChoose: () => void
}) {
  return (
    <Movement isDisabled={!pictures} onPress={onChoose} aria-label={said}>
      <span>
        <b>{title}</b>
        <small>{summary}</small>
      </span>
      <span className="strip">{pictures && SHOWN.map((share, i) => (pictures[i] ? <img key={share} src={pictures[i]} alt="" /> : <span key={share} />))}</span>
    </Movement>
  )
}
