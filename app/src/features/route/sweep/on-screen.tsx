import type { CoursePoint } from '@kelvar/core/steps/form/sweep/course'
import { type ControlProps, onScreen } from '../on-screen'
import { CourseControl } from './course-control'

export default onScreen({
  controls: {
    'curve along': ({ title, field, value, onChange }: ControlProps<readonly CoursePoint[]>) => {
      const { minimum: least = 0, maximum: most = 100 } = field.items?.prefixItems?.[1] ?? {}
      return (
        <CourseControl
          title={title}
          unit={field.unit}
          value={value}
          least={least}
          most={most}
          high={field.most ?? most}
          step={field.step ?? 1}
          onChange={onChange}
        />
      )
    },
  },
})
