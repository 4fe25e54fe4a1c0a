'use client'
import { Keyboard } from 'lucide-react'
import { useState } from 'react'
import styled from 'styled-components'
import { PlainButton } from '@/ui/buttons'
import { SheetDialog } from '@/ui/controls'
import { PLACES, SHORTCUTS, useShortcuts } from '@/ui/shortcuts'

const Columns = styled.div`
  display: grid;
  grid-template-columns: 1fr 1fr;
  gap: 0 34px;
  padding: 4px 22px 20px;
  h3 { font-size: 13px; color: var(--soft); font-weight: 600; padding-bottom: 6px; }
  dl { margin: 0; display: grid; grid-template-columns: 84px 1fr; gap: 7px 10px; align-items: baseline; }
  dt { white-space: nowrap; }
  dd { margin: 0; }
  kbd { font: 600 12px/1 var(--text); border: 1px solid var(--rule); border-bottom-width: 2px; border-radius: 3px; padding: 2px 6px; background: var(--ground); }
  kbd + kbd { margin-left: 3px; }
  p { grid-column: 1 / -1; margin: 16px 0 0; color: var(--soft); max-width: 62ch; }
`

function Keys({ list }: { list: readonly { readonly keys: readonly string[]; readonly does: string }[] }) {
  return (
    <dl>
      {list.map(({ keys, does }) => (
        <div key={does} style={{ display: 'contents' }}>
          <dt>
            {keys.map((key) => (
              <kbd key={key}>{key}</kbd>
            ))}
          </dt>
          <dd>{does}</dd>
        </div>
      ))}
    </dl>
  )
}

/** The button and the sheet that list what keys do. */
export function HelpSheet() {
  const [open, setOpen] = useState(false)
  useShortcuts({ help: () => setOpen(true) })
  return (
    <>
      <PlainButton aria-label="Keys" onPress={() => setOpen(true)}>
        <Keyboard size={17} aria-hidden />
      </PlainButton>
      <SheetDialog title="Keys" open={open} onClose={() => setOpen(false)} width={720}>
        <Columns>
          <section>
            <h3>Anywhere</h3>
            <Keys list={SHORTCUTS} />
          </section>
          <section>
            <h3>Where the focus is</h3>
            <Keys list={PLACES} />
          </section>
          <p>Tab goes from one control to the next. None of these keys is needed: whatever they do has a button or a handle as well.</p>
        </Columns>
      </SheetDialog>
    </>
  )
}
