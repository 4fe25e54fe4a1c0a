import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { plainSolid } from '../../test/bodies'
import { boxMesh, together } from '../../test/helpers'
import { labelTable, NONE, PLAIN_ROW } from '../solid/labels'
import { around, type LetterBox, letterGroups, solidBoxes } from './letter-boxes'
import { NearPlaces } from './near'

const number = (min: number, max: number) => fc.double({ min, max, noNaN: true })

describe('places that are near', () => {
  const place = fc.tuple(number(-60, 60), number(-60, 60), number(-60, 60))

  it('are those that looking at all of them finds, within the reach', () => {
    fc.assert(
      fc.property(fc.array(place, { maxLength: 60 }), fc.array(place, { minLength: 1, maxLength: 20 }), number(0.5, 30), (places, asked, reach) => {
        const near = new NearPlaces(reach)
        for (const [x, y, z] of places) near.add(x, y, z)
        for (const [x, y, z] of asked) {
          const all = places.map(([a, b, c]) => Math.hypot(a - x, b - y, c - z)).filter((d) => d <= reach * (1 - 1e-12))
          const found = near.nearest(x, y, z)
          if (all.length === 0) expect(found === Infinity || Math.abs(found - reach) < 1e-9).toBe(true)
          else expect(found).toBeCloseTo(Math.min(...all), 9)
          // with every second one left out
          const some = places.filter((_, i) => i % 2 === 0).map(([a, b, c]) => Math.hypot(a - x, b - y, c - z))
          const within = some.filter((d) => d <= reach * (1 - 1e-12))
          const even = near.nearest(x, y, z, (i) => i % 2 === 0)
          if (within.length > 0) expect(even).toBeCloseTo(Math.min(...within), 9)
          else expect(even === Infinity || Math.abs(even - reach) < 1e-9).toBe(true)
        }
      }),
      { numRuns: 60 },
    )
  })

  it('are found far from the origin, where cells have no names of their own any more', () => {
    const near = new NearPlaces(1)
    near.add(1e6, -1e6, 1e6)
    near.add(1e6 + 131072, -1e6, 1e6)
    expect(near.nearest(1e6 + 0.5, -1e6, 1e6)).toBeCloseTo(0.5, 6)
    expect(near.nearest(1e6 + 131072.25, -1e6, 1e6)).toBeCloseTo(0.25, 6)
    expect(near.nearest(1e6 + 65536, -1e6, 1e6)).toBe(Infinity)
  })
})

describe('boxes of letters', () => {
  const box = fc
    .tuple(number(-50, 50), number(-50, 50), number(-50, 50), number(0, 20), number(0, 20), number(0, 20))
    .map(([x, y, z, w, h, d]): LetterBox => [x, y, z, x + w, y + h, z + d])

  it('about two hold both and no more', () => {
    fc.assert(
      fc.property(box, box, (a, b) => {
        const both = around(a, b)
        for (let k = 0; k < 3; k++) {
          expect(both[k]).toBe(Math.min(a[k], b[k]))
          expect(both[k + 3]).toBe(Math.max(a[k + 3], b[k + 3]))
        }
        expect(around(b, a)).toEqual(both)
        expect(around(a, a)).toEqual(a)
      }),
    )
  })

  it('of a solid are those of its triangles, letter by letter', () => {
    const boxes: LetterBox[] = [
      [0, 0, 0, 4, 5, 6],
      [10, -3, 1, 12, 9, 2],
      [-7, 2, -4, -1, 3, 8],
    ]
    const { positions, indices } = together(...boxes.map((b) => boxMesh(...b)))
    const letters = [2, 0, NONE]
    const solid = {
      ...plainSolid(positions, indices),
      surface: Uint32Array.from({ length: indices.length / 3 }, (_, t) => Math.floor(t / 12)),
      labels: labelTable(letters.map((letter) => ({ ...PLAIN_ROW, letter }))),
      letters: ['a', 'b', 'c'],
    }
    const found = solidBoxes(solid)
    expect(found.size).toBe(3)
    letters.forEach((letter, i) => expect(found.get(letter)).toEqual(boxes[i]))
  })

  /** Each letter a box 4 wide, set as a person sets them: on from the last, lines below each other. */
  function set(text: string): { letters: string[]; boxes: Map<number, LetterBox> } {
    const letters = [...text]
    const boxes = new Map<number, LetterBox>()
    let [x, y] = [0, 0]
    letters.forEach((letter, i) => {
      if (letter === '\n') {
        x = 0
        y -= 14
        return
      }
      if (letter !== ' ') boxes.set(i, [x, y, 0, x + 4, y + 10, 2])
      x += 5
    })
    return { letters, boxes }
  }
  const text = fc.array(fc.constantFrom('a', 'B', '8', ' ', '\n'), { maxLength: 30 }).map((list) => list.join(''))

  it('are grouped by letter, word and line as the text is written', () => {
    fc.assert(
      fc.property(text, (written) => {
        const { letters, boxes } = set(written)
        const starts = (parts: RegExpMatchArray[]) => parts.map((m) => m.index)
        expect(letterGroups(letters, boxes, 'letter').map(({ letter }) => letter)).toEqual(starts([...written.matchAll(/\S/g)]))
        expect(letterGroups(letters, boxes, 'word').map(({ letter }) => letter)).toEqual(starts([...written.matchAll(/\S+/g)]))
        const lines: number[] = []
        let at = 0
        for (const line of written.split('\n')) {
          const first = line.search(/\S/)
          if (first >= 0) lines.push(at + first)
          at += line.length + 1
        }
        const found = letterGroups(letters, boxes, 'line')
        expect(found.map(({ letter }) => letter)).toEqual(lines)
        // the boxes of all groups together are the box of all
        for (const by of ['letter', 'word', 'line'] as const) {
          const groups = letterGroups(letters, boxes, by)
          if (groups.length > 0) expect(groups.map((g) => g.box).reduce(around)).toEqual([...boxes.values()].reduce(around))
        }
      }),
    )
  })

  it('begin a line where words were set below each other without a break, as in a column', () => {
    const boxes = new Map<number, LetterBox>([
      [0, [0, 0, 0, 20, 10, 1]],
      [2, [0, -14, 0, 20, -4, 1]],
      [4, [22, -14, 0, 40, -4, 1]],
    ])
    expect(letterGroups([...'A B C'], boxes, 'line').map(({ letter }) => letter)).toEqual([0, 2])
    expect(letterGroups([...'A B C'], new Map([[-1, [0, 0, 0, 1, 1, 1]]]), 'line')).toEqual([])
  })
})
