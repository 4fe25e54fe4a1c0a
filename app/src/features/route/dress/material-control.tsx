'use client'
import { STARTERS } from '@kelvar/core/look/materials'
import { named } from '@kelvar/core/look/words'
import { ChevronDown } from 'lucide-react'
import { Button, Dialog, DialogTrigger } from 'react-aria-components'
import styled from 'styled-components'
import { FieldName } from '@/ui/buttons'
import { ColourInput, PopoverPaper, SliderInput } from '@/ui/controls'
import type { Material } from '@kelvar/core/look/material'

const Row = styled.div`
  display: grid;
  grid-template-columns: 96px 78px minmax(0, 1fr);
  gap: 10px;
  align-items: center;
  min-height: 32px;
  > :first-child { color: var(--ink); font-weight: 600; }
  .colour span { display: none; }
`
const Open = styled(Button)`
  display: flex;
  align-items: center;
  justify-content: space-between;
  gap: 6px;
  min-width: 0;
  border: 0;
  border-bottom: 1px solid var(--ink);
  background: none;
  padding: 4px 2px;
  cursor: pointer;
  text-align: left;
  span { overflow: hidden; text-overflow: ellipsis; white-space: nowrap; }
  span::first-letter { text-transform: uppercase; }
  svg { flex: none; }
  &[data-hovered], &[aria-expanded='true'] { color: var(--action); }
`
const Sheet = styled(Dialog)`
  width: 326px;
  max-height: 76vh;
  overflow: auto;
  scrollbar-width: thin;
  outline: none;
  padding: 8px 14px 12px;
  h3 { font-size: 12px; color: var(--soft); font-weight: 500; padding: 8px 0 5px; }
  .tiles { display: grid; grid-template-columns: repeat(8, 1fr); gap: 5px; }
  .own { border-top: 1px solid var(--rule); margin-top: 12px; padding-top: 8px; }
`
const Ball = styled(Button)`
  border: 1px solid transparent;
  border-radius: 50%;
  width: 32px;
  height: 32px;
  padding: 0;
  background: none;
  cursor: pointer;
  svg { display: block; width: 100%; height: 100%; }
  &[data-hovered] { border-color: var(--ink); }
  &[aria-pressed='true'] { box-shadow: 0 0 0 2px var(--action); }
`

const KINDS = [...new Set(STARTERS.map((s) => s.kind))]

/** A ball in a material, as a hint of how it takes the light. */
function MaterialBall({ material: { colour, roughness, metalness, glow = 0 } }: { material: Material }) {
  const id = `ball-${colour.slice(1)}-${Math.round(roughness * 100)}-${Math.round(metalness * 100)}-${Math.round(glow * 100)}`
  const dark = metalness > 0.4 ? 62 : 34
  return (
    <svg viewBox="0 0 32 32" aria-hidden>
      <defs>
        <radialGradient id={id} cx="36%" cy="30%" r={`${30 + roughness * 48}%`}>
          <stop offset="0%" stopColor={`color-mix(in srgb, ${colour}, white ${Math.round((1 - roughness) * (metalness > 0.4 ? 82 : 70) + glow * 40)}%)`} />
          <stop offset={`${18 + roughness * 40}%`} stopColor={colour} />
          <stop offset="100%" stopColor={glow > 0.3 ? colour : `color-mix(in srgb, ${colour}, black ${dark}%)`} />
        </radialGradient>
      </defs>
      {glow > 0.3 && <circle cx="16" cy="16" r="16" fill={colour} opacity="0.35" />}
      <circle cx="16" cy="16" r={glow > 0.3 ? 12 : 14.5} fill={`url(#${id})`} />
    </svg>
  )
}

const same = (a: Material, b: Material) =>
  a.colour === b.colour && a.roughness === b.roughness && a.metalness === b.metalness && (a.glow ?? 0) === (b.glow ?? 0) && (a.clear ?? 0) === (b.clear ?? 0)

/** A material: its colour at hand, the library and its finish one press away. */
export function MaterialControl({
  title,
  shown = title,
  value,
  onChange,
}: {
  title: string
  /** what stands beside it, where that is not its name */
  shown?: string
  value: Material
  onChange: (material: Material) => void
}) {
  return (
    <Row role="group" aria-label={title}>
      <FieldName>{shown}</FieldName>
      <span className="colour">
        <ColourInput label={`${title}: colour`} value={value.colour} onChange={(colour) => onChange({ ...value, colour })} />
      </span>
      <DialogTrigger>
        <Open aria-label={`${title}: material, ${named(value)}`}>
          <span>{named(value)}</span>
          <ChevronDown size={14} aria-hidden />
        </Open>
        <PopoverPaper placement="right top">
          <Sheet aria-label={`${title}: material`}>
            {KINDS.map((kind) => (
              <section key={kind}>
                <h3>{kind}</h3>
                <div className="tiles">
                  {STARTERS.filter((s) => s.kind === kind).map((s) => (
                    <Ball key={s.name} aria-label={s.name} aria-pressed={same(s.material, value)} onPress={() => onChange(s.material)}>
                      <MaterialBall material={s.material} />
                    </Ball>
                  ))}
                </div>
              </section>
            ))}
            <div className="own">
              <SliderInput label="Roughness" value={value.roughness} onChange={(roughness) => onChange({ ...value, roughness })} />
              <SliderInput label="Metalness" value={value.metalness} onChange={(metalness) => onChange({ ...value, metalness })} />
              <SliderInput label="Glow" value={value.glow ?? 0} onChange={(glow) => onChange({ ...value, glow })} />
              <SliderInput label="Clear" value={value.clear ?? 0} onChange={(clear) => onChange({ ...value, clear })} />
            </div>
          </Sheet>
        </PopoverPaper>
      </DialogTrigger>
    </Row>
  )
}
