import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { assets, wordRoute } from '../../../../test/helpers'
import { momentOf } from '../../../document/moment'
import { evaluateRoute } from '../../../evaluate/route'
import { track } from '../../../motion/track'
import type { Outline } from '../../../outline/outline'
import { counted, toCount } from './counting'

const outlineAt = async (text: string, more: Record<string, unknown>, frame = 0, tracks?: Record<string, unknown>) => {
  const [words] = wordRoute(text, 'archivo-bold', more)
  const { value } = await evaluateRoute([tracks ? { ...words, tracks: tracks as never } : words], { assets, moment: momentOf(frame, 24) })
  return value as Outline
}

describe('Words that count', () => {
  it('put the whole number for a row of #, in as many digits at least', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 0, max: 999_999_999 }),
        fc.integer({ min: 1, max: 9 }),
        fc.double({ min: 0, max: 0.99, noNaN: true }),
        (n, digits, part) => {
          const made = counted(`a${'#'.repeat(digits)}b`, n + part)
          expect(made.startsWith('a') && made.endsWith('b')).toBe(true)
          const number = made.slice(1, -1)
          expect(Number(number)).toBe(n)
          expect(number.length).toBe(Math.max(digits, String(n).length))
        },
      ),
    )
  })

  it('are made of words with a number, which they give back', () => {
    fc.assert(
      fc.property(
        fc.constantFrom('Pier ', '', '4 lamps, '),
        fc.integer({ min: 0, max: 999_999_999 }),
        fc.constantFrom('', ' lamps', '!'),
        (before, n, after) => {
          const found = toCount(`${before}${n}${after}`)
          expect(found?.number).toBe(n)
          expect(counted(found?.text ?? '', n)).toBe(`${before}${n}${after}`)
        },
      ),
    )
    expect(toCount('Lantern')).toBeUndefined()
    expect(toCount('No. 007')).toEqual({ text: 'No. ###', number: 7 })
  })

  it('look as the same words typed do, at every frame', async () => {
    const tracks = {
      number: track.parse({
        keys: [
          { at: 0, value: 0, ease: 'even' },
          { at: 24, value: 12 },
        ],
      }),
    }
    for (const [frame, number] of [
      [0, 0],
      [9, 4],
      [24, 12],
    ]) {
      const counts = await outlineAt('Pier #', { counts: true }, frame, tracks)
      const typed = await outlineAt(`Pier ${number}`, {})
      expect(counts.regions).toEqual(typed.regions)
      expect(counts.letters.map(({ text }) => text)).toEqual(typed.letters.map(({ text }) => text))
    }
  })

  it('say so when there is nothing to count with', async () => {
    const [words] = wordRoute('Pier', 'archivo-bold', { counts: true })
    const { steps } = await evaluateRoute([words], { assets })
    expect(steps[0].issues.map(({ code }) => code)).toContain('no-digits')
  })
})
