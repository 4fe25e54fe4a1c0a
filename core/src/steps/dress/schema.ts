import { z } from 'zod'
import { LAYER_COLOURS } from '../../solid/solid'
import { meta } from '../meta'

export const material = z.object({
  colour: z.string().regex(/^#[0-9a-f]{6}$/, 'A colour is written #rrggbb.'),
  roughness: z.number().min(0).max(1),
  metalness: z.number().min(0).max(1),
})

const surface = (title: string, colour: string, roughness: number, metalness: number) =>
  material.default({ colour, roughness, metalness }).meta(meta({ title, control: 'material' }))

export const dressParams = z.object({
  face: surface('Face', '#c8803c', 0.38, 0.55),
  edge: surface('Edge', '#d8a05c', 0.3, 0.65),
  return: surface('Return', '#33434a', 0.55, 0.1),
  back: surface('Back', '#33434a', 0.7, 0.1),
  inside: surface('Inside', '#8a6a4a', 0.7, 0),
  layerColours: z
    .enum(LAYER_COLOURS)
    .default('face')
    .meta(meta({ title: 'Layer colours', labels: ['On faces', 'All over', 'Not used'] })),
})
