import { assetSource, findFont } from '../cli/io'
import { cellsOfSites } from '../src/break/cells'
import { burst } from '../src/break/burst'
import { brokenToPieces } from '../src/break/pieces'
import { placesInside } from '../src/break/samples'
import { PLACES_EACH, sitesOf } from '../src/break/sites'
import { evaluateRoute } from '../src/evaluate/route'
import { loadManifold, manifold, withScope } from '../src/kernel/manifold'
import { takenApart } from '../src/repeat/apart'
import { type Solid, solidBounds } from '../src/solid/solid'
import { median } from './timing'

/** Shattering a ten-letter word against the bare kernel, which cuts the same cells out of it and gives meshes; and a frame of it bursting. */
export async function benchBreak(): Promise<void> {
  await loadManifold()
  const font = findFont('archivo-bold')
  const { value } = await evaluateRoute(
    [
      { id: 'lettering-1', kind: 'lettering', on: true, params: { text: 'TERNQUAYFA', size: 40, font: { sha256: font.sha256, name: font.name } } },
      { id: 'extrude-1', kind: 'extrude', on: true, params: { depth: 10, front: { profile: 'round', inset: 0.8, height: 1 } } },
    ],
    { assets: assetSource() },
  )
  if (value?.kind !== 'solid') throw new Error('no word')
  const word = value
  const middle = [0, 0, 0] as const
  const how = { pattern: 'even', seed: 11, spot: middle, reach: 15, angle: 0, long: 4, gap: 0, grain: 3, chips: 0, eachLetter: false } as const
  const work = { breathe: async () => {}, progress: () => {} }
  for (const pieces of [50, 500]) {
    const samples = placesInside(word, Math.max(3000, PLACES_EACH * pieces), 11)
    const box = solidBounds(word.positions)
    const cells = cellsOfSites(
      sitesOf(samples, { ...how, pieces }, box),
      box.map((v, k) => v + (k < 3 ? -2 : 2)),
      0,
    )
    const corners: number[][][] = Array.from({ length: cells.count }, () => [])
    for (const { cell, other, corners: list } of cells.walls)
      for (let o = 0; o < list.length; o += 3) for (const c of [cell, other]) if (c >= 0) corners[c].push(list.slice(o, o + 3))
    const [ours, bare]: [number[], number[]] = [[], []]
    // what does not take long is done some times before, until the engine has compiled both, and as often as others are
    const [warm, rounds] = pieces > 100 ? [0, 4] : [4, 12]
    for (let round = -warm; round < rounds; round++) {
      let begun = performance.now()
      bareCells(word, corners)
      const alone = performance.now() - begun
      begun = performance.now()
      const broken = await brokenToPieces(word, { ...how, pieces, rough: 0 }, work)
      const taken = performance.now() - begun
      if (!broken.ok) throw new Error(broken.why)
      if (round < 0) continue
      bare.push(alone)
      ours.push(taken)
    }
    console.log(
      `break: ${pieces} pieces of a ten-letter word: ${median(ours.map((ms, i) => ms / bare[i])).toFixed(2)} of the bare kernel cutting the same cells just before, ${(Math.min(...ours) / Math.min(...bare)).toFixed(2)} by the least of each; ${(median(ours) / 1000).toFixed(2)} s of work`,
    )
  }
  const broken = await brokenToPieces(word, { ...how, pieces: 50, rough: 0 }, work)
  if (!broken.ok) throw new Error(broken.why)
  const apart = takenApart(broken.assembly, 'copy')
  const flying = { from: 'spot', spot: middle, way: [1, 0, 0], far: 30, turn: 90, reach: 0, uneven: 0.4, delays: new Float64Array(50), seed: 1 } as const
  const begun = performance.now()
  for (let i = 0; i < 200; i++) burst(apart, { ...flying, strength: i / 100 })
  console.log(`break: a frame of 50 pieces bursting: ${((performance.now() - begun) / 200).toFixed(2)} ms of work`)
}

function bareCells(word: Solid, cells: readonly (readonly number[][])[]): void {
  withScope((own) => {
    const { Manifold, Mesh } = manifold()
    const body = own(Manifold.ofMesh(new Mesh({ numProp: 3, vertProperties: Float32Array.from(word.positions), triVerts: word.indices })))
    for (const corners of cells) own(body.intersect(own(Manifold.hull(corners as [number, number, number][])))).getMesh()
  })
}
