'use client'
import type { RouteStep } from '@kelvar/core/document/schema'
import type { Material } from '@kelvar/core/solid/solid'
import type { EdgeParams } from '@kelvar/core/steps/extrude/schema'
import type { StepKind } from '@kelvar/core/steps/step'
import { useEffect, useId, useMemo, useRef } from 'react'
import { Label, TextArea, TextField } from 'react-aria-components'
import styled from 'styled-components'
import { z } from 'zod'
import { useWorkbenchStore } from '@/features/workbench/context'
import { setParam } from '@/features/workbench/store'
import { Choice, More, NumberInput, SwitchInput } from '@/ui/controls'
import { EdgeControl } from './edge-control'
import { AxisSliders, FacePicker } from './face-picker'
import { MaterialControl } from './material-control'

const Form = styled.div`
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 5px;
  padding: 4px 16px 14px 38px;
`
const Words = styled(TextField)`
  display: grid;
  gap: 3px;
  label { color: var(--soft); font-size: 12.5px; }
  textarea {
    width: 100%;
    border: 1px solid var(--rule);
    border-radius: 3px;
    background: var(--paper);
    padding: 7px 9px;
    font: 600 16px/1.3 var(--text);
    resize: none;
    field-sizing: content;
    min-height: 38px;
    max-height: 150px;
    outline: none;
  }
  textarea:focus { border-color: var(--action); box-shadow: 0 0 0 1px var(--action); }
`

interface Field {
  title?: string
  description?: string
  type?: string
  unit?: string
  step?: number
  minimum?: number
  maximum?: number
  enum?: string[]
  labels?: string[]
  control?: string
  advanced?: boolean
}

/** A step's controls, made from the schema of its parameters. */
export function StepForm({ step, kind, focusText }: { step: RouteStep; kind: StepKind; focusText: boolean }) {
  const store = useWorkbenchStore()
  const fields = useMemo(
    () => Object.entries((z.toJSONSchema(kind.params, { io: 'input' }) as { properties?: Record<string, Field> }).properties ?? {}),
    [kind],
  )
  // what the step would run with: each value that is missing or bad shows its default, and the route says so
  const params = useMemo(() => effectiveParams(kind, step.params), [kind, step.params])
  const change = (name: string, title: string) => (value: unknown) => setParam(store, step.id, name, value, `${kind.title}: ${title.toLowerCase()}`)
  const control = ([name, field]: [string, Field]) => {
    const title = field.title ?? name
    const value = params[name]
    const onChange = change(name, title)
    switch (field.control) {
      case 'text':
        return <WordsInput key={name} label={title} value={String(value ?? '')} onChange={onChange} focus={focusText} />
      case 'font':
        return <FacePicker key={name} label={title} value={value as { sha256: string; name: string }} words={String(params.text ?? '')} onChange={onChange} />
      case 'axes':
        return <AxisSliders key={name} sha256={(params.font as { sha256: string }).sha256} value={value as Record<string, number>} onChange={onChange} />
      case 'edge':
        return <EdgeControl key={name} title={title} value={value as EdgeParams} onChange={onChange} />
      case 'material':
        return <MaterialControl key={name} title={title} value={value as Material} onChange={onChange} />
    }
    if (field.enum)
      return (
        <Choice
          key={name}
          label={title}
          value={String(value)}
          onChange={onChange}
          options={field.enum.map((id, i) => ({ id, label: field.labels?.[i] ?? id }))}
        />
      )
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
  const advanced = fields.filter(([, f]) => f.advanced)
  return (
    <Form>
      {fields.filter(([, f]) => !f.advanced).map(control)}
      {advanced.length > 0 && <More>{advanced.map(control)}</More>}
    </Form>
  )
}

/** Every value as the step would take it; those it would refuse replaced by their defaults. */
export function effectiveParams(kind: StepKind, given: Record<string, unknown>): Record<string, unknown> {
  const whole = kind.params.safeParse(given)
  if (whole.success) return whole.data as Record<string, unknown>
  const bad = new Set(whole.error.issues.map((issue) => String(issue.path[0])))
  // a text that is refused is still shown as it is, so that it can be mended
  const kept = Object.fromEntries(Object.entries(given).filter(([name]) => !bad.has(name)))
  const rest = kind.params.safeParse(kept)
  return { ...(rest.success ? (rest.data as Record<string, unknown>) : {}), ...(typeof given.text === 'string' ? { text: given.text } : {}) }
}

function WordsInput({ label, value, onChange, focus }: { label: string; value: string; onChange: (text: string) => void; focus: boolean }) {
  const area = useRef<HTMLTextAreaElement>(null)
  const id = useId()
  useEffect(() => {
    if (focus) area.current?.focus({ preventScroll: true })
  }, [focus])
  return (
    <Words value={value} onChange={onChange} id={id}>
      <Label>{label}</Label>
      <TextArea ref={area} rows={1} spellCheck={false} dir="auto" />
    </Words>
  )
}
