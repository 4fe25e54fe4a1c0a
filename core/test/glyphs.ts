import type { FontFace } from '../src/font/face'
import { regionPolygons } from '../src/outline/polygon'
import { extrudePolygons } from '../src/solid/extrude'
import { shippedProfile } from '../src/solid/profile'
import { triangleCount } from '../src/solid/solid'
import { glyphAt40 } from './helpers'

/** Forms the glyphs from one number to before another, over and over through the face, without a pause; the triangles of all of them. */
export function formGlyphs(face: FontFace, from: number, to: number): number {
  let triangles = 0
  for (let i = from; i < to; i++) {
    const paths = glyphAt40(face, i % face.glyphCount)
    if (paths.length === 0) continue
    const set = regionPolygons({ members: [{ letter: 0, paths }] }, 0.02, 2 ** -14)
    if (set.rings.length === 0) continue
    triangles += triangleCount(extrudePolygons(set, { depth: 12, tolerance: 0.15, front: shippedProfile('round', 1, 1) }).solid)
  }
  return triangles
}
