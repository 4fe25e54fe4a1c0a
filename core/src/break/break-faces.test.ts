import { describe, expect, it } from 'vitest'
import { SHIPPED_FACES } from '../../fonts/catalogue'
import { assets, FULL, wordRoute } from '../../test/helpers'
import { checkMesh } from '../check/check'
import { evaluateRoute } from '../evaluate/route'
import { loadManifold } from '../kernel/manifold'
import { partCount, type Solid } from '../solid/solid'
import { brokenToPieces } from './pieces'
import { volumeOf } from '../solid/volume'

const KINDS = ['even', 'impact', 'grain'] as const

/** A word of each shipped face; three kinds of cracks and 20 and 50 pieces: unless all are asked for some of the faces, and one of these by turns. */
describe('Every face', () => {
  const ways = KINDS.flatMap((pattern) => [20, 50].map((pieces) => ({ pattern, pieces })))
  it.each(SHIPPED_FACES.map(({ id }, i) => ({ id, i })).filter(({ i }) => FULL || i % 5 < 2))('$id breaks into sound pieces that fit', async ({ id, i }) => {
    await loadManifold()
    const { value } = await evaluateRoute(wordRoute('Quay8', id, { size: 40 }, { depth: 10, front: { profile: 'round', inset: 0.4, height: 0.6 } }), { assets })
    const word = value as Solid
    for (const [k, { pattern, pieces }] of ways.entries()) {
      if (!FULL && k !== i % ways.length) continue
      const broken = await brokenToPieces(
        word,
        { pattern, pieces, seed: 11, spot: [0, 20, 5], reach: 15, angle: 20, long: 4, gap: 0, rough: 0, grain: 3, chips: 0, eachLetter: false },
        { breathe: async () => {}, progress: () => {} },
      )
      if (!broken.ok) throw new Error(`${pattern}, ${pieces}: ${broken.why}`)
      const { units } = broken.assembly
      expect(broken.unfit, pattern).toBe(0)
      expect(units.length).toBe(Math.max(pieces, partCount(word)))
      expect(units.flatMap((unit) => checkMesh(unit).findings.map(({ code }) => `${pattern} ${pieces} ${code}`))).toEqual([])
      expect(Math.abs(units.reduce((sum, unit) => sum + volumeOf(unit), 0) / volumeOf(word) - 1)).toBeLessThan(1e-6)
    }
  })

  /** at the first try one break face of it did not fit */
  const HARD = 'abril-fatface'
  it.each(SHIPPED_FACES.filter(({ id }) => FULL || id === HARD).map(({ id }) => ({ id })))(
    '$id breaks into rough pieces that fit as exactly',
    async ({ id }) => {
      await loadManifold()
      const { value } = await evaluateRoute(wordRoute('Quay8', id, { size: 40 }, { depth: 10, front: { profile: 'round', inset: 0.4, height: 0.6 } }), {
        assets,
      })
      const word = value as Solid
      for (const pattern of FULL ? KINDS : (['grain'] as const)) {
        const broken = await brokenToPieces(
          word,
          { pattern, pieces: 20, seed: 11, spot: [0, 20, 5], reach: 15, angle: 20, long: 4, gap: 0, rough: 0.5, grain: 3, chips: 0, eachLetter: false },
          { breathe: async () => {}, progress: () => {} },
        )
        if (!broken.ok) throw new Error(`${pattern}: ${broken.why}`)
        expect(broken.unfit, pattern).toBe(0)
        const { units } = broken.assembly
        expect(units.flatMap((unit) => checkMesh(unit).findings.map(({ code }) => `${pattern} ${code}`))).toEqual([])
        expect(Math.abs(units.reduce((sum, unit) => sum + volumeOf(unit), 0) / volumeOf(word) - 1)).toBeLessThan(1e-6)
      }
    },
  )
})
