'use client'
import { onGround, UNMOVED_PLACE } from '@kelvar/core/document/place'
import type { Piece, Place } from '@kelvar/core/document/schema'
import { Eye, EyeOff } from 'lucide-react'
import { ToggleButton } from 'react-aria-components'
import styled from 'styled-components'
import { setHidden, setPlace } from '@/state/actions/pieces'
import { usePiecesNow, useWorkbench, useWorkbenchStore } from '@/state/context'
import { AGAINST } from '@/state/store'
import { PlainButton } from '@/ui/buttons'
import { NumberInput } from '@/ui/controls'
import { PlaceMark } from '@/features/motion/key-mark'

const Panel = styled.section`
  display: flex;
  align-items: center;
  flex-wrap: wrap;
  gap: 2px 14px;
  flex: none;
  min-height: 54px;
  padding: 6px 16px;
  background: var(--paper);
  border-top: 1px solid var(--rule);
  ul { list-style: none; margin: 0; padding: 0; display: flex; gap: 4px; min-width: 0; max-width: 100%; overflow-x: auto; scrollbar-width: thin; }
  li { display: flex; align-items: center; font-size: 13px; border-radius: 3px; white-space: nowrap; }
  li[data-current] { background: var(--tint); }
  li[data-current] > button:last-child { font-weight: 600; color: var(--ink); }
  .eye { border: 0; background: none; padding: 5px 3px 5px 7px; display: grid; color: var(--soft); cursor: pointer; border-radius: 3px; }
  .aim { border: 0; border-radius: 3px; background: none; padding: 5px 7px; color: var(--soft); cursor: pointer; white-space: nowrap; font-size: 13px; }
  .aim[data-hovered] { color: var(--ink); }
  .aim[data-selected] { background: var(--action); color: var(--action-ink); }
  .fields > button { white-space: nowrap; }
  .eye[data-selected] { color: var(--action); }
  .fields { display: flex; align-items: center; gap: 7px; margin-left: auto; }
  .fields > b { font-size: 12px; font-weight: 500; color: var(--soft); white-space: nowrap; }
  .fields > b:not(:first-child) { margin-left: 8px; }
  .fields > div { grid-template-columns: minmax(0, 1fr); width: 50px; flex: none; }
`

const AXES = ['Across', 'Up', 'Forward'] as const
const AXIS_NAMES = ['x', 'y', 'z']

/** Which pieces are shown together, and where the one in hand stands among them. */
export function PlacePanel() {
  const store = useWorkbenchStore()
  const current = useWorkbench((s) => s.pieceId)
  const pieces = usePiecesNow()
  const piece = pieces.find(({ id }) => id === current)
  return (
    <Panel aria-label="Pieces together">
      <ul>
        {pieces.map((p) => (
          <li key={p.id} data-current={p.id === piece?.id ? '' : undefined}>
            <ToggleButton
              className="eye"
              aria-label={p.hidden ? `Show ${p.name}` : `Hide ${p.name}`}
              isSelected={!p.hidden}
              onChange={(shown) => setHidden(store, p.id, !shown)}
            >
              {p.hidden ? <EyeOff size={15} aria-hidden /> : <Eye size={15} aria-hidden />}
            </ToggleButton>
            <PlainButton onPress={() => store.getState().choosePiece(p.id)}>{p.name}</PlainButton>
          </li>
        ))}
      </ul>
      {piece && <PlaceFields key={piece.id} piece={piece} />}
    </Panel>
  )
}

function PlaceFields({ piece }: { piece: Piece }) {
  const store = useWorkbenchStore()
  const place = piece.place ?? UNMOVED_PLACE
  const box = useWorkbench((s) => (s.meshPiece === piece.id ? s.mesh?.box : undefined))
  const several = useWorkbench((s) => s.document.pieces.filter((p) => !p.hidden && p.id !== piece.id).length > 0)
  const aiming = useWorkbench((s) => s.aiming === AGAINST)
  const inMotion = useWorkbench((s) => s.view === 'Motion')
  const change = (patch: Partial<Place>, what: string) => setPlace(store, piece.id, { ...place, ...patch }, what)
  const withAxis = (list: Place['position'], k: number, value: number) => list.map((v, i) => (i === k ? value : v)) as Place['position']
  return (
    <div className="fields" role="group" aria-label={`Place of ${piece.name}`}>
      {box && <PlainButton onPress={() => setPlace(store, piece.id, onGround(box, place), 'on the ground')}>On the ground</PlainButton>}
      {box && several && (
        <ToggleButton className="aim" isSelected={aiming} onChange={(on) => store.getState().aim(on ? AGAINST : undefined)}>
          {aiming ? 'Press a face now' : 'Against a face'}
        </ToggleButton>
      )}
      <b>Place, mm</b>
      {AXES.map((axis, k) => (
        <NumberInput
          key={axis}
          hideLabel
          label={axis}
          unit={AXIS_NAMES[k]}
          step={1}
          value={place.position[k]}
          onChange={(value) => change({ position: withAxis(place.position, k, value) }, axis.toLowerCase())}
        />
      ))}
      <b>Turn, °</b>
      {['Turn about x', 'Turn about y', 'Turn about z'].map((title, k) => (
        <NumberInput
          key={title}
          hideLabel
          label={title}
          unit={AXIS_NAMES[k]}
          step={5}
          min={-3600}
          max={3600}
          value={place.turn[k]}
          onChange={(value) => change({ turn: withAxis(place.turn, k, value) }, title.toLowerCase())}
        />
      ))}
      <b>Size</b>
      <NumberInput hideLabel label="Size" unit="×" step={0.1} min={0.001} max={1000} value={place.size} onChange={(size) => change({ size }, 'size')} />
      {inMotion && <PlaceMark piece={piece} place={place} />}
    </div>
  )
}
