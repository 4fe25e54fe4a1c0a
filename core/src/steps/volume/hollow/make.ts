import { joinSolid } from '../../../join/join'
import { loadManifold } from '../../../kernel/manifold'
import { joinSolids, type Matrix, split } from '../../../solid/operations'
import { turnedBar } from '../../../solid/revolve'
import { type Solid, solidBounds, triangleCount, withParts } from '../../../solid/solid'
import { estimate } from '../../../volume/estimate'
import { type Cavities, cavitiesOf } from '../../../volume/hollow'
import { volumeOf } from '../../../solid/volume'
import { plain } from '../../meta'
import { solidOf, volumeWords } from '../../shared/joining'
import { thinStroke, voxelFor } from '../../shared/volumes'
import { type Evaluate, failed, type StepIssue } from '../../step'
import type { hollowParams } from './schema'

export const evaluate: Evaluate<typeof hollowParams> = async (input, params, context) => {
  const { wall, drains } = params
  const solid = solidOf(input)
  if (!solid) return failed('no-solid', 'Hollow needs a solid to work on.', 'Put a form such as Extrude, or a Block, before it.')
  if (triangleCount(solid) === 0) return failed('empty', 'The piece is empty: there is nothing to hollow.', 'Look at the steps before this one.')
  const asked = params.fit === 'given' ? params.voxel : Math.min(Math.max(voxelFor(solid), wall / MOST_ACROSS), wall / ACROSS)
  if (wall / asked > 3 * MOST_ACROSS)
    return failed(
      'too-fine',
      `Voxels of ${plain(asked)} mm are too fine for a wall of ${plain(wall)} mm.`,
      `Give ${plain(Math.ceil((100 * wall) / MOST_ACROSS) / 100)} mm or more.`,
      'voxel',
    )
  const { possible, smallest } = estimate(solid, asked, 'smooth')
  if (!possible)
    return failed(
      'too-fine',
      `A wall of ${plain(wall)} mm needs voxels of ${plain(asked)} mm, which is more than can be done on a piece of this size.`,
      `Give a wall of ${plain(Math.ceil(smallest * ACROSS * 10) / 10)} mm or more.`,
      'wall',
    )
  // a wall is still one when it is two voxels thick
  const enough = Math.max(asked, Math.min((context.rough ?? 1) * asked, wall / 2))
  const voxel = Math.max(1, Math.round(enough / solid.lattice)) * solid.lattice
  const box = solidBounds(solid.positions)
  // nothing lies deeper than half of the least way through
  const deepest = Math.min(box[3] - box[0], box[4] - box[1], box[5] - box[2]) / 2
  const cavities = wall >= deepest ? undefined : await cavitiesOf(solid, wall, voxel, () => context.breathe())
  context.progress(0.7)
  if (cavities === false) return failed('not-certified', 'The room inside crosses itself, and could not be mended.', 'Give another wall.', 'wall')
  if (!cavities) {
    const thin = thinStroke(solid)
    return {
      ok: false,
      issue: {
        code: 'too-thick',
        severity: 'failed',
        message: `Nothing of the piece is thicker than two walls of ${plain(wall)} mm: there is no room inside.`,
        remedy: thin ? `Its thinner strokes measure ${plain(thin.thickness)} mm through; give a thinner wall.` : 'Give a thinner wall.',
        ...(thin ? { places: [thin.place] } : {}),
        field: 'wall',
      },
    }
  }
  const { room } = cavities
  // the room lies everywhere a wall away from the outside: the two skins together are the solid, nothing needs to be cut
  let value: Solid = withParts({ ...joinSolids([solid, insideOut(room)]), letters: solid.letters, layers: solid.layers })
  const issues: StepIssue[] = filledParts(solid, cavities, wall)
  if (drains !== 'none') {
    await loadManifold()
    const joined = joinSolid(
      value,
      drainsOf(value, cavities, params).map((matrix) => ({ solid: bar(value, params.drain / 2), matrix })),
      'carve',
    )
    if (!joined.ok)
      return failed('not-certified', 'The drain holes could not be cut exactly.', 'Move them aside by a tenth of a millimetre, or give another size.', 'drain')
    value = joined.solid
  }
  const taken = volumeOf(solid) - volumeOf(value)
  return {
    ok: true,
    value,
    issues,
    told: `${volumeWords(taken)} less, ${Math.round((100 * taken) / volumeOf(solid))} %; ${cavities.lowest.length === 1 ? 'one cavity' : `${cavities.lowest.length} cavities`}`,
  }
}

/** The wall is this many voxels thick at least, so that it is true. */
const ACROSS = 3

/** And no more: distances so far from the surface are costly. */
const MOST_ACROSS = 20

/** Sides of a drain hole. */
const SIDES = 32

const insideOut = (solid: Solid): Solid => ({ ...solid, indices: solid.indices.map((_, i) => solid.indices[i % 3 === 0 ? i : i % 3 === 1 ? i + 1 : i - 1]) })

/** Parts of the piece that are too thin to have room inside. */
function filledParts(solid: Solid, { room }: Cavities, wall: number): StepIssue[] {
  const { labels, surface } = solid
  const boxes = [...split(solid, (t) => labels.part[surface[t]]).values()].map(({ positions }) => solidBounds(positions))
  const filled = boxes.filter((box) => {
    for (let i = 0; i < room.positions.length; i += 3)
      if ([0, 1, 2].every((k) => room.positions[i + k] > box[k] && room.positions[i + k] < box[k + 3])) return false
    return true
  })
  if (filled.length === 0) return []
  return [
    {
      code: 'left-solid',
      severity: 'warning',
      message: `${filled.length === 1 ? 'One part is' : `${filled.length} parts are`} too thin for walls of ${plain(wall)} mm and ${filled.length === 1 ? 'stays' : 'stay'} solid.`,
      remedy: 'Give a thinner wall where they should be hollow too.',
      field: 'wall',
      places: filled.slice(0, 8).map((box) => [0, 1, 2].map((k) => (box[k] + box[k + 3]) / 2) as [number, number, number]),
    },
  ]
}

/** An upright bar, long enough to go through the piece from anywhere inside. */
function bar(solid: Solid, radius: number): Solid {
  const box = solidBounds(solid.positions)
  return turnedBar(radius, radius, Math.max(box[4] - box[1], box[5] - box[2]) + 10, SIDES, solid.lattice)
}

/** Where the bars stand that cut the drain holes: from each cavity's lowest place down, or back, and out. */
function drainsOf(
  solid: Solid,
  { lowest }: Cavities,
  { drains, drain, aside, wall }: { drains: string; drain: number; aside: number; wall: number },
): Matrix[] {
  const box = solidBounds(solid.positions)
  const length = Math.max(box[4] - box[1], box[5] - box[2]) + 10
  // as far into the cavity as the hole is wide, so that it opens wholly
  const into = Math.min(drain / 2, wall)
  return lowest.map(
    ([x, y, z]): Matrix =>
      drains === 'below'
        ? [1, 0, 0, x + aside, 0, 1, 0, y + into - length, 0, 0, 1, z]
        : [1, 0, 0, x + aside, 0, 0, -1, y + drain / 2, 0, 1, 0, z + into - length],
  )
}
