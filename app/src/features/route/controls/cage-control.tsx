import type { CagePoint } from '@kelvar/core/steps/deform/free-cage/schema'
import { Button } from 'react-aria-components'
import { X } from 'lucide-react'
import styled from 'styled-components'
import { PlainButton } from '@/ui/buttons'
import { NumberInput } from '@/ui/controls'

const Box = styled.fieldset`
  border: 0;
  margin: 4px 0;
  padding: 0;
  min-inline-size: 0;
  display: grid;
  gap: 4px;
  justify-items: start;
  legend { color: var(--soft); font-size: 12.5px; padding: 0 0 4px; }
  p { margin: 0; color: var(--soft); font-size: 12px; }
  .row { display: grid; grid-template-columns: 62px repeat(3, minmax(0, 1fr)) auto; gap: 6px; align-items: center; width: 100%; font-size: 12.5px; font-variant-numeric: tabular-nums; }
  .row button { border: 0; background: none; color: var(--soft); padding: 4px; border-radius: 3px; cursor: pointer; display: grid; }
  .row button[data-hovered] { color: var(--ink); }
`

const WAYS = ['right', 'up', 'forward'] as const

/** The points of a cage that are moved: pulled in the view, or typed here. */
export function CageControl({ title, value, onChange }: { title: string; value: readonly CagePoint[]; onChange: (value: CagePoint[]) => void }) {
  const named = ({ at }: CagePoint) => at.map((n) => n + 1).join(', ')
  return (
    <Box>
      <legend>{title}</legend>
      {value.length === 0 ? (
        <p>Pull the points in the view: to the side, up, or turn the view and pull them forward.</p>
      ) : (
        <p>Column, row, layer · to the right, up and forward, %</p>
      )}
      {value.map((point, i) => (
        <div className="row" key={point.at.join()}>
          <span>{named(point)}</span>
          {WAYS.map((way, k) => (
            <NumberInput
              key={way}
              label={`Point ${named(point)}: ${way}`}
              value={point.by[k]}
              hideLabel
              min={-1000}
              max={1000}
              step={1}
              onChange={(to) =>
                onChange(value.map((other, j) => (j === i ? { ...other, by: other.by.map((v, n) => (n === k ? to : v)) as CagePoint['by'] } : other)))
              }
            />
          ))}
          <Button aria-label={`Put point ${named(point)} back`} onPress={() => onChange(value.filter((_, j) => j !== i))}>
            <X size={13} aria-hidden />
          </Button>
        </div>
      ))}
      {value.length > 0 && <PlainButton onPress={() => onChange([])}>Put all back</PlainButton>}
    </Box>
  )
}
