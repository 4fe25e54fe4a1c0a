import { z } from 'zod'
import { pieceReference } from '../../document/piece-reference'
import { UNITS, type UnitName } from '../../repeat/unit-names'
import { meta } from '../meta'
import { millimetres } from './lengths'

/** How many there are of something along one direction. */
export const countOf = (what: string, most = 1000) =>
  z
    .int(`${what} must be a whole number.`)
    .min(1, `${what} must be at least 1.`)
    // said when it is needed: setting up the language for one number takes longer than all the rest
    .max(most, { error: () => `${what} can be at most ${most.toLocaleString('en')}.` })

const finite = z.number('A copy is moved by millimetres.').min(-1e5).max(1e5)

const MOST_BY_HAND = 2000

const handChange = z.object({
  at: z.int().min(-1).max(1e6),
  spot: z.tuple([finite, finite, finite]),
  out: z.boolean(),
  by: z.tuple([finite, finite, finite]).default([0, 0, 0]),
})

/** Single copies left out or moved by hand, and the text whose letters they hang on. */
export const byHandParam = z
  .object({ of: z.string().max(20_000), list: z.array(handChange).max(MOST_BY_HAND, `At most ${MOST_BY_HAND} copies are changed by hand.`) })
  .default({ of: '', list: [] })
  .meta(meta({ title: 'Single copies', holds: 'copies by hand' }))

const OF_READY = { field: 'unit', is: UNITS } as const

/** What is set on places: a ready thing, or another piece. */
export const unitFields = {
  unit: z
    .enum([...UNITS, 'piece'])
    .default('bulb')
    .meta(meta({ title: 'What', labels: ['Bulb', 'Rivet', 'Stud', 'Pearl', 'Bead', 'Bolt cap', 'Another piece'] })),
  piece: pieceReference.default({ piece: '' }).meta(meta({ title: 'Piece', input: ['solid', 'assembly'], when: { field: 'unit', is: ['piece'] } })),
  width: millimetres('The width', 0.1, 500)
    .default(4)
    .meta(meta({ title: 'Width', unit: 'mm', step: 0.25, when: OF_READY, description: 'Of one, across.' })),
  size: z
    .number('The size must be a number.')
    .min(1, 'The size is at least 1 %.')
    .max(1000, 'The size is at most 1000 %.')
    .default(100)
    .meta(meta({ title: 'Size', unit: '%', step: 5, when: { field: 'unit', is: ['piece'] } })),
  lift: z
    .number('The height must be a number.')
    .min(-500)
    .max(500)
    .default(0)
    .meta(meta({ title: 'Height above the ground', unit: 'mm', step: 0.25, description: 'Below nought it is sunk in.' })),
  turn: z
    .number('The turn must be a number.')
    .min(-360)
    .max(360)
    .default(0)
    .meta(meta({ title: 'Turn', unit: '°', step: 15, advanced: true })),
  tilt: z
    .number('The tilt must be a number.')
    .min(-180)
    .max(180)
    .default(0)
    .meta(meta({ title: 'Tilt', unit: '°', step: 5, advanced: true })),
}

/** What is told of bulbs, and holes for what is set on a solid. */
export const powerField = z
  .number('The power must be a number.')
  .min(0)
  .max(1000, 'One bulb takes at most 1000 W.')
  .default(0.5)
  .meta(meta({ title: 'Power of one', unit: 'W', step: 0.1, when: { field: 'unit', is: ['bulb'] } }))

export const holeFields = {
  holes: z
    .enum(['none', 'blind', 'through'])
    .default('none')
    .meta(meta({ title: 'Holes', labels: ['None', 'Blind', 'Through'], description: 'Bored into the piece for the feet of what stands on it.' })),
  deep: millimetres('The depth of a hole', 0.05, 500)
    .default(3)
    .meta(meta({ title: 'Depth', unit: 'mm', step: 0.5, when: { field: 'holes', is: ['blind'] } })),
  clearance: millimetres('The clearance', 0, 20)
    .default(0.15)
    .meta(meta({ title: 'Clearance', unit: 'mm', step: 0.05, when: { field: 'holes', is: ['blind', 'through'] }, description: 'All around the foot.' })),
}

export interface UnitParams {
  readonly unit: UnitName | 'piece'
  readonly piece: { readonly piece: string }
  readonly width: number
  readonly size: number
  readonly lift: number
  readonly turn: number
  readonly tilt: number
}

export const NAMES: Readonly<Record<UnitParams['unit'], readonly [one: string, many: string]>> = {
  bulb: ['Bulb', 'Bulbs'],
  rivet: ['Rivet', 'Rivets'],
  stud: ['Stud', 'Studs'],
  pearl: ['Pearl', 'Pearls'],
  bead: ['Bead', 'Beads'],
  bolt: ['Bolt cap', 'Bolt caps'],
  piece: ['A piece', 'Copies of a piece'],
}

export const unitNamed = (unit: UnitParams['unit']): string => NAMES[unit][0]

export const unitsNamed = (unit: UnitParams['unit']): string => NAMES[unit][1]
