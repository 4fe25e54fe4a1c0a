import type { z } from 'zod'
import { hullOf } from '../../../join/hull'
import { flattenPath } from '../../../outline/flatten'
import type { Path } from '../../../outline/path'
import { drop, dropCodec, type Dropping, poseMatrix, type Recording, seenAt } from '../../../physics/drop'
import { bodyShape } from '../../../physics/shape'
import { drawnTethers, hungFromAbove, type Tether, withTethers } from '../../../physics/tethers'
import { solidOfThing } from '../../../physics/things'
import type { Apart } from '../../../repeat/apart'
import { thingWeights } from '../../../repeat/thing-mask'
import { assemblyBounds, placedUnits } from '../../../solid/assembly'
import { NONE } from '../../../solid/labels'
import { apply, UNMOVED } from '../../../solid/operations'
import type { Solid } from '../../../solid/solid'
import { plain } from '../../meta'
import { apartInStep } from '../../shared/apart'
import { forceMarks } from '../../shared/force-marks'
import { allMarks, floorMarks, hingeMarks, ropeMarks } from '../../shared/hang-marks'
import { airOf, beyond, forcesOf, limitSaid, obstaclesOf, solidsIn, surroundingsOf, tooMuch } from '../../shared/physics'
import { THINGS } from '../../shared/physics-fields'
import { Recordings, thingsKey } from '../../shared/recordings'
import { type Evaluate, failed, type StepContext, type StepIssue } from '../../step'
import type { dropParams } from './schema'

export const evaluate: Evaluate<typeof dropParams> = async (input, params, context) => {
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
    air: airOf(params, context.overTime?.wind),
    forces: forcesOf(params, box, context.overTime?.power),
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
      seenAt(params.shown === 'bodies' ? await asBodies(apart, context.breathe) : apart, recording, params.at),
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
    ...allMarks(
      floorMarks(params, box),
      params.lines.length === 0 ? ropeMarks(tethers, 'rope') : {},
      params.hang === 'hinge'
        ? hingeMarks(
            apart.things.map((thing) => thing.box),
            params.edge,
          )
        : {},
      forceMarks(params, how.air, box),
    ),
    told: `${count.toLocaleString('en')} ${THINGS[params.by]}${recording.rest === undefined ? '' : `, at rest after ${plain(recording.rest)} s`}${recording.glued > 0 ? `; ${recording.parted} of ${recording.glued} glued places gave way` : ''}`,
  }
}

/** A drawn rope is fast to what its end lies this near, in its own thicknesses. */
const TIED = 2

type Params = z.infer<typeof dropParams>

const bodies = new WeakMap<Apart, Apart>()

/** The same things, each made up of the convex bodies that it is taken for. */
async function asBodies(apart: Apart, breathe: StepContext['breathe']): Promise<Apart> {
  const before = bodies.get(apart)
  if (before) return before
  const { assembly } = apart
  const parts: Solid[][] = []
  for (const thing of apart.things) {
    parts.push(
      bodyShape(solidOfThing(apart, thing)).parts.map((part) =>
        hullOf(
          Array.from({ length: part.length / 3 }, (_, i) => [part[3 * i], part[3 * i + 1], part[3 * i + 2]] as const),
          assembly.lattice,
        ),
      ),
    )
    await breathe()
  }
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
