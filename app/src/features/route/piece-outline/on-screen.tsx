import { type ControlProps, onScreen } from '../on-screen'
import { TakenLayers } from './taken-layers'

export default onScreen({
  controls: {
    'layers taken': ({ title, step, value, onChange }: ControlProps<string[]>) => (
      <TakenLayers title={title} stepId={step.id} value={value} onChange={onChange} />
    ),
  },
})
