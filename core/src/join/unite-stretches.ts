import { manifold } from '../kernel/manifold'
import { PLAIN_ROW } from '../solid/labels'
import { gather } from '../solid/operations'
import { connectedParts, partCount, type Solid, type SolidLayer, vertexCount, withParts } from '../solid/solid'
import { ringAt, type Section, type Station } from '../solid/sweep'
import { VertexTable } from '../solid/vertex-table'
import { withKernelSolids } from './bridge'

/** A lattice so fine that nothing is rounded. */
const EXACT = 2 ** -40

/**
 * How unions are tried, one after another: how far stretches reach into each other, by what share they are made to differ, and how near
 * vertices are made one, mm. Rounding to the lattice spoils some unions of stretches whose sides lie in one plane.
 */
export const UNITING: readonly { readonly reach: number; readonly apart: number; readonly merge: number }[] = [
  { reach: 0, apart: 0, merge: 0 },
  { reach: 0, apart: 0, merge: 0.004 },
  { reach: 0.02, apart: 0, merge: 0.002 },
  { reach: 0.02, apart: 3e-4, merge: 0.004 },
  { reach: 0.05, apart: 1.5e-3, merge: 0.01 },
]

const EVERYWHERE = [-Infinity, -Infinity, -Infinity, Infinity, Infinity, Infinity] as const

/** A sweep to be united with others, and whose it is: numbers of the letters and layers that `unitedSweeps` is given. */
export interface SweepRun {
  readonly section: Section
  readonly stations: readonly Station[]
  readonly closed: boolean
  readonly letter: number
  readonly layer: number
}

/**
 * The union of all stretches of sweeps, for lines that cross themselves or bend too tightly: each stretch a solid of its own, or,
 * where its ends overlap, their hull. The result is rounded to the lattice and mended where that has spoilt it, if it can be; the caller checks it. Every triangle keeps the
 * letter and layer of its stretch. It is `torn` where stretches only lie against each other, and mending would leave a hair between them. Needs the manifold kernel loaded.
 */
export function unitedSweeps(
  runs: readonly SweepRun[],
  names: { readonly letters: readonly string[]; readonly layers: readonly SolidLayer[] },
  lattice: number,
  { reach, apart, merge }: (typeof UNITING)[number] = UNITING[0],
): { readonly solid: Solid; readonly torn: boolean } {
  const { Manifold } = manifold()
  return withKernelSolids([], (kernel) => {
    const label = kernel.labelling({ ...names, bands: [], looks: [] })
    const parts = runs.flatMap(({ section, stations, closed, letter, layer }) => {
      const spans = closed ? stations.length : stations.length - 1
      return Array.from({ length: spans }, (_, i) => {
        const [a, b] = [stations[i], stations[(i + 1) % stations.length]]
        // stretches of one height lie in one plane, which leaves slivers: each is made a hair larger than the last
        const hair = 1 + apart * ((i * 7) % 11)
        const l = Math.hypot(b.x - a.x, b.y - a.y) || 1
        const [ex, ey] = [(reach * (b.x - a.x)) / l, (reach * (b.y - a.y)) / l]
        const sized = (s: Station, way: 1 | -1): Station => ({ ...s, x: s.x + way * ex, y: s.y + way * ey, width: s.width * hair, height: s.height * hair })
        // not rounded yet: the ends must stay flat, or slivers of nothing are left between neighbours
        const points = [...ringAt(section, sized(a, -1), EXACT), ...ringAt(section, sized(b, 1), EXACT)]
        const triples: [number, number, number][] = []
        for (let k = 0; k < points.length; k += 3) triples.push([points[k], points[k + 1], points[k + 2]])
        return label(kernel.own(Manifold.hull(triples)), { ...PLAIN_ROW, letter, layer })
      })
    })
    const whole = kernel.own(kernel.own(Manifold.union(parts)).simplify(Math.max(merge, lattice * 4)))
    return { solid: withoutSpecks(kernel.takeMended(whole, lattice, EVERYWHERE).solid), torn: isTorn(withoutSpecks(kernel.takeRounded(whole, lattice))) }
  })
}

/** Parts smaller than this, mm³, are what rounding has left between stretches. */
const SPECK = 1e-5

function withoutSpecks(solid: Solid): Solid {
  const { positions: p, indices, surface, labels } = solid
  const volumes = new Float64Array(partCount(solid))
  if (volumes.length < 2) return solid
  for (let t = 0; t < surface.length; t++) {
    const [a, b, c] = [3 * indices[3 * t], 3 * indices[3 * t + 1], 3 * indices[3 * t + 2]]
    const [x, y, z] = [p[b + 1] * p[c + 2] - p[b + 2] * p[c + 1], p[b + 2] * p[c] - p[b] * p[c + 2], p[b] * p[c + 1] - p[b + 1] * p[c]]
    volumes[labels.part[surface[t]]] += (p[a] * x + p[a + 1] * y + p[a + 2] * z) / 6
  }
  const kept = Uint32Array.from(surface.keys()).filter((t) => Math.abs(volumes[labels.part[surface[t]]]) >= SPECK)
  return kept.length === surface.length ? solid : withParts(gather(solid, kept))
}

/** Whether parts that do not hang together have vertices at one place. */
function isTorn(solid: Solid): boolean {
  const { positions: p, indices, lattice } = solid
  const table = new VertexTable(lattice)
  const places = Uint32Array.from({ length: vertexCount(solid) }, (_, v) => table.vertex(p[3 * v], p[3 * v + 1], p[3 * v + 2]))
  const at = indices.map((v) => places[v])
  return connectedParts(at, places.length).count < partCount(solid)
}
