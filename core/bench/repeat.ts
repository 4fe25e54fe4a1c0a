import type { Manifold } from 'manifold-3d/manifold.js'
import { Memo } from '../src/cache/memo'
import { evaluateRoute } from '../src/evaluate/route'
import { writeGlb } from '../src/format/glb'
import { assetSource } from '../cli/io'
import { manifold, withScope } from '../src/kernel/manifold'
import { surfaceGraph } from '../src/repeat/strut-graph'
import { strutSolid } from '../src/repeat/struts'
import type { Assembly } from '../src/solid/assembly'
import { triangleCount } from '../src/solid/solid'
import { evenlyRemeshed } from '../src/volume/even-remesh'
import { labelled, solidOf } from '../src/volume/labelled'
import { median, timed } from './timing'
import { benchWord } from './word'

/** Editing 20,000 copies against copying their matrices, and a lattice against uniting some of its bars with the solid kernel. */
export async function benchRepeat(): Promise<void> {
  const memo = new Memo()
  const step = (kind: string, params: Record<string, unknown>) => ({ id: `${kind}-1`, kind, on: true, params })
  const times: number[] = []
  let many: Assembly | undefined
  for (let i = 0; i < 9; i++) {
    const route = [step('block', { shape: 'ball', width: 4, tolerance: 0.3 }), step('grid', { across: 200, down: 100, gap: 1 + i / 10 })]
    const { steps, value } = await evaluateRoute(route, { assets: assetSource(), memo })
    times.push(steps[1].ms)
    many = value as Assembly
  }
  if (!many) return
  const { matrix } = many.placements
  const bare = median(Array.from({ length: 9 }, () => timed(() => void matrix.slice().map((v, i) => (i % 12 === 3 ? v + 1 : v)))))
  console.log(
    `repeat: an edit of 20,000 copies: ${(median(times) / bare).toFixed(1)} x a pass over their matrices; as GLB ${((await writeGlb(many, 'many')).length / 1e6).toFixed(2)} MB`,
  )

  const word = await benchWord()
  const edge = 4
  const surface = solidOf(await evenlyRemeshed(labelled(word), edge, 60, async () => {}), word, word.lattice)
  const graph = surfaceGraph(surface, 'triangles', 0.6 * edge)
  let bars = 0
  let triangles = 0
  const exact = median(
    Array.from({ length: 3 }, () =>
      timed(() => {
        const made = strutSolid(graph, { bar: 0.5, ball: 0.9, lattice: word.lattice, letters: word.letters })
        if (made.ok) [bars, triangles] = [made.bars, triangleCount(made.solid)]
      }),
    ),
  )
  const some = 400
  const united = timed(() =>
    withScope((keep) => {
      const { Manifold } = manifold()
      const list: Manifold[] = []
      for (let b = 0; b < some; b++) {
        const [p, q] = [3 * graph.bars[2 * b], 3 * graph.bars[2 * b + 1]]
        const at = (o: number, k: number) => graph.nodes[o + k]
        const ends = [p, q].map((o) => keep(keep(Manifold.sphere(0.5, 12)).translate([at(o, 0), at(o, 1), at(o, 2)])))
        list.push(keep(Manifold.hull(ends)))
      }
      keep(Manifold.union(list)).numTri()
    }),
  )
  console.log(
    `repeat: a lattice of ${bars.toLocaleString('en')} bars, ${triangles.toLocaleString('en')} triangles: ${(exact / bars / (united / some)).toFixed(2)} x the solid kernel's time for a bar`,
  )
}
