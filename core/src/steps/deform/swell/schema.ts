import { z } from 'zod'
import { CASTS } from '../../../mask/schema'
import { meta } from '../../meta'
import { curvePoints } from '../../shared/curve-along'
import { millimetres } from '../../shared/lengths'
import { maskOf } from '../../shared/mask-fields'
import { pictureFile } from '../../shared/picture-field'

const BY_PICTURE = { field: 'how', is: ['picture'] }

export const swellParams = z.object({
  by: z
    .number('The amount must be a number.')
    .min(-200)
    .max(200)
    .default(1.5)
    .meta(meta({ title: 'By', unit: 'mm', step: 0.1, pull: 'forward', description: 'Off the surface where the mask is whole; below nought into it.' })),
  how: z
    .enum(['even', 'picture'])
    .default('even')
    .meta(meta({ title: 'How far', labels: ['The same all over', 'By a picture'] })),
  file: pictureFile.meta(meta({ title: 'Picture', holds: 'picture file', when: BY_PICTURE })),
  cast: z
    .enum(CASTS)
    .default('front')
    .meta(meta({ title: 'Cast', labels: ['From the front', 'From above', 'From the right', 'From three sides'], when: BY_PICTURE })),
  wide: z
    .number('The width must be a number.')
    .min(0)
    .max(1e5)
    .default(0)
    .meta(meta({ title: 'Width', unit: 'mm', step: 5, description: 'At 0 it covers the piece; narrower it goes on over and over.', when: BY_PICTURE })),
  tones: curvePoints('The tones', -100, 100)
    .default([
      [0, 0],
      [1, 100],
    ])
    .meta(meta({ title: 'Dark to light', unit: '%', step: 5, holds: 'curve', most: 100, description: 'How much of it each tone takes.', when: BY_PICTURE })),
  fit: z
    .enum(['piece', 'given'])
    .default('piece')
    .meta(meta({ title: 'Sides', labels: ['Fitted to the piece', 'As given'], advanced: true })),
  edge: millimetres('The sides', 0.05, 100)
    .default(1)
    .meta(meta({ title: 'Sides up to', unit: 'mm', step: 0.1, advanced: true, when: { field: 'fit', is: ['given'] } })),
  strength: z
    .number('The strength must be a number.')
    .min(0)
    .max(100)
    .default(100)
    .meta(meta({ title: 'Strength', unit: '%', step: 5, tried: true })),
  mask: maskOf([{ by: 'distance', from: 0, to: 4 }]),
})
