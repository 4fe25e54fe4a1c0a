'use client'
import { useMemo, useState } from 'react'
import { Button } from 'react-aria-components'
import styled from 'styled-components'
import { useWorkbench, useWorkbenchStore } from '@/state/context'
import { PlainButton } from '@/ui/buttons'
import { RevisionList } from './revision-list'
import { moments } from './words'

const Part = styled.section`
  padding: 2px 14px 14px;
  h3 { font-size: 14px; padding: 10px 0 6px; }
  > p { margin: 0; color: var(--soft); font-size: 12.5px; }
`
const Steps = styled.ol`
  list-style: none;
  margin: 0 -8px;
  padding: 0;
  max-height: 34vh;
  overflow-y: auto;
  scrollbar-width: thin;
`
const Step = styled(Button)`
  display: block;
  width: 100%;
  border: 0;
  border-left: 3px solid transparent;
  background: none;
  text-align: left;
  padding: 5px 8px 5px 7px;
  font-size: 12.5px;
  line-height: 1.35;
  overflow-wrap: anywhere;
  cursor: pointer;
  border-radius: 0 3px 3px 0;
  &[data-undone] { color: var(--soft); font-style: italic; }
  &[data-now] { border-left-color: var(--action); font-weight: 600; }
  &[data-hovered], &[data-focus-visible] { background: var(--tint); }
`

const FIRST = 12
const ALL = 500

/** What was done since the page was opened, to go back and forth in, and the revisions the server has. */
export function History() {
  const store = useWorkbenchStore()
  const past = useWorkbench((s) => s.past)
  const future = useWorkbench((s) => s.future)
  const document = useWorkbench((s) => s.document)
  const [all, setAll] = useState(false)
  const list = useMemo(() => moments({ past, future, document }, all ? ALL : FIRST), [past, future, document, all])
  const go = (steps: number) => (steps > 0 ? store.getState().redo(steps) : store.getState().undo(-steps))
  return (
    <>
      <Part aria-label="What was done">
        <h3>What was done</h3>
        {list.length === 0 && <p>Nothing yet since the project was opened. Every change will stand here, to go back to.</p>}
        <Steps>
          {list.map(({ steps, words, undone }) => (
            <li key={steps}>
              <Step
                data-undone={undone ? '' : undefined}
                data-now={steps === 0 ? '' : undefined}
                aria-current={steps === 0 ? 'step' : undefined}
                aria-label={`${undone ? 'Do again up to' : steps === 0 ? 'Here now' : 'Go back to just after'}: ${words}`}
                onPress={() => go(steps)}
              >
                {words}
              </Step>
            </li>
          ))}
          {list.length > 0 && (all || past.length <= FIRST) && (
            <li>
              <Step data-now={past.length === 0 ? '' : undefined} aria-label="Go back to the project as it was opened" onPress={() => go(-past.length)}>
                As it was opened
              </Step>
            </li>
          )}
        </Steps>
        {!all && past.length > FIRST && <PlainButton onPress={() => setAll(true)}>All {past.length}</PlainButton>}
      </Part>
      <RevisionList />
    </>
  )
}
