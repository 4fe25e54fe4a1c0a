import type { Mask } from '@kelvar/core/mask/schema'
import type { CurvePoint } from '@kelvar/core/outline/through-points'
import type { CagePoint } from '@kelvar/core/steps/deform/free-cage/schema'
import type { EdgeParams } from '@kelvar/core/steps/shared/edge'
import type { ByHand } from '@kelvar/core/steps/shared/repeating'
import { type ControlProps, onScreen } from '../on-screen'
import { CageControl } from './cage-control'
import { CurveControl } from './curve-control'
import { EdgeControl } from './edge/edge-control'
import { FileControl } from './file-control'
import { HandControl } from './hand-control'
import { MaskControl } from './mask-control'
import { SpotControl } from './spot-control'

type File = { sha256: string; name: string }

function curveControl({ title, field, value, onChange }: ControlProps<readonly CurvePoint[]>, legend: string) {
  const { minimum: least = 0, maximum: most = 100 } = field.items?.prefixItems?.[1] ?? {}
  return (
    <CurveControl
      title={title}
      legend={legend}
      unit={field.unit}
      value={value}
      least={least}
      most={most}
      high={field.most ?? most}
      step={field.step ?? 1}
      onChange={onChange}
    />
  )
}

/** Controls that several steps have in common. */
export default onScreen({
  controls: {
    'edge profile': ({ title, step, value, onChange }: ControlProps<EdgeParams>) => (
      <EdgeControl title={title} stepId={step.id} value={value} onChange={onChange} />
    ),
    'curve along': (props: ControlProps<readonly CurvePoint[]>) => curveControl(props, `${props.title} along the length`),
    curve: (props: ControlProps<readonly CurvePoint[]>) => curveControl(props, props.title),
    'cage points': ({ title, value, onChange }: ControlProps<readonly CagePoint[]>) => <CageControl title={title} value={value} onChange={onChange} />,
    'copies by hand': ({ title, step, value, onChange }: ControlProps<ByHand>) => (
      <HandControl title={title} stepId={step.id} value={value} onChange={onChange} />
    ),
    mask: ({ title, field, step, value, onChange }: ControlProps<Mask>) => (
      <MaskControl title={title} stepId={step.id} value={value} atRest={field.atRest ?? false} without={field.without} onChange={onChange} />
    ),
    'drawing file': ({ title, step, name, value }: ControlProps<File>) => (
      <FileControl kind="drawing" title={title} stepId={step.id} param={name} value={value} />
    ),
    'model file': ({ title, step, name, value }: ControlProps<File>) => <FileControl kind="model" title={title} stepId={step.id} param={name} value={value} />,
    'spot on the piece': ({ title, step, value, onChange }: ControlProps<readonly number[] | null>) => (
      <SpotControl title={title} stepId={step.id} value={value} onChange={onChange} />
    ),
    'picture file': ({ title, step, name, value }: ControlProps<File>) => (
      <FileControl kind="picture" title={title} stepId={step.id} param={name} value={value} />
    ),
  },
})
