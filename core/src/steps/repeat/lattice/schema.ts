import { z } from 'zod'
import { meta } from '../../meta'
import { millimetres } from '../../shared/lengths'
import { maskOf } from '../../shared/mask-fields'

/** mm */
export const LEAST_BAR = 0.02

export const latticeParams = z.object({
  edge: millimetres('The length of bars', 0.2, 500)
    .default(5)
    .meta(meta({ title: 'Length of bars', unit: 'mm', step: 0.5, tried: true, most: 20, description: 'How wide the meshes are.' })),
  thick: z
    .enum(['radius', 'filled'])
    .default('radius')
    .meta(meta({ title: 'As thick', labels: ['By radius', 'By what is filled'] })),
  bar: millimetres('The radius of bars', LEAST_BAR, 100)
    .default(0.6)
    .meta(meta({ title: 'Radius of bars', unit: 'mm', step: 0.1, when: { field: 'thick', is: ['radius'] } })),
  ball: millimetres('The radius of balls', 0, 100)
    .default(1)
    .meta(meta({ title: 'Radius of balls', unit: 'mm', step: 0.1, description: 'At every joint; 0 for none.', when: { field: 'thick', is: ['radius'] } })),
  filled: z
    .number('What is filled must be a number.')
    .min(0.1, 'A lattice fills at least 0.1 % of its solid.')
    .max(80)
    .default(10)
    .meta(
      meta({
        title: 'Filled',
        unit: '%',
        step: 1,
        when: { field: 'thick', is: ['filled'] },
        description: 'How much of the solid’s volume is bars and balls: their radius is found, balls as much thicker than bars as they are by radius.',
      }),
    ),
  mesh: z
    .enum(['triangles', 'quads'])
    .default('triangles')
    .meta(meta({ title: 'Meshes', labels: ['Triangles', 'Mostly squares'] })),
  through: z
    .boolean()
    .default(false)
    .meta(meta({ title: 'Through the inside', description: 'Body-centred cells of about the same length.' })),
  body: z
    .boolean()
    .default(false)
    .meta(meta({ title: 'With the solid inside', description: 'It shows between the bars, as the inside, in a colour of its own.' })),
  as: z
    .enum(['solid', 'copies'])
    .default('solid')
    .meta(meta({ title: 'Made as', labels: ['One solid', 'Copies'], description: 'Copies are light to show; one solid is what printers take.' })),
  creases: z
    .number('The angle must be a number.')
    .min(1, 'Creases begin at 1° or more.')
    .max(180)
    .default(60)
    .meta(meta({ title: 'Follows creases from', unit: '°', step: 5, advanced: true })),
  mask: maskOf(),
  does: z
    .enum(['where', 'thickness'])
    .default('where')
    .meta(meta({ title: 'The mask', labels: ['Bars where it is', 'As thick as it is strong'] })),
  thin: z
    .number('The share must be a number.')
    .min(10, 'Bars are at least a tenth as thick.')
    .max(100, 'Bars are at most as thick as elsewhere.')
    .default(40)
    .meta(
      meta({ title: 'Where it is nought', unit: '%', step: 5, when: { field: 'does', is: ['thickness'] }, description: 'Of the radius of bars and balls.' }),
    ),
})
