import { snap } from '../outline/lattice'
import { divideRings, type PolygonSet } from '../outline/polygon'
import { edgeSurface } from './edge-surface'
import { evenCaps, MAX_INNER_POINTS } from './even-caps'
import { flatGraph, type Graph, graphSolid } from './graph'
import { solveMembrane } from './poisson'
import type { Solid } from './solid'

export interface InflateOptions {
  /** how high each side swells, mm, where the membrane's value is `most` */
  readonly height: number
  /** 1: a dome; towards 0 a cushion, flat in the middle */
  readonly roundness: number
  readonly sides: 'front' | 'back' | 'both'
  /** straight part between front and back, mm */
  readonly wall: number
  /** a flat rim along the outline that stays pinned, mm */
  readonly rim: number
  /** about how long the sides of the triangles are, mm */
  readonly division: number
  readonly letterAt?: (x: number, y: number) => number
}

/** A region's membrane at rest under even pressure, to be given a height: what is worth keeping, since heights are cheap. */
export interface Membrane {
  readonly set: PolygonSet
  readonly surface: ReturnType<typeof edgeSurface>['surface']
  readonly u: Float64Array
  readonly gradient: Float64Array
  /** largest value of u, mm² */
  readonly most: number
  /** triangle sides in use, mm */
  readonly division: number
  readonly approximate: boolean
  /** per vertex, 1 where it stays down */
  readonly fixed: Uint8Array
  /** some triangle has only corners that stay down: without a wall, front and back would lie on each other there */
  readonly pinched: boolean
}

/** Turn of the swelling's section from ring to ring of triangles along the outline, degrees. */
const TURN = 9
/** A cushion's springs at roundness 0: how often the boundary layer goes into half the widest stroke. */
const STIFFEST = 8

/**
 * The membrane of a polygon set: rings of triangles along the outline, closer towards it, even ones inside, and the solution of
 * Poisson's equation on the letter's own region. `half`: half of its widest stroke, mm. Needs the manifold kernel loaded.
 */
export function membraneOf(
  outline: PolygonSet,
  half: number,
  { roundness, rim, division: asked }: Pick<InflateOptions, 'roundness' | 'rim' | 'division'>,
): Membrane {
  const swelling = Math.max(half - rim, half * 0.02)
  const division = Math.max(asked, 8 * outline.lattice)
  const set = divideRings(outline, division)
  const levels: number[] = []
  const first = rim > 0 ? snap(rim, 4 * outline.lattice) : 0
  if (first > 0) levels.push(first)
  for (let k = 1; k * TURN < 60; k++) {
    const level = snap(first + swelling * (1 - Math.cos((k * TURN * Math.PI) / 180)), 4 * outline.lattice)
    if (level - (levels[levels.length - 1] ?? 0) < 16 * outline.lattice) continue
    if (level - (levels[levels.length - 1] ?? 0) > division * 1.2 && levels.length > 1) break
    levels.push(level)
  }
  const { surface: cut } = edgeSurface(set, levels)
  const surface = evenCaps(cut, { pattern: 'triangles', edge: division }, outline.lattice)
  const fixed = Uint8Array.from(surface.inset, (d) => (d <= first ? 1 : 0))
  const { triangles } = surface
  let pinched = false
  for (let i = 0; i < triangles.length && !pinched; i += 3) pinched = fixed[triangles[i]] + fixed[triangles[i + 1]] + fixed[triangles[i + 2]] === 3
  const { u, gradient } = solveMembrane(surface.x, surface.y, triangles, fixed, ((1 - roundness) * STIFFEST) / swelling)
  return { set, fixed, pinched, surface, u, gradient, most: u.reduce((m, v) => Math.max(m, v), 0), division, approximate: cut.approximate }
}

/** Whether a face had more points than are allowed at the division asked for. */
export const coarsened = (membrane: Membrane): boolean => membrane.surface.x.length > MAX_INNER_POINTS

/**
 * A swollen solid: its height is the root of the membrane's value, so that a disc becomes half an ellipsoid and sides meet
 * upright. `most` is the value of u that gets the full height: the letter's own, or the largest of the word.
 * The seam between front and back lies in the plane z = height (z = 0 when only the front swells).
 */
export function inflate(membrane: Membrane, options: InflateOptions, most: number): Solid {
  const { set, surface, u, gradient } = membrane
  const { lattice } = set
  const flatStrips = options.rim > 0 ? 0 : -1
  // front and back must not touch along a pinned rim, nor in a corner that has been cut across
  const least = options.rim > 0 ? 0.2 : membrane.pinched ? 0.02 : 0
  const wall = snap(Math.max(options.wall, options.sides === 'both' ? least : Math.max(least, 4 * lattice)), lattice)
  const seam = options.sides === 'front' ? 0 : snap(options.height, lattice)
  const swell = (base: number, up: 1 | -1): Graph => {
    const z = new Float64Array(u.length)
    const normals = new Float64Array(3 * u.length)
    for (let v = 0; v < u.length; v++) {
      const h = membrane.fixed[v] ? 0 : Math.max(snap(options.height * Math.sqrt(Math.max(0, u[v]) / most), lattice), 2 * lattice)
      z[v] = base + up * h
      // of (−∇h, 1), multiplied through by what grows without bound at the outline
      const nx = -options.height * gradient[2 * v]
      const ny = -options.height * gradient[2 * v + 1]
      const nz = 2 * Math.sqrt(Math.max(u[v], 0) * most)
      const l = Math.hypot(nx, ny, nz)
      if (l > 1e-12) {
        normals[3 * v] = nx / l
        normals[3 * v + 1] = ny / l
        normals[3 * v + 2] = nz / l
      } else normals[3 * v + 2] = 1
    }
    return { surface, z, normals, roundRim: flatStrips < 0, flatStrips }
  }
  const front = options.sides === 'back' ? flatGraph(surface, seam + wall) : swell(seam + wall, 1)
  const back = options.sides === 'front' ? flatGraph(surface, seam) : swell(seam, -1)
  return graphSolid(set, front, back, options.letterAt)
}
