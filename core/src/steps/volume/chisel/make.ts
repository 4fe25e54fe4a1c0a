import { hashNumbers } from '../../../cache/hash'
import { loadManifold } from '../../../kernel/manifold'
import { type Path, PathBuilder } from '../../../outline/path'
import { pathThrough } from '../../../outline/through-points'
import { type ChiselledFace, chiselledFace, type FlatFace, flatFaces, withChiselled } from '../../../solid/chisel'
import { type Profile, scaledProfile, shippedProfile } from '../../../solid/profile'
import { transformed } from '../../../solid/operations'
import { type Solid, solidBounds, triangleCount } from '../../../solid/solid'
import { plain } from '../../meta'
import { solidOf } from '../../shared/joining'
import { certified } from '../../shared/surfaces'
import { type Evaluate, failed, type StepContext, type StepIssue } from '../../step'
import type { chiselParams, Params } from './schema'

export const evaluate: Evaluate<typeof chiselParams> = async (input, params, context) => {
  const solid = solidOf(input)
  if (!solid) return failed('no-solid', 'Chisel needs a solid to work on.', 'Put a form such as Extrude before it.')
  if (triangleCount(solid) === 0) return failed('empty', 'The piece is empty: there is nothing to work on.', 'Look at the steps before this one.')
  await loadManifold()
  const profile = heightCurve(params)
  let value = solid
  let [faces, rough] = [0, 0]
  if (params.side !== 'back') {
    const done = await front(value, profile, params.within, context)
    value = done.solid
    faces += done.faces
    rough += done.rough
  }
  if (params.side !== 'front') {
    const done = await front(turnedOver(value), profile, params.within, context)
    value = turnedOver(done.solid)
    faces += done.faces
    rough += done.rough
  }
  if (faces === 0)
    return failed(
      'no-flat-face',
      'There is no flat face to chisel: the front is shaped all over.',
      'Put Chisel behind a form that leaves a face, such as Extrude with a smaller edge; a shaped front is raised and sunk by Swell, whose mask goes by the distance from the outline.',
      'side',
    )
  const whole = certified(value)
  if (!whole.ok) {
    const box = solidBounds(solid.positions)
    const less = Number((0.4 * (box[5] - box[2])).toPrecision(2)) * Math.sign(params.height)
    return {
      ok: false,
      issue: {
        code: 'cut-through',
        severity: 'failed',
        message: 'The chiselled faces go through other parts of the piece.',
        remedy: 'Make the height smaller; the places are shown in the view.',
        places: whole.places,
        field: 'height',
        ...(Math.abs(less) < Math.abs(params.height) ? { fixes: [{ label: `Take ${plain(less)} mm`, params: { height: less } }] } : {}),
      },
    }
  }
  const issues: StepIssue[] =
    rough > 0
      ? [
          {
            code: 'approximate-edge',
            severity: 'warning',
            message: `${rough === 1 ? 'One face is' : `${rough} faces are`} approximated: ridges are cut flat.`,
            remedy: 'The solid is sound. A slightly other reach gives the exact one.',
            field: 'reach',
          },
        ]
      : []
  return { ok: true, value: whole.solid, issues, told: `${faces} flat ${faces === 1 ? 'face' : 'faces'}` }
}

/** Height in mm over the distance from the outline in mm, as a path that begins at nought and nought. */
function heightCurve({ shape, height, reach, terraces, inside, width, curve }: Params): Profile {
  const shipped = { cushion: 'round', slope: 'chamfer', hollow: 'cove', double: 'ogee' } as const
  if (shape === 'drawn') return steadyStart(scaledProfile(pathThrough(curve), reach, height / 100))
  if (shape === 'terraces') {
    const path = new PathBuilder(0, 0)
    for (let k = 1; k <= terraces; k++) {
      path.lineTo((reach * k) / terraces, (height * (k - 1)) / terraces)
      path.lineTo((reach * k) / terraces, (height * k) / terraces)
    }
    return path.build(false)
  }
  if (shape === 'groove') {
    const from = Math.max(0, inside - width / 2)
    const half = inside - from
    const to = inside + width / 2
    const path = new PathBuilder(0, 0)
    if (from > 0) path.lineTo(from, 0)
    path.cubicTo(from + half / 2, 0, inside - half / 2, -height, inside, -height)
    path.cubicTo(inside + width / 4, -height, to - width / 4, 0, to, 0)
    return path.build(false)
  }
  return scaledProfile(shippedProfile(shipped[shape], 1, 1) as Profile, reach, height)
}

/** A curve that does not begin at nought rises there straight up from the outline. */
function steadyStart(path: Path): Path {
  const [x, y] = path.coords
  if (y === 0) return path
  return { ...path, verbs: Uint8Array.from([0, ...path.verbs]), coords: Float64Array.from([x, 0, ...path.coords]) }
}

/** Chisels the front of a solid, each shape of face once. */
async function front(solid: Solid, profile: Profile, within: number, context: StepContext): Promise<{ solid: Solid; faces: number; rough: number }> {
  const faces = flatFaces(solid)
  const made: ChiselledFace[] = []
  const curve = hashNumbers([profile.coords, profile.verbs, [within]])
  for (const face of faces) {
    await context.breathe()
    const make = () => chiselledFace(solid, face, profile, within)
    made.push(face.rows.length === 1 ? context.memo.get(keyOf(face, curve), make) : make())
    context.progress((0.8 * made.length) / faces.length)
  }
  return {
    solid:
      faces.length === 0
        ? solid
        : withChiselled(
            solid,
            faces,
            made.map((one) => one.solid),
          ),
    faces: faces.length,
    rough: made.filter((one) => one.approximate).length,
  }
}

const keyOf = ({ set }: FlatFace, curve: string) => `chisel:${curve}:${set.lattice}:${hashNumbers(set.rings.map(({ xy }) => xy))}`

/** Front and back exchanged: turned half round about the upright axis. */
const turnedOver = (solid: Solid): Solid => transformed(solid, [-1, 0, 0, 0, 0, 1, 0, 0, 0, 0, -1, 0])
