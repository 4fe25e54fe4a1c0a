import { z } from 'zod'
import { pieceReference } from '../../../document/piece-reference'
import { STUFF_LABELS, STUFFS } from '../../../look/densities'
import { hullOf } from '../../../join/hull'
import { flattenPath } from '../../../outline/flatten'
import type { Path } from '../../../outline/path'
import { drop, dropCodec, type Dropping, HINGE_EDGES, poseMatrix, type Recording, seenAt } from '../../../physics/drop'
import { bodyShape } from '../../../physics/shape'
import { drawnTethers, hungFromAbove, type Tether, withTethers } from '../../../physics/tethers'
import { solidOfThing } from '../../../physics/things'
import { APART_BY, type Apart } from '../../../repeat/apart'
import { thingWeights } from '../../../repeat/thing-mask'
import { assemblyBounds, placedUnits } from '../../../solid/assembly'
import { NONE } from '../../../solid/labels'
import { apply, UNMOVED } from '../../../solid/operations'
import { meta, plain } from '../../meta'
import { apartInStep } from '../../shared/apart'
import { forceMarks } from '../../shared/force-marks'
import { maskOf } from '../../shared/masks'
import {
  airOf,
  APART_LABELS,
  beyond,
  bounded,
  forceFields,
  forcesOf,
  gravityFields,
  limitSaid,
  momentFields,
  obstaclesOf,
  solidsIn,
  surroundingFields,
  surroundingsOf,
  THINGS,
  tooMuch,
  windFields,
} from '../../shared/physics'
import { Recordings, thingsKey } from '../../shared/recordings'
import { seedParam } from '../../shared/seed'
import { defineStep, failed, type StepContext, type StepIssue } from '../../step'

const hung = { field: 'hang', is: ['rope', 'chain'] }
/** A drawn rope is fast to what its end lies this near, in its own thicknesses. */
const TIED = 2

const dropParams = z.object({
  ...momentFields(2, 5),
  by: z
    .enum(APART_BY)
    .default('letter')
    .meta(meta({ title: 'Each', labels: APART_LABELS })),
  hang: z
    .enum(['free', 'rope', 'chain', 'hinge', 'glue'])
    .default('free')
    .meta(meta({ title: 'Held', labels: ['By nothing', 'By ropes', 'By chains', 'By a hinge', 'By glue that gives way'] })),
  ropes: bounded('How many each', 1, 4, 2, { step: 1, when: hung, description: 'Where none are drawn.' }),
  rope: bounded('Length', 1, 5000, 60, { unit: 'mm', step: 5, when: hung, description: 'Where none are drawn: straight up.' }),
  lines: z
    .array(pieceReference)
    .max(4, 'At most 4 pieces.')
    .default([])
    .meta(
      meta({
        title: 'Drawn in',
        input: ['outline'],
        placed: true,
        when: hung,
        description: 'Each drawn line is one: fast to what its ends lie at, else where they are.',
      }),
    ),
  thick: bounded('Thickness', 0.2, 50, 1.2, { unit: 'mm', step: 0.2, when: hung }),
  edge: z
    .enum(HINGE_EDGES)
    .default('top')
    .meta(meta({ title: 'At its', labels: ['Top', 'Bottom', 'Left side', 'Right side'], when: { field: 'hang', is: ['hinge'] } })),
  glue: bounded('It holds', 0, 100_000, 40, {
    unit: '× a weight',
    step: 5,
    most: 500,
    when: { field: 'hang', is: ['glue'] },
    description: 'Between what touches, until it would have to hold more than so many times what one of them weighs.',
  }),
  ...surroundingFields('below'),
  stuff: z
    .enum(STUFFS)
    .default('acrylic')
    .meta(meta({ title: 'Made of', labels: STUFF_LABELS })),
  friction: bounded('Friction', 0, 2, 0.5, { step: 0.05 }),
  bounce: bounded('Bounce', 0, 95, 15, { unit: '%', step: 5 }),
  right: bounded('Pushed right', -5000, 5000, 0, { unit: 'mm/s', step: 10, advanced: true }),
  up: bounded('Pushed up', -5000, 5000, 0, { unit: 'mm/s', step: 10, advanced: true }),
  forward: bounded('Pushed forward', -5000, 5000, 0, { unit: 'mm/s', step: 10, advanced: true }),
  spin: bounded('Spun, by lot', 0, 3600, 60, { unit: '°/s', step: 10 }),
  ...windFields(),
  ...forceFields,
  inside: z
    .enum(['stays', 'apart'])
    .default('stays')
    .meta(meta({ title: 'What begins inside another', labels: ['Stays there', 'Is pushed out of it first'], advanced: true })),
  shown: z
    .enum(['things', 'bodies'])
    .default('things')
    .meta(
      meta({
        title: 'Shown',
        labels: ['What falls', 'What it is taken for'],
        advanced: true,
        description: 'Things fall as a few convex bodies that together are nearly as large.',
      }),
    ),
  ...gravityFields,
  mask: maskOf().meta(
    meta({
      title: 'Mask',
      holds: 'mask',
      without: 'All of it falls at once. A mask lets only what it takes go, the rest when something touches it; or it limits wind and force.',
    }),
  ),
  does: z
    .enum(['let-go', 'limit'])
    .default('let-go')
    .meta(meta({ title: 'The mask', labels: ['Lets go what it takes', 'Limits wind and force to what it takes'] })),
  seed: seedParam(),
})

type Params = z.infer<typeof dropParams>

export const dropStep = defineStep({
  kind: 'drop',
  version: 1,
  family: 'Physics',
  title: 'Drop',
  summary: 'Letters, copies or shards fall, pile up and hit other pieces; the same every time.',
  takes: ['solid', 'assembly'],
  gives: 'assembly',
  params: dropParams,
  moves: ['at'],
  describe: ({ by, at }) => `${THINGS[by][0].toUpperCase()}${THINGS[by].slice(1)} fall, after ${plain(at)} s`,
  async evaluate(input, params, context) {
    const value = solidsIn('Drop', input)
    if ('ok' in value) return value
    const apart = apartInStep(value, params.by)
    if ('ok' in apart) return apart
    const count = apart.things.length
    const obstacles = obstaclesOf(context)
    const refused = tooMuch(count, obstacles)
    if (refused) return refused
    const box = assemblyBounds(apart.assembly)
    const tethers = tethersOf(params, apart, context)
    const shares = params.mask.list.length > 0 ? Array.from(thingWeights(apart, params.mask)) : undefined
    const how: Dropping = {
      ...surroundingsOf(params, box, obstacles),
      friction: params.friction,
      bounce: params.bounce / 100,
      stuff: params.stuff,
      push: [params.right, params.up, params.forward],
      spin: params.spin,
      air: airOf(params),
      forces: forcesOf(params, box),
      tethers,
      ...(params.hang === 'hinge' ? { hinged: params.edge } : {}),
      ...(params.hang === 'glue' ? { glue: params.glue } : {}),
      pushApart: params.inside === 'apart',
      ...(shares && params.does === 'let-go' ? { letGo: shares.map((weight) => weight >= 0.5) } : {}),
      ...(shares && params.does === 'limit' ? { felt: shares } : {}),
      seed: params.seed,
      seconds: params.length,
    }
    const recording = await recordings.of(thingsKey(apart), how, context, (work) => drop(apart, how, work))
    if (!recording) return failed('blown-up', 'It cannot be followed: something flies apart.', 'Push and spin it less.', 'spin')
    return {
      ok: true,
      value: withTethers(
        seenAt(params.shown === 'bodies' ? asBodies(apart) : apart, recording, params.at),
        tethers,
        params.hang === 'chain' ? 'chain' : 'rope',
        params.thick,
        (thing) => (params.at === 0 && !recording.pushed ? undefined : poseMatrix(recording, thing, params.at)),
      ),
      issues: [
        ...said(recording, params, tethers.length),
        ...(shares && params.does === 'limit'
          ? limitSaid(
              params,
              shares.every((share) => share === 0),
            )
          : []),
      ],
      ...forceMarks(params, how.air, box),
      told: `${count.toLocaleString('en')} ${THINGS[params.by]}${recording.rest === undefined ? '' : `, at rest after ${plain(recording.rest)} s`}${recording.glued > 0 ? `; ${recording.parted} of ${recording.glued} glued places gave way` : ''}`,
    }
  },
})

const bodies = new WeakMap<Apart, Apart>()

/** The same things, each made up of the convex bodies that it is taken for. */
function asBodies(apart: Apart): Apart {
  const before = bodies.get(apart)
  if (before) return before
  const { assembly } = apart
  const parts = apart.things.map((thing) =>
    bodyShape(solidOfThing(apart, thing)).parts.map((part) =>
      hullOf(
        Array.from({ length: part.length / 3 }, (_, i) => [part[3 * i], part[3 * i + 1], part[3 * i + 2]] as const),
        assembly.lattice,
      ),
    ),
  )
  const units = parts.flat()
  const placed = placedUnits(
    units,
    [...units.keys()],
    units.map(() => UNMOVED),
  )
  const letter = Int32Array.from(parts.flatMap((own, i) => own.map(() => (apart.things[i].letters.length === 1 ? apart.things[i].letters[0] : NONE))))
  let from = 0
  const made: Apart = {
    ...apart,
    assembly: { ...placed, placements: { ...placed.placements, letter }, letters: assembly.letters },
    things: apart.things.map((thing, i) => {
      const entries = parts[i].map((_, k) => from + k)
      from += entries.length
      return { ...thing, entries }
    }),
  }
  bodies.set(apart, made)
  return made
}

/** The ropes or chains that things hang on: those that are drawn, else straight up. */
function tethersOf(params: Params, apart: Apart, context: StepContext): Tether[] {
  if (params.hang !== 'rope' && params.hang !== 'chain') return []
  const drawings = context.inputs.lines ?? []
  if (drawings.length === 0) return hungFromAbove(apart, (thing) => solidOfThing(apart, apart.things[thing]), Math.round(params.ropes), params.rope)
  const lines = drawings.flatMap((value, i) => {
    if (value.kind !== 'outline') return []
    const matrix = context.placed?.lines?.[i]?.matrix ?? UNMOVED
    return value.strokes.map((stroke) => pointsOf(stroke).map(([x, y]) => apply(matrix, x, y, 0)))
  })
  return drawnTethers(apart, lines, TIED * params.thick)
}

/** A drawn line's points, near enough for its length. */
function pointsOf(path: Path): [number, number][] {
  const { xy } = flattenPath(path, { tolerance: 0.05 })
  return Array.from({ length: xy.length / 2 }, (_, i) => [xy[2 * i], xy[2 * i + 1]])
}

const recordings = new Recordings('drop', dropCodec)

function said(recording: Recording, { floor, others, at, length, hang, lines, inside }: Params, tethers: number): StepIssue[] {
  const issues: StepIssue[] = []
  if (floor === 'none' && others.length === 0 && hang !== 'hinge' && tethers === 0)
    issues.push({
      code: 'no-floor',
      severity: 'note',
      message: 'There is nothing to fall upon.',
      remedy: 'Choose a floor, or pieces that stand in the way.',
      field: 'floor',
    })
  issues.push(...beyond(at, length))
  if ((hang === 'rope' || hang === 'chain') && lines.length > 0 && tethers === 0)
    issues.push({
      code: 'no-ropes',
      severity: 'warning',
      message: 'No drawn line ends at something here and has a length: nothing is held.',
      remedy: 'Draw lines that end on the letters, in place, or leave out the drawing to hang them straight.',
      field: 'lines',
    })
  if (hang === 'glue' && recording.glued === 0)
    issues.push({
      code: 'no-glue',
      severity: 'warning',
      message: 'Nothing touches anything: there is nothing to glue.',
      remedy: 'Shatter it before, or move the letters together.',
      field: 'hang',
    })
  if (recording.inside > 0 && inside === 'stays')
    issues.push({
      code: 'inside-each-other',
      severity: 'warning',
      message: `${recording.inside === 1 ? 'Two of them begin' : `${recording.inside} pairs of them begin`} inside each other, and may lock or be thrown apart.`,
      remedy: 'Push them out of each other first, or move them apart.',
      field: 'inside',
      fixes: [{ label: 'Push them apart first', params: { inside: 'apart' } }],
    })
  if (recording.off > 0.15)
    issues.push({
      code: 'coarse-shape',
      severity: 'note',
      message: `Something is taken ${plain(100 * recording.off)} % larger or smaller than it is while it falls.`,
      remedy: 'Break it into simpler parts, or choose connected parts.',
      field: 'by',
    })
  return issues
}
