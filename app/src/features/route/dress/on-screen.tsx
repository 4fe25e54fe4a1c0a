import type { Material } from '@kelvar/core/look/material'
import type { DressRuleParams } from '@kelvar/core/steps/dress/dress/schema'
import { type ControlProps, onScreen } from '../on-screen'
import { MaterialControl } from './material-control'
import { PaletteControl } from './palette-control'
import { RulesControl } from './rules-control'

export default onScreen({
  controls: {
    material: ({ title, value, onChange }: ControlProps<Material>) => <MaterialControl title={title} value={value} onChange={onChange} />,
    colours: ({ title, value, onChange }: ControlProps<readonly string[]>) => <PaletteControl title={title} value={value} least={0} onChange={onChange} />,
    palette: ({ title, value, onChange }: ControlProps<readonly string[]>) => <PaletteControl title={title} value={value} onChange={onChange} />,
    'dress rules': ({ title, value, onChange }: ControlProps<readonly DressRuleParams[]>) => <RulesControl title={title} value={value} onChange={onChange} />,
  },
})
