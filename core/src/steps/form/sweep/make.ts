import { checkMesh } from '../../../check/check'
import { loadManifold } from '../../../kernel/manifold'
import { letterOf, regionArea, regionFrom } from '../../../outline/areas'
import { flattenPath } from '../../../outline/flatten'
import { regionPaths } from '../../../outline/outline'
import type { Path } from '../../../outline/path'
import { regionPolygons } from '../../../outline/polygon'
import { bent } from '../../../outline/round'
import { strokeOutlines } from '../../../outline/stroker'
import { uniteRegions } from '../../../outline/unite'
import { extrudePolygons } from '../../../solid/extrude'
import { type SweepRun, unitedSweeps, UNITING } from '../../../join/unite-stretches'
import { NONE } from '../../../solid/labels'
import { joinPlaced, type Placed } from '../../../solid/operations'
import type { Solid } from '../../../solid/solid'
import { forMeetingBoxes } from '../../../repeat/boxes'
import { ringAt, sweepSkin } from '../../../solid/sweep'
import { formRegions, letterFinder } from '../../shared/forming'
import { lengthwise, type Lengthwise } from './course'
import type { SweepParams, sweepParams } from './schema'
import { type Evaluate, failed, type StepContext, type StepIssue } from '../../step'
import { crossingsOf, sectionFromOutline, sectionOf, stationsOf } from './stations'

export const evaluate: Evaluate<typeof sweepParams> = async (input, params, context) => {
  if (input?.kind !== 'outline') return failed('no-outline', 'Sweep needs an outline to work on.', 'Put a source such as Drawing before it.')
  const lines: { path: Path; letter: number; layer: number }[] = []
  if (params.along !== 'outlines') for (const path of input.strokes) lines.push({ path, letter: -1, layer: 0 })
  if (params.along !== 'strokes')
    for (const region of input.regions) for (const path of regionPaths(region)) lines.push({ path, letter: letterOf(region), layer: region.layer })
  if (lines.length === 0)
    return failed(
      'no-strokes',
      params.along === 'outlines' ? 'There are no outlines to sweep along.' : 'The outline has no open strokes to sweep along.',
      'Draw some, or sweep along outlines.',
      'along',
    )
  await loadManifold()
  const [other] = context.inputs.other ?? []
  const section = params.section === 'piece' ? (other?.kind === 'outline' ? sectionFromOutline(other) : undefined) : sectionOf(params.section)
  if (!section)
    return failed('no-section', 'No piece has been chosen whose outline is the section.', 'Choose a piece with a closed shape, or another section.', 'other')
  const flats = lines.map(({ path }) => flattenPath(bent(path, params.bend), { tolerance: params.tolerance, maxTurn: 8 }))
  const lifts = params.crossings === 'lifted' ? crossingsOf(flats) : []
  const runs = flats.map((flat, i) => ({
    section,
    closed: flat.closed,
    letter: lines[i].letter,
    layer: lines[i].layer,
    stations: stationsOf(
      flat,
      params,
      lifts.filter((lift) => lift.line === i),
    ),
  }))
  /** the sweeps of runs that do not cross themselves */
  const placedOf: (Placed | undefined)[] = []
  const crossed: number[] = []
  for (const [i, run] of runs.entries()) {
    await context.breathe()
    if (run.stations.length < 2) continue
    const solid = sweepSkin(section, run.stations, run.closed, input.lattice, lines[i].letter >= 0 ? 0 : NONE)
    if (solid.indices.length === 0) continue
    if (checkMesh(solid).sound) placedOf[i] = { solid, dx: 0, dy: 0, dz: 0, letters: lines[i].letter >= 0 ? [lines[i].letter] : [], layer: lines[i].layer }
    else crossed.push(i)
    context.progress((0.6 * (i + 1)) / runs.length)
  }
  const placed = placedOf.filter((one) => one !== undefined)
  let solid = joined(input, placed)
  const issues: StepIssue[] = []
  const spoilt = crossed.length > 0 || (placed.length > 1 && !checkMesh(solid).sound)
  if (spoilt && isBand(params)) {
    // an upright bar of one width is the band that its line covers, made deep: the plane's own union keeps it exact
    const size = lengthwise(params, false).size(0)
    const style = { width: params.width * size, cap: params.ends === 'round' ? 'round' : 'flat', join: 'mitre' } as const
    const bars = lines.flatMap(({ path, letter, layer }) => {
      const outlines = strokeOutlines([bent(path, params.bend)], style, 0.01)
      return outlines.length > 0 ? [regionFrom(outlines, letter, layer)] : []
    })
    const regions = uniteRegions(bars.map((region) => ({ region, area: regionArea(region) })))
    const outline = { ...input, regions, layers: input.layers.length > 0 ? input.layers : [{ id: 'bar', name: 'Bar' }] }
    const depth = params.height * size
    solid = (
      await formRegions(outline, context, () => ({
        key: `sweep-band:${depth}:${params.tolerance}:${input.lattice}`,
        make: (region) =>
          extrudePolygons(regionPolygons(region, params.tolerance, input.lattice), {
            depth,
            tolerance: params.tolerance,
            letterAt: letterFinder(region, params.tolerance, input.lattice),
          }),
      }))
    ).solid
  } else if (spoilt && section.hollow) {
    return failed(
      'crosses-itself',
      'The bar crosses itself, and a section with hollows cannot be united there.',
      'Give a smaller section, rounder corners, or one without hollows.',
      'width',
    )
  } else if (spoilt) {
    // what crosses itself, or others, is united stretch by stretch; the rest stays as it is
    const names = { letters: input.letters.map((l) => l.text), layers: layersOf(input) }
    const clear: Placed[] = []
    for (const group of meetingRuns(
      runs,
      [...runs.keys()].filter((i) => placedOf[i] || crossed.includes(i)),
    )) {
      const own = group.map((i) => placedOf[i]).filter((one) => one !== undefined)
      if (own.length === group.length && (own.length === 1 || checkMesh(joined(input, own)).sound)) {
        clear.push(...own)
        continue
      }
      const whole = await unitedGroup(
        group.map((i) => runs[i]),
        names,
        input.lattice,
        context,
      )
      if ('message' in whole)
        return failed(
          'crosses-itself',
          `The bar crosses itself where the line bends more tightly than the section is wide, and could not be united: ${whole.message}`,
          'Give a smaller section, rounder corners, or fewer crossings.',
          'width',
        )
      clear.push({ solid: whole, dx: 0, dy: 0, dz: 0, letters: names.letters.map((_, letter) => letter) })
    }
    if (params.crossings === 'lifted' && lifts.length > 0)
      issues.push({
        code: 'still-meeting',
        severity: 'warning',
        message: 'Some stretches still run into each other; those are united.',
        remedy: 'Give a smaller section, rounder corners, or more room between crossings.',
        field: 'crossings',
      })
    solid = joined(input, clear)
  }
  if (solid.indices.length === 0) return failed('vanished', 'The lines are too short for a bar.', 'Draw longer ones.', 'along')
  return { ok: true, value: solid, issues }
}

/** Runs in groups of which a stretch of one may meet a stretch of another, by their boxes. */
function meetingRuns(runs: readonly SweepRun[], used: readonly number[]): number[][] {
  const owner: number[] = []
  const boxes: number[] = []
  for (const i of used) {
    const { section, stations, closed } = runs[i]
    const rings = stations.map((station) =>
      ringAt(section, { ...station, width: (1 + GROWN.share) * station.width, height: (1 + GROWN.share) * station.height }, 2 ** -14),
    )
    for (let k = 0; k < rings.length - (closed ? 0 : 1); k++) {
      const box = [Infinity, Infinity, Infinity, -Infinity, -Infinity, -Infinity]
      for (const ring of [rings[k], rings[(k + 1) % rings.length]])
        for (const [c, v] of ring.entries()) {
          box[c % 3] = Math.min(box[c % 3], v - GROWN.reach)
          box[3 + (c % 3)] = Math.max(box[3 + (c % 3)], v + GROWN.reach)
        }
      owner.push(i)
      boxes.push(...box)
    }
  }
  const groupOf = new Map(used.map((i) => [i, new Set([i])]))
  forMeetingBoxes(Float64Array.from(boxes), 0, (a, b) => {
    const [one, other] = [groupOf.get(owner[a]), groupOf.get(owner[b])]
    if (!one || !other || one === other) return
    for (const i of other) {
      one.add(i)
      groupOf.set(i, one)
    }
  })
  return [...new Set(groupOf.values())].map((group) => [...group].toSorted((a, b) => a - b))
}

/** How much larger stretches may become when they are united: a share of them, and mm. */
const GROWN = { share: 0.02, reach: 0.06 }

/** Runs that cross themselves or each other as one solid, by whichever way of uniting is sound; else what the last one is told of. */
async function unitedGroup(
  runs: readonly SweepRun[],
  names: Parameters<typeof unitedSweeps>[1],
  lattice: number,
  context: Pick<StepContext, 'breathe'>,
): Promise<Solid | { readonly message: string }> {
  let message = ''
  let second: Solid | undefined
  for (const way of UNITING) {
    // what only lies against each other does so until it reaches in
    if (second && way.reach === 0) continue
    await context.breathe()
    const { solid, torn } = unitedSweeps(runs, names, lattice, way)
    const { sound, findings } = checkMesh(solid)
    if (sound && !torn) return solid
    if (sound) second ??= solid
    else message = findings[0]?.message ?? ''
  }
  return second ?? { message }
}

/** Whether the section is an upright box that stays as it is all along. */
const isBand = (p: SweepParams): boolean => p.section === 'square' && p.crossings === 'united' && p.ends !== 'pointed' && isSteady(lengthwise(p, false))

/** Whether nothing changes along the line, and nothing is turned or shifted. */
const isSteady = ({ steady, turning, turn, shift }: Lengthwise): boolean => steady && turning === 0 && turn(0) === 0 && shift(0) === 0

const layersOf = (input: { layers: readonly { name: string; colour?: string }[] }) =>
  input.layers.length > 0 ? input.layers.map(({ name, colour }) => ({ name, ...(colour ? { colour } : {}) })) : [{ name: 'Bar' }]

const joined = (input: Parameters<typeof layersOf>[0] & { letters: readonly { text: string }[]; lattice: number }, placed: Placed[]): Solid =>
  joinPlaced(
    placed,
    input.letters.map((l) => l.text),
    input.lattice,
    layersOf(input),
  )
