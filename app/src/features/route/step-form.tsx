'use client'
import type { PieceReference } from '@kelvar/core/document/references'
import type { RouteStep } from '@kelvar/core/document/schema'
import type { Material } from '@kelvar/core/solid/solid'
import type { DressRuleParams } from '@kelvar/core/steps/dress/schema'
import type { EdgeParams } from '@kelvar/core/steps/extrude/schema'
import type { LayerRow } from '@kelvar/core/steps/layers/schema'
import type { StrokeParams } from '@kelvar/core/steps/lettering/schema'
import type { StepKind } from '@kelvar/core/steps/step'
import { useMemo } from 'react'
import styled from 'styled-components'
import { useWorkbenchStore } from '@/features/workbench/context'
import { setParam } from '@/features/workbench/store'
import { Choice } from '@/ui/buttons'
import { More, NumberInput, PickInput, SliderInput, SwitchInput } from '@/ui/controls'
import { type Field, fieldsOf } from '@kelvar/core/steps/fields'
import { applies, effectiveParams } from './fields'
import { CourseControl } from './course/course-control'
import { BandsControl } from './edge/bands-control'
import { EdgeControl } from './edge/edge-control'
import { AxisSliders, FaceField } from './lettering/face-field'
import { FeaturesControl } from './lettering/features-control'
import { LettersControl } from './lettering/letters-control'
import { StrokeControl } from './lettering/stroke-control'
import { WordsInput } from './lettering/words-input'
import { MaterialControl } from './dress/material-control'
import { PaletteControl } from './dress/palette-control'
import { RulesControl } from './dress/rules-control'
import { LayersControl } from './vector/layers-control'
import { BoardLink } from './vector/board-link'
import { FileControl } from './vector/file-control'
import { PieceControl } from './vector/piece-control'

const Form = styled.div`
  display: grid;
  grid-template-columns: minmax(0, 1fr);
  gap: 5px;
  padding: 4px 16px 14px 38px;
`
/** Up to this many short values stand side by side; more come in a list. */
const MOST_SEGMENTS = 3
const MOST_SEGMENT_LETTERS = 26

/** A step's controls, made from the schema of its parameters. */
export function StepForm({ step, kind, focusText }: { step: RouteStep; kind: StepKind; focusText: boolean }) {
  const store = useWorkbenchStore()
  const fields = fieldsOf(kind)
  // what the step would run with: each value that is missing or bad shows its default, and the route says so
  const params = useMemo(() => effectiveParams(kind, step.params), [kind, step.params])
  const change = (name: string, title: string) => (value: unknown) => setParam(store, step.id, name, value, `${kind.title}: ${title.toLowerCase()}`)
  const control = ([name, field]: readonly [string, Field]) => {
    const title = field.title ?? name
    const value = params[name]
    const onChange = change(name, title)
    switch (field.control) {
      case 'text':
        return <WordsInput key={name} label={title} stepId={step.id} params={params} focus={focusText} />
      case 'font':
        return <FaceField key={name} label={title} stepId={step.id} value={value as { sha256: string; name: string }} />
      case 'axes':
        return <AxisSliders key={name} sha256={(params.font as { sha256: string }).sha256} value={value as Record<string, number>} onChange={onChange} />
      case 'features':
        return <FeaturesControl key={name} title={title} params={params} value={value as Record<string, number>} onChange={onChange} />
      case 'letters':
        return <LettersControl key={name} title={title} params={params} onChange={onChange} />
      case 'stroke':
        return <StrokeControl key={name} title={title} value={value as StrokeParams} onChange={onChange} />
      case 'vector':
        return <FileControl key={name} kind="drawing" title={title} stepId={step.id} value={value as { sha256: string; name: string }} />
      case 'picture':
        return <FileControl key={name} kind="picture" title={title} stepId={step.id} value={value as { sha256: string; name: string }} />
      case 'board':
        return <BoardLink key={name} step={step} />
      case 'piece':
        return <PieceControl key={name} title={title} value={value as PieceReference} wants={field.wants ?? 'outline'} onChange={onChange} />
      case 'slider':
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
      case 'layers':
        return <LayersControl key={name} title={title} stepId={step.id} table={value as LayerRow[]} order={params.order as string[]} />
      case 'hidden':
        return null
      case 'edge':
        return <EdgeControl key={name} title={title} stepId={step.id} value={value as EdgeParams} onChange={onChange} />
      case 'bands':
        return (
          <BandsControl
            key={name}
            title={title}
            value={value as { name: string; from: number; to: number }[]}
            inset={(params.front as EdgeParams).inset}
            onChange={onChange}
          />
        )
      case 'course': {
        const [least, most] = field.items?.prefixItems?.[1] ? [field.items.prefixItems[1].minimum ?? 0, field.items.prefixItems[1].maximum ?? 100] : [0, 100]
        return (
          <CourseControl
            key={name}
            title={title}
            unit={field.unit}
            value={value as [number, number][]}
            least={least}
            most={most}
            high={field.most ?? most}
            step={field.step ?? 1}
            onChange={onChange}
          />
        )
      }
      case 'palette':
        return <PaletteControl key={name} title={title} value={value as string[]} onChange={onChange} />
      case 'rules':
        return <RulesControl key={name} title={title} value={value as DressRuleParams[]} onChange={onChange} />
      case 'material':
        return <MaterialControl key={name} title={title} value={value as Material} onChange={onChange} />
    }
    if (field.enum) {
      const options = field.enum.map((id, i) => ({ id, label: field.labels?.[i] ?? id }))
      const few = options.length <= MOST_SEGMENTS && options.reduce((sum, o) => sum + o.label.length, 0) <= MOST_SEGMENT_LETTERS
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
  const shown = fields.filter(([, field]) => applies(field, params))
  const advanced = shown.filter(([, f]) => f.advanced)
  return (
    <Form>
      {shown.filter(([, f]) => !f.advanced).map(control)}
      {advanced.length > 0 && <More>{advanced.map(control)}</More>}
    </Form>
  )
}
