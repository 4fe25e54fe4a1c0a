import type { SoundTriangles } from '../check/sound-triangles'
import { mapAttributes, pickPlaces } from '../solid/attributes'
import { gather, type Matrix, transformed, UNMOVED } from '../solid/operations'
import { type Solid, triangleCount } from '../solid/solid'
import { type LooseMesh, type Mended, mendRounded, REMOVED } from './mend'
import { upTo } from '../solid/vertex-table'

/** Whether a matrix moves by whole steps of a lattice and does nothing else: then nothing is rounded. */
export function keepsLattice(m: Matrix, lattice: number): boolean {
  const turns = [m[0] - 1, m[1], m[2], m[4], m[5] - 1, m[6], m[8], m[9], m[10] - 1]
  return turns.every((v) => v === 0) && [m[3], m[7], m[11]].every((v) => Number.isInteger(v / lattice))
}

/**
 * A solid at a place, on a lattice that is no finer than its own. What turning, sizing and rounding have spoilt is mended; where that
 * does not succeed `mended.sound` is false, with the places.
 */
export function placedSolid(solid: Solid, matrix: Matrix, lattice: number): { readonly solid: Solid; readonly mended: Mended } {
  if (lattice === solid.lattice && matrix.every((v, i) => v === UNMOVED[i])) return { solid, mended: UNTOUCHED }
  const moved = transformed(solid, matrix, lattice)
  if (keepsLattice(matrix, lattice) && lattice === solid.lattice) return { solid: moved, mended: UNTOUCHED }
  return mendedSolid(moved)
}

/** Nothing had to be mended. */
export const UNTOUCHED: Mended = { sound: true, collapsed: 0, flipped: 0, nudged: 0, places: [] }
const EVERYWHERE = [-Infinity, -Infinity, -Infinity, Infinity, Infinity, Infinity] as const

/** A closed solid with what crosses in it by a hair mended (see mend.ts); the same one where there is nothing to mend. `sound`: of what it was made. */
export function mendedSolid(solid: Solid, sound?: SoundTriangles): { readonly solid: Solid; readonly mended: Mended } {
  const mesh: LooseMesh = {
    positions: solid.positions.slice(),
    indices: new Int32Array(solid.indices),
    corners: numbered(solid.indices.length),
    surface: solid.surface.slice(),
  }
  const mended = mendRounded(mesh, solid.lattice, EVERYWHERE, sound)
  if (mended.collapsed + mended.flipped + mended.nudged === 0) return { solid, mended }
  const kept = upTo(triangleCount(solid)).filter((t) => mesh.indices[3 * t] !== REMOVED)
  const of = <T extends Int32Array | Uint32Array>(list: T) =>
    Uint32Array.from({ length: 3 * kept.length }, (_, i) => list[3 * kept[Math.floor(i / 3)] + (i % 3)])
  const corners = of(mesh.corners)
  const whole: Solid = {
    ...solid,
    positions: mesh.positions,
    indices: of(mesh.indices),
    surface: Uint32Array.from(kept, (t) => mesh.surface[t]),
    attributes: mapAttributes(solid.attributes, (_, array, { at, size }) => (at === 'corner' ? pickPlaces(array, size, corners) : array)),
  }
  // without the vertices that are gone
  return {
    solid: gather(
      whole,
      kept.map((_, i) => i),
    ),
    mended,
  }
}

/** 0, 1, 2 and so on. */
function numbered(count: number): Uint32Array {
  const out = new Uint32Array(count)
  for (let i = 0; i < count; i++) out[i] = i
  return out
}
