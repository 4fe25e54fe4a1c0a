import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { NumberWords } from './number-words'

const bytesOf = (text: string) => new TextEncoder().encode(text)

function all(text: string, from?: number): number[] {
  const words = new NumberWords(bytesOf(text), from)
  const out: number[] = []
  for (let next = words.next(); next !== undefined; next = words.next()) out.push(next)
  // the end stays the end
  expect(words.next()).toBeUndefined()
  return out
}

const blank = fc.constantFrom(' ', '\n', '\t', '\r\n', '  \n', '\t ')
const written = fc.oneof(
  fc.integer().map(String),
  fc.integer({ min: 0, max: 9e15 }).map((n) => `00${n}`),
  fc.double({ noNaN: true, noDefaultInfinity: true }).map(String),
  fc.double({ min: -1e6, max: 1e6, noNaN: true }).map((n) => n.toFixed(6)),
  fc.double({ min: -1e6, max: 1e6, noNaN: true }).map((n) => n.toExponential(3)),
  fc.constantFrom('+5', '.5', '-.25', '7.', '1e3', '-0'),
)

describe('numbers between blanks', () => {
  it('are those that splitting the text and reading each word gives', () => {
    fc.assert(
      fc.property(fc.array(fc.tuple(written, blank), { maxLength: 30 }), fc.option(blank), (list, first) => {
        const text = (first ?? '') + list.map(([word, after]) => word + after).join('')
        expect(all(text)).toEqual(
          text
            .split(/\s+/)
            .filter((word) => word !== '')
            .map(Number),
        )
        // also where nothing stands behind the last
        expect(all(text.trim())).toEqual(list.map(([word]) => Number(word)))
      }),
    )
  })

  it('is none where a word is none, and goes on behind it', () => {
    expect(all('1 two 3')).toEqual([1, Number.NaN, 3])
    expect(all('- -- +')).toEqual([Number.NaN, Number.NaN, Number.NaN])
    expect(all('1,5 2')).toEqual([Number.NaN, 2])
    // longer than any number
    expect(all(`${'1'.repeat(65)} 2`)).toEqual([Number.NaN, 2])
    expect(all(`${'9'.repeat(60)} 2`)).toEqual([Number('9'.repeat(60)), 2])
    fc.assert(
      fc.property(fc.uint8Array({ maxLength: 200 }), (bytes) => {
        const words = new NumberWords(bytes)
        let count = 0
        while (words.next() !== undefined) count++
        expect(count).toBeLessThanOrEqual(bytes.length)
      }),
    )
  })

  it('begins where it is told, and finds nothing in nothing', () => {
    expect(all('header 4 5', 6)).toEqual([4, 5])
    expect(all('')).toEqual([])
    expect(all(' \n\t ')).toEqual([])
    expect(all('42', 99)).toEqual([])
  })
})
