import type { ByHand } from '@kelvar/core/steps/shared/repeating'
import { X } from 'lucide-react'
import { Button } from 'react-aria-components'
import styled from 'styled-components'
import { changeCopy, changeOf } from '@/state/actions/copies'
import { useWorkbench, useWorkbenchStore } from '@/state/context'
import { PlainButton } from '@/ui/buttons'

const Box = styled.fieldset`
  border: 0;
  margin: 4px 0;
  padding: 0;
  min-inline-size: 0;
  display: grid;
  gap: 2px;
  justify-items: start;
  legend { color: var(--soft); font-size: 12.5px; padding: 0 0 4px; }
  p { margin: 0; color: var(--soft); font-size: 12px; }
  .picked { display: flex; flex-wrap: wrap; align-items: center; gap: 2px 10px; width: 100%; padding: 5px 8px; background: var(--tint); border-radius: 3px; font-size: 13px; }
  .picked b { font-weight: 600; font-variant-numeric: tabular-nums; }
  .row { display: flex; justify-content: space-between; align-items: center; width: 100%; font-size: 12.5px; font-variant-numeric: tabular-nums; }
  .row button { border: 0; background: none; color: var(--soft); padding: 4px; border-radius: 3px; cursor: pointer; display: grid; }
  .row button[data-hovered] { color: var(--ink); }
`

const SHOWN = 8

const told = ({ out, by }: ByHand['list'][number]) => (out ? 'left out' : `moved by ${by.map((v) => Number(v.toFixed(1))).join(', ')} mm`)

/** Single copies: picked in the view, left out, moved, and put back. */
export function HandControl({ title, stepId, value, onChange }: { title: string; stepId: string; value: ByHand; onChange: (value: ByHand) => void }) {
  const store = useWorkbenchStore()
  const copy = useWorkbench((s) => (s.copy?.step === stepId ? s.copy : undefined))
  const change = copy && changeOf(value, copy)
  const nameOf = ({ at, spot }: ByHand['list'][number]) =>
    at >= 0
      ? `In “${[...value.of.slice(at)][0] ?? ''}”`
      : Number.isInteger(spot[0]) && Number.isInteger(spot[1])
        ? `Copy ${spot.map((v) => v + 1).join(', ')}`
        : 'A copy'
  return (
    <Box>
      <legend>{title}</legend>
      {copy ? (
        <div className="picked" role="status">
          <b>
            Copy {copy.number + 1}
            {copy.letter ? ` in “${copy.letter}”` : ''}
          </b>
          {!change?.out && <PlainButton onPress={() => changeCopy(store, copy, { out: true })}>Leave it out</PlainButton>}
          {change && <PlainButton onPress={() => changeCopy(store, copy, 'back')}>Put it back</PlainButton>}
        </div>
      ) : (
        <p>{value.list.length === 0 ? 'Press a copy in the view to leave it out or to move it.' : 'Press a copy in the view to change another.'}</p>
      )}
      {value.list.slice(0, SHOWN).map((one, i) => (
        <div className="row" key={`${one.at} ${one.spot.join()}`}>
          <span>
            {nameOf(one)}: {told(one)}
          </span>
          <Button aria-label={`Put back: ${nameOf(one)}, ${told(one)}`} onPress={() => onChange({ ...value, list: value.list.filter((_, j) => j !== i) })}>
            <X size={13} aria-hidden />
          </Button>
        </div>
      ))}
      {value.list.length > SHOWN && <p>and {value.list.length - SHOWN} more</p>}
      {value.list.length > 1 && <PlainButton onPress={() => onChange({ ...value, list: [] })}>Put all back</PlainButton>}
    </Box>
  )
}
