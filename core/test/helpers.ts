import { readFileSync } from 'node:fs'
import { fileURLToPath } from 'node:url'
import { assetSource, findFont } from '../cli/io'
import { SHIPPED_FACES, type ShippedFace } from '../fonts/catalogue'
import type { RouteStep } from '../src/document/schema'
import { FontFace } from '../src/font/face'
import { scaling } from '../src/outline/affine'
import { type Path, PathBuilder, transformPath } from '../src/outline/path'
import { pathPolygons, type PolygonSet, regionPolygons } from '../src/outline/polygon'
import { solidFromTriangles } from '../src/solid/from-triangles'
import { type LabelRow, labelTable, PLAIN_ROW } from '../src/solid/labels'
import type { Solid } from '../src/solid/solid'

export const assets = assetSource()

/** Everything is tried, as before a release; otherwise a sample that CI has time for. */
export const FULL = process.env.KELVAR_CORPUS === 'full'

/** What faces are tried with where more letters are more work: strokes of every kind, counters, a tail. (What works by voxels or tolerances of the whole takes no less time for fewer.) */
export const SAMPLE_WORD = FULL ? 'Quay 8' : 'Qa'

/** Each of the first with each of the second; of a sample every third pair, so that each of both comes up. */
export const pairs = <A, B>(first: readonly A[], second: readonly B[]): (readonly [A, B])[] =>
  first.flatMap((a, i) => second.filter((_, j) => FULL || (i + 2 * j) % 3 === 0).map((b) => [a, b] as const))

export function shippedFace(id: string): ShippedFace {
  const face = SHIPPED_FACES.find((f) => f.id === id)
  if (!face) throw new Error(`no face ${id}`)
  return face
}

export function fontBytes(face: ShippedFace): Uint8Array {
  return new Uint8Array(readFileSync(fileURLToPath(new URL(`../fonts/${face.file}`, import.meta.url))))
}

export const openFace = (id: string): Promise<FontFace> => FontFace.open(findFont(id).bytes, shippedFace(id).sha256)

/** A route of Lettering and Extrude with the given parameters. */
export function wordRoute(text: string, fontId: string, lettering: Record<string, unknown> = {}, extrude: Record<string, unknown> = {}): RouteStep[] {
  const { sha256, name } = shippedFace(fontId)
  return [
    { id: 'lettering-1', kind: 'lettering', on: true, params: { text, font: { sha256, name }, ...lettering } },
    { id: 'extrude-1', kind: 'extrude', on: true, params: extrude },
  ]
}

/** Contours of a glyph at 40 mm capitals. */
export function glyphAt40(face: FontFace, glyph: number): Path[] {
  return face.outline(glyph).map((path) => transformPath(path, scaling(40 / face.capHeight)))
}

/** Width in mm of a font's upright stem at 40 mm capitals: the first ink run through the middle of its l (or alef). */
export function stemWidth(face: FontFace): number {
  const [shaped] = face.shape(face.has(0x6c) ? 'l' : '\u0627', { rightToLeft: false, features: {} })
  const set = regionPolygons({ members: [{ letter: 0, paths: glyphAt40(face, shaped.glyph) }] }, 0.02, 2 ** -14)
  const ys = set.rings.flatMap((ring) => Array.from(ring.xy).filter((_, i) => i % 2 === 1))
  const y = (Math.min(...ys) + Math.max(...ys)) / 2 + 0.0123
  const crossings: number[] = []
  for (const { xy } of set.rings) {
    for (let i = 0, j = xy.length - 2; i < xy.length; j = i, i += 2) {
      if (xy[j + 1] <= y === xy[i + 1] <= y) continue
      crossings.push(xy[j] + ((y - xy[j + 1]) / (xy[i + 1] - xy[j + 1])) * (xy[i] - xy[j]))
    }
  }
  crossings.sort((a, b) => a - b)
  return crossings[1] - crossings[0]
}

/** Distance from a point to the nearest side of the rings, by brute force. */
export function distanceToRings(rings: readonly { xy: ArrayLike<number> }[], x: number, y: number): number {
  let best = Infinity
  for (const { xy } of rings) {
    for (let i = 0, j = xy.length - 2; i < xy.length; j = i, i += 2) {
      const ex = xy[i] - xy[j]
      const ey = xy[i + 1] - xy[j + 1]
      const f = Math.max(0, Math.min(1, ((x - xy[j]) * ex + (y - xy[j + 1]) * ey) / (ex * ex + ey * ey)))
      best = Math.min(best, Math.hypot(x - xy[j] - f * ex, y - xy[j + 1] - f * ey))
    }
  }
  return best
}

/** A box mesh with outward triangles, from one corner to the other. */
export function boxMesh(x0: number, y0: number, z0: number, x1: number, y1: number, z1: number) {
  const positions = Float64Array.from([x0, y0, z0, x1, y0, z0, x1, y1, z0, x0, y1, z0, x0, y0, z1, x1, y0, z1, x1, y1, z1, x0, y1, z1])
  const indices = Uint32Array.from([0, 2, 1, 0, 3, 2, 4, 5, 6, 4, 6, 7, 0, 1, 5, 0, 5, 4, 1, 2, 6, 1, 6, 5, 2, 3, 7, 2, 7, 6, 3, 0, 4, 3, 4, 7])
  return { positions, indices }
}

/** Several meshes as one, vertices not shared. */
export function together(...meshes: { positions: Float64Array; indices: Uint32Array }[]) {
  const positions: number[] = []
  const indices: number[] = []
  for (const mesh of meshes) {
    const base = positions.length / 3
    positions.push(...mesh.positions)
    indices.push(...Array.from(mesh.indices, (v) => v + base))
  }
  return { positions: Float64Array.from(positions), indices: Uint32Array.from(indices) }
}

/** A box as a solid: all of it one surface of the labels given. */
export function boxSolid(
  least: readonly [number, number, number],
  most: readonly [number, number, number],
  row: Partial<LabelRow> = {},
  names: Partial<Pick<Solid, 'letters' | 'layers' | 'bands' | 'looks'>> = {},
): Solid {
  const solid = solidFromTriangles(boxMesh(...least, ...most))
  return { ...solid, ...names, labels: labelTable([{ ...PLAIN_ROW, ...row }]) }
}

/** The polygons of straight-sided contours, on the usual lattice. */
export function polygons(...contours: (readonly [number, number])[][]): PolygonSet {
  const paths = contours.map((points) => {
    const path = new PathBuilder(...points[0])
    for (const p of points.slice(1)) path.lineTo(...p)
    return path.build(true)
  })
  return pathPolygons(paths, 0.02, 2 ** -14)
}

/** How often triangles wind round a point, by their solid angles (van Oosterom & Strackee, 1983): knows nothing of fields or trees. */
export function windingNumber(
  { positions: p, indices }: { positions: ArrayLike<number>; indices: ArrayLike<number> },
  x: number,
  y: number,
  z: number,
): number {
  let sum = 0
  for (let t = 0; t < indices.length; t += 3) {
    const [a, b, c] = [0, 1, 2].map((k) => [0, 1, 2].map((j) => p[3 * indices[t + k] + j] - [x, y, z][j]))
    const [la, lb, lc] = [a, b, c].map((v) => Math.hypot(...v))
    const dot = (u: number[], v: number[]) => u[0] * v[0] + u[1] * v[1] + u[2] * v[2]
    const det = a[0] * (b[1] * c[2] - b[2] * c[1]) + a[1] * (b[2] * c[0] - b[0] * c[2]) + a[2] * (b[0] * c[1] - b[1] * c[0])
    sum += 2 * Math.atan2(det, la * lb * lc + dot(a, b) * lc + dot(b, c) * la + dot(c, a) * lb)
  }
  return sum / (4 * Math.PI)
}

/** Round counter-clockwise from the right, mm: four arcs, each within 0.03 % of a circle. */
export function circlePath(r: number): Path {
  const k = r * 0.5522847498
  const path = new PathBuilder(r, 0)
  path.cubicTo(r, k, k, r, 0, r)
  path.cubicTo(-k, r, -r, k, -r, 0)
  path.cubicTo(-r, -k, -k, -r, 0, -r)
  path.cubicTo(k, -r, r, -k, r, 0)
  return path.build(true)
}
