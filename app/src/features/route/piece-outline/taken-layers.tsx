'use client'
import { Check } from 'lucide-react'
import { Checkbox, CheckboxGroup } from 'react-aria-components'
import styled from 'styled-components'
import { useWorkbench } from '@/state/context'
import { FieldName } from '@/ui/buttons'

const Group = styled(CheckboxGroup)`
  display: grid;
  gap: 4px;
  grid-template-columns: minmax(0, 1fr);
`
const List = styled.div`
  border: 1px solid var(--rule);
  border-radius: 3px;
  background: var(--paper);
  max-height: 190px;
  overflow: auto;
  scrollbar-width: thin;
`
const Row = styled(Checkbox)`
  display: grid;
  grid-template-columns: 15px 18px minmax(0, 1fr);
  gap: 8px;
  align-items: center;
  min-height: 28px;
  padding: 1px 8px;
  cursor: pointer;
  border-bottom: 1px solid color-mix(in srgb, var(--rule) 50%, transparent);
  .box { width: 15px; height: 15px; border: 1px solid var(--ink); border-radius: 2px; display: grid; place-items: center; color: transparent; }
  .chip { width: 18px; height: 14px; border-radius: 2px; border: 1px solid color-mix(in srgb, var(--ink) 25%, transparent); }
  .name { overflow: hidden; text-overflow: ellipsis; white-space: nowrap; }
  &[data-selected] .box { background: var(--action); border-color: var(--action); color: var(--paper); }
  &[data-hovered] { background: color-mix(in srgb, var(--ink) 4%, transparent); }
  &[data-focus-visible] { outline: 2px solid var(--action); outline-offset: -2px; }
`

/** Which layers of another piece are taken; all while none is picked. */
export function TakenLayers({
  title,
  stepId,
  value,
  onChange,
}: {
  title: string
  stepId: string
  value: readonly string[]
  onChange: (value: string[]) => void
}) {
  const layers = useWorkbench((s) => s.news?.steps.find(({ id }) => id === stepId)?.marks?.layers)
  if (!layers || (layers.length < 2 && value.length === 0)) return null
  // what is picked and gone can still be taken off
  const gone = value.filter((id) => !layers.some((layer) => layer.id === id)).map((id) => ({ id, name: `${id} (gone)`, colour: undefined }))
  return (
    <Group aria-label={title} value={[...value]} onChange={onChange}>
      <FieldName>{value.length === 0 ? `${title}: all of them, until some are picked` : `${title}: ${value.length} picked`}</FieldName>
      <List>
        {[...layers, ...gone].map(({ id, name, colour }) => (
          <Row key={id} value={id}>
            <span className="box">
              <Check size={12} aria-hidden />
            </span>
            <span className="chip" style={{ background: colour ?? 'transparent' }} />
            <span className="name">{name}</span>
          </Row>
        ))}
      </List>
    </Group>
  )
}
