import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { boxSolid } from '../../../../test/helpers'
import { FACE, GROUPS, labelTable, PLAIN_ROW } from '../../../solid/labels'
import { lookOf, type Solid } from '../../../solid/solid'
import { dressed } from './dressing'
import { dressParams } from './schema'

const LETTERS = [...'Tern Quay']
const LAYERS = [{ name: 'Front', colour: '#aa0000' }, { name: 'Plain' }]
const BANDS = ['rim']

/** A solid with a row for everything that occurs together. */
function rows(...list: { group?: number; letter?: number; layer?: number; band?: number }[]): Solid {
  const box = boxSolid([0, 0, 0], [1, 1, 1], {}, { letters: LETTERS, layers: LAYERS, bands: BANDS })
  return { ...box, labels: labelTable(list.map((row) => ({ ...PLAIN_ROW, layer: 1, ...row }))) }
}

const paint = (colour: string) => ({ colour, roughness: 0.25, metalness: 0.5 })
const looksOf = (solid: Solid, params: object) => {
  const out = dressed(solid, dressParams.parse(params))
  return Array.from(out.labels.look, (_, row) => lookOf(out, row))
}
const colours = (solid: Solid, params: object) => looksOf(solid, params).map(({ material }) => material.colour)
const everyLetter = LETTERS.map((_, letter) => ({ letter }))

describe('dressed', () => {
  it('gives every group its own material and leaves the shape as it is', () => {
    const solid = rows(...GROUPS.map((_, group) => ({ group })))
    const params = Object.fromEntries(GROUPS.map((group, i) => [group, paint(`#00000${i}`)]))
    expect(colours(solid, params)).toEqual(GROUPS.map((_, i) => `#00000${i}`))
    const out = dressed(solid, dressParams.parse(params))
    for (const array of ['positions', 'indices', 'surface'] as const) expect(out[array]).toBe(solid[array])
    expect(out.labels.letter).toBe(solid.labels.letter)
  })

  it('has one look for all that look alike', () => {
    const solid = rows(...everyLetter, ...everyLetter)
    expect(dressed(solid, dressParams.parse({})).looks).toHaveLength(1)
  })

  it('lets layers colour their faces, all of them, or nothing', () => {
    const solid = rows({ group: 0, layer: 0 }, { group: 1, layer: 0 }, { group: 0, layer: 1 })
    const params = { face: paint('#111111'), edge: paint('#222222') }
    expect(colours(solid, params)).toEqual(['#aa0000', '#222222', '#111111'])
    expect(colours(solid, { ...params, layerColours: 'all' })).toEqual(['#aa0000', '#aa0000', '#111111'])
    expect(colours(solid, { ...params, layerColours: 'none' })).toEqual(['#111111', '#222222', '#111111'])
  })

  it('takes the colours of a palette in turn, letter by letter without the spaces, or word by word', () => {
    const palette = { colours: ['#000001', '#000002', '#000003'] }
    const solid = rows(...everyLetter.filter(({ letter }) => LETTERS[letter] !== ' '))
    expect(colours(solid, { ...palette, palette: 'letter' })).toEqual([0, 1, 2, 0, 1, 2, 0, 1].map((i) => palette.colours[i]))
    expect(colours(solid, { ...palette, palette: 'word' })).toEqual([0, 0, 0, 0, 1, 1, 1, 1].map((i) => palette.colours[i]))
    // on faces alone unless told otherwise
    const edges = rows({ group: 1, letter: 0 })
    expect(colours(edges, { ...palette, palette: 'letter', edge: paint('#777777') })).toEqual(['#777777'])
    expect(colours(edges, { ...palette, palette: 'letter', edge: paint('#777777'), paletteOn: 'face-edge' })).toEqual(['#000001'])
  })

  it('goes by rules in turn, each over those before it: by letters, every so many, layer, band and group', () => {
    const face = paint('#ffffff')
    const at = (rule: object) => colours(rows(...everyLetter), { face, rules: [{ material: paint('#ff0000'), ...rule }] }).map((c) => (c === '#ff0000' ? 1 : 0))
    expect(at({ letters: 'ea' })).toEqual([0, 1, 0, 0, 0, 0, 0, 1, 0])
    expect(at({ every: 3 })).toEqual([1, 0, 0, 1, 0, 0, 0, 1, 0])
    expect(at({ every: 3, from: 2 })).toEqual([0, 1, 0, 0, 0, 1, 0, 0, 1])
    expect(at({ groups: ['edge'] })).toEqual(LETTERS.map(() => 0))
    expect(at({ layer: 'Plain' })).toEqual(LETTERS.map(() => 1))
    expect(colours(rows({ band: 0 }, {}), { face, rules: [{ band: 'rim', material: paint('#00ff00') }] })).toEqual(['#00ff00', '#ffffff'])
    const over = { face, rules: [{ material: paint('#ff0000') }, { letters: 'T', material: paint('#0000ff') }] }
    expect(colours(rows({ letter: 0 }, { letter: 1 }), over)).toEqual(['#0000ff', '#ff0000'])
  })

  it('gives a letter the same look wherever its row stands and whoever else is there', () => {
    const params = {
      palette: 'letter',
      rules: [
        { every: 2, material: paint('#123456') },
        { letters: 'Q', material: paint('#654321') },
      ],
    }
    const alone = LETTERS.map((_, letter) => looksOf(rows({ letter }), params)[0])
    fc.assert(
      fc.property(fc.array(fc.nat(LETTERS.length - 1), { minLength: 1, maxLength: 30 }), (list) => {
        expect(looksOf(rows(...list.map((letter) => ({ group: FACE, letter }))), params)).toEqual(list.map((letter) => alone[letter]))
      }),
    )
  })
})
