'use client'
import { piecesBehind } from '@kelvar/core/project/references'
import { mayGive, stepKind } from '@kelvar/core/steps/registry'
import type { Piece } from '@kelvar/core/document/schema'
import type { ValueKind } from '@kelvar/core/steps/step'
import { useMemo } from 'react'
import { addPiece, type NewPiece } from '@/state/actions/pieces'
import { useWorkbench, useWorkbenchStore } from '@/state/context'
import { NewPieceMenu } from '../new-piece-menu'
import { X } from 'lucide-react'
import styled from 'styled-components'
import { FieldName, FieldRow, PlainButton, SmallButton } from '@/ui/buttons'
import { PickInput } from '@/ui/controls'
import type { PieceReference } from '@kelvar/core/document/piece-reference'

/** Another piece that a step works with; those that are made with this one themselves are left out. */
export function PieceControl({
  title,
  value,
  accepts,
  having,
  onChange,
}: {
  title: string
  value: PieceReference
  accepts: readonly ValueKind[]
  /** only pieces with a step of this kind, whose values are followed */
  having?: string
  onChange: (value: PieceReference) => void
}) {
  const store = useWorkbenchStore()
  const fit = useFittingPieces(accepts, having)
  if (fit.length === 0)
    return having ? (
      <FieldName>No other piece has the step {stepKind(having)?.title} yet.</FieldName>
    ) : (
      <NoneYet title={title} accepts={accepts} onAdd={(piece) => onChange({ piece })} />
    )
  const known = fit.some((p) => p.id === value.piece)
  return (
    <>
      <PickInput
        label={title}
        value={known ? value.piece : 'none'}
        options={[...(known ? [] : [{ id: 'none', label: 'Choose a piece' }]), ...fit.map((p) => ({ id: p.id, label: p.name }))]}
        onChange={(piece) => piece !== 'none' && onChange({ piece })}
      />
      {known && (
        <PlainButton style={{ justifySelf: 'start', marginLeft: -7 }} onPress={() => store.getState().choosePiece(value.piece)}>
          Go to {fit.find((p) => p.id === value.piece)?.name}
        </PlainButton>
      )}
    </>
  )
}

/** Where no other piece would do: one is added for the step. */
function NoneYet({ title, accepts, onAdd }: { title: string; accepts: readonly ValueKind[]; onAdd: (piece: string) => void }) {
  const store = useWorkbenchStore()
  // a block has no outline; and what comes out of the piece in hand cannot go into it
  const without: readonly NewPiece[] = accepts.includes('outline') ? ['outline', 'block'] : ['outline']
  return (
    <FieldRow>
      <FieldName>{title}</FieldName>
      <NewPieceMenu at="bottom start" without={without} onChoose={(of) => addPiece(store, of, onAdd)}>
        <SmallButton aria-label={`Add a piece: ${title}`} style={{ justifySelf: 'start' }}>
          Add a piece
        </SmallButton>
      </NewPieceMenu>
    </FieldRow>
  )
}

/** The pieces that a step may work with: those made with the one in hand are left out. */
function useFittingPieces(accepts: readonly ValueKind[], having?: string): readonly Piece[] {
  const pieces = useWorkbench((s) => s.document.pieces)
  const own = useWorkbench((s) => s.pieceId)
  return useMemo(
    () =>
      pieces.filter(
        (p) =>
          p.id !== own &&
          (having
            ? p.route.some((s) => s.on && s.kind === having)
            : p.route.some((s) => mayGive(s.kind, accepts)) && !piecesBehind(pieces, p.id).some((behind) => behind.id === own)),
      ),
    [pieces, own, accepts, having],
  )
}

const Chosen = styled.ul`
  list-style: none;
  margin: 0;
  padding: 0;
  li { display: flex; align-items: center; justify-content: space-between; border-bottom: 1px solid var(--rule); min-height: 30px; font-size: 13px; }
  li > button:first-child { margin-left: -7px; }
`

/** Other pieces that a step works with, one after another; each leads to itself and can be taken off the list. */
export function PiecesControl({
  title,
  value,
  accepts,
  onChange,
}: {
  title: string
  value: readonly PieceReference[]
  accepts: readonly ValueKind[]
  onChange: (value: readonly PieceReference[]) => void
}) {
  const store = useWorkbenchStore()
  const pieces = useWorkbench((s) => s.document.pieces)
  const fit = useFittingPieces(accepts)
  const free = fit.filter((p) => !value.some(({ piece }) => piece === p.id))
  const nameOf = (id: string) => pieces.find((p) => p.id === id)?.name ?? 'a piece that is gone'
  if (fit.length === 0 && value.length === 0) return <NoneYet title={title} accepts={accepts} onAdd={(piece) => onChange([{ piece }])} />
  return (
    <>
      {value.length > 0 && (
        <Chosen aria-label={`${title}s`}>
          {value.map(({ piece }, i) => (
            <li key={`${piece} ${i}`}>
              <PlainButton onPress={() => store.getState().choosePiece(piece)}>{nameOf(piece)}</PlainButton>
              <PlainButton aria-label={`Leave ${nameOf(piece)} out`} onPress={() => onChange(value.filter((_, k) => k !== i))}>
                <X size={14} aria-hidden />
              </PlainButton>
            </li>
          ))}
        </Chosen>
      )}
      {free.length > 0 && (
        <PickInput
          label={value.length > 0 ? 'And' : title}
          value="none"
          options={[{ id: 'none', label: value.length > 0 ? 'Add another piece' : 'Choose a piece' }, ...free.map((p) => ({ id: p.id, label: p.name }))]}
          onChange={(piece) => piece !== 'none' && onChange([...value, { piece }])}
        />
      )}
    </>
  )
}
