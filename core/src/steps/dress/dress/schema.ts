import { z } from 'zod'
import { GROUPS } from '../../../solid/labels'
import { meta } from '../../meta'

const colour = z.string().regex(/^#[0-9a-f]{6}$/, 'A colour is written #rrggbb.')

export const material = z.object({
  colour,
  roughness: z.number().min(0).max(1),
  metalness: z.number().min(0).max(1),
  glow: z.number().min(0).max(1).optional(),
  clear: z.number().min(0).max(1).optional(),
})

const dressRule = z.object({
  groups: z.array(z.enum(GROUPS)).max(5).default([]),
  letters: z.string().max(60).default(''),
  every: z.number().int().min(1).max(100).default(1),
  from: z.number().int().min(1).max(100).default(1),
  layer: z.string().max(200).default(''),
  band: z.string().max(40).default(''),
  material,
})

export type DressRuleParams = z.infer<typeof dressRule>

const surface = (title: string, colour: string, roughness: number, metalness: number) =>
  material.default({ colour, roughness, metalness }).meta(meta({ title, holds: 'material' }))

export const dressParams = z.object({
  face: surface('Face', '#c8803c', 0.38, 0.55),
  edge: surface('Edge', '#d8a05c', 0.3, 0.65),
  return: surface('Return', '#33434a', 0.55, 0.1),
  back: surface('Back', '#33434a', 0.7, 0.1),
  inside: surface('Inside', '#8a6a4a', 0.7, 0),
  palette: z
    .enum(['none', 'letter', 'word', 'layer'])
    .default('none')
    .meta(meta({ title: 'Colours in turn', labels: ['Off', 'Letter by letter', 'Word by word', 'Layer by layer'] })),
  colours: z
    .array(colour)
    .max(12, 'A palette takes twelve colours at most.')
    .default(['#d9482b', '#e8932e', '#f0c84a', '#3f8f6b', '#2f6f9f'])
    .meta(meta({ title: 'Palette', holds: 'palette', when: { field: 'palette', is: ['letter', 'word', 'layer'] } })),
  paletteOn: z
    .enum(['face', 'face-edge', 'all'])
    .default('face')
    .meta(meta({ title: 'On', labels: ['Faces', 'Faces, edges', 'All'], when: { field: 'palette', is: ['letter', 'word', 'layer'] } })),
  rules: z
    .array(dressRule)
    .max(40, 'A Dress step takes forty rules at most.')
    .default([])
    .meta(meta({ title: 'Single letters, layers and bands', holds: 'dress rules' })),
  layerColours: z
    .enum(['face', 'all', 'none'])
    .default('face')
    .meta(meta({ title: 'Layer colours', labels: ['On faces', 'All over', 'Not used'] })),
})

export type DressParams = z.infer<typeof dressParams>
