import fc from 'fast-check'
import { beforeAll, describe, expect, it } from 'vitest'
import { assets, wordRoute } from '../../test/helpers'
import { hashBytes } from '../cache/hash'
import { carryOver } from '../document/letters'
import { evaluateRoute } from '../evaluate/route'
import { loadManifold } from '../kernel/manifold'
import { labelOf, type Solid, solidBounds } from '../solid/solid'
import { masked } from './masked'
import { type Dab, lettersIn, type Painted, paintedOn } from './painted'
import { dabCount, dabsOf, holdDabs, intoFile, readDabs, toldBy, writeDabs } from './painted-file'
import { MOST_DABS, paintedSchema } from './painted-schema'
import { maskSchema } from './schema'
import { FormatError } from '../format/mesh-data'
import { bringMaskFiles } from '../steps/shared/mask-files'
import { MissingAssetError } from '../steps/step'

beforeAll(async () => void (await loadManifold()))

async function word(text: string): Promise<Solid> {
  const { value } = await evaluateRoute(wordRoute(text, 'jost-bold', {}, { depth: 6, front: { profile: 'square', inset: 0, height: 0 } }), { assets })
  return value as Solid
}

const dab = (at: number, place: Dab['place'], more: Partial<Dab> = {}): Dab => ({ at, place, radius: 8, soft: 50, amount: 100, ...more })
const PAINTED = {
  of: 'Quay',
  list: [
    dab(2, [4, 4, 6]),
    dab(2, [14, 18, 6], { amount: 60, radius: 5 }),
    dab(2, [6, 5, 6], { amount: -40, radius: 4 }),
    dab(2, [10, 12, 0], { soft: 0, radius: 3 }),
    dab(2, [9, 12, 6], { radius: 6, smooths: true }),
  ],
}

const held = new Map<string, readonly Dab[]>()
const dabsInFile = (sha256: string) => held.get(sha256) ?? []

/** The weights of one letter's own vertices, in their order, by how far they are from its corner. */
function weightsOf(solid: Solid, letter: string, painted: Painted = PAINTED): Map<string, number> {
  const { letterOf, offsets, text, corners } = lettersIn(solid)
  const number = offsets.indexOf(text.indexOf(letter))
  const { at } = paintedOn(solid, painted)
  const corner = corners.get(number) ?? [0, 0, 0]
  const found = new Map<string, number>()
  letterOf.forEach((owner, v) => {
    if (owner !== number) return
    const place = [0, 1, 2].map((k) => Math.round((solid.positions[3 * v + k] - corner[k]) * 1e4))
    found.set(place.join(), at(solid.positions, 3 * v, owner))
  })
  return found
}

describe('a painted mask', () => {
  it('is the same on its own letter after a hundred random edits of other letters', async () => {
    const before = weightsOf(await word('Quay'), 'a')
    expect([...before.values()].some((w) => w > 0.5)).toBe(true)
    let text = 'Quay'
    let painted: Painted = PAINTED
    let state = 7
    const random = (n: number) => (state = (state * 16807) % 2147483647) % n
    for (let i = 0; i < 100; i++) {
      const others = [...text].map((letter, at) => ({ letter, at })).filter(({ letter }) => letter !== 'a')
      const one = others[random(others.length)] ?? { at: 0, letter: '' }
      const letter = 'QuyBernt 8'[random(10)]
      const way = random(3)
      if (way === 0 && text.length < 9) text = text.slice(0, one.at) + letter + text.slice(one.at)
      else if (way === 1 && text.length > 2) text = text.slice(0, one.at) + text.slice(one.at + 1)
      else text = text.slice(0, one.at) + letter + text.slice(one.at + 1)
      painted = carryOver(painted, text)
      const after = weightsOf(await word(text), 'a', painted)
      expect(after.size).toBe(before.size)
      for (const [place, weight] of before) expect(Math.abs((after.get(place) ?? -1) - weight)).toBeLessThan(1e-6)
    }
  })

  it('acts on its own letter only, and is set aside while that is gone', async () => {
    const solid = await word('Quay')
    const { at, letterOf, aside } = paintedOn(solid, PAINTED)
    expect(aside).toBe(0)
    const touched = new Set<number>()
    letterOf.forEach((letter, v) => at(solid.positions, 3 * v, letter) > 0 && touched.add(letter))
    expect(touched).toEqual(new Set([2]))
    const without = paintedOn(await word('Quy'), PAINTED)
    expect(without.aside).toBe(PAINTED.list.length)
    expect(paintedOn(await word('Quaby'), PAINTED).aside).toBe(0)
  })

  it('is what the brush laid on, between vertices as well where its border is soft', async () => {
    const solid = await word('Quay')
    const soft = { of: 'Quay', list: PAINTED.list.filter(({ soft }) => soft > 0) }
    const { solid: fine, weights } = masked(solid, maskSchema.parse({ list: [{ by: 'painted', painted: soft }] }))
    expect(fine.positions.length).toBeGreaterThan(solid.positions.length)
    expect(solidBounds(fine.positions)).toEqual(solidBounds(solid.positions))
    const letters = labelOf(fine, 'letter')
    const { at } = paintedOn(solid, soft)
    const middle = new Float64Array(3)
    letters.forEach((letter, t) => {
      const [a, b, c] = fine.indices.subarray(3 * t, 3 * t + 3)
      for (const v of [a, b, c]) expect(weights[v]).toBeGreaterThanOrEqual(0)
      for (let k = 0; k < 3; k++) middle[k] = (fine.positions[3 * a + k] + fine.positions[3 * b + k] + fine.positions[3 * c + k]) / 3
      expect(Math.abs(at(middle, 0, letter) - (weights[a] + weights[b] + weights[c]) / 3)).toBeLessThan(0.12)
    })
  })

  it('takes away what it laid on, dab by dab', () => {
    fc.assert(
      fc.property(fc.array(fc.tuple(fc.integer({ min: -100, max: 100 }), fc.integer({ min: 0, max: 100 })), { maxLength: 12 }), (list) => {
        const solid = {
          letters: [],
          positions: Float64Array.of(0, 0, 0, 9, 0, 0, 0, 9, 0),
          indices: Uint32Array.of(0, 1, 2),
          surface: Uint32Array.of(0),
          labels: { letter: Int32Array.of(-1) },
        } as unknown as Solid
        const { at } = paintedOn(solid, { of: '', list: list.map(([amount, soft]) => dab(-1, [0, 0, 0], { amount, soft })) })
        let value = 0
        for (const [amount] of list) value += (amount > 0 ? 1 - value : value) * (amount / 100)
        expect(at(solid.positions, 0, -1)).toBeCloseTo(value, 9)
        expect(at(Float64Array.of(0, 0, 8.001), 0, -1)).toBe(0)
      }),
    )
  })

  it('says the same from a file as from the document, however it was taken into one and the words are changed', () => {
    const stroke = fc.array(fc.tuple(fc.nat(9), fc.integer({ min: -100, max: 100 })), { minLength: 1, maxLength: 4 })
    const act = fc.oneof(
      fc.record({ does: fc.constant('paint' as const), stroke }),
      fc.record({ does: fc.constant('keep' as const) }),
      fc.record({ does: fc.constant('write' as const), at: fc.nat(9), letter: fc.constantFrom('', 'a', 'b', 'cd') }),
    )
    fc.assert(
      fc.property(fc.array(act, { maxLength: 14 }), (acts) => {
        let text = 'abacad'
        let plain: Painted = { of: text, list: [] }
        let kept: Painted = { of: text, list: [] }
        let files = 0
        for (const one of acts) {
          if (one.does === 'write') {
            const at = one.at % (text.length + 1)
            text = text.slice(0, at) + one.letter + text.slice(at + (one.letter === '' ? 1 : 0))
          } else if (one.does === 'paint') {
            const dabs = one.stroke.map(([at, amount]) => dab(text === '' ? -1 : (at % (text.length + 1)) - 1, [at, 0, 0], { amount }))
            ;[plain, kept] = [plain, kept].map((painted) => {
              const told = toldBy(painted, text)
              return { ...told, list: [...told.list, ...dabs] }
            })
          } else {
            const { dabs, painted } = intoFile(kept, kept.file ? dabsInFile(kept.file.sha256) : [])
            const sha256 = hashBytes(writeDabs(dabs))
            // as it comes back from its bytes
            const read = readDabs(writeDabs(dabs))
            expect(read).toEqual(dabs)
            held.set(sha256, read)
            holdDabs(sha256, read)
            kept = paintedSchema.parse({ ...painted, file: { sha256, name: 'Painted', count: dabs.length } })
            files++
          }
        }
        const [a, b] = [toldBy(plain, text), toldBy(kept, text)]
        expect(dabsOf(b)).toEqual(dabsOf(a))
        // and so does what is counted, once those on letters that are gone have left the file
        const { dabs } = intoFile(b, b.file ? dabsInFile(b.file.sha256) : [])
        expect(dabs.length).toBe(dabCount(a))
        if (files === 0) expect(dabCount(b)).toBe(dabCount(a))
      }),
    )
  })

  it('is brought from its file before it is measured, or says what is missing', async () => {
    const { dabs, painted } = intoFile(PAINTED, [])
    const bytes = writeDabs([...dabs, dab(-1, [1, 2, 3])])
    const file = { sha256: hashBytes(bytes), name: 'Painted', count: dabs.length + 1 }
    const params = { mask: maskSchema.parse({ list: [{ by: 'painted', painted: { ...painted, file } }] }) }
    const from = (give: () => Uint8Array) => ({ file: async () => give(), picture: () => Promise.reject(new Error('no picture')) })
    const missing = await bringMaskFiles(
      params,
      from(() => {
        throw new MissingAssetError(file.sha256)
      }),
    )
    expect(missing).toMatchObject({ ok: false, issue: { message: expect.stringContaining('What was painted') } })
    expect(
      await bringMaskFiles(
        params,
        from(() => bytes.slice(9)),
      ),
    ).toMatchObject({ ok: false, issue: { code: 'unreadable-painted' } })
    expect(
      await bringMaskFiles(
        params,
        from(() => bytes),
      ),
    ).toBe(undefined)
    const solid = await word('Quay')
    const [there, here] = [{ ...painted, file }, PAINTED].map((one) => weightsOf(solid, 'a', one))
    expect(there).toEqual(here)
  })

  it('reads nothing but dabs', () => {
    const good = writeDabs([dab(0, [1, 2, 3])])
    for (const bytes of [new Uint8Array(), good.slice(3), new TextEncoder().encode('{"kelvar":"dabs","dabs":[{"at":1e9}]}'), new TextEncoder().encode('[]')])
      expect(() => readDabs(bytes)).toThrow(FormatError)
    fc.assert(
      fc.property(fc.nat(good.length - 1), fc.nat(255), (at, byte) => {
        const bytes = good.slice()
        bytes[at] = byte
        try {
          expect(readDabs(bytes).length).toBe(1)
        } catch (error) {
          expect(error).toBeInstanceOf(FormatError)
        }
      }),
    )
  })

  it('is bounded', () => {
    expect(paintedSchema.safeParse({ of: '', list: Array.from({ length: MOST_DABS + 1 }, () => dab(0, [0, 0, 0])) }).success).toBe(false)
    expect(paintedSchema.safeParse({ of: '', list: [dab(0, [Number.NaN, 0, 0])] }).success).toBe(false)
  })
})
