import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { carryOver, graphemes } from './letters'
import type { LetterChanges } from '../steps/source/lettering/schema'
import { withChange } from '../steps/source/lettering/letter-changes'
import { within } from '../../test/within'

const changesAt = (of: string, ...at: number[]): LetterChanges => ({ of, list: at.map((a) => ({ at: a, turn: a + 1 })) })

describe('carryOver', () => {
  it('keeps changes with their letters through random edits around them', () => {
    // few different letters, so that equal neighbours are the rule
    const word = fc.string({ unit: fc.constantFrom('L', 'A', 'é', 'n', ' ', 'क्'), minLength: 1, maxLength: 14 })
    const edit = fc.record({ at: fc.nat(20), remove: fc.nat(4), insert: fc.string({ unit: fc.constantFrom('L', 'A', 'n', '🏮'), maxLength: 4 }) })
    fc.assert(
      fc.property(word, fc.array(edit, { minLength: 1, maxLength: 12 }), fc.nat(13), (text, edits, pick) => {
        // a model that knows which letter is which: every letter carries a name of its own
        let names = 0
        let model = graphemes(text).map((l) => ({ text: l.text, name: names++ }))
        const marked = model[pick % model.length].name
        const offset = (index: number) =>
          model
            .slice(0, index)
            .map((l) => l.text)
            .join('').length
        let changes: LetterChanges = changesAt(text, offset(marked))
        for (const { at, remove, insert } of edits) {
          const from = at % (model.length + 1)
          const put = graphemes(insert).map((l) => ({ text: l.text, name: names++ }))
          model = [...model.slice(0, from), ...put, ...model.slice(from + remove)]
          const next = model.map((l) => l.text).join('')
          // letters that flow together to one, such as a mark after a letter, have no model here
          fc.pre(graphemes(next).length === model.length)
          changes = carryOver(changes, next, offset(from) + insert.length)
        }
        const index = model.findIndex((l) => l.name === marked)
        expect(changes.of).toBe(model.map((l) => l.text).join(''))
        if (index >= 0) expect(changes.list).toMatchObject([{ at: offset(index) }])
        // taken out, its change goes too, unless an equal letter was put in its very place
        else expect(changes.list.every((c) => graphemes(changes.of).some((l) => l.at === c.at))).toBe(true)
      }),
      { numRuns: 3000 },
    )
  })

  it('finds letters again in a text replaced as a whole', () => {
    const from = changesAt('Lantern Fair', 0, 8, 11)
    const to = carryOver(from, 'The Lantern Night Fair')
    expect(to.list.map((c) => 'The Lantern Night Fair'[c.at])).toEqual(['L', 'F', 'r'])
    expect(carryOver(from, 'Quay').list.length).toBeLessThanOrEqual(1)
  })

  it('tells by the caret which of two equal letters is new', () => {
    const second = changesAt('LL', 1)
    expect(carryOver(second, 'LLL', 1).list[0].at).toBe(2)
    expect(carryOver(second, 'LLL', 3).list[0].at).toBe(1)
    // a caret that cannot be true does no harm
    expect(carryOver(second, 'LLL', 99).list).toHaveLength(1)
  })

  it('takes long texts and total replacements in bounded time', async () => {
    const long = 'Tern Quay '.repeat(200)
    const all: LetterChanges = { of: long, list: graphemes(long).map((l) => ({ at: l.at, turn: 1 })) }
    expect((await within(1500, () => carryOver(all, [...long].reverse().join('')))).of).toHaveLength(long.length)
  })
})

describe('withChange', () => {
  it('replaces a letter’s change and takes out one that says nothing', () => {
    const one = withChange({ of: 'Quay', list: [] }, { at: 2, turn: 5 })
    expect(one.list).toEqual([{ at: 2, turn: 5 }])
    const two = withChange(one, { at: 0, features: { swsh: 1 } })
    expect(two.list.map((c) => c.at)).toEqual([0, 2])
    expect(withChange(two, { at: 2, turn: 0, dx: 0, scale: 100 }).list.map((c) => c.at)).toEqual([0])
    expect(withChange(two, { at: 0, features: {} }).list.map((c) => c.at)).toEqual([2])
  })
})
