import { beforeAll, describe, expect, it } from 'vitest'
import { SHIPPED_FACES } from '../../fonts/catalogue'
import { noise } from '../../test/bodies'
import { assets, FULL, wordRoute } from '../../test/helpers'
import { surfaceMeasures } from '../../test/surface-measures'
import { Memo } from '../cache/memo'
import { checkMesh } from '../check/check'
import { placeMatrix } from '../document/place'
import { evaluateRoute } from '../evaluate/route'
import { loadManifold } from '../kernel/manifold'
import { roundedBox } from '../solid/revolve'
import { normalsOf, uvsOf } from '../solid/shading'
import type { Solid } from '../solid/solid'
import { type Joined, joinSolid } from './join'

const LATTICE = 2 ** -14
beforeAll(async () => void (await loadManifold()))

async function word(text: string, face: string, size = 12): Promise<Solid> {
  const { value } = await evaluateRoute(wordRoute(text, face, { size }, { depth: 8, front: { profile: 'ogee', inset: 0.5, height: 0.5 } }), { assets })
  if (value?.kind !== 'solid') throw new Error(`${face} makes no solid`)
  return value
}

const solidIn = (joined: Joined): Extract<Joined, { ok: true }> => {
  if (!joined.ok) throw new Error(`${joined.why} ${joined.places.join(' | ')}`)
  return joined
}

/** How many letters were joined by themselves. */
function counting(): { memo: Memo; made: string[] } {
  const memo = new Memo()
  const made: string[] = []
  const put = memo.put.bind(memo)
  memo.put = (key, value) => {
    if (key.startsWith('on-face:') && value) made.push(key)
    put(key, value)
  }
  return { memo, made }
}

const FACES = FULL ? SHIPPED_FACES.map(({ id }) => id) : ['archivo-bold', 'playfair', 'pacifico'].filter((id) => SHIPPED_FACES.some((face) => face.id === id))

describe('letters on a flat face', () => {
  it.each(FACES)('in %s come out as joined all at once: sound, with the same volume, letters, areas, texture and shading', async (face) => {
    const letters = await word('Fäh8&g i', face)
    const plates = { flat: roundedBox(160, 60, 10, 0, 2, LATTICE), rounded: roundedBox(150, 50, 14, 3, 8, LATTICE) }
    const next = noise(face.length)
    let apart = 0
    for (const [name, plate] of Object.entries(plates)) {
      const shaded: Solid = { ...plate, attributes: { normal: normalsOf(plate), uv: uvsOf(plate) } }
      for (const how of ['carve', 'fuse'] as const)
        for (let round = 0; round < (FULL ? 6 : 1); round++) {
          // some hang over an edge of the plate
          const position: [number, number, number] = [-60 + 25 * next(), 18 + 16 * next(), (name === 'flat' ? 5 : 7) - 4 + 3 * next()]
          const partner = { solid: letters, matrix: placeMatrix({ position, turn: [0, 0, 30 * next()], size: 0.9 + 0.2 * next() }) }
          const { memo, made } = counting()
          const [own, plain] = [solidIn(joinSolid(shaded, [partner], how, memo)), solidIn(joinSolid(shaded, [partner], how))]
          if (made.length > 0) apart++
          expect(checkMesh(own.solid).findings).toEqual([])
          expect(own.solid.letters).toEqual(plain.solid.letters)
          expect(own.solid.layers).toEqual(plain.solid.layers)
          expect(Math.abs(own.after / plain.after - 1)).toBeLessThan(1e-6)
          expect(own.before).toBeCloseTo(plain.before, 3)
          const [is, was] = [surfaceMeasures(own.solid), surfaceMeasures(plain.solid)]
          for (const key of new Set([...Object.keys(is), ...Object.keys(was)]))
            expect(Math.abs((is[key] ?? 0) - (was[key] ?? 0)), `${name} ${how} ${key}`).toBeLessThan(0.02 + 1e-4 * Math.abs(was[key] ?? 0))
          // joined again, nothing is made
          const before = made.length
          joinSolid(shaded, [partner], how, memo)
          expect(made.length).toBe(before)
        }
    }
    expect(apart).toBeGreaterThan(FULL ? 8 : 2)
  })

  it('of a word typed anew only the letter that is new is joined, and the others are bit for bit what they were', async () => {
    const plate = roundedBox(160, 60, 10, 0, 2, LATTICE)
    const { memo, made } = counting()
    const carved = async (text: string) => {
      made.length = 0
      const partner = { solid: await word(text, 'archivo-bold'), matrix: placeMatrix({ position: [-20, 25, 2], turn: [0, 0, 0], size: 1 }) }
      const { solid } = solidIn(joinSolid(plate, [partner], 'carve', memo))
      expect(checkMesh(solid).sound).toBe(true)
      return { solid, made: made.length }
    }
    expect((await carved('HELM')).made).toBe(4)
    const typed = await carved('HELLO')
    expect(typed.made).toBe(1)
    expect(typed.solid.letters.join('')).toBe('HELLO')
    expect((await carved('OHM')).made).toBe(0)
  })

  it('keeps what is told of partners that miss, and what each of several gave', async () => {
    const plate = roundedBox(160, 60, 10, 0, 2, LATTICE)
    const [a, b] = [await word('Tern', 'archivo-bold'), await word('Quay', 'archivo-bold')]
    const at = (x: number, y: number, z: number) => placeMatrix({ position: [x, y, z], turn: [0, 0, 0], size: 1 })
    const partners = [
      { solid: a, matrix: at(-60, 35, 2) },
      { solid: b, matrix: at(-60, 12, 2) },
      { solid: a, matrix: at(-60, 12, 60) },
    ]
    for (const how of ['carve', 'fuse'] as const) {
      const own = joinSolid(plate, partners, how, new Memo())
      expect(own.ok && own.apart).toEqual([2])
      expect(own.ok && own.solid.letters.join('')).toBe('TernQuayTern')
      expect(own.ok && checkMesh(own.solid).sound).toBe(true)
    }
  })
})
