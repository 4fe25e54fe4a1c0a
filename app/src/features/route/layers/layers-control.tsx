'use client'
import type { LayerRow } from '@kelvar/core/steps/outline/layers/schema'
import { Eye, EyeOff, GripVertical } from 'lucide-react'
import { useState } from 'react'
import { Button, GridList, GridListItem, useDragAndDrop } from 'react-aria-components'
import styled from 'styled-components'
import { useWorkbench, useWorkbenchStore } from '@/state/context'
import { FieldName, FieldRow, PlainButton } from '@/ui/buttons'
import { ColourInput, NumberInput } from '@/ui/controls'
import { setParams } from '@/state/actions/steps'

const List = styled(GridList)`
  border: 1px solid var(--rule);
  border-radius: 3px;
  background: var(--paper);
  max-height: 236px;
  overflow: auto;
  outline: none;
  scrollbar-width: thin;
` as typeof GridList
const Row = styled(GridListItem)`
  display: grid;
  grid-template-columns: 16px 18px minmax(0, 1fr) auto 22px;
  gap: 7px;
  align-items: center;
  min-height: 30px;
  padding: 2px 7px 2px 4px;
  outline: none;
  cursor: pointer;
  border-bottom: 1px solid color-mix(in srgb, var(--rule) 50%, transparent);
  .grip { border: 0; background: none; padding: 0; color: var(--soft); cursor: grab; display: grid; }
  .chip { width: 18px; height: 14px; border-radius: 2px; border: 1px solid color-mix(in srgb, var(--ink) 25%, transparent); }
  .name { overflow: hidden; text-overflow: ellipsis; white-space: nowrap; }
  .told { color: var(--soft); font-size: 11.5px; white-space: nowrap; }
  .eye { border: 0; background: none; padding: 2px; color: var(--soft); cursor: pointer; display: grid; }
  &[data-gone] .name, &[data-gone] .told { opacity: 0.45; }
  &[data-hovered] { background: color-mix(in srgb, var(--ink) 4%, transparent); }
  &[data-selected] { background: var(--tint); box-shadow: inset 3px 0 0 var(--action); }
  &[data-focus-visible] { outline: 2px solid var(--action); outline-offset: -2px; }
  &[data-drop-target] { box-shadow: inset 0 2px 0 var(--action); }
`
const Tools = styled.div`
  display: flex;
  flex-wrap: wrap;
  gap: 2px;
  button { font-size: 12px; padding: 4px 6px; }
`
const Sizes = styled.div`
  display: grid;
  grid-template-columns: repeat(3, minmax(0, 1fr));
  gap: 2px 12px;
  small { display: block; color: var(--soft); font-size: 11px; padding-top: 3px; }
`

const FIELDS = [
  { key: 'depth', label: 'Depth', min: 0.1, max: 2000, step: 0.5 },
  { key: 'edge', label: 'Edge', min: 0, max: 500, step: 0.1 },
  { key: 'lift', label: 'Lift', min: -2000, max: 2000, step: 0.5 },
] as const

/** The layers as they come, in a table: many are picked and changed at once; dragged into another order; hidden and merged. */
export function LayersControl({ title, stepId, table, order }: { title: string; stepId: string; table: readonly LayerRow[]; order: readonly string[] }) {
  const store = useWorkbenchStore()
  const incoming = useWorkbench((s) => {
    const at = s.news?.steps.findIndex((step) => step.id === stepId) ?? -1
    return at > 0 ? s.news?.steps.slice(0, at).findLast((step) => step.layers)?.layers : undefined
  })
  const [picked, setPicked] = useState<ReadonlySet<string>>(new Set())
  const come = incoming ?? []
  const rank = (id: string, i: number) => (order.includes(id) ? order.indexOf(id) : order.length + i)
  const rows = come
    .map((layer, i) => ({ ...layer, row: table.find((r) => r.layer === layer.id), rank: rank(layer.id, i) }))
    .sort((a, b) => a.rank - b.rank)
    .map((r) => ({ ...r, colour: r.row?.colour ?? r.colour, merged: r.row?.into !== undefined, hidden: r.row?.hidden === true }))
  const chosen = rows.filter((r) => picked.has(r.id))
  const save = (next: { table?: LayerRow[]; order?: string[] }, label: string) => setParams(store, stepId, next, `Layers: ${label}`)
  const change = (ids: readonly string[], patch: (id: string) => Partial<LayerRow>, label: string) => {
    const rest = table.filter((r) => !ids.includes(r.layer))
    const changed = ids.map((id): LayerRow => ({ ...table.find((r) => r.layer === id), ...patch(id), layer: id }))
    // a row that says nothing is left out
    save({ table: [...rest, ...changed.filter((r) => Object.entries(r).some(([k, v]) => k !== 'layer' && v !== undefined))] }, label)
  }
  const { dragAndDropHooks } = useDragAndDrop({
    getItems: (keys) => [...keys].map((key) => ({ 'text/plain': String(key) })),
    onReorder(event) {
      const moved = rows.filter((r) => event.keys.has(r.id)).map((r) => r.id)
      const rest = rows.map((r) => r.id).filter((id) => !moved.includes(id))
      const at = rest.indexOf(String(event.target.key)) + (event.target.dropPosition === 'after' ? 1 : 0)
      save({ order: [...rest.slice(0, at), ...moved, ...rest.slice(at)] }, 'order')
    },
  })
  if (come.length === 0) return <FieldName>The layers show once the step before gives an outline.</FieldName>
  const [first] = chosen
  const ids = chosen.map((r) => r.id)
  const said = (r: (typeof rows)[number]) =>
    r.merged
      ? `with ${come.find((l) => l.id === r.row?.into)?.name ?? 'another'}`
      : [r.row?.depth !== undefined && `${r.row.depth} deep`, r.row?.lift !== undefined && `${r.row.lift} up`].filter(Boolean).join(' · ')
  return (
    <div role="group" aria-label={title} style={{ display: 'grid', gap: 6, gridTemplateColumns: 'minmax(0, 1fr)' }}>
      <List
        aria-label={title}
        items={rows}
        selectionMode="multiple"
        selectionBehavior="replace"
        selectedKeys={ids}
        onSelectionChange={(keys) => setPicked(keys === 'all' ? new Set(rows.map((r) => r.id)) : new Set([...keys].map(String)))}
        dragAndDropHooks={dragAndDropHooks}
        dependencies={[table]}
      >
        {(r: (typeof rows)[number]) => (
          <Row textValue={r.name} data-gone={r.hidden || r.merged ? '' : undefined}>
            <Button slot="drag" className="grip" aria-label={`Move ${r.name}`}>
              <GripVertical size={13} />
            </Button>
            <span className="chip" style={{ background: r.colour ?? 'transparent' }} />
            <span className="name">{r.row?.name ?? r.name}</span>
            <span className="told">{said(r)}</span>
            <Button
              className="eye"
              aria-label={r.hidden ? `Show ${r.name}` : `Hide ${r.name}`}
              onPress={() => change([r.id], () => ({ hidden: r.hidden ? undefined : true }), r.hidden ? 'show' : 'hide')}
            >
              {r.hidden ? <EyeOff size={14} /> : <Eye size={14} />}
            </Button>
          </Row>
        )}
      </List>
      <Tools>
        <PlainButton isDisabled={!first} onPress={() => setPicked(new Set(rows.filter((r) => r.colour === first?.colour).map((r) => r.id)))}>
          All of this colour
        </PlainButton>
        <PlainButton isDisabled={chosen.length < 2} onPress={() => change(ids.slice(1), () => ({ into: ids[0] }), 'merge')}>
          Merge
        </PlainButton>
        <PlainButton isDisabled={!chosen.some((r) => r.merged)} onPress={() => change(ids, () => ({ into: undefined }), 'part')}>
          Part again
        </PlainButton>
        <PlainButton
          isDisabled={chosen.length < 2}
          onPress={() =>
            change(ids, (id) => ({ lift: Number((ids.indexOf(id) * (table.find((r) => r.layer === ids[0])?.depth ?? 2)).toFixed(2)) || undefined }), 'stack')
          }
        >
          Stack up
        </PlainButton>
      </Tools>
      {first && (
        <>
          <FieldRow>
            <FieldName>{chosen.length === 1 ? 'Colour' : `Colour of ${chosen.length}`}</FieldName>
            <ColourInput label="Layer colour" value={first.colour ?? '#aaa294'} onChange={(colour) => change(ids, () => ({ colour }), 'colour')} />
          </FieldRow>
          <Sizes>
            {FIELDS.map(({ key, label, min, max, step }) => (
              <div key={key}>
                <small>{label}</small>
                <NumberInput
                  hideLabel
                  label={`Layer: ${label.toLowerCase()}`}
                  value={first.row?.[key] ?? (key === 'lift' ? 0 : Number.NaN)}
                  unit="mm"
                  min={min}
                  max={max}
                  step={step}
                  onChange={(v) => change(ids, () => ({ [key]: v }), key)}
                />
              </div>
            ))}
          </Sizes>
        </>
      )}
    </div>
  )
}
