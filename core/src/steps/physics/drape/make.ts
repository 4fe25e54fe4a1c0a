import { z } from 'zod'
import { hashJson } from '../../../cache/hash'
import { clothAt, clothAtRest, clothPoints, drape, type Draping, MOST_POINTS, turned, turnedBack } from '../../../physics/drape'
import { pointCodec, secondsFor } from '../../../physics/recording'
import { skinMask } from '../../../physics/skin-mask'
import type { Apart } from '../../../repeat/apart'
import { asAssembly } from '../../../repeat/assemble'
import { type Assembly, assemblyBounds, besideAssembly } from '../../../solid/assembly'
import { type Solid, solidBounds } from '../../../solid/solid'
import { plain } from '../../meta'
import { apartInStep } from '../../shared/apart'
import { forceMarks } from '../../shared/force-marks'
import { allMarks, floorMarks } from '../../shared/hang-marks'
import { frameOf, mendedSaid } from '../../shared/frames'
import { MASK_NOWHERE } from '../../shared/masks'
import { airOf, beyond, forcesOf, limitSaid, obstaclesOf, solidsIn, surroundingsOf, tooMuch } from '../../shared/physics'
import { Recordings, thingsKey } from '../../shared/recordings'
import { type Evaluate, failed, type StepContext } from '../../step'
import type { drapeParams } from './schema'

export const evaluate: Evaluate<typeof drapeParams> = async (input, params, context) => {
  const value = solidsIn('Drape', input)
  if ('ok' in value) return value
  // parts that are not connected stand for themselves
  const things = apartInStep(value, 'part')
  if ('ok' in things) return things
  const whole = asAssembly(value)
  const obstacles = obstaclesOf(context).map((solid) => ({ ...solid, positions: turned(solid.positions, params.falls) }))
  const refused = tooMuch(things.things.length, obstacles)
  if (refused) return refused
  const own = assemblyBounds(whole)
  const air = airOf(params)
  const how = drapingOf(params, own, obstacles, context.overTime)
  const [columns, rows] = clothPoints(how)
  if (columns * rows > MOST_POINTS) return tooFine(params.edge, columns * rows)
  const longest = secondsFor(columns * rows)
  if (params.length > longest)
    return failed('too-long', `So fine a cloth can be followed for ${longest} s.`, 'Follow it for less time, or take larger squares.', 'length')
  const { mask, does } = params
  const acts = mask.list.length > 0
  const by = acts ? skinMask(clothAtRest(how), columns * rows, mask, does) : undefined
  const key = acts ? hashJson([thingsKey(things), mask, does]) : thingsKey(things)
  const recording = await recordings.of(key, how, context, (work) => drape(things, how, work, by))
  if (!recording) return failed('blown-up', 'It cannot be followed: the cloth flies apart.', 'Take larger squares, or make it softer.', 'edge')
  const cloth = clothAt(recording, how, params.at)
  const frame = await frameOf(alone(cloth), () => cloth, Math.min(params.thick / 2, params.edge / 2), context)
  if (!frame.ok) return frame
  return {
    ok: true,
    value: params.show === 'cloth' ? frame.assembly : besideAssembly(whole, frame.assembly),
    issues: [
      ...(does === 'limit' ? limitSaid(params, by?.nowhere === true) : by?.nowhere ? [MASK_NOWHERE] : []),
      ...beyond(params.at, params.length),
      ...mendedSaid(frame.mended),
    ],
    told: `${(columns * rows).toLocaleString('en')} points`,
    ...allMarks(
      floorMarks(params, solidBounds(turned(own, params.falls)), (at) => Array.from(turnedBack(at, params.falls)) as [number, number, number]),
      forceMarks(params, air, own),
    ),
  }
}

/** How the cloth lies and falls over what has such bounds. */
function drapingOf(
  params: z.infer<typeof drapeParams>,
  own: ReturnType<typeof assemblyBounds>,
  obstacles: readonly Solid[],
  overTime?: StepContext['overTime'],
): Draping {
  const box = solidBounds(turned([own[0], own[1], own[2], own[3], own[4], own[5]], params.falls))
  const air = airOf(params, overTime?.wind)
  return {
    ...surroundingsOf(params, box, obstacles),
    falls: params.falls,
    friction: params.friction,
    bounce: 0,
    cloth: {
      x: box[0] - params.over,
      z: box[2] - params.over,
      y: box[4] + params.above,
      wide: box[3] - box[0] + 2 * params.over,
      deep: box[5] - box[2] + 2 * params.over,
    },
    edge: params.edge,
    thick: params.thick,
    stiffness: params.stiffness / 100,
    held: params.held,
    air: { ...air, speed: Array.from(turned(air.speed, params.falls)) as [number, number, number] },
    forces: forcesOf({ ...params, spot: params.spot && (Array.from(turned(params.spot, params.falls)) as [number, number, number]) }, box, overTime?.power),
    seconds: params.length,
  }
}

const tooFine = (edge: number, points: number) =>
  failed(
    'too-fine',
    `Squares of ${plain(edge)} mm are too many for so large a cloth.`,
    `Take larger ones, such as ${plain(Math.ceil(10 * edge * Math.sqrt(points / MOST_POINTS)) / 10)} mm.`,
    'edge',
  )

const recordings = new Recordings('drape', pointCodec)

const alone = (cloth: Solid): Apart => ({
  assembly: asAssembly(cloth),
  things: [{ order: Infinity, lot: 0, letters: [], entries: [0], box: solidBounds(cloth.positions) }],
  joined: 0,
})

/** The cloth before it falls. */
export const maskedOn = (value: Solid | Assembly, params: z.infer<typeof drapeParams>): Solid | undefined => {
  const how = drapingOf(params, assemblyBounds(asAssembly(value)), [])
  const [columns, rows] = clothPoints(how)
  return columns * rows > MOST_POINTS ? undefined : clothAtRest(how)
}
