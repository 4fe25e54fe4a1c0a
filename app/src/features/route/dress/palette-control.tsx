'use client'
import { PALETTES } from '@kelvar/core/look/materials'
import { Plus, X } from 'lucide-react'
import { Button } from 'react-aria-components'
import styled from 'styled-components'
import { FieldName } from '@/ui/buttons'
import { ColourInput } from '@/ui/controls'

const Box = styled.div`
  display: grid;
  gap: 5px;
  padding: 4px 0;
  .row { display: flex; flex-wrap: wrap; gap: 2px 6px; align-items: center; }
  .one { display: flex; align-items: center; }
  .one > :first-child span { display: none; }
`
const Small = styled(Button)`
  border: 0;
  background: none;
  padding: 2px;
  color: var(--soft);
  cursor: pointer;
  display: grid;
  &[data-hovered] { color: var(--ink); }
`
const Ready = styled(Button)`
  display: inline-flex;
  align-items: center;
  gap: 6px;
  border: 1px solid var(--rule);
  border-radius: 11px;
  background: var(--paper);
  padding: 2px 8px;
  font-size: 12px;
  cursor: pointer;
  i { display: inline-block; width: 9px; height: 9px; border-radius: 50%; margin-right: -3px; border: 1px solid color-mix(in srgb, var(--ink) 20%, transparent); }
  i:last-of-type { margin-right: 0; }
  &[data-hovered] { border-color: var(--action); }
`

/** A row of colours that are taken in turn; ready ones to start from. */
export function PaletteControl({
  title,
  value,
  least = 1,
  onChange,
}: {
  title: string
  value: readonly string[]
  /** so many stay */
  least?: number
  onChange: (colours: readonly string[]) => void
}) {
  return (
    <Box role="group" aria-label={title}>
      <FieldName>{title}</FieldName>
      <div className="row">
        {value.map((colour, i) => (
          <span className="one" key={i}>
            <ColourInput label={`${title} ${i + 1}`} value={colour} onChange={(c) => onChange(value.map((old, k) => (k === i ? c : old)))} />
            {value.length > least && (
              <Small aria-label={`Remove colour ${i + 1}`} onPress={() => onChange(value.filter((_, k) => k !== i))}>
                <X size={12} aria-hidden />
              </Small>
            )}
          </span>
        ))}
        {value.length < 12 && (
          <Small aria-label="Add a colour" onPress={() => onChange([...value, value[value.length - 1] ?? '#c8803c'])}>
            <Plus size={15} aria-hidden />
          </Small>
        )}
      </div>
      <div className="row">
        {PALETTES.map(({ name, colours }) => (
          <Ready key={name} onPress={() => onChange(colours)}>
            <span>
              {colours.map((c) => (
                <i key={c} style={{ background: c }} />
              ))}
            </span>
            {name}
          </Ready>
        ))}
      </div>
    </Box>
  )
}
