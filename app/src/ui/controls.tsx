'use client'
import { Check, ChevronDown, X } from 'lucide-react'
import type { ReactNode } from 'react'
import {
  Button,
  ColorArea,
  ColorField,
  ColorPicker,
  ColorSlider,
  ColorSwatch,
  ColorThumb,
  Dialog,
  DialogTrigger,
  Input,
  Label,
  ListBox,
  ListBoxItem,
  Modal,
  ModalOverlay,
  NumberField,
  parseColor,
  Popover,
  Select,
  SelectValue,
  Slider,
  SliderThumb,
  SliderTrack,
  Switch,
} from 'react-aria-components'
import styled from 'styled-components'
import { fieldName, PlainButton } from './buttons'

export const PopoverPaper = styled(Popover)`
  background: var(--paper);
  border: 1px solid var(--rule);
  border-radius: 4px;
  box-shadow: 0 10px 34px rgb(var(--shadow) / 0.16);
  outline: none;
  overflow: auto;
`

const Scrim = styled(ModalOverlay)`
  position: fixed;
  inset: 0;
  background: rgb(var(--shadow) / 0.34);
  z-index: 60;
  display: grid;
  place-items: center;
  padding: 24px;
`
const SheetPaper = styled(Modal)`
  background: var(--paper);
  border-radius: 5px;
  box-shadow: 0 24px 60px rgb(var(--shadow) / 0.34);
  max-width: 100%;
  max-height: calc(100dvh - 48px);
  overflow: auto;
`
const SheetBody = styled(Dialog)`
  outline: none;
  > header { display: flex; align-items: center; justify-content: space-between; padding: 16px 14px 12px 22px; }
  h2 { font-size: 18px; }
`

/** A sheet over the page that is closed by its cross, by Escape or by a press beside it. */
export function SheetDialog({
  title,
  open,
  onClose,
  width,
  children,
}: {
  title: string
  open: boolean
  onClose: () => void
  /** px */
  width: number
  children: ReactNode
}) {
  return (
    <Scrim isOpen={open} onOpenChange={(next) => !next && onClose()} isDismissable>
      <SheetPaper style={{ width }}>
        <SheetBody aria-label={title}>
          <header>
            <h2>{title}</h2>
            <PlainButton aria-label="Close" onPress={onClose}>
              <X size={16} aria-hidden />
            </PlainButton>
          </header>
          {children}
        </SheetBody>
      </SheetPaper>
    </Scrim>
  )
}

const NumberRow = styled(NumberField)`
  display: grid;
  grid-template-columns: 96px minmax(0, 1fr);
  gap: 10px;
  align-items: center;
  min-height: 30px;
  & > label { ${fieldName} }
`

const NumberBox = styled.div`
  display: flex;
  min-width: 0;
  align-items: baseline;
  border-bottom: 1px solid var(--ink);
  &:focus-within { border-bottom-color: var(--action); box-shadow: 0 1px 0 var(--action); }
  input {
    flex: 1;
    min-width: 0;
    border: 0;
    background: none;
    padding: 4px 2px;
    font-weight: 600;
    outline: none;
  }
  span { color: var(--soft); font-size: 12px; padding-right: 2px; white-space: nowrap; }
`

interface NumberProps {
  label: string
  value: number
  onChange: (value: number) => void
  unit?: string
  min?: number
  max?: number
  step?: number
  hideLabel?: boolean
  description?: string
}

/** A number with its unit; arrow keys step it, typing is taken on Enter or when the field is left. */
export function NumberInput({ label, value, onChange, unit, min, max, step, hideLabel, description }: NumberProps) {
  const digits = step !== undefined && step < 0.1 ? 3 : 2
  return (
    <NumberRow
      value={value}
      onChange={(v) => Number.isFinite(v) && onChange(v)}
      minValue={min}
      maxValue={max}
      aria-label={hideLabel ? label : undefined}
      formatOptions={{ maximumFractionDigits: digits, useGrouping: false }}
      style={hideLabel ? { gridTemplateColumns: 'minmax(0, 1fr)' } : undefined}
    >
      {!hideLabel && <Label title={description}>{label}</Label>}
      <NumberBox>
        <Input
          onKeyDown={(event) => {
            // the field's own step would also round what is typed, so the arrows step here
            if ((event.key !== 'ArrowUp' && event.key !== 'ArrowDown') || step === undefined) return
            event.preventDefault()
            event.stopPropagation()
            const by = (event.shiftKey ? 10 : 1) * step * (event.key === 'ArrowUp' ? 1 : -1)
            onChange(Number(Math.min(max ?? Infinity, Math.max(min ?? -Infinity, value + by)).toFixed(4)))
          }}
        />
        {unit && <span>{unit}</span>}
      </NumberBox>
    </NumberRow>
  )
}

const PickRow = styled(Select)`
  display: grid;
  grid-template-columns: 96px minmax(0, 1fr);
  gap: 10px;
  align-items: center;
  min-height: 30px;
  &[data-bare] { grid-template-columns: minmax(0, 1fr); }
  & > :first-child:not(button) { ${fieldName} }
`
/** A field that opens something: the value with a mark at its end. */
export const PickButton = styled(Button)`
  display: flex;
  align-items: center;
  justify-content: space-between;
  gap: 6px;
  min-width: 0;
  border: 0;
  border-bottom: 1px solid var(--ink);
  background: none;
  padding: 4px 2px;
  font-weight: 600;
  text-align: left;
  cursor: pointer;
  span { overflow: hidden; text-overflow: ellipsis; white-space: nowrap; }
  svg { flex: none; }
  &[data-hovered], &[aria-expanded='true'] { color: var(--action); }
`
const PickList = styled(ListBox)`
  outline: none;
  padding: 4px;
  min-width: 170px;
  max-height: 420px;
  overflow: auto;
`
const PickItem = styled(ListBoxItem)`
  padding: 6px 10px;
  border-radius: 3px;
  outline: none;
  cursor: pointer;
  &::first-letter { text-transform: uppercase; }
  &[data-focused] { background: var(--tint); }
  &[data-selected] { font-weight: 600; color: var(--action); }
`

/** One of many, from a list that opens. `bare` leaves the name out of sight. */
export function PickInput<T extends string>({
  label,
  options,
  value,
  onChange,
  bare,
  description,
}: {
  label: string
  options: readonly { id: T; label: string }[]
  value: T
  onChange: (value: T) => void
  bare?: boolean
  description?: string
}) {
  return (
    <PickRow
      selectedKey={value}
      onSelectionChange={(key) => key !== null && onChange(key as T)}
      aria-label={bare ? label : undefined}
      data-bare={bare ? '' : undefined}
    >
      {!bare && <Label title={description}>{label}</Label>}
      <PickButton>
        <SelectValue />
        <ChevronDown size={14} aria-hidden />
      </PickButton>
      <PopoverPaper placement="bottom start">
        <PickList>
          {options.map((o) => (
            <PickItem key={o.id} id={o.id} textValue={o.label}>
              {o.label}
            </PickItem>
          ))}
        </PickList>
      </PopoverPaper>
    </PickRow>
  )
}

const SwitchRow = styled(Switch)`
  display: grid;
  grid-template-columns: 96px minmax(0, 1fr);
  gap: 10px;
  align-items: center;
  min-height: 28px;
  cursor: pointer;
  color: var(--soft);
  font-size: 12.5px;
  i {
    width: 30px;
    height: 16px;
    border: 1px solid var(--ink);
    border-radius: 9px;
    display: block;
    position: relative;
    background: var(--paper);
  }
  i::after {
    content: '';
    position: absolute;
    width: 10px;
    height: 10px;
    border-radius: 50%;
    top: 2px;
    left: 2px;
    background: var(--ink);
    transition: left 0.12s;
  }
  &[data-selected] i { background: var(--action); border-color: var(--action); }
  &[data-selected] i::after { left: 16px; background: var(--paper); }
  &[data-focus-visible] i { outline: 2px solid var(--action); outline-offset: 2px; }
`

export function SwitchInput({ label, value, onChange }: { label: string; value: boolean; onChange: (value: boolean) => void }) {
  return (
    <SwitchRow isSelected={value} onChange={onChange}>
      <span>{label}</span>
      <i />
    </SwitchRow>
  )
}

const SliderRow = styled(Slider)`
  display: grid;
  grid-template-columns: 96px minmax(0, 1fr) 38px;
  gap: 10px;
  align-items: center;
  min-height: 28px;
  label { ${fieldName} }
  output { text-align: right; font-weight: 600; font-size: 12px; }
`
const Track = styled(SliderTrack)`
  height: 18px;
  position: relative;
  &::before { content: ''; position: absolute; left: 0; right: 0; top: 8.5px; height: 1px; background: var(--ink); }
`
const Thumb = styled(SliderThumb)`
  width: 13px;
  height: 13px;
  top: 9px;
  border-radius: 50%;
  background: var(--paper);
  border: 2px solid var(--ink);
  &[data-dragging] { background: var(--action); border-color: var(--action); }
  &[data-focus-visible] { outline: 2px solid var(--action); outline-offset: 2px; }
`

export function SliderInput({
  label,
  value,
  onChange,
  onChangeEnd,
  min = 0,
  max = 1,
  step = 0.01,
}: {
  label: string
  value: number
  onChange: (value: number) => void
  onChangeEnd?: () => void
  min?: number
  max?: number
  step?: number
}) {
  return (
    <SliderRow value={value} onChange={(v) => onChange(v as number)} onChangeEnd={onChangeEnd} minValue={min} maxValue={max} step={step}>
      <Label>{label}</Label>
      <Track>
        <Thumb />
      </Track>
      <output>{Number(value.toFixed(2))}</output>
    </SliderRow>
  )
}

const Swatch = styled(Button)`
  display: flex;
  align-items: center;
  gap: 9px;
  border: 0;
  background: none;
  padding: 2px;
  cursor: pointer;
  font-weight: 600;
  border-radius: 3px;
`
const SwatchChip = styled(ColorSwatch)`
  width: 34px;
  height: 20px;
  border-radius: 3px;
  border: 1px solid color-mix(in srgb, var(--ink) 30%, transparent);
`
const PickerBody = styled(Dialog)`
  padding: 12px;
  width: 208px;
  display: grid;
  gap: 10px;
  outline: none;
  .area { width: 184px; height: 120px; border-radius: 3px; }
  .hue { display: block; }
  .hue-track { height: 16px; width: 184px; border-radius: 3px; }
  .thumb { width: 16px; height: 16px; border: 2px solid white; border-radius: 50%; box-shadow: 0 0 0 1px rgb(0 0 0 / 0.45); }
  .hue-track .thumb { top: 50%; }
  input { width: 100%; border: 0; border-bottom: 1px solid var(--ink); background: none; padding: 3px 2px; font-weight: 600; }
  label { color: var(--soft); font-size: 12px; }
`

/** A colour as a swatch that opens a picker; gives "#rrggbb". */
export function ColourInput({ label, value, onChange }: { label: string; value: string; onChange: (value: string) => void }) {
  return (
    <ColorPicker value={parseColor(value)} onChange={(c) => onChange(c.toString('hex').toLowerCase())}>
      <DialogTrigger>
        <Swatch aria-label={`${label}: ${value}`}>
          <SwatchChip />
          <span>{value}</span>
        </Swatch>
        <PopoverPaper placement="bottom start">
          <PickerBody aria-label={label}>
            <ColorArea className="area" colorSpace="hsb" xChannel="saturation" yChannel="brightness">
              <ColorThumb className="thumb" />
            </ColorArea>
            <ColorSlider className="hue" colorSpace="hsb" channel="hue">
              <SliderTrack className="hue-track">
                <ColorThumb className="thumb" />
              </SliderTrack>
            </ColorSlider>
            <ColorField>
              <Label>Hex</Label>
              <Input />
            </ColorField>
          </PickerBody>
        </PopoverPaper>
      </DialogTrigger>
    </ColorPicker>
  )
}

const MoreSummary = styled.summary`
  list-style: none;
  cursor: pointer;
  color: var(--soft);
  font-size: 12.5px;
  display: inline-flex;
  align-items: center;
  gap: 4px;
  padding: 4px 0;
  &::-webkit-details-marker { display: none; }
  svg { transition: transform 0.12s; }
  details[open] > & svg { transform: rotate(180deg); }
`

export function More({ children }: { children: ReactNode }) {
  return (
    <details>
      <MoreSummary>
        More <ChevronDown size={13} />
      </MoreSummary>
      {children}
    </details>
  )
}

export const CheckMark = () => <Check size={10} strokeWidth={3.2} aria-hidden />
