import { type Manifold } from 'manifold-3d'
import { manifold, withScope } from '../kernel/manifold'
import type { Apart, Thing } from '../repeat/apart'
import { forMeetingBoxes } from '../repeat/boxes'
import { NONE } from '../solid/labels'
import type { Solid } from '../solid/solid'

/** What lies this near touches, mm. */
const NEAR = 0.05
/** What two things share counts from this part of the smaller one's volume. */
const SHARED = 1e-3
/** More pairs are not looked at. */
const MOST_PAIRS = 4000

/** Two things that touch, and about where, mm. */
export interface Touch {
  readonly one: number
  readonly other: number
  readonly at: readonly [number, number, number]
}

/** Which things touch each other. Needs the kernel loaded. */
export function touching(things: readonly Thing[], solids: readonly Solid[]): Touch[] {
  const pairs = meeting(things)
  return withBodies(solids, pairs, (bodies) =>
    pairs
      .filter(([a, b]) => (bodies.get(a) as Manifold).minGap(bodies.get(b) as Manifold, 2 * NEAR) <= NEAR)
      .map(([one, other]) => {
        const [p, q] = [things[one].box, things[other].box]
        // the middle of what both boxes have in common
        return { one, other, at: [0, 1, 2].map((k) => (Math.max(p[k], q[k]) + Math.min(p[k + 3], q[k + 3])) / 2) as [number, number, number] }
      }),
  )
}

/** How many pairs of things begin inside each other. Shards fit each other and are not asked. Needs the kernel loaded. */
export function insideEachOther({ things, assembly }: Pick<Apart, 'things' | 'assembly'>, solids: readonly Solid[]): number {
  const isShard = (i: number) => things[i].entries.every((entry) => assembly.placements.shard[entry] !== NONE)
  const pairs = meeting(things).filter(([a, b]) => !isShard(a) || !isShard(b))
  return withBodies(
    solids,
    pairs,
    (bodies) =>
      pairs.filter(([a, b]) => {
        const [p, q] = [bodies.get(a) as Manifold, bodies.get(b) as Manifold]
        const shared = p.intersect(q)
        try {
          return shared.volume() > SHARED * Math.min(p.volume(), q.volume())
        } finally {
          shared.delete()
        }
      }).length,
  )
}

function meeting(things: readonly Thing[]): [number, number][] {
  const boxes = Float64Array.from(things.flatMap(({ box }) => [...box]))
  const pairs: [number, number][] = []
  forMeetingBoxes(boxes, NEAR, (a, b) => {
    if (pairs.length < MOST_PAIRS) pairs.push([Math.min(a, b), Math.max(a, b)])
  })
  return pairs.sort((a, b) => a[0] - b[0] || a[1] - b[1])
}

function withBodies<R>(solids: readonly Solid[], pairs: readonly (readonly [number, number])[], work: (bodies: Map<number, Manifold>) => R): R {
  return withScope((take) => {
    const { Manifold, Mesh } = manifold()
    const bodies = new Map<number, Manifold>()
    for (const pair of pairs)
      for (const i of pair)
        if (!bodies.has(i))
          bodies.set(i, take(Manifold.ofMesh(new Mesh({ numProp: 3, vertProperties: Float32Array.from(solids[i].positions), triVerts: solids[i].indices }))))
    return work(bodies)
  })
}
