import { joinSolid } from '../join/join'
import { gather, UNMOVED } from '../solid/operations'
import { connectedParts, type Solid, solidBounds, vertexCount } from '../solid/solid'
import { volumeOf } from '../solid/volume'

/** More shells than this are not united. */
const MOST_SHELLS = 400

/** What uniting gave: how many bodies were made one, or why it could not be. */
export type United = { readonly ok: true; readonly solid: Solid; readonly bodies: number } | { readonly ok: false }

/**
 * Makes one body of shells that pass through each other: each shell that faces outwards, with those in it that face inwards, is a body, and
 * the bodies are fused one after another (see join.ts). Shells that cross themselves remain as they are, which the result's certificate tells;
 * then `ok` is false. The kernel must be loaded.
 */
export function uniteShells(solid: Solid): United {
  const { part, count } = connectedParts(solid.indices, vertexCount(solid))
  if (count < 2 || count > MOST_SHELLS) return { ok: false }
  const members: number[][] = Array.from({ length: count }, () => [])
  for (let t = 0; t < part.length; t++) members[part[t]].push(t)
  const shells = members.map((list) => {
    const of = gather(solid, list)
    return { list, volume: volumeOf(of), box: solidBounds(of.positions) }
  })
  const bodies = shells.filter(({ volume }) => volume > 0).sort((a, b) => b.volume - a.volume)
  if (bodies.length < 2) return { ok: false }
  for (const { list, box, volume } of shells) {
    if (volume > 0) continue
    // the smallest body that may hold it
    const around = bodies.findLast((body) => body.volume > -volume && [0, 1, 2].every((k) => body.box[k] <= box[k] && body.box[k + 3] >= box[k + 3]))
    if (!around) return { ok: false }
    for (const t of list) around.list.push(t)
  }
  const [first, ...others] = bodies.map(({ list }) => gather(solid, Uint32Array.from(list).sort()))
  const joined = joinSolid(
    first,
    others.map((one) => ({ solid: one, matrix: UNMOVED, inside: true })),
    'fuse',
  )
  return joined.ok ? { ok: true, solid: joined.solid, bodies: bodies.length } : { ok: false }
}
