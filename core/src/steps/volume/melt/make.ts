import { asInside } from '../../../join/join'
import { gather, joinSolids, transformed, UNMOVED } from '../../../solid/operations'
import { connectedParts, labelOf, type Solid, triangleCount, vertexCount } from '../../../solid/solid'
import { type Body, melted } from '../../../volume/melt'
import { plain } from '../../meta'
import { noPiece, solidOf } from '../../shared/joining'
import { throughVolume } from '../../shared/volumes'
import { type Evaluate, failed, type StepContext } from '../../step'
import type { meltParams } from './schema'

export const evaluate: Evaluate<typeof meltParams> = async (input, params, context) => {
  const { how, radius, between } = params
  const own = solidOf(input)
  if (!own) return failed('no-solid', 'Melt together needs a solid to work on.', 'Put a form such as Extrude, or a Block, before it.')
  const others = how === 'together' ? [] : standingOthers(own, context)
  if (how !== 'together' && others.length === 0) return noPiece('Melt together', 'others').failure
  const all = others.length > 0 ? joinSolids([own, ...others]) : own
  const counts = [own, ...others].map(triangleCount)
  let beyond: 'radius' | 'bodies' | undefined
  const outcome = await throughVolume(all, context, {
    title: 'Melt together',
    params,
    way: 'smooth',
    partsMayChange: true,
    async field({ solid, voxel }) {
      if (how !== 'together') {
        if (radius / voxel > MOST_VOXELS) beyond = 'radius'
        const bodies = bodiesByCount(solid, counts)
        return melted(bodies, voxel, beyond ? 0 : radius, how, () => context.breathe())
      }
      // what has no letters, as a file of bare triangles, melts by its loose parts
      const named = bodiesOf(solid, between)
      const bodies = named.length > 1 ? named : bodiesOf(solid, 'parts')
      if (bodies.length > MOST_BODIES) beyond = 'bodies'
      else if (radius / voxel > MOST_VOXELS) beyond = 'radius'
      if (beyond) return melted(bodies.slice(0, 1), voxel, 0, 'together', () => context.breathe())
      return melted(bodies, voxel, radius, 'together', () => context.breathe())
    },
  })
  if (beyond === 'bodies')
    return failed('too-many', `More than ${MOST_BODIES} bodies cannot be melted in one step.`, 'Melt layers instead of letters, or set fewer words.', 'between')
  if (beyond === 'radius')
    return failed('too-wide', `A radius of ${plain(radius)} mm is more than ${MOST_VOXELS} voxels.`, 'Give a larger voxel, or a smaller radius.', 'radius')
  return outcome
}

/** More bodies than this do not melt by themselves. */
const MOST_BODIES = 200

/** A fillet of more voxels than this is not made. */
const MOST_VOXELS = 60

/** The other pieces as they stand in this one's coordinates; what is cut by them looks as its inside does. */
function standingOthers(own: Solid, context: StepContext): Solid[] {
  const solids = (context.inputs.others ?? []).flatMap((value) => solidOf(value) ?? [])
  const places = context.placed?.others ?? []
  return solids.map((solid, i) => {
    const matrix = (places[i] ?? places[0])?.matrix ?? UNMOVED
    return transformed(asInside(solid, matrix), matrix, Math.max(own.lattice, solid.lattice))
  })
}

/** Bodies that stand one behind another among the triangles. */
function bodiesByCount(solid: Solid, counts: readonly number[]): Body[] {
  let from = 0
  return counts.map((count) => {
    const numbers = Uint32Array.from({ length: count }, (_, i) => from + i)
    from += count
    return { mesh: gather(solid, numbers), numbers }
  })
}

/** The bodies that melt: what belongs to no letter is one of its own. */
function bodiesOf(solid: Solid, between: 'letters' | 'layers' | 'parts'): Body[] {
  const of = between === 'parts' ? connectedParts(solid.indices, vertexCount(solid)).part : labelOf(solid, between === 'letters' ? 'letter' : 'layer')
  const lists = new Map<number, number[]>()
  for (let t = 0; t < triangleCount(solid); t++) {
    const list = lists.get(of[t])
    if (list) list.push(t)
    else lists.set(of[t], [t])
  }
  return [...lists.keys()]
    .sort((a, b) => a - b)
    .map((key) => {
      const list = lists.get(key) as number[]
      return { mesh: gather(solid, list), numbers: Uint32Array.from(list) }
    })
}
