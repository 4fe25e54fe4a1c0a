'use client'
import type { DressRuleParams } from '@kelvar/core/steps/dress/dress/schema'
import { Plus, Trash2 } from 'lucide-react'
import { Button, Input, TextField } from 'react-aria-components'
import styled from 'styled-components'
import { useWorkbench } from '@/state/context'
import { FieldName, PlainButton } from '@/ui/buttons'
import { Chip, Chips } from '@/ui/chips'
import { NumberInput, PickInput } from '@/ui/controls'
import { GROUP_WORDS } from '../controls/group-words'
import { MaterialControl } from './material-control'
import { GROUPS, type Group } from '@kelvar/core/solid/labels'
import { currentPiece } from '@/state/work'

const Box = styled.div`
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 8px;
  padding: 8px 0 4px;
  border-top: 1px solid color-mix(in srgb, var(--rule) 80%, transparent);
`
const Rule = styled.div`
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 4px;
  padding: 6px 10px 8px;
  border: 1px solid var(--rule);
  border-radius: 4px;
  background: color-mix(in srgb, var(--paper) 70%, transparent);
  .head { display: flex; justify-content: space-between; align-items: center; font-weight: 600; }
  .two { display: grid; grid-template-columns: minmax(0, 1fr) minmax(0, 1fr); gap: 0 12px; }
`
const Letters = styled(TextField)`
  display: grid;
  grid-template-columns: 86px minmax(0, 1fr);
  gap: 10px;
  align-items: center;
  span { color: var(--soft); font-size: 12.5px; }
  input { border: 0; border-bottom: 1px solid var(--ink); background: none; padding: 4px 2px; font-weight: 600; min-width: 0; }
`
const Remove = styled(Button)`
  border: 0;
  background: none;
  padding: 3px;
  color: var(--soft);
  cursor: pointer;
  display: grid;
  &[data-hovered] { color: var(--failure); }
`

const FRESH: DressRuleParams = {
  groups: ['face'],
  letters: '',
  every: 1,
  from: 1,
  layer: '',
  band: '',
  material: { colour: '#e8b64c', roughness: 0.24, metalness: 1 },
}

/** Materials for some of the letters, a layer or a band: rules that are gone through in turn, each over those before it. */
export function RulesControl({
  title,
  value,
  onChange,
}: {
  title: string
  value: readonly DressRuleParams[]
  onChange: (rules: readonly DressRuleParams[]) => void
}) {
  const layers = useWorkbench((s) => s.news?.steps.findLast((step) => step.layers)?.layers)
  const route = useWorkbench((s) => currentPiece(s)?.route)
  const bands = [
    ...new Set(route?.flatMap((step) => (Array.isArray(step.params.bands) ? (step.params.bands as { name: string }[]).map((band) => band.name) : [])) ?? []),
  ]
  const set = (i: number, patch: Partial<DressRuleParams>) => onChange(value.map((rule, k) => (k === i ? { ...rule, ...patch } : rule)))
  const named = (list: readonly string[], now: string, all: string) => [
    { id: '', label: all },
    ...[...new Set([...list, ...(now ? [now] : [])])].map((name) => ({ id: name, label: name })),
  ]
  return (
    <Box>
      <FieldName>{title}</FieldName>
      {value.map((rule, i) => (
        <Rule key={i} role="group" aria-label={`Rule ${i + 1}`}>
          <div className="head">
            Rule {i + 1}
            <Remove aria-label={`Remove rule ${i + 1}`} onPress={() => onChange(value.filter((_, k) => k !== i))}>
              <Trash2 size={14} aria-hidden />
            </Remove>
          </div>
          <Chips
            aria-label={`Rule ${i + 1}: surfaces`}
            selectionMode="multiple"
            selectedKeys={rule.groups}
            onSelectionChange={(keys) => set(i, { groups: [...keys] as Group[] })}
          >
            {GROUPS.map((group) => (
              <Chip key={group} id={group}>
                {GROUP_WORDS[group]}
              </Chip>
            ))}
          </Chips>
          <Letters aria-label={`Rule ${i + 1}: letters`} value={rule.letters} onChange={(letters) => set(i, { letters })} maxLength={60}>
            <span>Letters</span>
            <Input placeholder="all" />
          </Letters>
          <div className="two">
            <NumberInput
              label={`Rule ${i + 1}: each so many-th letter`}
              hideLabel
              value={rule.every}
              min={1}
              max={100}
              step={1}
              unit={rule.every === 1 ? 'each letter' : '-th letter'}
              onChange={(every) => set(i, { every: Math.round(every) })}
            />
            {rule.every > 1 && (
              <NumberInput
                label={`Rule ${i + 1}: from letter`}
                hideLabel
                value={rule.from}
                min={1}
                max={100}
                step={1}
                unit="first"
                onChange={(from) => set(i, { from: Math.round(from) })}
              />
            )}
          </div>
          {(layers && layers.length > 1) || rule.layer ? (
            <PickInput
              label="Layer"
              value={rule.layer}
              options={named(layers?.map((l) => l.name) ?? [], rule.layer, 'Every layer')}
              onChange={(layer) => set(i, { layer })}
            />
          ) : null}
          {bands.length > 0 || rule.band ? (
            <PickInput
              label="Band"
              value={rule.band}
              options={named(bands, rule.band, 'With or without')}
              onChange={(band) => set(i, { band, ...(band && !rule.groups.includes('edge') ? { groups: [] } : {}) })}
            />
          ) : null}
          <MaterialControl title={`Rule ${i + 1}`} shown="Material" value={rule.material} onChange={(material) => set(i, { material })} />
        </Rule>
      ))}
      <PlainButton
        style={{ justifySelf: 'start', marginLeft: -7 }}
        onPress={() => onChange([...value, bands.length > 0 && !value.some((rule) => rule.band) ? { ...FRESH, groups: [], band: bands[0] } : FRESH])}
      >
        <Plus size={14} aria-hidden /> Dress some of it differently
      </PlainButton>
    </Box>
  )
}
