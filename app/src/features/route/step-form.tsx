'use client'
import type { PieceReference } from '@kelvar/core/document/piece-reference'
import { paramsAtMoment, SWITCH } from '@kelvar/core/document/moment'
import type { RouteStep } from '@kelvar/core/document/schema'
import type { Material } from '@kelvar/core/look/material'
import { applies, type Field, fieldsOf } from '@kelvar/core/steps/fields'
import type { StepKind } from '@kelvar/core/steps/step'
import { Fragment, useMemo } from 'react'
import styled from 'styled-components'
import { KeyMark, type KeyedValue } from '@/features/motion/key-mark'
import { changeStep } from '@/state/actions/steps'
import { paramsAtFrame, setKeys, setValue } from '@/state/actions/tracks'
import { useFrameAtRest, useWorkbench, useWorkbenchStore } from '@/state/context'
import { Choice } from '@/ui/buttons'
import { More, NumberInput, PickInput, SliderInput, SwitchInput } from '@/ui/controls'
import { BoardLink } from './controls/board-link'
import { PieceControl, PiecesControl } from './controls/piece-control'
import { StrengthStrip } from './controls/strength-strip'
import { CONTROLS, ON_SCREEN } from './registry'

const Form = styled.div`
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 5px;
  padding: 4px 16px 14px 38px;
`
/** A field with the mark that keys it. */
const KeyedRow = styled.div`
  display: grid;
  grid-template-columns: minmax(0, 1fr) 26px;
  gap: 4px;
  align-items: center;
`
const CURVES: readonly (string | undefined)[] = ['curve', 'curve along', 'spot on the piece']

/** What is keyed by the mark at a field: numbers, switches, choices and curves; of a material its colour and glow, of an edge its measures. None where nothing can be. */
function keyedValues(name: string, { holds, input, settingsOf, type, enum: choices }: Field, value: unknown): KeyedValue[] {
  if (input || settingsOf) return []
  if (!holds) return choices || type === 'number' || type === 'integer' || type === 'boolean' ? [{ path: name, value: value as number | boolean | string }] : []
  if (CURVES.includes(holds)) return Array.isArray(value) ? [{ path: name, value: value as number[] }] : []
  if (holds === 'material') {
    const { colour, glow = 0 } = value as Material
    return [
      { path: `${name}.colour`, value: colour },
      { path: `${name}.glow`, value: glow },
    ]
  }
  if (holds !== 'edge profile') return []
  return ['inset', 'height'].flatMap((part) => {
    const inner = (value as Record<string, unknown>)[part]
    return typeof inner === 'number' ? [{ path: `${name}.${part}`, value: inner }] : []
  })
}
const NOTHING: readonly never[] = []
/** Up to this many short values stand side by side; more come in a list. */
const MOST_SEGMENTS = 3
const MOST_SEGMENT_LETTERS = 26
/** beside the mark that keys them there is less room */
const MOST_KEYED_LETTERS = 18

/** A step's controls, made from the schema of its parameters. */
export function StepForm({ step, kind, focusText }: { step: RouteStep; kind: StepKind; focusText: boolean }) {
  const store = useWorkbenchStore()
  const fields = fieldsOf(kind)
  // what the step would run with: each value that is missing or bad shows its default, and the route says so
  const atRest = useFrameAtRest()
  const frame = step.tracks ? atRest : 0
  const inMotion = useWorkbench((s) => s.view === 'Motion')
  // of what moves the form shows and sets what it is at the frame that is seen
  const params = useMemo(() => paramsAtFrame(kind, step, frame), [kind, step, frame])
  const on = paramsAtMoment(step, { frame, seconds: 0 }).on
  const change = (name: string, title: string) => (value: unknown) => setValue(store, step, name, value, `${kind.title}: ${title.toLowerCase()}`)
  const control = ([name, field]: readonly [string, Field]) => {
    const plain = single([name, field])
    const values = inMotion && plain && (kind.moves?.includes(name) ?? true) ? keyedValues(name, field, params[name]) : []
    const made =
      values.length > 0 ? (
        <KeyedRow key={name}>
          {plain}
          <KeyMark step={step} name={name} title={field.title ?? name} values={values} />
        </KeyedRow>
      ) : (
        plain
      )
    if (!field.strengths || !made) return made
    return (
      <Fragment key={name}>
        {made}
        <StrengthStrip
          step={step}
          name={name}
          title={field.title ?? name}
          unit={field.unit}
          values={field.strengths}
          value={Number(params[name])}
          onChange={change(name, field.title ?? name)}
        />
      </Fragment>
    )
  }
  const single = ([name, field]: readonly [string, Field]) => {
    const title = field.title ?? name
    const value = params[name]
    const onChange = change(name, title)
    if (field.indirect) return null
    if (field.drawn) return <BoardLink key={name} step={step} />
    if (field.input && field.type === 'array')
      return <PiecesControl key={name} title={title} value={value as PieceReference[]} accepts={field.input} onChange={onChange} />
    if (field.settingsOf)
      return <PieceControl key={name} title={title} value={value as PieceReference} accepts={NOTHING} having={field.settingsOf} onChange={onChange} />
    if (field.input) return <PieceControl key={name} title={title} value={value as PieceReference} accepts={field.input} onChange={onChange} />
    const Control = field.holds ? CONTROLS[field.holds] : undefined
    if (Control)
      return <Control key={name} name={name} title={title} field={field} value={value} onChange={onChange} step={step} params={params} focus={focusText} />
    if (field.tried)
      return (
        <SliderInput
          key={name}
          label={`${title}${field.unit ? `, ${field.unit}` : ''}`}
          value={Number(value)}
          onChange={onChange}
          min={field.minimum ?? 0}
          max={field.most ?? field.maximum ?? 100}
          step={field.step}
        />
      )
    if (field.enum) {
      const options = field.enum.map((id, i) => ({ id, label: field.labels?.[i] ?? id }))
      const few =
        options.length <= MOST_SEGMENTS && options.reduce((sum, o) => sum + o.label.length, 0) <= (inMotion ? MOST_KEYED_LETTERS : MOST_SEGMENT_LETTERS)
      return few ? (
        <Choice key={name} label={title} value={String(value)} onChange={onChange} options={options} />
      ) : (
        <PickInput key={name} label={title} description={field.description} value={String(value)} onChange={onChange} options={options} />
      )
    }
    if (field.type === 'boolean') return <SwitchInput key={name} label={title} value={Boolean(value)} onChange={onChange} />
    return (
      <NumberInput
        key={name}
        label={title}
        description={field.description}
        value={Number(value)}
        onChange={onChange}
        unit={field.unit}
        min={field.minimum}
        max={field.maximum}
        step={field.step}
      />
    )
  }
  const Below = ON_SCREEN[kind.kind]?.Below
  const shown = fields.filter(([, field]) => applies(field, params))
  const advanced = shown.filter(([, f]) => f.advanced)
  return (
    <Form>
      {shown.filter(([, f]) => !f.advanced).map(control)}
      {advanced.length > 0 && <More>{advanced.map(control)}</More>}
      {Below && <Below step={step} />}
      {inMotion && (
        <KeyedRow>
          <SwitchInput
            label="Switched on"
            value={on}
            onChange={(next) =>
              step.tracks?.[SWITCH]
                ? setKeys(store, step, SWITCH, [{ path: SWITCH, value: next }], 'set', `${kind.title}: switch at frame ${frame}`)
                : changeStep(store, step.id, 'switch', kind.title)
            }
          />
          <KeyMark step={step} name={SWITCH} title="Switched on" values={[{ path: SWITCH, value: on }]} />
        </KeyedRow>
      )}
    </Form>
  )
}
