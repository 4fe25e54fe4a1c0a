import { snap } from '../outline/lattice'
import { constrainedTriangles } from './delaunay'
import { CAP, type EdgeSurface } from './edge-surface'
import { openSides, ringsOf } from './rings'

/** How faces are divided for what comes later: evenly into triangles or into squares, with sides of about `edge` mm. */
export interface Division {
  readonly pattern: 'triangles' | 'squares'
  readonly edge: number
}

/** More points than this inside one face are not made: the spacing grows instead. */
export const MAX_INNER_POINTS = 40_000

/**
 * The surface with its caps divided anew: points on an even grid inside, joined by a constrained Delaunay triangulation, the
 * border as it was. Where that does not come out whole, the caps stay as they are.
 */
export function evenCaps(surface: EdgeSurface, { pattern, edge: asked }: Division, lattice: number): EdgeSurface {
  const { triangles, strip, edge } = surface
  const loops = capLoops(surface)
  if (loops.length === 0) return surface
  const x = surface.x.slice()
  const y = surface.y.slice()
  const inset = surface.inset.slice()
  const spacing = coarserFor(loops, x, y, asked)
  const inner = innerPoints(loops, x, y, spacing, pattern, lattice)
  const capInset = inset[loops[0][0]]
  const first = x.length
  for (let i = 0; i < inner.length; i += 2) {
    x.push(inner[i])
    y.push(inner[i + 1])
    inset.push(capInset)
  }
  const border = loops.flat()
  const ids = [...border, ...Array.from({ length: x.length - first }, (_, i) => first + i)]
  const found = constrainedTriangles(loops, ids, x, y)
  if (!found) return surface
  const out = { triangles: [] as number[], strip: [] as number[], edge: [] as number[] }
  for (let i = 0; i < strip.length; i++) {
    if (strip[i] === CAP) continue
    out.triangles.push(triangles[3 * i], triangles[3 * i + 1], triangles[3 * i + 2])
    out.strip.push(strip[i])
    out.edge.push(edge[i])
  }
  for (let i = 0; i < found.length; i += 3) {
    out.triangles.push(found[i], found[i + 1], found[i + 2])
    out.strip.push(CAP)
    out.edge.push(-1)
  }
  return { ...surface, ...out, x, y, inset }
}

/** The borders of the caps as loops of vertex ids, the cap to the left. */
export function capLoops({ triangles, strip }: EdgeSurface): number[][] {
  const caps = Uint32Array.from(strip.keys()).filter((t) => strip[t] === CAP)
  // a border that passes one point twice is left as it is
  return ringsOf(openSides(triangles, caps)) ?? []
}

/** The spacing asked for, or the finest at which a face gets no more points than are allowed. */
function coarserFor(loops: number[][], x: number[], y: number[], asked: number): number {
  let area = 0
  for (const loop of loops) for (let i = 0, j = loop.length - 1; i < loop.length; j = i++) area += (x[loop[j]] * y[loop[i]] - x[loop[i]] * y[loop[j]]) / 2
  return Math.max(asked, Math.sqrt(Math.abs(area) / MAX_INNER_POINTS))
}

/** Grid points inside the loops, half a spacing or more from their sides: x, y pairs on the lattice. */
/** Points on an even grid inside loops, x and y one after another, on the lattice; none nearer to a loop than half the spacing. */
export function innerPoints(
  loops: readonly (readonly number[])[],
  x: readonly number[],
  y: readonly number[],
  spacing: number,
  pattern: Division['pattern'],
  lattice: number,
): number[] {
  const rings = loops.map((loop) => ({ xy: Float64Array.from(loop.flatMap((v) => [x[v], y[v]])) }))
  const box = [Infinity, Infinity, -Infinity, -Infinity]
  for (const { xy } of rings)
    for (let i = 0; i < xy.length; i += 2) {
      box[0] = Math.min(box[0], xy[i])
      box[1] = Math.min(box[1], xy[i + 1])
      box[2] = Math.max(box[2], xy[i])
      box[3] = Math.max(box[3], xy[i + 1])
    }
  // the sides that pass through or near each cell of a coarse grid
  const cell = spacing
  const columns = Math.max(1, Math.ceil((box[2] - box[0]) / cell) + 1)
  const near = new Map<number, number[]>()
  const sides: number[] = []
  for (const { xy } of rings)
    for (let i = 0, j = xy.length - 2; i < xy.length; j = i, i += 2) {
      const side = sides.length / 4
      sides.push(xy[j], xy[j + 1], xy[i], xy[i + 1])
      const steps = Math.max(1, Math.ceil(Math.hypot(xy[i] - xy[j], xy[i + 1] - xy[j + 1]) / (cell / 2)))
      let last = -1
      for (let s = 0; s <= steps; s++) {
        const px = xy[j] + ((xy[i] - xy[j]) * s) / steps
        const py = xy[j + 1] + ((xy[i + 1] - xy[j + 1]) * s) / steps
        const key = Math.floor((py - box[1]) / cell) * columns + Math.floor((px - box[0]) / cell)
        if (key === last) continue
        last = key
        for (const dy of [-1, 0, 1])
          for (const dx of [-1, 0, 1]) {
            const k = key + dy * columns + dx
            const list = near.get(k)
            if (!list) near.set(k, [side])
            else if (list[list.length - 1] !== side) list.push(side)
          }
      }
    }
  const tooNear = (px: number, py: number) => {
    const limit = (0.5 * spacing) ** 2
    for (const side of near.get(Math.floor((py - box[1]) / cell) * columns + Math.floor((px - box[0]) / cell)) ?? []) {
      const [x0, y0, x1, y1] = [sides[4 * side], sides[4 * side + 1], sides[4 * side + 2], sides[4 * side + 3]]
      const [ex, ey] = [x1 - x0, y1 - y0]
      const f = Math.max(0, Math.min(1, ((px - x0) * ex + (py - y0) * ey) / (ex * ex + ey * ey || 1)))
      if ((px - x0 - f * ex) ** 2 + (py - y0 - f * ey) ** 2 < limit) return true
    }
    return false
  }
  const out: number[] = []
  const rise = pattern === 'triangles' ? (spacing * Math.sqrt(3)) / 2 : spacing
  // rows are found by scanning: only stretches inside are visited
  for (let row = 1; box[1] + row * rise < box[3]; row++) {
    const py = snap(box[1] + row * rise, lattice)
    const shift = pattern === 'triangles' && row % 2 === 1 ? spacing / 2 : 0
    const crossings: number[] = []
    for (let s = 0; s < sides.length; s += 4) {
      if (sides[s + 1] <= py === sides[s + 3] <= py) continue
      crossings.push(sides[s] + ((py - sides[s + 1]) / (sides[s + 3] - sides[s + 1])) * (sides[s + 2] - sides[s]))
    }
    crossings.sort((a, b) => a - b)
    for (let c = 0; c + 1 < crossings.length; c += 2) {
      for (let k = Math.ceil((crossings[c] - box[0] - shift) / spacing); box[0] + shift + k * spacing < crossings[c + 1]; k++) {
        const px = snap(box[0] + shift + k * spacing, lattice)
        if (!tooNear(px, py)) out.push(px, py)
      }
    }
  }
  return out
}
