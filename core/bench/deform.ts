import { assetSource } from '../cli/io'
import { breather } from '../src/cache/breathing'
import { Memo } from '../src/cache/memo'
import type { Stage } from '../src/deform/composed'
import { type Deformation, mapOf } from '../src/deform/deformation'
import { deformSolid } from '../src/deform/deform'
import { roundedBox } from '../src/solid/revolve'
import { refineSolid } from '../src/solid/refine'
import { type Solid, solidBounds, triangleCount } from '../src/solid/solid'
import { stepKind } from '../src/steps/registry'
import type { StepKind } from '../src/steps/step'
import { benchWord } from './word'

/** Four deformations of a fine word against a bare pass of the same maps over its points, and what a bar takes against the fewest triangles. */
export async function benchDeform(): Promise<void> {
  const word = await benchWord()
  const long = (edge: number) => (p: Float64Array, a: number, b: number) =>
    (p[a] - p[b]) ** 2 + (p[a + 1] - p[b + 1]) ** 2 + (p[a + 2] - p[b + 2]) ** 2 > edge * edge
  let fine: Solid = word
  for (let edge = 8; triangleCount(fine) < 200_000 && edge > 0.2; edge *= 0.8) fine = refineSolid(word, long(edge)) ?? fine
  await benchFour('a refined word', fine)
  const kind = stepKind('even-remesh') as StepKind
  const even = await kind.evaluate(word, kind.params.parse({ edge: 0.52 }), {
    assets: assetSource(),
    inputs: {},
    memo: new Memo(),
    progress: () => {},
    breathe: breather(undefined),
  })
  if (!even.ok || even.value.kind !== 'solid') throw new Error('no even surface')
  await benchFour('an evenly remeshed one', even.value)
  const bar = await deformSolid(
    roundedBox(100, 10, 10, 0, 1, 2 ** -14),
    [{ by: [{ kind: 'bend', along: 0, towards: 1, extent: { from: -50, to: 50 }, middle: 0, neutral: 5, curvature: Math.PI / 100 }], strength: 1 }],
    { tolerance: 0.01 },
  )
  if (bar.ok) console.log(`deform: a bar bent half round to 0.01 mm: ${(triangleCount(bar.solid) / 556).toFixed(2)} x the fewest triangles`)
}

async function benchFour(name: string, fine: Solid): Promise<void> {
  const box = solidBounds(fine.positions)
  const extent = { from: box[0], to: box[3] }
  const [length, middle] = [box[3] - box[0], (box[0] + box[3]) / 2]
  const four: Deformation[] = [
    { kind: 'twist', about: 0, extent, centre: [20, 6], start: -20, end: 20 },
    { kind: 'wave', along: 0, moved: 2, centre: [0, 0], start: box[0], height: 3, length: length / 2, phase: 0 },
    {
      kind: 'taper',
      along: 0,
      extent,
      centre: [middle, 20, 6],
      sized: [false, true, false],
      curve: [
        [0, 1],
        [1, 0.7],
      ],
    },
    { kind: 'bend', along: 0, towards: 1, extent, middle, neutral: 0, curvature: -1.2 / length },
  ]
  const stages = four.map((by): Stage => ({ by: [by], strength: 1 }))
  let out = 0
  const deformed = (memo?: Memo) => async () => {
    const result = await deformSolid(fine, stages, { tolerance: 0.05, memo })
    out = result.ok ? triangleCount(result.solid) : 0
  }
  const [whole, further] = [await least(deformed()), await least(deformed(new Memo()), 12)]
  const maps = four.map((by) => mapOf(by))
  const bare = await least(async () => {
    const p = fine.positions.slice()
    for (const map of maps) for (let o = 0; o < p.length; o += 3) map(p, o)
  })
  console.log(
    `deform: four deformations of ${name}, ${triangleCount(fine).toLocaleString('en')} triangles into ${out.toLocaleString('en')}, refined, certified: ${(whole / bare).toFixed(1)} x a bare pass of the same maps, ${(further / bare).toFixed(1)} x (${further.toFixed(0)} ms) where the piece at rest is known`,
  )
}

/** The least of a few times, ms. */
async function least(work: () => Promise<void>, times = 7): Promise<number> {
  let best = Infinity
  for (let i = 0; i < times; i++) {
    const start = performance.now()
    await work()
    best = Math.min(best, performance.now() - start)
  }
  return best
}
