'use client'
import type { RouteStep } from '@kelvar/core/document/schema'
import { PencilRuler } from 'lucide-react'
import { useWorkbench, useWorkbenchStore } from '@/state/context'
import { ActionButton, FieldName } from '@/ui/buttons'

/** Leads from a step that is drawn to the board, or says that the board is open. */
export function BoardLink({ step }: { step: RouteStep }) {
  const store = useWorkbenchStore()
  const drawing = useWorkbench((s) => s.view === 'Draw' && s.openStep === step.id)
  if (drawing) return <FieldName>Drawn on the board, at the right.</FieldName>
  return (
    <ActionButton style={{ justifySelf: 'start' }} onPress={() => store.getState().turnTo('Draw', step.id)}>
      <span style={{ display: 'inline-flex', gap: 7, alignItems: 'center' }}>
        <PencilRuler size={14} /> Draw it on the board
      </span>
    </ActionButton>
  )
}
