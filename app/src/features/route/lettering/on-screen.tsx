import type { LetterChanges, StrokeParams } from '@kelvar/core/steps/source/lettering/schema'
import { type ControlProps, onScreen } from '../on-screen'
import { AxisSliders, FaceField } from './face-field'
import { FeaturesControl } from './features-control'
import { LettersControl } from './letters-control'
import { StrokeControl } from './stroke-control'
import { WordsInput } from './words-input'

type Face = { sha256: string; name: string }

export default onScreen({
  controls: {
    words: ({ title, step, params, focus }: ControlProps<string>) => <WordsInput label={title} stepId={step.id} params={params} focus={focus} />,
    face: ({ title, step, value }: ControlProps<Face>) => <FaceField label={title} stepId={step.id} value={value} />,
    'face axes': ({ params, value, onChange }: ControlProps<Record<string, number>>) => (
      <AxisSliders sha256={(params.font as Face).sha256} value={value} onChange={onChange} />
    ),
    'face features': ({ title, params, value, onChange }: ControlProps<Record<string, number>>) => (
      <FeaturesControl title={title} params={params} value={value} onChange={onChange} />
    ),
    'letter changes': ({ title, params, onChange }: ControlProps<LetterChanges>) => <LettersControl title={title} params={params} onChange={onChange} />,
    baseline: ({ title, value, onChange }: ControlProps<StrokeParams>) => <StrokeControl title={title} value={value} onChange={onChange} />,
  },
})
