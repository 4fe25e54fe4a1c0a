'use client'
import type { Drawing } from '@kelvar/core/steps/source/lettering/alternates'
import { carryOver, graphemes } from '@kelvar/core/document/letters'
import { type LetterChange, type LetterChanges, letterChanges } from '@kelvar/core/steps/source/lettering/schema'
import { RotateCcw } from 'lucide-react'
import { useState } from 'react'
import { ListBox, ListBoxItem, ToggleButton, ToggleButtonGroup } from 'react-aria-components'
import styled from 'styled-components'
import { useWorkbench, useWorkbenchStore } from '@/state/context'
import { PlainButton } from '@/ui/buttons'
import { NumberInput } from '@/ui/controls'
import { useOverflow } from '@/ui/overflow'
import { useMade } from '@/state/use-made'
import { withChange } from '@kelvar/core/steps/source/lettering/letter-changes'

const Box = styled.fieldset`
  border: 0;
  margin: 4px 0 2px;
  padding: 0;
  min-inline-size: 0;
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 5px;
  legend { color: var(--soft); font-size: 12.5px; padding: 0 0 4px; }
  legend em { font-style: normal; }
`
const Chips = styled(ListBox)`
  display: flex;
  gap: 3px;
  overflow-x: auto;
  outline: none;
  padding-bottom: 3px;
  scrollbar-width: thin;
  /* letters fade where more of them follow */
  &[data-before] { mask-image: linear-gradient(to right, transparent, black 34px); }
  &[data-after] { mask-image: linear-gradient(to left, transparent, black 34px); }
  &[data-before][data-after] { mask-image: linear-gradient(to right, transparent, black 34px, black calc(100% - 34px), transparent); }
` as typeof ListBox
const Chip = styled(ListBoxItem)`
  position: relative;
  flex: none;
  width: 30px;
  height: 34px;
  border: 1px solid var(--rule);
  border-radius: 3px;
  background: var(--paper);
  cursor: pointer;
  outline: none;
  display: grid;
  place-items: center;
  svg { width: 24px; height: 26px; fill: var(--ink); }
  &[data-hovered] { border-color: var(--ink); }
  &[data-selected] { border-color: var(--action); background: color-mix(in srgb, var(--action) 14%, var(--paper)); box-shadow: inset 0 0 0 1px var(--action); }
  &[data-focus-visible] { outline: 2px solid var(--action); outline-offset: 1px; }
  &[data-joined] svg { opacity: 0.32; }
  &[data-changed]::after { content: ''; position: absolute; right: 2px; top: 2px; width: 6px; height: 6px; border-radius: 50%; background: var(--action); }
`
/** Where chips will be, so that nothing moves under the hand when they come. */
const Waiting = styled.div`
  display: flex;
  gap: 3px;
  overflow: hidden;
  padding-bottom: 3px;
  span { flex: none; width: 30px; height: 34px; border: 1px solid var(--rule); border-radius: 3px; background: var(--paper); }
`
const Tray = styled(ToggleButtonGroup)`
  display: flex;
  flex-wrap: wrap;
  gap: 4px;
  max-height: 176px;
  overflow: auto;
`
const Shape = styled(ToggleButton)`
  width: 48px;
  height: 54px;
  border: 1px solid var(--rule);
  border-radius: 3px;
  background: var(--paper);
  padding: 5px;
  cursor: pointer;
  svg { width: 100%; height: 100%; fill: var(--ink); display: block; }
  &[data-hovered] { border-color: var(--ink); }
  &[data-selected] { border-color: var(--action); box-shadow: inset 0 0 0 1px var(--action); background: color-mix(in srgb, var(--action) 12%, var(--paper)); }
`
const Sizes = styled.div`
  display: grid;
  grid-template-columns: repeat(3, minmax(0, 1fr));
  gap: 2px 12px;
  small { display: block; color: var(--soft); font-size: 11px; padding-top: 3px; }
`
const Hint = styled.p`
  margin: 0;
  color: var(--soft);
  font-size: 12px;
`

function Glyph({ drawing, level }: { drawing: Drawing; level?: boolean }) {
  const [x, y, width, height] = drawing.box
  // in a row letters stand on one line and keep their sizes; in the tray each fills its place
  const box = level ? [x + width / 2 - 7.5, -12.5, 15, 16.5] : [x, y, Math.max(width, 0.1), Math.max(height, 0.1)]
  return (
    <svg viewBox={box.join(' ')} aria-hidden>
      <path d={drawing.path} />
    </svg>
  )
}

const FIELDS = [
  { key: 'dx', label: 'Along', unit: 'mm', rest: 0, step: 0.25, min: -2000, max: 2000 },
  { key: 'dy', label: 'Up', unit: 'mm', rest: 0, step: 0.25, min: -2000, max: 2000 },
  { key: 'turn', label: 'Turn', unit: '°', rest: 0, step: 1, min: -360, max: 360 },
  { key: 'scale', label: 'Size', unit: '%', rest: 100, step: 5, min: 5, max: 1000 },
  { key: 'space', label: 'Space after', unit: '‰', rest: 0, step: 5, min: -2000, max: 5000 },
] as const

const HOW = 'Pick a letter here or in the view for its other shapes and its own place.'

/** Single letters: picked here, in the text or in the view; their alternates, and how each is nudged, turned, sized and spaced. */
export function LettersControl({ title, params, onChange }: { title: string; params: Record<string, unknown>; onChange: (changes: LetterChanges) => void }) {
  const store = useWorkbenchStore()
  const picked = useWorkbench((s) => s.picked)
  const text = String(params.text ?? '')
  const given = letterChanges.safeParse(params.letters)
  const changes = carryOver(given.success ? given.data : { of: text, list: [] }, text)
  const drawn = useMade((maker) => maker.letters(params), [text, params.font, params.axes, params.features, params.letters], 60, true)
  const letters = drawn ?? []
  const shown = letters.filter((l) => l.text.trim() !== '')
  const here = picked.filter((at) => shown.some((l) => l.at === at))
  const [first] = here
  const alternates = useMade(
    async (maker) => (first === undefined ? undefined : { at: first, list: await maker.alternates(params, first) }),
    [first, text, params.font, params.axes, params.features],
    60,
    true,
  )
  const own = changes.list.find((c) => c.at === first)
  const change = (patch: Partial<LetterChange>) =>
    onChange(here.reduce((list, at) => withChange(list, { ...(list.list.find((c) => c.at === at) ?? {}), ...patch, at }), changes))
  const tray = alternates && alternates.at === first ? alternates.list : []
  const chosen = String(
    Math.max(
      0,
      tray.findIndex((a) => JSON.stringify(a.features) === JSON.stringify(own?.features ?? {})),
    ),
  )
  const [row, setRow] = useState<HTMLElement | null>(null)
  const ends = useOverflow(row)
  if (drawn === undefined && text.trim() !== '')
    return (
      <Box>
        <legend>{title}</legend>
        <Waiting aria-hidden>
          {graphemes(text)
            .filter((letter) => letter.text.trim() !== '')
            .slice(0, 40)
            .map(({ at }) => (
              <span key={at} />
            ))}
        </Waiting>
        <Hint>{HOW}</Hint>
      </Box>
    )
  if (shown.length === 0) return null
  return (
    <Box>
      <legend>
        {title}
        {here.length > 0 && <em>: {here.length === 1 ? `“${letters.find((l) => l.at === first)?.text}”` : `${here.length} picked`}</em>}
      </legend>
      <Chips
        ref={setRow}
        {...ends}
        aria-label="Letters"
        orientation="horizontal"
        layout="stack"
        items={shown.map((l) => ({ ...l, id: l.at }))}
        selectionMode="multiple"
        selectionBehavior="replace"
        selectedKeys={here}
        onSelectionChange={(keys) => store.getState().pick(keys === 'all' ? shown.map((l) => l.at) : [...keys].map(Number))}
        dependencies={[changes]}
      >
        {(letter: (typeof shown)[number]) => (
          <Chip
            textValue={letter.text}
            aria-label={letter.text}
            data-joined={letter.joined ? '' : undefined}
            data-changed={changes.list.some((c) => c.at === letter.at) ? '' : undefined}
          >
            <Glyph drawing={letter} level />
          </Chip>
        )}
      </Chips>
      {here.length === 0 && <Hint>{HOW}</Hint>}
      {tray.length > 1 && (
        <Tray
          aria-label="Shapes of this letter"
          selectionMode="single"
          disallowEmptySelection
          selectedKeys={[chosen]}
          onSelectionChange={(keys) => {
            const features = tray[Number([...keys][0])]?.features ?? {}
            change({ features: Object.keys(features).length > 0 ? { ...features } : undefined })
          }}
        >
          {tray.map((alternate, i) => (
            <Shape key={JSON.stringify(alternate.features)} id={String(i)} aria-label={i === 0 ? 'Usual shape' : `Shape ${i + 1}`}>
              <Glyph drawing={alternate} />
            </Shape>
          ))}
        </Tray>
      )}
      {here.length > 0 && tray.length === 1 && <Hint>The face has one shape for this letter.</Hint>}
      {here.length > 0 && (
        <Sizes>
          {FIELDS.map(({ key, label, unit, rest, step, min, max }) => (
            <div key={key}>
              <small>{label}</small>
              <NumberInput
                hideLabel
                label={`Letter: ${label.toLowerCase()}`}
                value={own?.[key] ?? rest}
                unit={unit}
                step={step}
                min={min}
                max={max}
                onChange={(v) => change({ [key]: v === rest ? undefined : v })}
              />
            </div>
          ))}
          <PlainButton
            style={{ alignSelf: 'end', justifySelf: 'start', fontSize: 12 }}
            isDisabled={!here.some((at) => changes.list.some((c) => c.at === at))}
            onPress={() => onChange({ of: changes.of, list: changes.list.filter((c) => !here.includes(c.at)) })}
          >
            <RotateCcw size={13} /> Reset
          </PlainButton>
        </Sizes>
      )}
    </Box>
  )
}
