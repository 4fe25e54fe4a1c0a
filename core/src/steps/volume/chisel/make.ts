import { hashNumbers } from '../../../cache/hash'
import { loadManifold } from '../../../kernel/manifold'
import { type Path, PathBuilder } from '../../../outline/path'
import { pathThrough } from '../../../outline/through-points'
import { type ChiselledFace, chiselledFace, type FlatFace, flatFaces, withChiselled } from '../../../solid/chisel'
import { type Profile, scaledProfile, shippedProfile } from '../../../solid/profile'
import { transformed } from '../../../solid/operations'
import { NONE } from '../../../solid/labels'
import { type Solid, solidBounds, triangleCount } from '../../../solid/solid'
import { plain } from '../../meta'
import { MOST_TRIANGLES } from '../../../volume/chisel-front'
import { solidOf } from '../../shared/joining'
import { certified, keptThere, MOST_PLACES, type Places } from '../../shared/surfaces'
import { type Evaluate, failed, type StepContext, type StepIssue, type StepOutcome } from '../../step'
import { wholeFront } from './front'
import type { chiselParams, Params } from './schema'

export const evaluate: Evaluate<typeof chiselParams> = async (input, params, context) => {
  const solid = solidOf(input)
  if (!solid) return failed('no-solid', 'Chisel needs a solid to work on.', 'Put a form such as Extrude before it.')
  const outcome = await chiselled(solid, params, context)
  if (outcome.ok || outcome.issue.code !== 'cut-through' || solid.labels.copy.every((copy) => copy === NONE)) return outcome
  // the face under rivets or bulbs is not free to be raised
  return {
    ...outcome,
    issue: { ...outcome.issue, remedy: `${outcome.issue.remedy} Where copies stand on the letters, put Chisel before the step that sets them.` },
  }
}

async function chiselled(solid: Solid, params: Params, context: StepContext): Promise<StepOutcome> {
  if (triangleCount(solid) === 0) return failed('empty', 'The piece is empty: there is nothing to work on.', 'Look at the steps before this one.')
  await loadManifold()
  const profile = heightCurve(params)
  if (params.acts === 'faces') {
    const { solid: value, faces, rough } = await flatSides(solid, profile, params, context)
    if (faces > 0) {
      const whole = certified(value)
      if (!whole.ok) return cutThrough(solid, params, whole.places)
      return { ok: true, value: whole.solid, issues: rough > 0 ? [approximated(rough)] : [], told: `${faces} flat ${faces === 1 ? 'face' : 'faces'}` }
    }
  }
  return shapedSides(solid, profile, params, context)
}

/** Whether the solid is turned over to get at each side. */
const OVER = { front: [false], back: [true], both: [false, true] } as const

async function flatSides(solid: Solid, profile: Profile, { side, within }: Params, context: StepContext): Promise<FlatDone> {
  let done: FlatDone = { solid, faces: 0, rough: 0 }
  for (const over of OVER[side]) {
    const one = await front(over ? turnedOver(done.solid) : done.solid, profile, within, context)
    done = { solid: over ? turnedOver(one.solid) : one.solid, faces: done.faces + one.faces, rough: done.rough + one.rough }
  }
  return done
}

/** All of each side, whatever shape it has. */
async function shapedSides(solid: Solid, profile: Profile, params: Params, context: StepContext): Promise<StepOutcome> {
  let value = solid
  const kept: (readonly [number, number, number])[] = []
  for (const over of OVER[params.side]) {
    const way = over ? -1 : 1
    const seen = (places: Places) => places.map(([x, y, z]) => [way * x, y, way * z] as const)
    const made = await wholeFront(over ? turnedOver(value) : value, { profile, within: params.within }, context)
    if (made === 'too many')
      return failed(
        'too-many',
        `Heights within ${plain(params.within)} mm would take more than ${MOST_TRIANGLES.toLocaleString('en')} triangles here.`,
        'Let heights be further off, or work on a smaller piece.',
        'within',
      )
    if (!made.ok) return cutThrough(solid, params, seen(made.places))
    value = over ? turnedOver(made.solid) : made.solid
    kept.push(...seen(made.kept))
  }
  const issues: StepIssue[] = []
  if (params.acts === 'faces')
    issues.push({
      code: 'no-flat-face',
      severity: 'note',
      message: 'There is no flat face here: the whole side is chiselled, by the outline as it is seen.',
      remedy: 'A form with a smaller edge leaves a flat face.',
      field: 'acts',
    })
  if (kept.length > 0) issues.push(keptThere(kept, 'height', 'Less height leaves less as it was.'))
  return { ok: true, value, issues, told: `${triangleCount(value).toLocaleString('en')} triangles` }
}

function cutThrough(solid: Solid, { height }: Params, places: Places): StepOutcome {
  const box = solidBounds(solid.positions)
  const less = Number((0.4 * (box[5] - box[2])).toPrecision(2)) * Math.sign(height)
  return {
    ok: false,
    issue: {
      code: 'cut-through',
      severity: 'failed',
      message: 'What is chiselled goes through other parts of the piece.',
      remedy: 'Make the height smaller; the places are shown in the view.',
      places: places.slice(0, MOST_PLACES),
      field: 'height',
      ...(Math.abs(less) < Math.abs(height) ? { fixes: [{ label: `Take ${plain(less)} mm`, params: { height: less } }] } : {}),
    },
  }
}

const approximated = (faces: number): StepIssue => ({
  code: 'approximate-edge',
  severity: 'warning',
  message: `${faces === 1 ? 'One face is' : `${faces} faces are`} approximated: ridges are cut flat.`,
  remedy: 'The solid is sound. A slightly other reach gives the exact one.',
  field: 'reach',
})

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

interface FlatDone {
  readonly solid: Solid
  readonly faces: number
  readonly rough: number
}

/** Chisels the flat faces of a solid's front, each shape of face once. */
async function front(solid: Solid, profile: Profile, within: number, context: StepContext): Promise<FlatDone> {
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
