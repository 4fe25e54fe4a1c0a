'use client'
import { momentOf } from '@kelvar/core/document/moment'
import { CAMERA_MOVES, type CameraMove, type Occasion, READY_MOVEMENTS, type ReadyMovement } from '@kelvar/core/project/movements'
import { Wind } from 'lucide-react'
import { useEffect, useMemo, useState } from 'react'
import { Button } from 'react-aria-components'
import styled from 'styled-components'
import { standNow } from '@/features/view/standing'
import { moveCamera } from '@/state/actions/camera'
import { addMovement } from '@/state/actions/tracks'
import { useWorkbench, useWorkbenchStore } from '@/state/context'
import { currentPiece, framesOf, rateOf, workOf } from '@/state/work'
import { PlainButton } from '@/ui/buttons'
import { SheetDialog } from '@/ui/controls'
import { SUPERSEDED } from '@/workers/supervisor'
import { filmStrip } from './film-strip'

const List = styled.ul`
  list-style: none;
  margin: 0;
  padding: 6px;
  border-top: 1px solid var(--rule);
  max-height: 540px;
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

const CameraMoves = styled.div`
  display: flex;
  gap: 18px;
  align-items: center;
  padding: 10px 16px;
  border-top: 1px solid var(--rule);
  b { font-weight: 600; }
  button { color: var(--action); font-weight: 600; }
`

const CAMERA_WORDS: Readonly<Record<CameraMove, string>> = { push: 'Slowly nearer', orbit: 'In an arc about it', slide: 'Sideways past it' }

const SIZE = { width: 116, height: 76 }
/** Shares of a movement's time that its strip shows. */
const SHOWN = [0.06, 0.3, 0.52, 0.74, 1]

/** The button and the sheet of ready movements, each shown as a strip of frames of the piece in hand. */
export function MovementsSheet() {
  const store = useWorkbenchStore()
  const [open, setOpen] = useState(false)
  const piece = useWorkbench(currentPiece)
  const frame = useWorkbench((s) => s.frame)
  const frames = useWorkbench((s) => framesOf(s.document))
  const rate = useWorkbench((s) => rateOf(s.document))
  const mesh = useWorkbench((s) => s.mesh)
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
        <CameraMoves aria-label="Camera" role="group">
          <b>Camera, from where you look now</b>
          {CAMERA_MOVES.map((move) => (
            <PlainButton
              key={move}
              onPress={() => {
                const stand = standNow()
                if (stand) moveCamera(store, move, stand)
                setOpen(false)
              }}
            >
              {CAMERA_WORDS[move]}
            </PlainButton>
          ))}
        </CameraMoves>
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
    <Movement isDisabled={!route} onPress={onChoose} aria-label={`${movement.title}: ${movement.summary}`}>
      <span>
        <b>{movement.title}</b>
        <small>{route ? movement.summary : movement.needs}</small>
      </span>
      <span className="strip">{route && SHOWN.map((share, i) => (pictures[i] ? <img key={share} src={pictures[i]} alt="" /> : <span key={share} />))}</span>
    </Movement>
  )
}
