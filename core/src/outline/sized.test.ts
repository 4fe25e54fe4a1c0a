import fc from 'fast-check'
import { beforeAll, describe, expect, it } from 'vitest'
import { assets, wordRoute } from '../../test/helpers'
import { evaluateRoute } from '../evaluate/route'
import { loadManifold } from '../kernel/manifold'
import { regionArea } from './areas'
import { type Outline, outlineBounds, placedPaths } from './outline'
import { pathArea } from './path'
import { sizedOutline } from './sized'
import { uniteRegions } from './unite'

beforeAll(async () => void (await loadManifold()))

async function outlineOf(text: string): Promise<Outline> {
  const { value } = await evaluateRoute(wordRoute(text, 'archivo-bold').slice(0, 1), { assets })
  if (value?.kind !== 'outline') throw new Error(value?.kind)
  return value
}

const areaOf = (outline: Outline) => placedPaths(outline).reduce((sum, path) => sum + pathArea(path), 0)

describe('sizing an outline', () => {
  it('makes lengths so many times as long and areas its square, about the origin; letters and layers stay', async () => {
    const outline = await outlineOf('Quay 8')
    const [bounds, area] = [outlineBounds(outline), areaOf(outline)]
    fc.assert(
      fc.property(fc.double({ min: 0.05, max: 40, noNaN: true }), (size) => {
        const sized = sizedOutline(outline, size)
        // placed coordinates are rounded to the lattice
        outlineBounds(sized).forEach((v, k) => expect(Math.abs(v - size * bounds[k])).toBeLessThanOrEqual(sized.lattice))
        expect(areaOf(sized) / (size * size * area)).toBeCloseTo(1, 6)
        expect(sized.letters).toBe(outline.letters)
        expect(sized.regions.map(({ layer, members }) => [layer, members.map(({ letter }) => letter)])).toEqual(
          outline.regions.map(({ layer, members }) => [layer, members.map(({ letter }) => letter)]),
        )
        for (const { dx, dy } of sized.regions) for (const d of [dx, dy]) expect(Number.isInteger(d / sized.lattice)).toBe(true)
        sized.guides?.forEach(({ name, y }, i) => {
          expect(name).toBe(outline.guides?.[i].name)
          expect(y).toBeCloseTo(size * (outline.guides?.[i].y ?? Number.NaN), 9)
        })
      }),
      { numRuns: 25 },
    )
    expect(sizedOutline(outline, 1)).toBe(outline)
  })

  it('keeps what is alike alike: equal letters have equal keys, other sizes have others', async () => {
    const outline = await outlineOf('noon')
    const keys = (of: Outline) => of.regions.map(({ key }) => key)
    const [a, b] = [sizedOutline(outline, 2), sizedOutline(outline, 3)]
    for (const one of [outline, a, b]) {
      const [n, o, p, m] = keys(one)
      expect(n).toBe(m)
      expect(o).toBe(p)
      expect(n).not.toBe(o)
    }
    expect(keys(a).some((key) => keys(b).includes(key) || keys(outline).includes(key))).toBe(false)
  })
})

describe('uniting regions', () => {
  const moved = (outline: Outline, by: readonly number[]) =>
    outline.regions.map((region, i) => {
      const there = { ...region, dx: region.dx + (by[i] ?? 0) }
      return { region: there, area: regionArea(there) }
    })

  it('leaves letters that stand apart as they are, in their order', async () => {
    const outline = await outlineOf('ill')
    const list = moved(outline, [])
    expect(uniteRegions(list)).toEqual(list.map(({ region }) => region))
    expect(uniteRegions([])).toEqual([])
  })

  it('makes one of those that overlap, in the first one’s layer, with all letters and all of their curves', async () => {
    const outline = await outlineOf('HIHO')
    const [h, i] = [outline.regions[0], outline.regions[1]]
    // the I is pushed over the H's right stem, the O stays apart
    const list = moved(outline, [0, h.dx - i.dx + 2])
    const united = uniteRegions(list)
    expect(united).toHaveLength(3)
    const [one] = united
    expect(one.members.map(({ letter }) => letter)).toEqual([0, 1])
    expect([one.dx, one.dy, one.layer]).toEqual([h.dx, h.dy, h.layer])
    const segments = (regions: typeof united) =>
      regions.reduce((sum, { members }) => sum + members.reduce((n, { paths }) => n + paths.reduce((m, { verbs }) => m + verbs.length, 0), 0), 0)
    expect(segments(united)).toBe(segments(outline.regions.slice()))
    // together they cover no more than both, and no less than the larger
    const covered = regionArea(one)
    expect(covered.box[2] - covered.box[0]).toBeLessThan(regionArea(h).box[2] - regionArea(h).box[0] + 20)
  })

  it('chains: what overlaps what overlaps is one, and the same joined the same way elsewhere has the same key', async () => {
    const outline = await outlineOf('lllll')
    const step = outline.regions[1].dx - outline.regions[0].dx
    const near = uniteRegions(
      moved(
        outline,
        outline.regions.map((_, k) => -k * (step - 1)),
      ),
    )
    expect(near).toHaveLength(1)
    expect(near[0].members).toHaveLength(5)
    const elsewhere = uniteRegions(
      moved(
        outline,
        outline.regions.map((_, k) => 64 - k * (step - 1)),
      ),
    )
    expect(elsewhere[0].key).toBe(near[0].key)
    expect(elsewhere[0].dx).toBe(near[0].dx + 64)
    const otherwise = uniteRegions(
      moved(
        outline,
        outline.regions.map((_, k) => -k * (step - 1.5)),
      ),
    )
    expect(otherwise[0].key).not.toBe(near[0].key)
  })
})
