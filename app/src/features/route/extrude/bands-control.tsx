'use client'
import { Plus, Trash2 } from 'lucide-react'
import { Button, Input, TextField } from 'react-aria-components'
import styled from 'styled-components'
import { FieldName, PlainButton } from '@/ui/buttons'
import { NumberInput } from '@/ui/controls'

interface Band {
  name: string
  from: number
  to: number
}

const Box = styled.div`
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 4px;
  padding: 4px 0;
`
const Row = styled.div`
  display: grid;
  grid-template-columns: minmax(0, 1.2fr) minmax(0, 1fr) minmax(0, 1fr) 20px;
  gap: 10px;
  align-items: end;
  small { display: block; color: var(--soft); font-size: 11px; }
  input { width: 100%; border: 0; border-bottom: 1px solid var(--ink); background: none; padding: 4px 2px; font-weight: 600; min-width: 0; }
`
const Remove = styled(Button)`
  border: 0;
  background: none;
  padding: 3px 2px;
  color: var(--soft);
  cursor: pointer;
  display: grid;
  &[data-hovered] { color: var(--failure); }
`

/** Parts of the front edge with names of their own, to be dressed by themselves; measured by their insets. */
export function BandsControl({
  title,
  value,
  inset,
  onChange,
}: {
  title: string
  value: readonly Band[]
  inset: number
  onChange: (bands: readonly Band[]) => void
}) {
  const set = (i: number, patch: Partial<Band>) => onChange(value.map((band, k) => (k === i ? { ...band, ...patch } : band)))
  const free = Math.min(inset, Math.max(0, ...value.map((band) => band.to)))
  return (
    <Box>
      {value.length > 0 && <FieldName>{title}</FieldName>}
      {value.map((band, i) => (
        <Row key={i} role="group" aria-label={`Band ${i + 1}`}>
          <TextField value={band.name} onChange={(name) => name && set(i, { name })} maxLength={40} aria-label={`Band ${i + 1}: name`}>
            <Input />
          </TextField>
          <div>
            <small>From inset</small>
            <NumberInput
              hideLabel
              label={`Band ${i + 1}: from`}
              value={band.from}
              min={0}
              max={500}
              step={0.1}
              unit="mm"
              onChange={(from) => set(i, { from })}
            />
          </div>
          <div>
            <small>To</small>
            <NumberInput hideLabel label={`Band ${i + 1}: to`} value={band.to} min={0} max={500} step={0.1} unit="mm" onChange={(to) => set(i, { to })} />
          </div>
          <Remove aria-label={`Remove band ${band.name}`} onPress={() => onChange(value.filter((_, k) => k !== i))}>
            <Trash2 size={14} aria-hidden />
          </Remove>
        </Row>
      ))}
      {value.length < 6 && (
        <PlainButton
          style={{ justifySelf: 'start', marginLeft: -7, fontSize: 12.5 }}
          onPress={() => {
            const from = free < inset * 0.95 ? free : 0
            onChange([
              ...value,
              {
                name: value.length === 0 ? 'Rim' : `Band ${value.length + 1}`,
                from: tidy(from),
                to: tidy(from + (inset - from) / (value.length === 0 ? 3 : 2)),
              },
            ])
          }}
        >
          <Plus size={13} aria-hidden /> Name a band of the edge
        </PlainButton>
      )}
    </Box>
  )
}

const tidy = (v: number) => Number(v.toFixed(2))
