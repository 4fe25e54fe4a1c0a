import { z } from 'zod'
import { pieceReference } from '../../document/piece-reference'
import { meta } from '../meta'

export const APART_LABELS = ['Letter', 'Word', 'Line', 'Shard or copy', 'Connected part']

export const THINGS = { letter: 'letters', word: 'words', line: 'lines', copy: 'pieces', part: 'parts' } as const

const forced = { field: 'force', is: ['pull', 'whirl', 'shake'] }

const blown = { field: 'air', is: ['wind'] }

/** A number between bounds that says so when it is not. */
export const bounded = (title: string, low: number, high: number, start: number, more: Record<string, unknown> = {}) =>
  z
    .number(`${title} must be a number.`)
    .min(low, `${title} is at least ${low}.`)
    .max(high, `${title} is at most ${high}.`)
    .default(start)
    .meta(meta({ title, ...more }))

/** The moment that is shown, and how long is followed. */
export const momentFields = (start: number, length: number) => ({
  at: bounded('After', 0, 30, start, { unit: 's', step: 0.1, description: 'The moment that is shown. Key it from 0 to have it happen while the film runs.' }),
  length: bounded('Followed for', 0.1, 30, length, { unit: 's', step: 0.5, description: 'Longer takes longer; it ends when all is at rest.' }),
})

/** What is fallen upon. */
export const surroundingFields = (floor: 'below' | 'none') => ({
  floor: z
    .enum(['below', 'pen', 'none'])
    .default(floor)
    .meta(meta({ title: 'Floor', labels: ['A floor', 'A floor in a pen', 'None'] })),
  fall: bounded('Its depth below', 0, 5000, 60, {
    unit: 'mm',
    step: 5,
    when: { field: 'floor', is: ['below', 'pen'] },
    description: 'From the lowest of what falls.',
  }),
  room: bounded('Room beside', 0, 1000, 20, { unit: 'mm', step: 5, when: { field: 'floor', is: ['pen'] } }),
  belt: bounded('The floor goes', -2000, 2000, 0, {
    unit: 'mm/s',
    step: 10,
    when: { field: 'floor', is: ['below', 'pen'] },
    advanced: true,
    description: 'To the right, and takes along what lies on it.',
  }),
  others: z
    .array(pieceReference)
    .max(24, 'At most 24 pieces.')
    .default([])
    .meta(meta({ title: 'Falls upon', input: ['solid'], placed: true })),
})

const coordinate = z.number('It must be a number.').min(-10_000).max(10_000)

/** Forces beside gravity and air, out of the way at first. */
export const forceFields = {
  force: z
    .enum(['none', 'pull', 'whirl', 'shake'])
    .default('none')
    .meta(meta({ title: 'Another force', labels: ['None', 'Pull or push at a spot', 'Whirl about a spot', 'Shaking'] })),
  power: bounded('Its strength', -200, 200, 10, {
    unit: 'm/s²',
    step: 1,
    when: forced,
    description: 'Below 0 it pushes away, or whirls the other way. Gravity has 9.81. Keys change it while the film runs.',
  }),
  spot: z
    .tuple([coordinate, coordinate, coordinate])
    .nullable()
    .default(null)
    .meta(
      meta({
        title: 'Spot',
        holds: 'spot on the piece',
        when: { field: 'force', is: ['pull', 'whirl'] },
        description: 'In the middle of everything when none is picked.',
      }),
    ),
  reach: bounded('Half as strong at', 0, 10_000, 0, {
    unit: 'mm',
    step: 5,
    when: { field: 'force', is: ['pull', 'whirl'] },
    description: 'From the spot; 0: as strong everywhere.',
  }),
  begins: bounded('Acts from', 0, 30, 0, { unit: 's', step: 0.1, when: forced, description: 'By the time of what moves, like After.' }),
  ends: bounded('Until', 0, 30, 30, { unit: 's', step: 0.1, when: forced }),
}

export const metreField = bounded('So many mm seem a metre', 1, 1000, 50, {
  unit: 'mm',
  step: 5,
  advanced: true,
  description: 'The fewer, the heavier and slower things seem.',
})

export const gravityFields = {
  gravity: bounded('Gravity', 0, 100, 9.81, { unit: 'm/s²', step: 0.5, advanced: true }),
  metre: metreField,
}

/** Wind: strength, where it goes, and how it comes and goes; shown only when asked for. */
export const windFields = (when?: { readonly field: string; readonly is: readonly string[] }) => ({
  air: z
    .enum(['still', 'wind'])
    .default('still')
    .meta(meta({ title: 'Air', labels: ['Still', 'Wind'], ...(when ? { when } : {}) })),
  wind: bounded('Its speed', 0, 60, 8, { unit: 'm/s', step: 1, most: 30, when: blown, description: 'Keys change it while the film runs.' }),
  towards: bounded('Blows towards', -360, 360, 90, { unit: '°', step: 5, when: blown, description: '0 is to the right, 90 to the back, −90 to the front.' }),
  rising: bounded('Rising', -90, 90, 0, { unit: '°', step: 5, when: blown, advanced: true }),
  gusts: bounded('Gusts', 0, 100, 50, { unit: '%', step: 5, when: blown }),
  turbulence: bounded('Turbulence', 0, 100, 40, { unit: '%', step: 5, when: blown }),
})
