import { SHIPPED_FACES } from '/work/main/core/fonts/catalogue'
import { findFont } from '/work/main/core/cli/io'
import { FontFace } from '/work/main/core/src/font/face'
import { loadManifold } from '/work/main/core/src/kernel/manifold'
import { scaling } from '/work/main/core/src/outline/affine'
import { transformPath } from '/work/main/core/src/outline/path'
import { regionPolygons, type PolygonSet } from '/work/main/core/src/outline/polygon'
import { extrudePolygons } from '/work/main/core/src/solid/extrude'
import { edgeSurface } from '/work/main/core/src/solid/edge-surface'
import { straightSkeleton } from '/work/main/core/src/solid/skeleton'
import { cutProfile, shippedProfile } from '/work/main/core/src/solid/profile'
await loadManifold()
const glyphs: PolygonSet[] = []
const prep: number[] = []
const paths0: any[] = []
for (const shipped of SHIPPED_FACES.slice(0, 12)) {
  const face = await FontFace.open(findFont(shipped.id).bytes, shipped.sha256)
  const s = 40 / face.capHeight
  for (const character of 'ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789&@') {
    const [shaped] = face.shape(character, { rightToLeft: false, features: {} })
    const paths = face.outline(shaped.glyph).map((path) => transformPath(path, scaling(s)))
    if (shaped.glyph !== 0 && paths.length > 0) { paths0.push(paths) }
  }
}
const med = (a: number[]) => a.slice().sort((x, y) => x - y)[a.length >> 1].toFixed(2)
for (let r = 0; r < 2; r++) for (const paths of paths0) { const t = performance.now(); const g = regionPolygons({ members: [{ letter: 0, paths }] }, 0.02, 2 ** -14); prep.push(performance.now() - t); if (r === 0) glyphs.push(g) }
console.log('prep', med(prep), 'points', med(glyphs.map((g) => g.rings.reduce((s, x) => s + x.xy.length / 2, 0))))
for (const [name, edge] of [['chamfer', 1], ['chamfer', 4], ['ogee', 1.5], ['reeds', 2]] as const) {
  const profile = shippedProfile(name, edge, edge)
  const cut = cutProfile(profile, 0.02, 2 ** -14)
  const a: number[] = [], b: number[] = [], c: number[] = []
  for (let r = 0; r < 2; r++) for (const g of glyphs) {
    let t = performance.now(); straightSkeleton(g, { limit: cut.levels.at(-1)! }); a.push(performance.now() - t)
    t = performance.now(); edgeSurface(g, cut.levels); b.push(performance.now() - t)
    t = performance.now(); extrudePolygons(g, { depth: 10 + 2 * edge, front: profile, back: profile, tolerance: 0.02 }); c.push(performance.now() - t)
  }
  console.log(name, edge, 'levels', cut.levels.length, 'skeleton', med(a), 'surface', med(b), 'extrude', med(c))
}
