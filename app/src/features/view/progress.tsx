'use client'
import { stepKind } from '@kelvar/core/steps/registry'
import styled from 'styled-components'
import { useWorkbench, useWorkbenchStore } from '@/state/context'
import { stopMaking } from '@/state/making'
import { PlainButton } from '@/ui/buttons'
import { ProgressBar, useIsLong } from '@/ui/long-work'
import { currentPiece } from '@/state/work'

const Bar = styled.div`
  position: absolute;
  left: 50%;
  bottom: 18px;
  transform: translateX(-50%);
  z-index: 9;
  display: grid;
  grid-template-columns: 78px 150px auto;
  align-items: center;
  gap: 4px 12px;
  padding: 6px 6px 6px 14px;
  background: var(--paper);
  border: 1px solid var(--rule);
  border-radius: 4px;
  box-shadow: 0 8px 26px rgb(var(--shadow) / 0.14);
  font-size: 12.5px;
  white-space: nowrap;
`

const Expected = styled.small`
  grid-column: 1 / -1;
  padding-bottom: 2px;
  font-size: 11.5px;
  color: var(--soft);
`

/** How far a long making is, and the button that ends it. */
export function Progress() {
  const store = useWorkbenchStore()
  const making = useWorkbench((s) => s.making)
  const stopped = useWorkbench((s) => s.stopped)
  const progress = useWorkbench((s) => s.progress)
  const rough = useWorkbench((s) => s.roughKey !== undefined && s.roughKey === s.meshKey)
  const route = useWorkbench((s) => currentPiece(s)?.route)
  const long = useIsLong(making)
  if (stopped)
    return (
      <Bar role="status" style={{ gridTemplateColumns: 'auto auto' }}>
        Stopped; what you see is {rough ? 'a first sight, coarser than asked for' : 'the last result'}.
        <PlainButton onPress={() => store.getState().goOn()} style={{ color: 'var(--action)', fontWeight: 600 }}>
          Make it now
        </PlainButton>
      </Bar>
    )
  if (!long) return null
  const step = route?.find((s) => s.id === progress?.step)
  return (
    <Bar role="status">
      {step ? (stepKind(step.kind)?.title ?? step.kind) : 'Making'}
      {progress?.of && `: waits for ${progress.of}`}
      <ProgressBar aria-label="Progress" max={1} value={progress?.done} />
      <PlainButton onPress={() => stopMaking(store)}>Stop</PlainButton>
      {rough && <Expected>What you see is a first sight, coarser than asked for.</Expected>}
      {progress?.expected && <Expected>Comes to {progress.expected}</Expected>}
    </Bar>
  )
}
