import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { boxSolid } from '../../test/helpers'
import { checkMesh, weldByPosition } from '../check/check'
import { withScope } from '../kernel/manifold'
import { NONE } from './labels'
import { joinPlaced } from './operations'
import { connectedParts, labelOf, solidBounds, withParts } from './solid'

describe('joinPlaced', () => {
  it('moves parts to their places and numbers their parts and letters anew', () => {
    const box = boxSolid([0, 0, 0], [2, 3, 4], { letter: 0 }, { letters: ['x'] })
    const joined = joinPlaced(
      [
        { solid: box, dx: 0, dy: 0, dz: 0, letters: [4] },
        { solid: box, dx: 10, dy: -1, dz: 2, letters: [7] },
        { solid: boxSolid([0, 0, 0], [2, 3, 4]), dx: 20, dy: 0, dz: 0, letters: [] },
      ],
      [],
      2 ** -14,
    )
    expect(checkMesh(joined)).toMatchObject({ sound: true, parts: 3, volume: 72, size: [22, 4, 6] })
    const [letter, part] = [labelOf(joined, 'letter'), labelOf(joined, 'part')]
    expect([letter[0], letter[12], letter[24]]).toEqual([4, 7, NONE])
    expect([part[0], part[12], part[24]]).toEqual([0, 1, 2])
    // the parts themselves are untouched: they are shared by every place the glyph stands at
    expect(solidBounds(box.positions)).toEqual([0, 0, 0, 2, 3, 4])
  })

  it('numbers more parts than fit sixteen bits', () => {
    // one triangle each, which is enough to count by
    const count = 70_000
    const positions = Float64Array.from({ length: 9 * count }, (_, i) => i)
    const indices = Uint32Array.from({ length: 3 * count }, (_, i) => i)
    const box = boxSolid([0, 0, 0], [1, 1, 1])
    const many = withParts({ ...box, positions, indices, surface: new Uint32Array(count), attributes: {} })
    expect(labelOf(many, 'part')[count - 1]).toBe(count - 1)
  })
})

describe('connectedParts', () => {
  it('agrees with a search over neighbours', () => {
    const mesh = fc.array(fc.tuple(fc.nat(30), fc.nat(30), fc.nat(30)), { minLength: 1, maxLength: 40 })
    fc.assert(
      fc.property(mesh, (triangles) => {
        const { part, count } = connectedParts(triangles.flat(), 31)
        const seen = new Map<number, number>()
        let groups = 0
        for (let t = 0; t < triangles.length; t++) {
          if (seen.has(t)) continue
          groups++
          const stack = [t]
          while (stack.length > 0) {
            const s = stack.pop() as number
            if (seen.has(s)) continue
            seen.set(s, groups)
            triangles.forEach((other, u) => {
              if (other.some((v) => triangles[s].includes(v))) stack.push(u)
            })
          }
        }
        expect(count).toBe(groups)
        for (let s = 0; s < triangles.length; s++) for (let t = 0; t < s; t++) expect(part[s] === part[t]).toBe(seen.get(s) === seen.get(t))
      }),
      { numRuns: 100 },
    )
  })
})

describe('weldByPosition', () => {
  it('makes equal points one, −0 and 0 included, and nothing else', () => {
    const { positions, indices } = weldByPosition({ positions: [0, 0, 0, -0, 0, 0, 1e-12, 0, 0], indices: [0, 1, 2] })
    expect(positions.length).toBe(6)
    expect([...indices]).toEqual([0, 0, 1])
  })
})

describe('withScope', () => {
  it('frees everything it owns, last first, also when the work fails', () => {
    const freed: string[] = []
    const object = (name: string) => ({ delete: () => freed.push(name) })
    expect(() =>
      withScope((own) => {
        own(object('first'))
        own(object('second'))
        throw new Error('failed')
      }),
    ).toThrow('failed')
    expect(freed).toEqual(['second', 'first'])
    expect(withScope((own) => (own(object('third')), 5))).toBe(5)
    expect(freed).toEqual(['second', 'first', 'third'])
  })
})
