import { castPicture } from '../../../mask/cast-picture'
import { greyOf, MOST_PIXELS } from '../../../mask/pictures'
import { throughPoints } from '../../../outline/through-points'
import { sideOf } from '../../shared/body-through-volume'
import { displaceInStep, sideFor } from '../../shared/displacing'
import { solidOf } from '../../shared/joining'
import { loadPicture } from '../../shared/picture-of'
import type { Evaluate } from '../../step'
import type { swellParams } from './schema'

export const evaluate: Evaluate<typeof swellParams> = async (input, params, context) => {
  const { by, how, file, cast, wide, tones, fit, edge, strength, mask } = params
  const picture = how === 'picture' ? await loadPicture(context, file, MOST_PIXELS) : undefined
  if (picture && 'ok' in picture) return picture
  const solid = solidOf(input)
  const light = picture && solid && castPicture(greyOf(picture), { cast, wide }, solid)
  const share = throughPoints(tones, 0)
  const place = new Float64Array(3)
  return displaceInStep(input, context, {
    title: 'Swell',
    mask,
    strength: strength / 100,
    edge: fit === 'given' ? edge : sideFor(input),
    along: 'normal',
    by: light
      ? (x, y, z) => {
          place.set([x, y, z])
          return (by * share(light.at(place, 0))) / 100
        }
      : () => by,
    atMost: Math.abs(by) * (light ? Math.max(...tones.map(([, v]) => Math.abs(v))) / 100 : 1),
    side: light ? undefined : sideOf(by),
    main: { field: 'by', value: by },
  })
}
