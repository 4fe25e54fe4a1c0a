import type { EdgeParams } from '@kelvar/core/steps/shared/edge'
import { type ControlProps, onScreen } from '../on-screen'
import { BandsControl } from './bands-control'

export default onScreen({
  controls: {
    'edge bands': ({ title, value, params, onChange }: ControlProps<readonly { name: string; from: number; to: number }[]>) => (
      <BandsControl title={title} value={value} inset={(params.front as EdgeParams).inset} onChange={onChange} />
    ),
  },
})
