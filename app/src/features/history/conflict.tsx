'use client'
import { differences } from '@kelvar/core/project/differences'
import { useMemo, useState } from 'react'
import styled from 'styled-components'
import { useWorkbench, useWorkbenchStore } from '@/state/context'
import { settle } from '@/state/saving'
import { ActionButton, PlainButton } from '@/ui/buttons'
import { SheetDialog } from '@/ui/controls'

const Body = styled.div`
  padding: 0 22px 20px;
  > p { margin: 0 0 14px; max-width: 60ch; }
  .sides { display: grid; grid-template-columns: 1fr 1fr; gap: 22px; }
  h3 { font-size: 14px; padding-bottom: 4px; border-bottom: 1px solid var(--ink); }
  ul { margin: 8px 0 12px; padding-left: 16px; min-height: 60px; max-height: 38vh; overflow-y: auto; }
  li { padding: 1px 0; overflow-wrap: anywhere; }
  .acts { display: flex; justify-content: flex-end; margin-top: 8px; }
`

/** Says that newer work was saved elsewhere, shows both versions in words and lets a person choose; both stay kept. */
export function Conflict() {
  const store = useWorkbenchStore()
  const conflict = useWorkbench((s) => s.conflict)
  const document = useWorkbench((s) => s.document)
  const base = useWorkbench((s) => s.keptDocument)
  const [later, setLater] = useState<typeof conflict>()
  const [theirs, mine] = useMemo(() => (conflict ? [differences(base, conflict.theirs), differences(base, document)] : [[], []]), [conflict, document, base])
  if (!conflict) return null
  const side = (title: string, said: readonly string[], choose: string, how: 'mine' | 'theirs') => (
    <section aria-label={title}>
      <h3>{title}</h3>
      <ul>
        {said.length === 0 && <li>Nothing that differs.</li>}
        {said.map((words, i) => (
          <li key={i}>{words}</li>
        ))}
      </ul>
      <ActionButton onPress={() => settle(store, how)}>{choose}</ActionButton>
    </section>
  )
  return (
    <>
      {later === conflict && (
        <PlainButton style={{ color: 'var(--failure)', fontWeight: 600 }} onPress={() => setLater(undefined)}>
          Compare and choose
        </PlainButton>
      )}
      <SheetDialog title="The project was changed in another window" open={later !== conflict} onClose={() => setLater(conflict)} width={680}>
        <Body>
          <p>Both versions are kept: the one you do not choose stays among the revisions. Choose the one to go on with here.</p>
          <div className="sides">
            {side('In the other window', theirs, 'Go on with that one', 'theirs')}
            {side('In this window', mine, 'Go on with this one', 'mine')}
          </div>
          <div className="acts">
            <PlainButton onPress={() => setLater(conflict)}>Decide later</PlainButton>
          </div>
        </Body>
      </SheetDialog>
    </>
  )
}
