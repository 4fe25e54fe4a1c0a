import { ExtrudeGeometry, Path as ThreePath, Shape } from 'three'
import { assetSource, findFont } from '../cli/io'
import { SHIPPED_FACES } from '../fonts/catalogue'
import { checkMesh } from '../src/check/check'
import type { RouteStep } from '../src/document/schema'
import { Memo } from '../src/cache/memo'
import { evaluateRoute } from '../src/evaluate/route'
import { FontFace } from '../src/font/face'
import { loadManifold } from '../src/kernel/manifold'
import { scaling } from '../src/outline/affine'
import { transformPath } from '../src/outline/path'
import { doubleArea, type PolygonSet, regionPolygons, winding } from '../src/outline/polygon'
import { extrudePolygons } from '../src/solid/extrude'
import { cutProfile, shippedProfile } from '../src/solid/profile'
import { median, timed } from './timing'

/** The same polygons for three: every outer ring a Shape with the holes that lie in it. */
function threeShapes(set: PolygonSet): Shape[] {
  const points = (xy: Float64Array) => Array.from({ length: xy.length / 2 }, (_, i) => ({ x: xy[2 * i], y: xy[2 * i + 1] }))
  const trace = <T extends ThreePath>(path: T, xy: Float64Array): T => {
    points(xy).forEach((p, i) => (i === 0 ? path.moveTo(p.x, p.y) : path.lineTo(p.x, p.y)))
    path.closePath()
    return path
  }
  const holes = set.rings.filter((r) => doubleArea(r.xy) < 0)
  return set.rings
    .filter((r) => doubleArea(r.xy) > 0)
    .map((outer) => {
      const shape = trace(new Shape(), outer.xy)
      shape.holes = holes.filter((h) => winding([outer], h.xy[0], h.xy[1]) !== 0).map((h) => trace(new ThreePath(), h.xy))
      return shape
    })
}

const threeExtrude = (set: PolygonSet, edge: number, segments = 1): ExtrudeGeometry => threeSolid(threeShapes(set), edge, segments)

const threeSolid = (shapes: Shape[], edge: number, segments: number): ExtrudeGeometry =>
  new ExtrudeGeometry(shapes, {
    depth: 10,
    bevelEnabled: true,
    bevelThickness: edge,
    bevelSize: edge,
    bevelOffset: -edge,
    bevelSegments: segments,
    curveSegments: 1,
  })

const ROUNDS = 3

/** Extruding glyphs against three's ExtrudeGeometry, and a word's letters anew against the whole word. */
export async function benchBevel(): Promise<void> {
  await loadManifold()
  console.log('per glyph, 40 mm capitals, the same profile in front and behind, same polygons to both; the least of some rounds')
  console.log('edge mm, pieces | median: Kelvar ms | three ms | ratio | mean: Kelvar ms | three ms | ratio | sound: Kelvar | three')
  const glyphs: PolygonSet[] = []
  for (const shipped of SHIPPED_FACES) {
    const face = await FontFace.open(findFont(shipped.id).bytes, shipped.sha256)
    const s = 40 / face.capHeight
    for (const character of 'ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789&@') {
      const [shaped] = face.shape(character, { rightToLeft: false, features: {} })
      const paths = face.outline(shaped.glyph).map((path) => transformPath(path, scaling(s)))
      if (shaped.glyph !== 0 && paths.length > 0) glyphs.push(regionPolygons({ members: [{ letter: 0, paths }] }, 0.02, 2 ** -14))
    }
  }
  for (const [name, edge] of [
    ['chamfer', 0.5],
    ['chamfer', 1],
    ['chamfer', 2],
    ['chamfer', 4],
    ['ogee', 1.5],
  ] as const) {
    const profile = shippedProfile(name, edge, edge)
    // three gets as many bevel segments as the profile has pieces
    const segments = cutProfile(profile, 0.02, 2 ** -14).strips.length
    const extruded = (set: PolygonSet) => extrudePolygons(set, { depth: 10 + 2 * edge, front: profile, back: profile, tolerance: 0.02 }).solid
    const shapes = glyphs.map(threeShapes)
    const ours = glyphs.map(() => Infinity)
    const theirs = glyphs.map(() => Infinity)
    // each by itself over all glyphs, in turn: checks between them would leave their garbage to whoever comes next
    for (let round = 0; round < ROUNDS; round++) {
      glyphs.forEach(
        (set, i) =>
          (ours[i] = Math.min(
            ours[i],
            timed(() => extruded(set)),
          )),
      )
      glyphs.forEach(
        (_, i) =>
          (theirs[i] = Math.min(
            theirs[i],
            timed(() => threeSolid(shapes[i], edge, segments)),
          )),
      )
    }
    let oursSound = 0
    let theirsSound = 0
    glyphs.forEach((set, i) => {
      if (checkMesh(extruded(set)).sound) oursSound++
      const positions = threeSolid(shapes[i], edge, segments).getAttribute('position').array
      if (checkMesh({ positions, indices: Array.from({ length: positions.length / 3 }, (_, i) => i) }).sound) theirsSound++
    })
    const percent = (n: number) => `${((100 * n) / glyphs.length).toFixed(1)} %`
    const mean = (list: number[]) => list.reduce((sum, ms) => sum + ms, 0) / list.length
    const told = (of: (list: number[]) => number) => `${of(ours).toFixed(2)} | ${of(theirs).toFixed(2)} | ${(of(ours) / of(theirs)).toFixed(2)}`
    console.log(`${name} ${edge}, ${segments} | ${told(median)} | ${told(mean)} | ${percent(oursSound)} | ${percent(theirsSound)}`)
  }

  const font = findFont('abril-fatface')
  const assets = assetSource()
  const route = (text: string): RouteStep[] => [
    { id: 'lettering-1', kind: 'lettering', on: true, params: { text, font: { sha256: font.sha256, name: font.name } } },
    { id: 'extrude-1', kind: 'extrude', on: true, params: { front: { profile: 'ogee', inset: 1.5, height: 1.5 } } },
  ]
  const whole: number[] = []
  const added: number[] = []
  const known: number[] = []
  const three: number[] = []
  const face = await assets.font(font.sha256)
  for (let round = 0; round < 12; round++) {
    whole.push((await evaluateRoute(route('TernQuayFish'), { assets })).ms)
    const memo = new Memo()
    await evaluateRoute(route('TernQuayFis'), { assets, memo })
    added.push((await evaluateRoute(route('TernQuayFish'), { assets, memo })).ms)
    known.push((await evaluateRoute(route('TernQuayFise'), { assets, memo })).ms)
    three.push(
      timed(() => {
        for (const g of face.shape('TernQuayFish', { rightToLeft: false, features: {} })) {
          const paths = face.outline(g.glyph).map((path) => transformPath(path, scaling(40 / face.capHeight)))
          threeExtrude(regionPolygons({ members: [{ letter: 0, paths }] }, 0.02, 2 ** -14), 1.5)
        }
      }),
    )
  }
  console.log('\n12-letter word, ogee edge (median)')
  console.log(`from nothing: ${median(whole).toFixed(0)} ms, ${(median(whole) / median(three)).toFixed(1)} × three's with one bevel segment`)
  console.log(`one new letter typed: ${median(added).toFixed(1)} ms, 1/${(median(whole) / median(added)).toFixed(0)} of it`)
  console.log(`one known letter typed: ${median(known).toFixed(1)} ms, 1/${(median(whole) / median(known)).toFixed(0)} of it`)
}
