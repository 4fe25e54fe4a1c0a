'use client'
import type { RouteStep } from '@kelvar/core/document/schema'
import { ChevronDown } from 'lucide-react'
import { useMemo, useState } from 'react'
import { Button } from 'react-aria-components'
import styled from 'styled-components'
import { useSolidPicture } from '@/features/view/solid-picture'
import { useWorkbench } from '@/state/context'
import { currentPiece, workOf } from '@/state/work'
import { PlainButton } from '@/ui/buttons'

const Strip = styled.div`
  display: grid;
  grid-template-columns: repeat(5, minmax(0, 1fr));
  gap: 4px;
`
const Frame = styled(Button)`
  display: grid;
  grid-template-rows: 38px auto;
  padding: 2px 2px 3px;
  border: 1px solid var(--rule);
  border-radius: 4px;
  background: linear-gradient(var(--stage-near), var(--stage));
  font-size: 11.5px;
  font-variant-numeric: tabular-nums;
  color: var(--soft);
  cursor: pointer;
  img { width: 100%; height: 100%; object-fit: contain; }
  &[data-hovered] { border-color: var(--action); color: var(--ink); }
  &[data-chosen] { border-color: var(--action); color: var(--action); font-weight: 600; }
`
const Opener = styled(PlainButton)`
  justify-self: start;
  svg { transition: transform 0.12s; }
  &[aria-expanded='true'] svg { transform: rotate(180deg); }
`

const SIZE = { width: 116, height: 76 }

/** The step at five strengths on the piece itself, to press; drawn once it is asked for. */
export function StrengthStrip({
  step,
  name,
  title,
  unit = '',
  values,
  value,
  onChange,
}: {
  step: RouteStep
  name: string
  title: string
  unit?: string
  values: readonly number[]
  value: number
  onChange: (value: number) => void
}) {
  const [open, setOpen] = useState(false)
  return (
    <>
      <Opener aria-expanded={open} onPress={() => setOpen(!open)}>
        Five strengths <ChevronDown size={13} aria-hidden />
      </Opener>
      {open && (
        <Strip role="group" aria-label={`${title} at five strengths`}>
          {values.map((one) => (
            <Strength
              key={one}
              step={step}
              name={name}
              value={one}
              words={`${one}${unit === '°' ? '' : ' '}${unit}`}
              chosen={one === value}
              onChoose={() => onChange(one)}
            />
          ))}
        </Strip>
      )}
    </>
  )
}

function Strength({
  step,
  name,
  value,
  words,
  chosen,
  onChoose,
}: {
  step: RouteStep
  name: string
  value: number
  words: string
  chosen: boolean
  onChoose: () => void
}) {
  const document = useWorkbench((s) => s.document)
  const piece = useWorkbench(currentPiece)
  const work = useMemo(() => {
    if (!piece) return undefined
    const route = piece.route.map((s) => (s.id === step.id ? { ...s, params: { ...s.params, [name]: value } } : s))
    return workOf(document, piece.id, route)
  }, [document, piece, step.id, name, value])
  const url = useSolidPicture(work, step.id, SIZE, 600)
  return (
    <Frame aria-label={words} data-chosen={chosen ? '' : undefined} onPress={onChoose}>
      {url ? <img src={url} alt="" /> : <span />}
      <span>{words}</span>
    </Frame>
  )
}
