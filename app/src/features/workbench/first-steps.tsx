'use client'
import type { ProjectDocument } from '@kelvar/core/document/schema'
import { Check, X } from 'lucide-react'
import { useEffect, useRef, useState } from 'react'
import { Button } from 'react-aria-components'
import styled from 'styled-components'
import { useWorkbench } from '@/state/context'

const Card = styled.aside`
  position: absolute;
  left: 18px;
  top: 16px;
  z-index: 8;
  width: 268px;
  padding: 12px 14px 13px;
  background: var(--paper);
  border: 1px solid var(--rule);
  border-left: 4px solid var(--action);
  border-radius: 4px;
  box-shadow: 0 10px 30px rgb(var(--shadow) / 0.1);
  @media (max-width: 1100px) { top: auto; bottom: 56px; }
  header { display: flex; justify-content: space-between; align-items: baseline; }
  h2 { font-size: 14px; }
  ol { list-style: none; margin: 8px 0 0; padding: 0; display: grid; gap: 7px; }
  li { display: grid; grid-template-columns: 20px 1fr; gap: 0 8px; color: var(--soft); font-size: 12.5px; line-height: 1.35; }
  li[data-now] { color: var(--ink); font-weight: 600; }
  li > i { width: 18px; height: 18px; border-radius: 50%; border: 1.5px solid currentColor; display: grid; place-items: center; font: 700 10.5px/1 var(--text); }
  li[data-done] > i { background: var(--action); border-color: var(--action); color: var(--paper); }
  p { margin: 0; }
  button { border: 0; background: none; padding: 3px; color: var(--soft); cursor: pointer; border-radius: 3px; display: grid; }
  button[data-hovered] { color: var(--ink); }
`

const DONE = 'kelvar-first-steps'

/** What a newcomer does first; each is done by doing it. */
const STEPS = [
  { title: 'Type your own words', words: 'They stand in the field at the left, ready to be typed over.', kind: 'lettering' },
  { title: 'Give them depth and an edge', words: 'Open Extrude, choose an edge, or pull the round handles in the view.', kind: 'extrude' },
  { title: 'Dress them', words: 'Open Dress and change a colour. Then Dispatch, at the upper right, writes it all out.', kind: 'dress' },
] as const

/** A step's values as they are in a document, to see whether a person has changed them. */
const valuesOf = (document: ProjectDocument, kind: string) =>
  JSON.stringify(document.pieces.flatMap((p) => p.route.filter((s) => s.kind === kind).map((s) => s.params)))

/** Three steps for the first project a person opens, taught by doing; gone for good once done or closed. */
export function FirstSteps() {
  const [wanted, setWanted] = useState(false)
  useEffect(() => setWanted(localStorage.getItem(DONE) === null), [])
  return wanted ? <Hint onGone={() => setWanted(false)} /> : null
}

function Hint({ onGone }: { onGone: () => void }) {
  const document = useWorkbench((s) => s.document)
  const [first] = useState(document)
  const done = STEPS.map(({ kind }) => valuesOf(document, kind) !== valuesOf(first, kind))
  const now = done.indexOf(false)
  const close = () => {
    localStorage.setItem(DONE, new Date().toISOString())
    onGone()
  }
  const latest = useRef(onGone)
  useEffect(() => {
    latest.current = onGone
  })
  useEffect(() => {
    if (now >= 0) return
    localStorage.setItem(DONE, new Date().toISOString())
    const timer = setTimeout(() => latest.current(), 4000)
    return () => clearTimeout(timer)
  }, [now])
  return (
    <Card aria-label="First steps">
      <header>
        <h2>{now < 0 ? 'That is all it takes' : 'Three first steps'}</h2>
        <Button aria-label="Close for good" onPress={close}>
          <X size={14} aria-hidden />
        </Button>
      </header>
      <ol>
        {STEPS.map(({ title, words }, i) => (
          <li key={title} data-done={done[i] ? '' : undefined} data-now={i === now ? '' : undefined}>
            <i>{done[i] ? <Check size={11} strokeWidth={3} aria-label="done" /> : i + 1}</i>
            <span>
              {title}
              {i === now && <p style={{ fontWeight: 400, color: 'var(--soft)' }}>{words}</p>}
            </span>
          </li>
        ))}
      </ol>
    </Card>
  )
}
