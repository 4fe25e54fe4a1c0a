'use client'
import { Button, ToggleButton, ToggleButtonGroup } from 'react-aria-components'
import styled from 'styled-components'

export const ActionButton = styled(Button)`
  border: 0;
  border-radius: 3px;
  background: var(--action);
  color: var(--action-ink);
  font: 600 13px/1 var(--text);
  padding: 9px 18px;
  cursor: pointer;
  &[data-hovered] { background: var(--action-over); }
  &[data-disabled] { opacity: 0.45; cursor: default; }
`

export const PlainButton = styled(Button)`
  display: inline-flex;
  align-items: center;
  gap: 6px;
  border: 0;
  border-radius: 3px;
  background: none;
  padding: 5px 7px;
  color: var(--soft);
  cursor: pointer;
  &[data-hovered] { color: var(--ink); background: color-mix(in srgb, var(--ink) 6%, transparent); }
  &[data-disabled] { opacity: 0.4; cursor: default; }
`

/** Does a small thing at the place it concerns. */
export const SmallButton = styled(Button)`
  border: 1px solid var(--rule);
  border-radius: 3px;
  background: var(--paper);
  padding: 3px 9px;
  font-size: 12px;
  font-weight: 600;
  color: var(--action);
  cursor: pointer;
  &[data-hovered] { border-color: var(--action); }
`

/** A labelled line of a form: name at the left, control at the right. */
export const FieldRow = styled.div`
  display: grid;
  grid-template-columns: 96px minmax(0, 1fr);
  gap: 10px;
  align-items: center;
  min-height: 30px;
`

export const fieldName = `
  color: var(--soft);
  font-size: 12.5px;
`
export const FieldName = styled.span`${fieldName}`

const Segments = styled(ToggleButtonGroup)`
  display: flex;
  border: 1px solid var(--ink);
  border-radius: 3px;
  overflow: hidden;
`
const Segment = styled(ToggleButton)`
  flex: 1;
  border: 0;
  background: none;
  padding: 5px 6px;
  font-size: 12.5px;
  cursor: pointer;
  white-space: nowrap;
  &[data-hovered] { background: color-mix(in srgb, var(--ink) 8%, transparent); }
  &[data-selected] { background: var(--ink); color: var(--paper); font-weight: 600; }
  &[data-focus-visible] { outline-offset: -3px; outline-color: currentColor; }
`

/** One of a few, as a row of segments. */
export function Choice<T extends string>({
  label,
  options,
  value,
  onChange,
}: {
  label: string
  options: readonly { id: T; label: string }[]
  value: T
  onChange: (value: T) => void
}) {
  return (
    <FieldRow>
      <FieldName aria-hidden>{label}</FieldName>
      <Segments
        aria-label={label}
        selectionMode="single"
        disallowEmptySelection
        selectedKeys={[value]}
        onSelectionChange={(keys) => onChange([...keys][0] as T)}
      >
        {options.map((o) => (
          <Segment key={o.id} id={o.id}>
            {o.label}
          </Segment>
        ))}
      </Segments>
    </FieldRow>
  )
}
