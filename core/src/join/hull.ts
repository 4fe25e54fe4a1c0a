import { manifold } from '../kernel/manifold'
import { PLAIN_ROW } from '../solid/labels'
import type { Solid } from '../solid/solid'
import { withKernelSolids } from './bridge'

/** The convex hull of points (x, y, z triples, mm) as a solid on the lattice, all of it face; empty where they lie in a plane. Needs the kernel loaded. */
export function hullOf(points: readonly (readonly [number, number, number])[], lattice: number): Solid {
  return withKernelSolids([], (kernel) => {
    const { Manifold } = manifold()
    const label = kernel.labelling({ letters: [''], layers: [], bands: [], looks: [] })
    const hull = kernel.own(Manifold.hull(points as [number, number, number][]))
    // of points in a plane the kernel makes a body without a volume
    const body = label(hull.volume() > lattice ** 3 ? hull : kernel.own(Manifold.hull([])), { ...PLAIN_ROW, letter: 0 })
    return kernel.takeMended(body, lattice, [-Infinity, -Infinity, -Infinity, Infinity, Infinity, Infinity]).solid
  })
}
