import type { z } from 'zod'
import { loadManifold } from '../../../kernel/manifold'
import { latticeFor, snap } from '../../../outline/lattice'
import type { Outline, Region } from '../../../outline/outline'
import { regionPolygons } from '../../../outline/polygon'
import { balloonAt, type Envelope, fill, type Filling, MOST_CORNERS } from '../../../physics/balloon'
import { type Foil, foilOf } from '../../../physics/foil'
import { pointCodec, type PointRecording, secondsFor } from '../../../physics/recording'
import { skinMask } from '../../../physics/skin-mask'
import { type Tether, withTethers } from '../../../physics/tethers'
import type { Apart, Thing } from '../../../repeat/apart'
import { assemblyBounds, bakedAssembly, placedUnits } from '../../../solid/assembly'
import { BACK, FACE, labelTable, PLAIN_ROW } from '../../../solid/labels'
import { UNMOVED } from '../../../solid/operations'
import { type Solid, solidBounds } from '../../../solid/solid'
import { plain } from '../../meta'
import { letterFinder, named, strokesLeft } from '../../shared/forming'
import { forceMarks } from '../../shared/force-marks'
import { allMarks, ropeMarks } from '../../shared/hang-marks'
import { frameOf, mendedSaid } from '../../shared/frames'
import { MASK_NOWHERE } from '../../shared/masks'
import { airOf, beyond, limitSaid, obstaclesOf, tooMuch } from '../../shared/physics'
import { Recordings } from '../../shared/recordings'
import { type Evaluate, failed, type StepIssue } from '../../step'
import type { balloonParams } from './schema'

export const evaluate: Evaluate<typeof balloonParams> = async (input, params, context) => {
  if (input?.kind !== 'outline') return failed('no-outline', 'Balloon needs an outline to work on.', 'Put a source such as Lettering before it.')
  if (input.regions.length === 0) return failed('no-areas', 'The outline has no closed shapes to fill.', 'Close the strokes, or set some words.')
  await loadManifold()
  const made: { region: Region; foil: Foil }[] = []
  const flat: Region[] = []
  let corners = 0
  for (const region of input.regions) {
    const key = `foil:${params.edge}:${input.lattice}:${region.key}`
    if (!context.memo.peek(key)) await context.breathe()
    const foil = context.memo.get(key, () =>
      foilOf(
        regionPolygons(region, Math.min(0.05, params.edge / 10), input.lattice).rings.map(({ xy }) => xy),
        params.edge,
        input.lattice,
      ),
    )
    if (!foil) flat.push(region)
    else {
      made.push({ region, foil })
      corners += foil.points.length / 3
    }
    if (corners > MOST_CORNERS)
      return failed('too-fine', `Triangles of ${plain(params.edge)} mm are too many here.`, `Take larger ones, such as ${plain(2 * params.edge)} mm.`, 'edge')
  }
  if (made.length === 0) return failed('too-coarse', `The shapes are finer than triangles of ${plain(params.edge)} mm.`, 'Take smaller triangles.', 'edge')
  const longest = secondsFor(corners)
  if (params.length > longest)
    return failed('too-long', `So fine a skin can be followed for ${longest} s.`, 'Follow it for less time, or take larger triangles.', 'length')
  const { apart, envelopes } = envelopesOf(input, made)
  const obstacles = obstaclesOf(context)
  const refused = tooMuch(0, obstacles)
  if (refused) return refused
  const tied = params.tie === 'string'
  const how: Filling = {
    pressure: (FULL * params.pressure) / 100,
    stretch: params.skin === 'rubber' ? params.stretch / 100 : 0,
    crease: 10 ** (-2 + params.creases / 50),
    metre: params.metre,
    side: params.edge,
    ...(tied ? { tied: { length: params.string, lift: params.lift, air: airOf(params, context.overTime?.wind) } } : {}),
    obstacles,
    seconds: params.length,
  }
  // the same words, made of the same regions where they stand
  const { mask, does } = params
  const acts = mask.list.length > 0
  const key = JSON.stringify([params.edge, input.lattice, made.map(({ region }) => [region.key, region.dx, region.dy]), ...(acts ? [mask, does] : [])])
  const by = acts ? skinMask(bakedAssembly(apart.assembly), corners, mask, does) : undefined
  const recording = await recordings.of(key, how, context, (work) => fill(envelopes, how, work, by))
  if (!recording) return failed('blown-up', 'It cannot be followed: the skin flies apart.', 'Take less pressure, or let it crease less.', 'pressure')
  const frame = await frameOf(apart, (i) => skinSolid(apart.assembly.units[i], balloonAt(envelopes, i, recording, params.at)), params.edge / 2, context)
  if (!frame.ok) return frame
  const unmasked =
    does === 'limit' ? limitSaid({ force: 'none', air: tied ? params.air : 'still', mask }, by?.nowhere === true) : by?.nowhere ? [MASK_NOWHERE] : []
  const issues: StepIssue[] = [...unmasked, ...strokesLeft(input), ...beyond(params.at, params.length), ...mendedSaid(frame.mended)]
  if (flat.length > 0)
    issues.push({
      code: 'left-out',
      severity: 'warning',
      message: `${named(flat, input)} cannot be divided so and ${flat.length === 1 ? 'is' : 'are'} left out.`,
      remedy: 'Take smaller triangles.',
      field: 'edge',
    })
  return {
    ok: true,
    value: tied ? onStrings(frame.assembly, envelopes, recording, params) : frame.assembly,
    issues,
    ...(how.tied ? allMarks(ropeMarks(tethersOf(envelopes, params.string), 'string'), forceMarks(params, how.tied.air, assemblyBounds(apart.assembly))) : {}),
    told: `${corners.toLocaleString('en')} corners${recording.rest === undefined ? '' : `, at rest after ${plain(recording.rest)} s`}`,
  }
}

/** Pa that 100 % stand for, on letters a metre high. */
const FULL = 40

type Params = z.infer<typeof balloonParams>

const recordings = new Recordings('balloon', pointCodec)

/** Every envelope where its letter stands, and as a solid each, flat as it is before it is filled. */
function envelopesOf(outline: Outline, made: readonly { readonly region: Region; readonly foil: Foil }[]): { apart: Apart; envelopes: Envelope[] } {
  const envelopes: Envelope[] = []
  const units: Solid[] = []
  const things: Thing[] = []
  const letters = outline.letters.map(({ text }) => text)
  const layers = outline.layers.map(({ name, colour }) => ({ name, ...(colour ? { colour } : {}) }))
  for (const { region, foil } of made) {
    const lift = snap(outline.layers[region.layer]?.lift ?? 0, outline.lattice)
    const points = foil.points.map((v, i) => v + [region.dx, region.dy, lift][i % 3])
    envelopes.push({ foil: { ...foil, points }, valve: lowest(points, foil.border) })
    const memberAt = letterFinder(region, 0.1, outline.lattice)
    const rows = region.members.flatMap(({ letter }) => [FACE, BACK].map((group) => ({ ...PLAIN_ROW, group, letter, layer: region.layer })))
    const count = foil.triangles.length / 3
    const surface = Uint32Array.from({ length: count }, (_, t) => {
      const [x, y] = [0, 1].map((k) => [0, 1, 2].reduce((sum, c) => sum + foil.points[3 * foil.triangles[3 * t + c] + k], 0) / 3)
      return 2 * Math.max(0, memberAt(x, y)) + (t < count / 2 ? 0 : 1)
    })
    units.push({
      kind: 'solid',
      positions: points,
      indices: foil.triangles,
      surface,
      labels: labelTable(rows),
      attributes: {},
      letters,
      layers,
      bands: [],
      looks: [],
      lattice: outline.lattice,
    })
    const own = region.members.map(({ letter }) => letter).filter((letter) => letter >= 0)
    things.push({ order: own[0] ?? Infinity, lot: things.length, letters: own, entries: [things.length], box: solidBounds(points) })
  }
  return {
    envelopes,
    apart: {
      assembly: {
        ...placedUnits(
          units,
          [...units.keys()],
          units.map(() => UNMOVED),
        ),
        letters,
      },
      things,
      joined: 0,
    },
  }
}

/** The corner on the border that a string is tied to: low, and near the middle. */
function lowest(points: Float64Array, border: number): number {
  const box = solidBounds(points)
  let [best, found] = [Infinity, 0]
  for (let v = 0; v < border; v++) {
    const cost = points[3 * v + 1] + 0.4 * Math.abs(points[3 * v] - (box[0] + box[3]) / 2)
    if (cost < best) [best, found] = [cost, v]
  }
  return found
}

/** An envelope's solid with its corners elsewhere, mm. */
function skinSolid(solid: Solid, at: Float64Array): Solid {
  const lattice = Math.max(solid.lattice, latticeFor(solidBounds(at).reduce((most, v) => Math.max(most, Math.abs(v)), 0)))
  return { ...solid, positions: at.map((v) => snap(v, lattice) + 0), lattice }
}

/** The strings as they are at first, straight down from where the balloons are tied. */
const tethersOf = (envelopes: readonly Envelope[], length: number): Tether[] =>
  envelopes.map(({ foil, valve }) => {
    const [x, y, z] = foil.points.subarray(3 * valve, 3 * valve + 3)
    return { from: { at: [x, y - length, z] }, to: { at: [x, y, z] }, length }
  })

function onStrings(assembly: Parameters<typeof withTethers>[0], envelopes: readonly Envelope[], recording: PointRecording, params: Params) {
  const tethers = tethersOf(envelopes, params.string).map((tether, i): Tether => {
    const { valve } = envelopes[i]
    const [x, y, z] = balloonAt(envelopes, i, recording, params.at).subarray(3 * valve, 3 * valve + 3)
    return { ...tether, to: { at: [x, y, z] } }
  })
  return withTethers(assembly, tethers, 'rope', params.thick, () => undefined, { knots: true })
}
