'use client'
import { piecesBehind } from '@kelvar/core/project/references'
import { mayGive } from '@kelvar/core/steps/registry'
import type { ValueKind } from '@kelvar/core/steps/step'
import { useMemo } from 'react'
import { useWorkbench, useWorkbenchStore } from '@/state/context'
import { FieldName, PlainButton } from '@/ui/buttons'
import { PickInput } from '@/ui/controls'
import type { PieceReference } from '@kelvar/core/document/piece-reference'

/** Another piece that a step works with; those that are made with this one themselves are left out. */
export function PieceControl({
  title,
  value,
  accepts,
  onChange,
}: {
  title: string
  value: PieceReference
  accepts: readonly ValueKind[]
  onChange: (value: PieceReference) => void
}) {
  const store = useWorkbenchStore()
  const pieces = useWorkbench((s) => s.document.pieces)
  const own = useWorkbench((s) => s.pieceId)
  const fit = useMemo(
    () =>
      pieces.filter((p) => p.id !== own && p.route.some((s) => mayGive(s.kind, accepts)) && !piecesBehind(pieces, p.id).some((behind) => behind.id === own)),
    [pieces, own, accepts],
  )
  if (fit.length === 0) return <FieldName>There is no other piece to combine with yet. Add one at the upper left.</FieldName>
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
