'use client'
import { dabCount } from '@kelvar/core/mask/painted-file'
import { CASTS, CURVED, MASK_SOURCES, MASK_WAYS, type Mask, type MaskEntry, maskEntry, MOST_ENTRIES } from '@kelvar/core/mask/schema'
import { GROUPS, type Group } from '@kelvar/core/solid/labels'
import { ArrowDown, ArrowUp, Brush, Eye, Plus, Trash2 } from 'lucide-react'
import { Button, Input, TextField, ToggleButton } from 'react-aria-components'
import styled from 'styled-components'
import { useWorkbench, useWorkbenchStore } from '@/state/context'
import { FieldName, PlainButton } from '@/ui/buttons'
import { Chip, Chips } from '@/ui/chips'
import { More, NumberInput, PickInput, SliderInput, SwitchInput } from '@/ui/controls'
import { setMaskPicture } from '@/state/actions/files'
import { CurveControl } from './curve-control'
import { FileControl } from './file-control'
import { GROUP_WORDS } from './group-words'
import { KeepMask, MaskFromCabinet } from './kept-masks'

const Box = styled.div`
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 7px;
  padding: 8px 0 4px;
  border-top: 1px solid color-mix(in srgb, var(--rule) 80%, transparent);
  .title { display: flex; justify-content: space-between; align-items: center; gap: 8px; }
  .none { margin: 0; color: var(--soft); font-size: 12.5px; }
`
const Entry = styled.div`
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 3px;
  padding: 6px 10px 8px;
  border: 1px solid var(--rule);
  border-radius: 4px;
  background: color-mix(in srgb, var(--paper) 70%, transparent);
  .head { display: grid; grid-template-columns: minmax(0, 1fr) auto auto auto; gap: 2px; align-items: center; }
  .three { display: grid; grid-template-columns: repeat(3, minmax(0, 1fr)); gap: 0 10px; }
`
const Mark = styled(Button)`
  border: 0;
  background: none;
  padding: 3px;
  color: var(--soft);
  cursor: pointer;
  display: grid;
  &[data-hovered] { color: var(--action); }
  &[data-disabled] { opacity: 0.3; cursor: default; }
`
const Show = styled(ToggleButton)`
  display: inline-flex;
  gap: 5px;
  align-items: center;
  border: 1px solid var(--rule);
  border-radius: 10px;
  background: none;
  padding: 2px 10px;
  font-size: 12px;
  color: var(--soft);
  cursor: pointer;
  &[data-selected] { background: var(--tint); color: var(--action); border-color: var(--action); font-weight: 600; }
`
const Words = styled(TextField)`
  display: grid;
  grid-template-columns: 96px minmax(0, 1fr);
  gap: 10px;
  align-items: center;
  span { color: var(--soft); font-size: 12.5px; }
  input { border: 0; border-bottom: 1px solid var(--ink); background: none; padding: 4px 2px; font-weight: 600; min-width: 0; }
`

const BY: Record<MaskEntry['by'], string> = {
  distance: 'Distance from the outline',
  height: 'Height',
  depth: 'Depth',
  along: 'Along the length',
  stroke: 'Along each stroke',
  curvature: 'Curvature',
  group: 'Surfaces',
  letters: 'Letters',
  layers: 'Layers',
  ball: 'A ball',
  box: 'A box',
  plane: 'A plane',
  noise: 'Spots',
  picture: 'A picture',
  painted: 'Painted by brush',
}
const WAYS: Record<MaskEntry['way'], string> = { multiply: 'Times', add: 'Plus', subtract: 'Less', higher: 'The higher of both', lower: 'The lower of both' }
const CURVED_WORDS: Record<MaskEntry['curved'], string> = { convex: 'Edges and ridges', concave: 'Grooves and hollows', both: 'Both' }
const CAST_WORDS: Record<MaskEntry['cast'], string> = { front: 'From the front', above: 'From above', side: 'From the right', sides: 'From three sides' }
const SHARES = ['height', 'depth', 'along', 'stroke'] as const

/** What an entry begins with when it goes by something else: values of one kind make no sense for another. */
const FRESH: Partial<Record<MaskEntry['by'], Partial<MaskEntry>>> = {
  distance: { from: 0, to: 4 },
  height: { from: 0, to: 100 },
  depth: { from: 0, to: 100 },
  along: { from: 0, to: 100 },
  stroke: { from: 0, to: 100 },
  ball: { radius: 20, soft: 10 },
  curvature: { radius: 2 },
}

/** Where and how strongly a step acts: entries from top to bottom, and the look of it in the view. */
export function MaskControl({
  title,
  stepId,
  value,
  atRest,
  without = 'It acts everywhere. A mask limits it to some places, or lets it fade.',
  onChange,
}: {
  title: string
  stepId: string
  value: Mask
  /** it is measured on the shape at rest, unless it is to be live */
  atRest: boolean
  /** what is said while there are no entries */
  without?: string
  onChange: (mask: Mask) => void
}) {
  const store = useWorkbenchStore()
  const shown = useWorkbench((s) => s.maskShown === stepId)
  const layers = useWorkbench((s) => s.news?.steps.findLast((step) => step.layers)?.layers)
  const { list } = value
  const set = (i: number, patch: Partial<MaskEntry>) => onChange({ ...value, list: list.map((entry, k) => (k === i ? { ...entry, ...patch } : entry)) })
  const swap = (i: number, j: number) => onChange({ ...value, list: list.map((entry, k) => (k === i ? list[j] : k === j ? list[i] : entry)) })
  return (
    <Box role="group" aria-label={title}>
      <div className="title">
        <FieldName>{title}</FieldName>
        {list.length > 0 && (
          <Show isSelected={shown} onChange={(on) => store.getState().showMask(on ? stepId : undefined)}>
            <Eye size={13} aria-hidden /> Show
          </Show>
        )}
      </div>
      {list.length === 0 && <p className="none">{without}</p>}
      {list.map((entry, i) => (
        <Entry key={i} role="group" aria-label={`Mask ${i + 1}`}>
          <div className="head">
            <PickInput
              bare
              label={`Mask ${i + 1}: by`}
              value={entry.by}
              options={MASK_SOURCES.map((id) => ({ id, label: BY[id] }))}
              onChange={(by) => set(i, { by, ...FRESH[by] })}
            />
            <Mark aria-label={`Mask ${i + 1}: further up`} isDisabled={i === 0} onPress={() => swap(i, i - 1)}>
              <ArrowUp size={14} aria-hidden />
            </Mark>
            <Mark aria-label={`Mask ${i + 1}: further down`} isDisabled={i === list.length - 1} onPress={() => swap(i, i + 1)}>
              <ArrowDown size={14} aria-hidden />
            </Mark>
            <Mark aria-label={`Remove mask ${i + 1}`} onPress={() => onChange({ ...value, list: list.filter((_, k) => k !== i) })}>
              <Trash2 size={14} aria-hidden />
            </Mark>
          </div>
          {i > 0 && (
            <PickInput
              label="Meets those above"
              value={entry.way}
              options={MASK_WAYS.map((id) => ({ id, label: WAYS[id] }))}
              onChange={(way) => set(i, { way })}
            />
          )}
          <Values entry={entry} number={i + 1} stepId={stepId} layers={layers?.map((layer) => layer.name) ?? []} change={(patch) => set(i, patch)} />
          <SwitchInput label="Turned round" value={entry.turned} onChange={(turned) => set(i, { turned })} />
          <More>
            <SliderInput label="Strength, %" value={entry.strength} min={0} max={100} step={5} onChange={(strength) => set(i, { strength })} />
            {entry.curve.length > 0 ? (
              <>
                <CurveControl
                  title="Strength by it"
                  legend="What it becomes, by what it is"
                  unit="%"
                  value={entry.curve}
                  least={0}
                  most={100}
                  high={100}
                  step={5}
                  onChange={(curve) => set(i, { curve: curve as MaskEntry['curve'] })}
                />
                <PlainButton onPress={() => set(i, { curve: [] })}>Straight again</PlainButton>
              </>
            ) : (
              <PlainButton
                onPress={() =>
                  set(i, {
                    curve: [
                      [0, 0],
                      [0.5, 50],
                      [1, 100],
                    ],
                  })
                }
              >
                Remap it by a curve
              </PlainButton>
            )}
          </More>
        </Entry>
      ))}
      {list.length < MOST_ENTRIES && (
        <PlainButton onPress={() => onChange({ ...value, list: [...list, maskEntry.parse({})] })}>
          <Plus size={14} aria-hidden /> {list.length === 0 ? 'Limit it by a mask' : 'Another entry'}
        </PlainButton>
      )}
      <MaskFromCabinet onTake={onChange} />
      {list.length > 0 && (
        <More>
          <NumberInput label="Blurred over" unit="mm" value={value.blur} min={0} max={100} step={0.5} onChange={(blur) => onChange({ ...value, blur })} />
          {atRest && <SwitchInput label="Measured live" value={value.live} onChange={(live) => onChange({ ...value, live })} />}
          <KeepMask mask={value} />
        </More>
      )}
    </Box>
  )
}

/** The values that count for what an entry is by. */
function Values({
  entry,
  number,
  stepId,
  layers,
  change,
}: {
  entry: MaskEntry
  number: number
  stepId: string
  layers: readonly string[]
  change: (patch: Partial<MaskEntry>) => void
}) {
  const store = useWorkbenchStore()
  const { by } = entry
  const share = (SHARES as readonly string[]).includes(by)
  const place = (what: 'centre' | 'size', labels: readonly string[]) => (
    <div className="three">
      {labels.map((label, k) => (
        <NumberInput
          key={label}
          hideLabel
          label={`Mask ${number}: ${label}`}
          unit={`mm ${label}`}
          value={entry[what][k]}
          step={1}
          onChange={(v) => change({ [what]: entry[what].map((old, j) => (j === k ? v : old)) as MaskEntry['centre'] })}
        />
      ))}
    </div>
  )
  return (
    <>
      {(by === 'distance' || share) && (
        <>
          <NumberInput label="Nought at" unit={share ? '%' : 'mm'} value={entry.from} step={share ? 5 : 0.5} onChange={(from) => change({ from })} />
          <NumberInput label="Whole at" unit={share ? '%' : 'mm'} value={entry.to} step={share ? 5 : 0.5} onChange={(to) => change({ to })} />
        </>
      )}
      {by === 'curvature' && (
        <>
          <PickInput
            label="Where"
            value={entry.curved}
            options={CURVED.map((id) => ({ id, label: CURVED_WORDS[id] }))}
            onChange={(curved) => change({ curved })}
          />
          <NumberInput label="Whole from" unit="mm radius" value={entry.radius} min={0.001} step={0.5} onChange={(radius) => change({ radius })} />
        </>
      )}
      {by === 'group' && (
        <Chips
          aria-label={`Mask ${number}: surfaces`}
          selectionMode="multiple"
          selectedKeys={entry.groups}
          onSelectionChange={(keys) => change({ groups: [...keys] as Group[] })}
        >
          {GROUPS.map((group) => (
            <Chip key={group} id={group}>
              {GROUP_WORDS[group]}
            </Chip>
          ))}
        </Chips>
      )}
      {by === 'letters' && (
        <Words aria-label={`Mask ${number}: letters`} value={entry.letters} onChange={(letters) => change({ letters })} maxLength={200}>
          <span>Letters</span>
          <Input placeholder="as they are written" />
        </Words>
      )}
      {by === 'layers' && (
        <Chips
          aria-label={`Mask ${number}: layers`}
          selectionMode="multiple"
          selectedKeys={entry.layers}
          onSelectionChange={(keys) => change({ layers: [...keys].map(String) })}
        >
          {[...new Set([...layers, ...entry.layers])].map((name) => (
            <Chip key={name} id={name}>
              {name}
            </Chip>
          ))}
        </Chips>
      )}
      {(by === 'ball' || by === 'box' || by === 'plane') && place('centre', ['right', 'up', 'forward'])}
      {by === 'ball' && <NumberInput label="Radius" unit="mm" value={entry.radius} min={0.001} step={1} onChange={(radius) => change({ radius })} />}
      {by === 'box' && place('size', ['wide', 'high', 'deep'])}
      {by === 'plane' && (
        <PickInput
          label="Looks"
          value={entry.facing}
          options={[
            { id: 'right', label: 'To the right' },
            { id: 'up', label: 'Upwards' },
            { id: 'forward', label: 'Forwards' },
          ]}
          onChange={(facing) => change({ facing })}
        />
      )}
      {(by === 'ball' || by === 'box' || by === 'plane') && (
        <NumberInput label="Soft border" unit="mm" value={entry.soft} min={0} step={1} onChange={(soft) => change({ soft })} />
      )}
      {by === 'picture' && (
        <>
          <FileControl
            title={`Mask ${number}: picture`}
            stepId={stepId}
            param="mask"
            kind="picture"
            value={entry.picture}
            set={(at, file) => setMaskPicture(store, at, number - 1, file)}
          />
          <PickInput label="Cast" value={entry.cast} options={CASTS.map((id) => ({ id, label: CAST_WORDS[id] }))} onChange={(cast) => change({ cast })} />
          <NumberInput label="Width" unit="mm" value={entry.wide} min={0} step={5} onChange={(wide) => change({ wide })} />
          <p className="none">White is whole, black is nought. {entry.wide > 0 ? 'It goes on over and over.' : 'At 0 mm it covers the piece.'}</p>
        </>
      )}
      {by === 'painted' && <BrushControl entry={entry} number={number} stepId={stepId} change={change} />}
      {by === 'noise' && (
        <>
          <NumberInput label="Spots" unit="mm" value={entry.scale} min={0.01} step={1} onChange={(scale) => change({ scale })} />
          <NumberInput label="Seed" value={entry.seed} min={0} step={1} onChange={(seed) => change({ seed: Math.round(seed) })} />
        </>
      )}
    </>
  )
}

const FIRST_BRUSH = { radius: 6, soft: 60, amount: 100, does: 'lays' } as const

/** The brush that paints an entry, and taking it in hand. */
function BrushControl({ entry, number, stepId, change }: { entry: MaskEntry; number: number; stepId: string; change: (patch: Partial<MaskEntry>) => void }) {
  const store = useWorkbenchStore()
  const painting = useWorkbench((s) => s.painting)
  const inHand = painting?.step === stepId && painting.entry === number - 1 ? painting : undefined
  const dabs = dabCount(entry.painted)
  return (
    <>
      <Show
        isSelected={inHand !== undefined}
        onChange={(on) => store.getState().paint(on ? { ...FIRST_BRUSH, ...painting, step: stepId, entry: number - 1 } : undefined)}
        style={{ justifySelf: 'start' }}
      >
        <Brush size={13} aria-hidden /> {inHand ? 'Lay the brush down' : 'Paint in the view'}
      </Show>
      {inHand ? (
        <>
          <PickInput
            label="The brush"
            value={inHand.does}
            options={[
              { id: 'lays', label: 'Lays it on' },
              { id: 'takes', label: 'Takes it away' },
              { id: 'smooths', label: 'Smooths what is there' },
            ]}
            onChange={(does) => store.getState().paint({ ...inHand, does })}
          />
          <NumberInput
            label="Radius"
            unit="mm"
            value={inHand.radius}
            min={0.01}
            max={10_000}
            step={1}
            onChange={(radius) => store.getState().paint({ ...inHand, radius })}
          />
          <SliderInput label="Soft border, %" value={inHand.soft} min={0} max={100} step={5} onChange={(soft) => store.getState().paint({ ...inHand, soft })} />
          <SliderInput
            label="Strength, %"
            value={inHand.amount}
            min={5}
            max={100}
            step={5}
            onChange={(amount) => store.getState().paint({ ...inHand, amount })}
          />
          <p className="none">Drag over the piece; beside it the view turns. By keyboard: arrow keys and the space bar in the view.</p>
        </>
      ) : (
        <p className="none">{dabs === 0 ? 'Nothing is painted yet.' : `${dabs} dab${dabs === 1 ? '' : 's'}, each on its own letter.`}</p>
      )}
      {dabs > 0 && <PlainButton onPress={() => change({ painted: { of: '', list: [] } })}>Wipe it off</PlainButton>}
    </>
  )
}
