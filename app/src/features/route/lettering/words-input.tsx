'use client'
import { graphemes } from '@kelvar/core/document/letters'
import { useEffect, useRef } from 'react'
import { Label, TextArea, TextField } from 'react-aria-components'
import styled from 'styled-components'
import { lacking, useTypeCase } from '@/features/type-case/library'
import { useWorkbenchStore } from '@/state/context'
import { SmallButton } from '@/ui/buttons'
import { setFace } from '@/state/actions/files'
import { placeOf } from '@/state/actions/steps'
import { setWords } from '@/state/actions/words'

const Words = styled(TextField)`
  display: grid;
  gap: 3px;
  label { color: var(--soft); font-size: 12.5px; }
  textarea {
    width: 100%;
    border: 1px solid var(--rule);
    border-radius: 3px;
    background: var(--paper);
    padding: 7px 9px;
    font: 600 16px/1.3 var(--text);
    resize: none;
    field-sizing: content;
    min-height: 38px;
    max-height: 150px;
    outline: none;
  }
  textarea:focus { border-color: var(--action); box-shadow: 0 0 0 1px var(--action); }
`
const Lacks = styled.div`
  font-size: 12.5px;
  padding: 6px 9px 8px;
  border-left: 3px solid var(--caution);
  background: color-mix(in srgb, var(--caution) 9%, var(--paper));
  b { font-weight: 600; }
  .faces { display: flex; flex-wrap: wrap; gap: 5px; margin-top: 5px; }
`

const MOST_OFFERED = 4

/** The words. Text that is selected picks its letters; characters the face lacks are named, with faces that have them. */
export function WordsInput({ label, stepId, params, focus }: { label: string; stepId: string; params: Record<string, unknown>; focus: boolean }) {
  const store = useWorkbenchStore()
  const area = useRef<HTMLTextAreaElement>(null)
  const text = String(params.text ?? '')
  useEffect(() => {
    if (focus) area.current?.focus({ preventScroll: true })
  }, [focus])
  const pickSelected = () => {
    const { selectionStart, selectionEnd } = area.current as HTMLTextAreaElement
    // all of it selected is a way to type anew, not to pick
    if (selectionStart === selectionEnd || selectionEnd - selectionStart === text.length) return
    store.getState().pick(
      graphemes(text)
        .filter((letter) => letter.at >= selectionStart && letter.at < selectionEnd && letter.text.trim() !== '')
        .map((letter) => letter.at),
    )
  }
  return (
    <>
      <Words value={text} onChange={(value) => setWords(store, stepId, value, area.current?.selectionStart ?? undefined)}>
        <Label>{label}</Label>
        <TextArea ref={area} rows={1} spellCheck={false} dir="auto" onSelect={pickSelected} />
      </Words>
      <Lacking stepId={stepId} text={text} font={params.font as { sha256: string; name: string }} />
    </>
  )
}

function Lacking({ stepId, text, font }: { stepId: string; text: string; font: { sha256: string; name: string } }) {
  const store = useWorkbenchStore()
  const { faces } = useTypeCase()
  const face = faces.find((f) => f.sha256 === font.sha256)
  const missing = face ? lacking(face, text) : []
  if (missing.length === 0) return null
  const helpers = faces.map((f) => ({ face: f, still: lacking(f, text) })).sort((a, b) => a.still.length - b.still.length)
  const best = helpers.filter((h) => h.still.length === helpers[0].still.length && h.still.length < missing.length).slice(0, MOST_OFFERED)
  const found = missing.filter((c) => !helpers[0].still.includes(c))
  return (
    <Lacks role="note">
      <b>
        {font.name} has no shape for {missing.slice(0, 10).join(' ')}
        {missing.length > 10 ? ' …' : ''}.
      </b>{' '}
      {best.length === 0
        ? 'No face of the type case has; they are left out.'
        : `${found.length === missing.length ? 'These faces have it' : `These faces have ${found.slice(0, 6).join(' ')}`}:`}
      {best.length > 0 && (
        <div className="faces">
          {best.map((h) => (
            <SmallButton key={h.face.sha256} onPress={() => setFace(store, placeOf(store, stepId), h.face)}>
              {h.face.name}
            </SmallButton>
          ))}
        </div>
      )}
    </Lacks>
  )
}
