'use client'
import type { Material } from '@kelvar/core/solid/solid'
import styled from 'styled-components'
import { ColourInput, FieldName, SliderInput } from '@/ui/controls'

const Box = styled.div`
  padding: 7px 0 5px;
  & + & { border-top: 1px solid color-mix(in srgb, var(--rule) 80%, transparent); }
  .head { display: grid; grid-template-columns: 96px 1fr; gap: 10px; align-items: center; }
  .head > :first-child { color: var(--ink); font-weight: 600; }
`

/** Colour, roughness and metalness of one surface group. */
export function MaterialControl({ title, value, onChange }: { title: string; value: Material; onChange: (material: Material) => void }) {
  return (
    <Box role="group" aria-label={title}>
      <div className="head">
        <FieldName>{title}</FieldName>
        <ColourInput label={`${title}: colour`} value={value.colour} onChange={(colour) => onChange({ ...value, colour })} />
      </div>
      <SliderInput label="Roughness" value={value.roughness} onChange={(roughness) => onChange({ ...value, roughness })} />
      <SliderInput label="Metalness" value={value.metalness} onChange={(metalness) => onChange({ ...value, metalness })} />
    </Box>
  )
}
