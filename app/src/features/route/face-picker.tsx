'use client'
import { SHIPPED_FACES } from '@kelvar/core/fonts'
import { ChevronDown } from 'lucide-react'
import { Button, Label, ListBox, ListBoxItem, Select, SelectValue } from 'react-aria-components'
import styled from 'styled-components'
import { PopoverPaper, SliderInput } from '@/ui/controls'
import { specimenFamily, useAxes, useSpecimen } from './fonts'

const Row = styled(Select)`
  display: grid;
  grid-template-columns: 96px minmax(0, 1fr);
  gap: 10px;
  align-items: center;
  label { color: var(--soft); font-size: 12.5px; }
`
const Field = styled(Button)`
  display: flex;
  align-items: center;
  justify-content: space-between;
  gap: 6px;
  border: 0;
  border-bottom: 1px solid var(--ink);
  background: none;
  padding: 5px 2px;
  font-weight: 600;
  text-align: left;
  cursor: pointer;
  &[data-hovered] { color: var(--action); }
`
const Cases = styled(ListBox)`
  outline: none;
  padding: 5px;
  width: 330px;
  max-height: 440px;
  overflow: auto;
`
const Case = styled(ListBoxItem)`
  display: grid;
  grid-template-columns: 1fr auto;
  align-items: center;
  gap: 2px 12px;
  padding: 7px 10px;
  border-radius: 3px;
  cursor: pointer;
  outline: none;
  b { font-weight: 400; font-size: 23px; line-height: 1.35; white-space: nowrap; overflow: hidden; text-overflow: ellipsis; }
  small { color: var(--soft); font-size: 11.5px; grid-column: 1 / -1; }
  i { font-style: normal; color: var(--action); font-size: 12px; font-weight: 600; }
  &[data-focused] { background: var(--tint); }
  & + & { border-top: 1px solid color-mix(in srgb, var(--rule) 60%, transparent); }
`

function Specimen({ sha256, words }: { sha256: string; words: string }) {
  const ready = useSpecimen(sha256)
  return <b style={{ fontFamily: specimenFamily(sha256), opacity: ready ? 1 : 0.15 }}>{words}</b>
}

interface FaceReference {
  sha256: string
  name: string
}

/** The type case as a list of specimens of the person's own words. */
export function FacePicker({ label, value, words, onChange }: { label: string; value: FaceReference; words: string; onChange: (face: FaceReference) => void }) {
  const specimen = words.trim().split('\n')[0].slice(0, 22) || 'Kelvar'
  const own = SHIPPED_FACES.some((f) => f.sha256 === value.sha256)
  return (
    <Row
      selectedKey={value.sha256}
      onSelectionChange={(key) => {
        const face = SHIPPED_FACES.find((f) => f.sha256 === key)
        if (face) onChange({ sha256: face.sha256, name: face.name })
      }}
    >
      <Label>{label}</Label>
      <Field>
        <SelectValue>{`${value.name}${own ? '' : ' (in the project)'}`}</SelectValue>
        <ChevronDown size={14} aria-hidden />
      </Field>
      <PopoverPaper placement="bottom start">
        <Cases>
          {SHIPPED_FACES.map((face) => (
            <Case key={face.sha256} id={face.sha256} textValue={face.name}>
              {({ isSelected }) => (
                <>
                  <Specimen sha256={face.sha256} words={face.script === 'Arabic' && /^[\p{ASCII}]*$/u.test(specimen) ? `${specimen} ميناء` : specimen} />
                  {isSelected && <i>in use</i>}
                  <small>
                    {face.name} · {face.kind}
                    {face.script === 'Latin' ? '' : ` · ${face.script}`}
                  </small>
                </>
              )}
            </Case>
          ))}
        </Cases>
      </PopoverPaper>
    </Row>
  )
}

/** Sliders for a variable face's axes; nothing for others. */
export function AxisSliders({ sha256, value, onChange }: { sha256: string; value: Record<string, number>; onChange: (axes: Record<string, number>) => void }) {
  const axes = useAxes(sha256)
  if (axes.length === 0) return null
  return (
    <>
      {axes.map((axis) => (
        <SliderInput
          key={axis.tag}
          label={axis.name}
          min={axis.min}
          max={axis.max}
          step={axis.max - axis.min > 10 ? 1 : 0.01}
          value={value[axis.tag] ?? axis.default}
          onChange={(v) => onChange({ ...value, [axis.tag]: v })}
        />
      ))}
    </>
  )
}
