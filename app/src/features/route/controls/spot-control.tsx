import { Crosshair } from 'lucide-react'
import { ToggleButton } from 'react-aria-components'
import styled from 'styled-components'
import { useWorkbench, useWorkbenchStore } from '@/state/context'
import { FieldName, FieldRow, PlainButton } from '@/ui/buttons'

const Aim = styled(ToggleButton)`
  display: inline-flex;
  align-items: center;
  gap: 6px;
  justify-self: start;
  border: 1px solid var(--rule);
  border-radius: 3px;
  background: var(--paper);
  padding: 4px 9px;
  font: 600 12px/1.3 var(--text);
  color: var(--action);
  cursor: pointer;
  &[data-hovered] { border-color: var(--action); }
  &[data-selected] { background: var(--action); color: var(--action-ink); border-color: var(--action); }
`
const Row = styled.div`
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 4px 6px;
`

/** A place on the piece that is pressed in the view. */
export function SpotControl({
  title,
  stepId,
  value,
  onChange,
}: {
  title: string
  stepId: string
  value: readonly number[] | null
  onChange: (value: null) => void
}) {
  const store = useWorkbenchStore()
  const aiming = useWorkbench((s) => s.aiming === stepId)
  return (
    <FieldRow>
      <FieldName>{title}</FieldName>
      <Row>
        <Aim
          isSelected={aiming}
          onChange={(on) => {
            store.getState().aim(on ? stepId : undefined)
            if (on) store.getState().turnTo('Model')
          }}
        >
          <Crosshair size={14} aria-hidden />
          {aiming ? 'Press the piece now' : 'Pick in the view'}
        </Aim>
        {value && !aiming && <PlainButton onPress={() => onChange(null)}>Middle of the front</PlainButton>}
      </Row>
    </FieldRow>
  )
}
