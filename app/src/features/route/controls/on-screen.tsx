import type { EdgeParams } from '@kelvar/core/steps/shared/edge'
import { type ControlProps, onScreen } from '../on-screen'
import { EdgeControl } from './edge/edge-control'
import { FileControl } from './file-control'
import { SpotControl } from './spot-control'

type File = { sha256: string; name: string }

/** Controls that several steps have in common. */
export default onScreen({
  controls: {
    'edge profile': ({ title, step, value, onChange }: ControlProps<EdgeParams>) => (
      <EdgeControl title={title} stepId={step.id} value={value} onChange={onChange} />
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
