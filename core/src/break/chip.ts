import { edgesOf } from '../check/edges'
import { SoundTriangles } from '../check/sound-triangles'
import { randomShares } from '../cache/random'
import { attributesOf } from '../join/join'
import { withKernelSolids } from '../join/bridge'
import { manifold } from '../kernel/manifold'
import { INSIDE, NONE, PLAIN_ROW } from '../solid/labels'
import { gather } from '../solid/operations'
import { partHomes } from '../solid/part-homes'
import type { Solid } from '../solid/solid'
import type { Cells } from './cells'
import { BREAK, type Fragment } from './fragment'

/** Chips lie so far apart along cracks on the average, times their size; there are no more than so many. */
const APART = 1.6
const MOST_CHIPS = 3000
/** Corners a chip is the hull of. */
const CORNERS = 9

const NEIGHBOURS = Array.from({ length: 27 }, (_, i) => [(i % 3) - 1, (Math.floor(i / 3) % 3) - 1, Math.floor(i / 9) - 1] as const)

type Point = readonly [number, number, number]

/** Where no chip is to break off, within so many times their size. */
export interface Avoided {
  readonly at: Point
  readonly within: number
}

/** Places by lot along the cracks' lines on the outside. */
function placesAlong(fragments: readonly Fragment[], { walls }: Cells, size: number, next: () => number): Point[] {
  const out: Point[] = []
  let left = next() * APART * size
  for (const { solid, wall, cell } of fragments) {
    const { positions: p, indices } = solid
    const { edge, count } = edgesOf(indices)
    // the wall and the outside at every side
    const own = new Int32Array(count).fill(NONE)
    const outside = new Uint8Array(count)
    for (let h = 0; h < edge.length; h++) {
      const w = wall[(h / 3) | 0]
      if (w === NONE) outside[edge[h]] = 1
      else own[edge[h]] = w
    }
    const seen = new Uint8Array(count)
    for (let h = 0; h < edge.length; h++) {
      const e = edge[h]
      // of both pieces at a crack one is enough
      if (seen[e]++ > 0 || !outside[e] || own[e] === NONE || (walls[own[e]].cell !== cell && walls[own[e]].other !== NONE)) continue
      const [a, b] = [3 * indices[h], 3 * indices[h % 3 === 2 ? h - 2 : h + 1]]
      const length = Math.hypot(p[b] - p[a], p[b + 1] - p[a + 1], p[b + 2] - p[a + 2])
      while (left < length) {
        const t = left / length
        out.push([p[a] + t * (p[b] - p[a]), p[a + 1] + t * (p[b + 1] - p[a + 1]), p[a + 2] + t * (p[b + 2] - p[a + 2])])
        left += APART * size * (0.3 + 1.4 * next())
      }
      left -= length
    }
  }
  return out
}

/**
 * A solid without the chips that break off along cracks: small angular bodies by lot about places on the cracks' lines are cut out, so that both pieces at a crack lose their share. What
 * is laid bare is of the group *inside* and the band *break*; none breaks off near the places to avoid. Undefined when the result cannot be mended. Needs the kernel loaded.
 */
export function chipped(solid: Solid, fragments: readonly Fragment[], cells: Cells, size: number, seed: number, avoid: readonly Avoided[]): Solid | undefined {
  const next = randomShares(seed ^ 0x5bd1e995)
  const all = placesAlong(fragments, cells, size, next)
  const step = Math.max(1, all.length / MOST_CHIPS)
  const places: { readonly place: Point; readonly radius: number }[] = []
  const near = new Map<string, { readonly place: Point; readonly radius: number }[]>()
  for (let i = 0; i < Math.floor(all.length / step); i++) {
    const place = all[Math.floor(i * step)]
    const radius = size * (0.35 + 0.65 * next() ** 2) * 0.6
    const cell = place.map((v) => Math.floor(v / (1.2 * size)))
    // chips that met would leave splinters between them
    const meets = NEIGHBOURS.some(([dx, dy, dz]) =>
      near
        .get(`${cell[0] + dx} ${cell[1] + dy} ${cell[2] + dz}`)
        ?.some((other) => Math.hypot(...place.map((v, k) => v - other.place[k])) < radius + other.radius),
    )
    if (meets || avoid.some(({ at, within }) => Math.hypot(...place.map((v, k) => v - at[k])) < within * size)) continue
    const chip = { place, radius }
    places.push(chip)
    const key = cell.join(' ')
    near.set(key, [...(near.get(key) ?? []), chip])
  }
  if (places.length === 0) return solid
  return withKernelSolids(attributesOf([solid]), (kernel) => {
    const { Manifold } = manifold()
    const label = kernel.labelling({ letters: [], layers: [], bands: [BREAK], looks: [] })
    const chips = places.map(({ place, radius }) => {
      const corners = Array.from({ length: CORNERS }, () => {
        const z = 2 * next() - 1
        const around = 2 * Math.PI * next()
        const far = radius * (0.75 + 0.25 * next())
        const r = Math.sqrt(1 - z * z)
        // on the lattice, so that the kernel's own numbers hold it
        return [r * Math.cos(around), r * Math.sin(around), z].map((v, k) => Math.round((place[k] + far * v) / solid.lattice) * solid.lattice) as [
          number,
          number,
          number,
        ]
      })
      return kernel.own(Manifold.hull(corners))
    })
    const body = kernel.put(solid)
    const cutters = label(kernel.own(Manifold.union(chips)), { ...PLAIN_ROW, group: INSIDE, band: 0 })
    const { solid: cut, mended } = kernel.takeMended(kernel.own(body.subtract(cutters)), solid.lattice, EVERYWHERE, new SoundTriangles([solid]))
    return mended.sound ? { ...withoutBubbles(cut), letters: solid.letters } : undefined
  })
}

/** Without hollows that chips left in the midst of it, where none broke off. */
function withoutBubbles(cut: Solid): Solid {
  const homes = partHomes(cut)
  const band = cut.bands.indexOf(BREAK)
  const { surface, labels } = cut
  const bubble = homes.map((home, part) => (home === part ? 0 : 1))
  for (let t = 0; t < surface.length; t++) if (labels.band[surface[t]] !== band) bubble[labels.part[surface[t]]] = 0
  if (!bubble.includes(1)) return cut
  return gather(
    cut,
    Uint32Array.from(surface.keys()).filter((t) => bubble[labels.part[surface[t]]] === 0),
  )
}

const EVERYWHERE = [-Infinity, -Infinity, -Infinity, Infinity, Infinity, Infinity] as const
