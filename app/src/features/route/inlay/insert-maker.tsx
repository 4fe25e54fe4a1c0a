'use client'
import type { RouteStep } from '@kelvar/core/document/schema'
import { Plus } from 'lucide-react'
import styled from 'styled-components'
import { addInserts } from '@/state/actions/inserts'
import { useWorkbench, useWorkbenchStore } from '@/state/context'
import { FieldName, PlainButton } from '@/ui/buttons'

const Offer = styled.div`
  display: grid;
  gap: 2px;
  justify-items: start;
  button { margin-left: -7px; }
`

/** Makes what goes into the pocket, as one piece or as one for each colour of the words. */
export function InsertMaker({ step }: { step: RouteStep }) {
  const store = useWorkbenchStore()
  const marks = useWorkbench((s) => s.news?.steps.find(({ id }) => id === step.id)?.marks)
  const into = useWorkbench(
    (s) => s.document.pieces.filter((p) => p.route.some(({ kind, params }) => kind === 'insert' && piece(params.pocket) === s.pieceId)).length,
  )
  if (!marks?.seat) return null
  const colours = new Set(marks.layers?.map(({ id, colour }) => colour ?? id)).size
  return (
    <Offer>
      <FieldName>{into === 0 ? 'Nothing goes into this pocket yet.' : `${into === 1 ? 'One piece goes' : `${into} pieces go`} into this pocket.`}</FieldName>
      <PlainButton onPress={() => addInserts(store, step.id, 'one')}>
        <Plus size={14} aria-hidden /> Add its insert
      </PlainButton>
      {colours > 1 && (
        <PlainButton onPress={() => addInserts(store, step.id, 'colours')}>
          <Plus size={14} aria-hidden /> Add an insert for each of {colours} colours
        </PlainButton>
      )}
    </Offer>
  )
}

const piece = (reference: unknown): unknown => (reference as { piece?: unknown } | undefined)?.piece
