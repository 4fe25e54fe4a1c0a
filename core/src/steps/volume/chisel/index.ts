import { z } from 'zod'
import { hashNumbers } from '../../../cache/hash'
import { loadManifold } from '../../../kernel/manifold'
import { type Path, PathBuilder } from '../../../outline/path'
import { pathThrough } from '../../../outline/through-points'
import { type ChiselledFace, chiselledFace, type FlatFace, flatFaces, withChiselled } from '../../../solid/chisel'
import { type Profile, scaledProfile, shippedProfile } from '../../../solid/profile'
import { transformed } from '../../../solid/operations'
import { type Solid, solidBounds, triangleCount } from '../../../solid/solid'
import { meta, plain } from '../../meta'
import { curvePoints } from '../../shared/curve-along'
import { solidOf } from '../../shared/joining'
import { millimetres } from '../../shared/lengths'
import { certified } from '../../shared/surfaces'
import { defineStep, failed, type StepContext, type StepIssue } from '../../step'

const SHAPES = ['cushion', 'slope', 'hollow', 'double', 'terraces', 'groove', 'drawn'] as const

const chiselParams = z.object({
  shape: z
    .enum(SHAPES)
    .default('cushion')
    .meta(meta({ title: 'Shape', labels: ['Cushion', 'Slope', 'Hollow', 'Double curve', 'Terraces', 'Groove', 'Drawn curve'] })),
  height: z
    .number('The height must be a number.')
    .min(-500, 'At most 500 mm can be sunk.')
    .max(500, 'At most 500 mm can be raised.')
    .default(2)
    .meta(meta({ title: 'Height', unit: 'mm', step: 0.25, pull: 'forward', description: 'Above the flat face; below nought it is sunk. Grooves go down.' })),
  reach: millimetres('The reach', 0.05, 500)
    .default(4)
    .meta(
      meta({
        title: 'Reach',
        unit: 'mm',
        step: 0.5,
        description: 'From the outline to the full height. Where a stroke is narrower, both sides meet in a ridge.',
        when: { field: 'shape', is: ['cushion', 'slope', 'hollow', 'double', 'terraces', 'drawn'] },
      }),
    ),
  terraces: z
    .int('The terraces must be a whole number.')
    .min(1)
    .max(40, 'At most 40 terraces are cut.')
    .default(3)
    .meta(meta({ title: 'Terraces', step: 1, when: { field: 'shape', is: ['terraces'] } })),
  inside: millimetres('The distance', 0.05, 500)
    .default(2)
    .meta(
      meta({
        title: 'Inside by',
        unit: 'mm',
        step: 0.25,
        description: 'From the outline to the middle of the groove.',
        when: { field: 'shape', is: ['groove'] },
      }),
    ),
  width: millimetres('The width', 0.05, 500)
    .default(1.2)
    .meta(meta({ title: 'Width', unit: 'mm', step: 0.1, when: { field: 'shape', is: ['groove'] } })),
  curve: curvePoints('The height', -100, 100)
    .refine((points) => points.length > 0, 'The curve needs a point.')
    .default([
      [0, 0],
      [0.35, 90],
      [0.65, 55],
      [1, 100],
    ])
    .meta(
      meta({
        title: 'Height over the distance',
        unit: '%',
        step: 5,
        holds: 'curve',
        most: 100,
        description: 'From the outline, left, to the whole reach.',
        when: { field: 'shape', is: ['drawn'] },
      }),
    ),
  side: z
    .enum(['front', 'back', 'both'])
    .default('front')
    .meta(meta({ title: 'Side', labels: ['Front', 'Back', 'Both'] })),
  within: millimetres('The exactness', 0.002, 1)
    .default(0.01)
    .meta(
      meta({
        title: 'Heights within',
        unit: 'mm',
        step: 0.01,
        advanced: true,
        description: 'Of the curve over the exact distance. Larger makes fewer triangles.',
      }),
    ),
})

type Params = z.infer<typeof chiselParams>

const WORDS: Record<Params['shape'], string> = {
  cushion: 'Cushion',
  slope: 'Slopes',
  hollow: 'Hollows',
  double: 'Double curve',
  terraces: 'Terraces',
  groove: 'Groove',
  drawn: 'Drawn curve',
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

export const chisel = defineStep({
  kind: 'chisel',
  version: 1,
  family: 'Volume',
  title: 'Chisel',
  summary: 'Raises or sinks flat faces by a curve over the distance to the outline: cushions, ridges, grooves, terraces.',
  takes: ['solid'],
  gives: 'solid',
  params: chiselParams,
  describe: (params) =>
    `${WORDS[params.shape]} ${plain(Math.abs(params.height))} mm ${params.height < 0 !== (params.shape === 'groove') ? 'deep' : 'high'}, ${
      params.shape === 'groove' ? `${plain(params.inside)} mm inside` : `over ${plain(params.reach)} mm`
    }`,

  async evaluate(input, params, context) {
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
        'Put Chisel behind a form that leaves a face, such as Extrude with a smaller edge.',
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
  },
})

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
