import { assetSource, findFont } from '../cli/io'
import { SHIPPED_FACES } from '../fonts/catalogue'
import type { RouteStep } from '../src/document/schema'
import { Memo } from '../src/cache/memo'
import { evaluateRoute } from '../src/evaluate/route'
import { manifold, withScope } from '../src/kernel/manifold'
import { orientedPaths } from '../src/outline/areas'
import { flattenPath } from '../src/outline/flatten'
import type { Outline } from '../src/outline/outline'
import { toPairs } from '../src/outline/polygon'
import { combineOutlines } from '../src/steps/outline/combine/make'
import { stepKind } from '../src/steps/registry'
import { median, timed } from './timing'

const face = SHIPPED_FACES.find((f) => f.id === 'abril-fatface') ?? SHIPPED_FACES[0]
const assets = assetSource(new Map([[face.sha256, findFont(face.id).bytes]]))
const step = (kind: string, params: Record<string, unknown>): RouteStep => ({ id: `${kind}-1`, kind, on: true, params })

async function outlineOf(route: RouteStep[]): Promise<Outline> {
  const { value } = await evaluateRoute(route, { assets })
  if (value?.kind !== 'outline') throw new Error('no outline')
  return value
}

/** A step run again and again on one outline, ms (median). */
async function timeStep(input: Outline, kind: string, params: Record<string, unknown>): Promise<number> {
  const found = stepKind(kind)
  if (!found) throw new Error(kind)
  const parsed = found.params.parse(params)
  const times: number[] = []
  for (let i = 0; i < 9; i++) {
    const begun = performance.now()
    await found.evaluate(input, parsed, { assets, inputs: {}, memo: new Memo(), progress: () => {}, breathe: async () => {} })
    times.push(performance.now() - begun)
  }
  return median(times.slice(2))
}

const ringsOf = (outline: Outline, tolerance = 0.006) =>
  outline.regions.map((region) => orientedPaths(region).map((path) => toPairs(flattenPath(path, { tolerance, maxTurn: 9 }).xy)))

/** Median of several runs, the first two left out, ms. */
const repeated = (work: () => void, times: number) => median(Array.from({ length: times + 2 }, () => timed(work)).slice(2))

/** Steps on outlines against the clipping library alone on the same chords: how much keeping the curves costs. */
export async function benchOutlines(): Promise<void> {
  const words = await outlineOf([step('lettering', { text: 'Tern Quay 26', font: { sha256: face.sha256, name: face.name } })])
  console.log('outlines: work in ms, and as a multiple of the clipping library alone on the same chords')
  const { CrossSection } = manifold()
  const rings = ringsOf(words)

  const slice = await timeStep(words, 'slice', { cut: 'wave', count: 20, gap: 0 })
  const wave = (v: number): [number, number][] => Array.from({ length: 400 }, (_, i): [number, number] => [-200 + i, v + 4 * Math.sin((2 * Math.PI * i) / 40)])
  const clipSlice = repeated(
    () =>
      withScope((own) => {
        for (const region of rings) {
          const section = own(new CrossSection(region, 'NonZero'))
          for (let k = 0; k <= 20; k++) {
            const band = own(new CrossSection([[...wave(k * 2 - 2), ...wave(k * 2).reverse()]], 'NonZero'))
            own(section.intersect(band)).toPolygons()
          }
        }
      }),
    7,
  )
  console.log(`slice 12 letters with 20 waves | ${slice.toFixed(1)} | ${(slice / clipSlice).toFixed(2)}`)

  // two hundred overlapping discs, each a layer
  const discs = await outlineOf([
    step('drawing', {
      overlaps: 'keep',
      layers: Array.from({ length: 200 }, (_, i) => ({ id: `l${i}`, name: `L${i}` })),
      shapes: Array.from({ length: 200 }, (_, i) => {
        const [x, y, r] = [(i % 20) * 7, Math.floor(i / 20) * 7, 5]
        const k = 0.5523 * r
        return {
          id: `s${i}`,
          layer: `l${i}`,
          closed: true,
          nodes: [
            { x: x + r, y, in: [0, -k], out: [0, k] },
            { x, y: y + r, in: [k, 0], out: [-k, 0] },
            { x: x - r, y, in: [0, k], out: [0, -k] },
            { x, y: y - r, in: [-k, 0], out: [k, 0] },
          ],
        }
      }),
    }),
  ])
  const [lowest, others] = [
    { ...discs, regions: discs.regions.slice(0, 1) },
    { ...discs, regions: discs.regions.slice(1) },
  ]
  for (const how of ['union', 'exclude'] as const) {
    const ours = repeated(() => combineOutlines(lowest, others, how, true), 7)
    const flat = ringsOf(discs)
    const alone = repeated(
      () =>
        withScope((own) => {
          const sections = flat.map((region) => own(new CrossSection(region, 'NonZero')))
          own(CrossSection.union(sections)).toPolygons()
        }),
      7,
    )
    console.log(`combine 200 layers, ${how} | ${ours.toFixed(1)} | ${(ours / alone).toFixed(2)}`)
  }

  // an outline of five thousand nodes: a wobbling ring
  const nodes = Array.from({ length: 5000 }, (_, i) => {
    const a = (i * 2 * Math.PI) / 5000
    const r = 80 + 12 * Math.sin(9 * a) + 0.02 * Math.sin(811 * a)
    return { x: r * Math.cos(a), y: r * Math.sin(a) }
  })
  const ring = await outlineOf([step('drawing', { shapes: [{ id: 's', layer: 'drawing', closed: true, nodes }] })])
  const simplify = await timeStep(ring, 'simplify', { tolerance: 0.1 })
  const flat = ringsOf(ring)
  const alone = repeated(() => withScope((own) => own(own(new CrossSection(flat.flat(), 'NonZero')).simplify(0.1)).toPolygons()), 7)
  console.log(`simplify an outline of 5,000 nodes | ${simplify.toFixed(1)} | ${(simplify / alone).toFixed(2)} (the library drops points, it fits no curves)`)
  const told = await evaluateRoute([step('drawing', { shapes: [{ id: 's', layer: 'drawing', closed: true, nodes }] }), step('simplify', { tolerance: 0.1 })], {
    assets,
  })
  console.log(`  ${told.steps[1].told}`)
}
