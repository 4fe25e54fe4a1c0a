import type { LayerRow } from '@kelvar/core/steps/outline/layers/schema'
import { type ControlProps, onScreen } from '../on-screen'
import { LayersControl } from './layers-control'

export default onScreen({
  controls: {
    'layer table': ({ title, step, value, params }: ControlProps<LayerRow[]>) => (
      <LayersControl title={title} stepId={step.id} table={value} order={params.order as string[]} />
    ),
  },
})
