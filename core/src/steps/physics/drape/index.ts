import { z } from 'zod'
import { CLOTH_HELD, clothAt, clothPoints, drape, type Draping, MOST_POINTS, turned } from '../../../physics/drape'
import { pointCodec, secondsFor } from '../../../physics/recording'
import type { Apart } from '../../../repeat/apart'
import { asAssembly } from '../../../repeat/assemble'
import { assemblyBounds, besideAssembly } from '../../../solid/assembly'
import { type Solid, solidBounds } from '../../../solid/solid'
import { meta, plain } from '../../meta'
import { apartInStep } from '../../shared/apart'
import { forceMarks } from '../../shared/force-marks'
import { frameOf, mendedSaid } from '../../shared/frames'
import {
  airOf,
  beyond,
  bounded,
  forceFields,
  forcesOf,
  gravityFields,
  momentFields,
  obstaclesOf,
  solidsIn,
  surroundingFields,
  surroundingsOf,
  tooMuch,
  windFields,
} from '../../shared/physics'
import { Recordings, thingsKey } from '../../shared/recordings'
import { seedParam } from '../../shared/seed'
import { defineStep, failed } from '../../step'

const drapeParams = z.object({
  ...momentFields(2, 3),
  falls: z
    .enum(['down', 'back'])
    .default('down')
    .meta(meta({ title: 'Falls', labels: ['Down over their tops', 'Back onto their faces'] })),
  over: bounded('Hangs over', 0, 2000, 25, { unit: 'mm', step: 5, description: 'Beyond what it falls on, on all sides.' }),
  above: bounded('From above', 0.5, 2000, 15, { unit: 'mm', step: 5 }),
  thick: bounded('Thickness', 0.1, 20, 1, { unit: 'mm', step: 0.1, most: 5 }),
  stiffness: bounded('Stiffness', 0, 100, 20, { unit: '%', step: 5, description: 'Silk at 0, felt at 100.' }),
  edge: bounded('Squares of', 0.3, 50, 2, { unit: 'mm', step: 0.25, most: 10, description: 'Finer ones fold more finely, and take longer.' }),
  held: z
    .enum(CLOTH_HELD)
    .default('free')
    .meta(meta({ title: 'Held', labels: ['Not', 'At its corners', 'At its far side', 'At both ends'] })),
  show: z
    .enum(['both', 'cloth'])
    .default('both')
    .meta(meta({ title: 'Result', labels: ['Cloth and what is under it', 'The cloth alone'] })),
  ...surroundingFields('below'),
  friction: bounded('Friction', 0, 2, 0.8, { step: 0.05, advanced: true }),
  ...windFields(),
  ...forceFields,
  ...gravityFields,
  seed: seedParam(),
})

export const drapeStep = defineStep({
  kind: 'drape',
  version: 1,
  family: 'Physics',
  title: 'Drape',
  summary: 'A cloth falls over letters and hangs in folds, with a thickness of its own; the same every time.',
  takes: ['solid', 'assembly'],
  gives: 'assembly',
  params: drapeParams,
  moves: ['at'],
  describe: ({ thick, at, stiffness }) => `${plain(thick)} mm thick, ${stiffness < 35 ? 'soft' : stiffness < 70 ? 'firm' : 'stiff'}, after ${plain(at)} s`,
  async evaluate(input, params, context) {
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
    const box = solidBounds(turned([own[0], own[1], own[2], own[3], own[4], own[5]], params.falls))
    const air = airOf(params)
    const how: Draping = {
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
      forces: forcesOf({ ...params, spot: params.spot && (Array.from(turned(params.spot, params.falls)) as [number, number, number]) }, box),
      seconds: params.length,
    }
    const [columns, rows] = clothPoints(how)
    if (columns * rows > MOST_POINTS)
      return failed(
        'too-fine',
        `Squares of ${plain(params.edge)} mm are too many for so large a cloth.`,
        `Take larger ones, such as ${plain(Math.ceil(10 * params.edge * Math.sqrt((columns * rows) / MOST_POINTS)) / 10)} mm.`,
        'edge',
      )
    const longest = secondsFor(columns * rows)
    if (params.length > longest)
      return failed('too-long', `So fine a cloth can be followed for ${longest} s.`, 'Follow it for less time, or take larger squares.', 'length')
    const recording = await recordings.of(thingsKey(things), how, context, (work) => drape(things, how, work))
    if (!recording) return failed('blown-up', 'It cannot be followed: the cloth flies apart.', 'Take larger squares, or make it softer.', 'edge')
    const cloth = clothAt(recording, how, params.at)
    const frame = await frameOf(alone(cloth), () => cloth, Math.min(params.thick / 2, params.edge / 2), context)
    if (!frame.ok) return frame
    return {
      ok: true,
      value: params.show === 'cloth' ? frame.assembly : besideAssembly(whole, frame.assembly),
      issues: [...beyond(params.at, params.length), ...mendedSaid(frame.mended)],
      told: `${(columns * rows).toLocaleString('en')} points`,
      ...forceMarks(params, air, own),
    }
  },
})

const recordings = new Recordings('drape', pointCodec)

const alone = (cloth: Solid): Apart => ({
  assembly: asAssembly(cloth),
  things: [{ order: Infinity, lot: 0, letters: [], entries: [0], box: solidBounds(cloth.positions) }],
  joined: 0,
})
