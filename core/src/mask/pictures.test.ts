import fc from 'fast-check'
import { beforeAll, describe, expect, it } from 'vitest'
import { assets, boxSolid } from '../../test/helpers'
import type { RouteStep } from '../document/schema'
import { evaluateRoute } from '../evaluate/route'
import type { Picture } from '../format/picture'
import { loadManifold } from '../kernel/manifold'
import { roundedBox } from '../solid/revolve'
import { type Solid, solidBounds, vertexCount } from '../solid/solid'
import { MissingAssetError } from '../steps/step'
import { masked } from './masked'
import { MeasuredMask } from './measure'
import { holdPicture, lightAt, pictureAtHand } from './pictures'
import { maskSchema } from './schema'

beforeAll(async () => void (await loadManifold()))

const sha = (digit: string) => digit.repeat(64)
/** A picture by how light each pixel is, rows from the top. */
const grey = (rows: readonly (readonly number[])[], opacity = 255): Picture => ({
  width: rows[0].length,
  height: rows.length,
  rgba: Uint8Array.from(rows.flat().flatMap((v) => [v, v, v, opacity])),
})
const QUARTERS = grey([
  [0, 255],
  [255, 0],
])

describe('a picture at hand', () => {
  it('is what its pixels are at their middles, goes on over and over, and never beyond them between', () => {
    const rows = fc.array(fc.array(fc.integer({ min: 0, max: 255 }), { minLength: 3, maxLength: 3 }), { minLength: 2, maxLength: 5 })
    fc.assert(
      fc.property(rows, fc.double({ min: -3, max: 3, noNaN: true }), fc.double({ min: -3, max: 3, noNaN: true }), (pixels, u, v) => {
        holdPicture(sha('1'), grey(pixels))
        const picture = pictureAtHand(sha('1'))
        if (!picture) throw new Error('not held')
        pixels.forEach((row, j) => {
          row.forEach((light, i) => expect(lightAt(picture, (i + 0.5) / row.length, 1 - (j + 0.5) / pixels.length)).toBeCloseTo(light / 255, 9))
        })
        const here = lightAt(picture, u, v)
        expect(lightAt(picture, u + 1, v - 2)).toBeCloseTo(here, 6)
        // or as its border is
        expect(lightAt(picture, 7 + Math.abs(u), 0.5 / pixels.length, false)).toBe((pixels.at(-1)?.at(-1) ?? 0) / 255)
        expect(here).toBeGreaterThanOrEqual(Math.min(...pixels.flat()) / 255 - 1e-9)
        expect(here).toBeLessThanOrEqual(Math.max(...pixels.flat()) / 255 + 1e-9)
      }),
    )
  })

  it('is black where it is clear, and as light as its colour looks', () => {
    holdPicture(sha('2'), grey([[255]], 0))
    expect(pictureAtHand(sha('2'))?.grey[0]).toBe(0)
    holdPicture(sha('2'), { width: 3, height: 1, rgba: Uint8Array.from([255, 0, 0, 255, 0, 255, 0, 255, 0, 0, 255, 255]) })
    const [red, green, blue] = [...(pictureAtHand(sha('2'))?.grey ?? [])]
    expect(green).toBeGreaterThan(red)
    expect(red).toBeGreaterThan(blue)
    expect(Math.abs(red + green + blue - 255)).toBeLessThan(3)
  })
})

describe('a mask by a picture', () => {
  const entry = (more: object = {}) => maskSchema.parse({ list: [{ by: 'picture', picture: { sha256: sha('3'), name: 'quarters.png' }, ...more }] })
  const block = boxSolid([0, 0, 0], [40, 40, 40])

  it('lies as one sees it from where it is cast, over all of the piece', () => {
    holdPicture(sha('3'), QUARTERS)
    // the first quarter from the upper left is black, as seen from there: right and up in the piece's coordinates
    for (const [cast, k, right, l, up] of [
      ['front', 0, 1, 1, 1],
      ['above', 0, 1, 2, -1],
      ['side', 2, -1, 1, 1],
    ] as const) {
      const { solid, weights } = masked(block, entry({ cast }))
      let [seen, whole] = [0, 0]
      for (let v = 0; v < vertexCount(solid); v++) {
        const [x, y] = [right * (solid.positions[3 * v + k] - 20), up * (solid.positions[3 * v + l] - 20)]
        // in the middle of each quarter it is what the pixel is
        if (Math.abs(Math.abs(x) - 10) > 1.5 || Math.abs(Math.abs(y) - 10) > 1.5) continue
        seen++
        const light = x > 0 === y > 0 ? 1 : 0
        whole += light
        expect(Math.abs(weights[v] - light), `${cast} ${x} ${y}`).toBeLessThan(0.25)
      }
      // in each quarter of both faces that are seen straight on
      expect(seen).toBeGreaterThanOrEqual(8)
      expect(whole).toBeGreaterThan(0)
      expect(whole).toBeLessThan(seen)
    }
  })

  it('lies on each side as it does when it is cast from there alone, where it is cast from three at once', () => {
    holdPicture(sha('3'), QUARTERS)
    const { solid, weights } = masked(block, entry({ cast: 'sides' }))
    const { positions: p } = solid
    const seen = [0, 0, 0]
    for (let v = 0; v < weights.length; v++) {
      // within one face, in the middle of one of its quarters
      const faces = [0, 1, 2].filter((k) => Math.abs(Math.abs(p[3 * v + k] - 20) - 20) < 1e-9)
      if (faces.length !== 1) continue
      const [k] = faces
      const [right, up] = k === 2 ? [p[3 * v] - 20, p[3 * v + 1] - 20] : k === 1 ? [p[3 * v] - 20, 20 - p[3 * v + 2]] : [20 - p[3 * v + 2], p[3 * v + 1] - 20]
      if (Math.abs(Math.abs(right) - 10) > 1.5 || Math.abs(Math.abs(up) - 10) > 1.5) continue
      seen[k]++
      expect(Math.abs(weights[v] - (right > 0 === up > 0 ? 1 : 0))).toBeLessThan(0.25)
    }
    for (const n of seen) expect(n).toBeGreaterThanOrEqual(8)
  })

  it('is a mixture of the three on what looks between them, and never more or less than they are', () => {
    holdPicture(sha('3'), QUARTERS)
    const ball = roundedBox(40, 40, 40, 20, 16, 2 ** -14)
    const three = masked(ball, entry({ cast: 'sides', wide: 13 }))
    const alone = (['front', 'above', 'side'] as const).map((cast) => new MeasuredMask(ball, entry({ cast, wide: 13 })))
    const { positions } = three.solid
    let mixed = 0
    three.weights.forEach((w, v) => {
      const each = alone.map((mask) => mask.at(positions, 3 * v, 0, 0, 0))
      expect(w).toBeGreaterThanOrEqual(Math.min(...each) - 1e-6)
      expect(w).toBeLessThanOrEqual(Math.max(...each) + 1e-6)
      if (each.every((one) => Math.abs(one - w) > 0.02)) mixed++
    })
    expect(mixed).toBeGreaterThan(20)
  })

  it('goes on over and over where it is narrower, and the other way where it is turned round', () => {
    holdPicture(sha('3'), QUARTERS)
    const [once, turned] = [masked(block, entry({ wide: 20 })), masked(block, entry({ wide: 20, turned: true }))]
    const total = ({ weights }: { weights: Float32Array }) => weights.reduce((a, b) => a + b, 0) / weights.length
    expect(vertexCount(once.solid)).toBeGreaterThan(vertexCount(masked(block, entry()).solid))
    expect(total(once) + total(turned)).toBeCloseTo(1, 5)
  })
})

describe('a step that is limited by a picture', () => {
  const step = (kind: string, params: Record<string, unknown> = {}): RouteStep => ({ id: `${kind}-1`, kind, on: true, params })
  const limited = (sha256: string) => [
    step('block', { shape: 'box', width: 40, height: 40, depth: 40 }),
    step('wave', { height: 4, mask: { list: [{ by: 'picture', picture: { sha256, name: 'halves.png' } }] } }),
  ]
  const halves = grey(Array.from({ length: 6 }, () => [0, 0, 0, 255, 255, 255]))
  const carrying = { ...assets, picture: async () => halves }

  it('acts where that is light, and leaves the rest bit for bit', async () => {
    const [plain, rough] = await Promise.all([limited(sha('4')).slice(0, 1), limited(sha('4'))].map((route) => evaluateRoute(route, { assets: carrying })))
    const box = solidBounds((plain.value as Solid).positions)
    const middle = (box[0] + box[3]) / 2
    const { positions } = rough.value as Solid
    let [moved, still] = [0, 0]
    for (let v = 0; v < positions.length / 3; v++) {
      const at = positions.subarray(3 * v, 3 * v + 3)
      const onFace = [0, 1, 2].some((k) => at[k] === box[k] || at[k] === box[k + 3])
      if (at[0] < middle - 8) {
        expect(onFace).toBe(true)
        still++
      } else if (at[0] > middle + 8 && (at[1] < box[1] || at[1] > box[4])) moved++
    }
    expect(still).toBeGreaterThan(3)
    expect(moved).toBeGreaterThan(5)
  })

  it('says when none is chosen, or it is not there, and takes it when it comes', async () => {
    const said = async (route: RouteStep[], from: typeof assets) => (await evaluateRoute(route, { assets: from })).steps[1].issues[0]
    expect(await said(limited(''), carrying)).toMatchObject({ code: 'no-file', severity: 'failed', field: 'mask' })
    const lacking = { ...assets, picture: async () => Promise.reject(new MissingAssetError(sha('5'))) }
    expect(await said(limited(sha('5')), lacking)).toMatchObject({ code: 'file-missing', severity: 'failed', field: 'mask' })
    expect(await said(limited(sha('5')), carrying)).toBeUndefined()
  })
})
