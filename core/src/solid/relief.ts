import { snap } from '../outline/lattice'
import { divideRings, type PolygonSet } from '../outline/polygon'
import { flatSurface } from './edge-surface'
import { evenCaps } from './even-caps'
import { flatGraph, graphNormals, graphSolid } from './graph'
import type { Solid } from './solid'

/**
 * A solid with a flat back at z = 0 whose front stands `base` mm high, and higher by `heightAt` (mm, never below zero) over every
 * point of an even grid. `division` is the length of the grid's sides, mm. Needs the manifold kernel loaded.
 */
export function reliefSolid(
  outline: PolygonSet,
  base: number,
  division: number,
  heightAt: (x: number, y: number) => number,
  letterAt?: (x: number, y: number) => number,
): Solid {
  const set = divideRings(outline, division)
  const surface = evenCaps(flatSurface(set), { pattern: 'triangles', edge: division }, set.lattice)
  const z = Float64Array.from(surface.x, (x, v) => Math.max(4 * set.lattice, snap(base + Math.max(0, heightAt(x, surface.y[v])), set.lattice)))
  const front = { surface, z, normals: graphNormals(surface, z), roundRim: false, flatStrips: -1 }
  return graphSolid(set, front, flatGraph(flatSurface(set), 0), letterAt)
}

/** Distance from a point to the nearest side of the rings, mm: a function that looks only at sides in reach. */
export function distanceField(set: PolygonSet, cell: number): (x: number, y: number) => number {
  const sides: number[] = []
  const grid = new Map<number, number[]>()
  const key = (i: number, j: number) => i * 1048576 + j
  for (const { xy } of set.rings)
    for (let i = 0, j = xy.length - 2; i < xy.length; j = i, i += 2) {
      const side = sides.length / 4
      sides.push(xy[j], xy[j + 1], xy[i], xy[i + 1])
      const [i0, i1] = [Math.floor(Math.min(xy[i], xy[j]) / cell), Math.floor(Math.max(xy[i], xy[j]) / cell)]
      const [j0, j1] = [Math.floor(Math.min(xy[i + 1], xy[j + 1]) / cell), Math.floor(Math.max(xy[i + 1], xy[j + 1]) / cell)]
      for (let u = i0; u <= i1; u++)
        for (let v = j0; v <= j1; v++) {
          const list = grid.get(key(u, v))
          if (list) list.push(side)
          else grid.set(key(u, v), [side])
        }
    }
  return (x, y) => {
    const [u, v] = [Math.floor(x / cell), Math.floor(y / cell)]
    let best = Infinity
    // rings of cells outwards until none further out can hold anything nearer
    for (let r = 0; r < 4096; r++) {
      if (best <= ((r - 1) * cell) ** 2 && r > 0) break
      for (let du = -r; du <= r; du++)
        for (let dv = -r; dv <= r; dv += Math.abs(du) === r ? 1 : 2 * r || 1) {
          for (const side of grid.get(key(u + du, v + dv)) ?? []) {
            const [x0, y0] = [sides[4 * side], sides[4 * side + 1]]
            const [ex, ey] = [sides[4 * side + 2] - x0, sides[4 * side + 3] - y0]
            const f = Math.max(0, Math.min(1, ((x - x0) * ex + (y - y0) * ey) / (ex * ex + ey * ey)))
            const square = (x - x0 - f * ex) ** 2 + (y - y0 - f * ey) ** 2
            if (square < best) best = square
          }
        }
    }
    return Math.sqrt(best)
  }
}
