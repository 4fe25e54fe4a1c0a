import { z } from 'zod'
import { pieceReference } from '../../document/references'
import { checkMesh } from '../../check/check'
import { loadManifold } from '../../kernel/manifold'
import { letterOf, regionArea, regionFrom } from '../../outline/areas'
import { flattenPath } from '../../outline/flatten'
import { regionPaths } from '../../outline/outline'
import { type Path, pathArea } from '../../outline/path'
import { regionPolygons } from '../../outline/polygon'
import { roundCorners } from '../../outline/round'
import { strokeOutlines } from '../../outline/stroker'
import { uniteRegions } from '../../outline/unite'
import { extrudePolygons } from '../../solid/extrude'
import { joinPlaced, NO_LETTER, type Placed, type Solid } from '../../solid/solid'
import { sweepSkin, UNITING, unitedSweeps } from '../../solid/sweep'
import { curvesWithin, millimetres } from '../extrude/schema'
import { formRegions, letterFinder } from '../forming'
import { meta, plain } from '../meta'
import { coursePoints, type Lengthwise, lengthwise } from './course'
import { defineStep, failed, type StepIssue } from '../step'
import { crossingsOf, SECTIONS, sectionFromOutline, sectionOf, stationsOf } from './stations'

const BY_VALUES = { field: 'course', is: ['values'] } as const
const BY_CURVES = { field: 'course', is: ['curves'] } as const

const share = (title: string, fallback: number, description?: string) =>
  z
    .number(`${title} must be a number.`)
    .min(0)
    .max(400, 'A section grows to four times its size at most.')
    .default(fallback)
    .meta(meta({ title, unit: '%', step: 5, when: BY_VALUES, ...(description ? { description } : {}) }))

const sweepParams = z.object({
  section: z
    .enum(SECTIONS)
    .default('round')
    .meta(meta({ title: 'Section', labels: ['Round', 'Square', 'Diamond', 'Triangle', 'Hexagon', 'Half round', 'Of a piece'] })),
  other: pieceReference.default({ piece: '' }).meta(meta({ title: 'Section', control: 'piece', wants: 'outline', when: { field: 'section', is: ['piece'] } })),
  width: millimetres('The width', 0.1, 500)
    .default(6)
    .meta(meta({ title: 'Width', unit: 'mm', step: 0.5, pull: 'right', pullBy: 2 })),
  height: millimetres('The height', 0.1, 500)
    .default(6)
    .meta(meta({ title: 'Height', unit: 'mm', step: 0.5, pull: 'forward', pullBy: 'scale' })),
  along: z
    .enum(['strokes', 'outlines', 'both'])
    .default('strokes')
    .meta(meta({ title: 'Along', labels: ['Strokes', 'Outlines', 'Both'] })),
  course: z
    .enum(['values', 'curves'])
    .default('values')
    .meta(meta({ title: 'Changes', labels: ['By values', 'By curves'], description: 'How size, turn and shift go along the length.' })),
  sizeCurve: coursePoints('The size', 0, 400)
    .default([
      [0, 100],
      [1, 100],
    ])
    .meta(meta({ title: 'Size', unit: '%', step: 5, control: 'course', most: 200, when: BY_CURVES })),
  turnCurve: coursePoints('The turn', -3600, 3600)
    .default([
      [0, 0],
      [1, 0],
    ])
    .meta(meta({ title: 'Turn', unit: '°', step: 5, control: 'course', most: 180, when: BY_CURVES })),
  shiftCurve: coursePoints('The shift', -500, 500)
    .default([
      [0, 0],
      [1, 0],
    ])
    .meta(meta({ title: 'Shift', unit: 'mm', step: 0.5, control: 'course', most: 20, when: BY_CURVES })),
  sizeStart: share('Size at the start', 100, 'Of the section; 0 comes to a point.'),
  sizeMiddle: share('Size midway', 100),
  sizeEnd: share('Size at the end', 100),
  turnStart: z
    .number('The turn must be a number.')
    .min(-3600)
    .max(3600)
    .default(0)
    .meta(meta({ title: 'Turn at the start', unit: '°', step: 5, when: BY_VALUES })),
  turnEnd: z
    .number('The turn must be a number.')
    .min(-3600)
    .max(3600)
    .default(0)
    .meta(meta({ title: 'Turn at the end', unit: '°', step: 5, when: BY_VALUES, description: 'The section turns evenly from start to end.' })),
  shiftStart: z
    .number('The shift must be a number.')
    .min(-500)
    .max(500)
    .default(0)
    .meta(meta({ title: 'Shift at the start', unit: 'mm', step: 0.5, when: BY_VALUES, advanced: true, description: 'Sideways, to the left of the line.' })),
  shiftMiddle: z
    .number('The shift must be a number.')
    .min(-500)
    .max(500)
    .default(0)
    .meta(meta({ title: 'Shift midway', unit: 'mm', step: 0.5, when: BY_VALUES, advanced: true })),
  shiftEnd: z
    .number('The shift must be a number.')
    .min(-500)
    .max(500)
    .default(0)
    .meta(meta({ title: 'Shift at the end', unit: 'mm', step: 0.5, when: BY_VALUES, advanced: true })),
  ends: z
    .enum(['flat', 'round', 'pointed'])
    .default('round')
    .meta(meta({ title: 'Ends', labels: ['Flat', 'Round', 'Pointed'] })),
  bend: millimetres('The bend', 0, 500)
    .default(0)
    .meta(meta({ title: 'Corners bent by', unit: 'mm', step: 0.5, description: '0 mitres them.' })),
  crossings: z
    .enum(['united', 'lifted'])
    .default('united')
    .meta(meta({ title: 'Where lines cross', labels: ['United', 'Lifted over'] })),
  tolerance: curvesWithin,
})

export type SweepParams = z.infer<typeof sweepParams>

export const sweep = defineStep({
  kind: 'sweep',
  version: 1,
  family: 'Form',
  title: 'Sweep',
  summary: 'A section drawn along strokes, thicker and thinner, turning and shifting, as a pen or a ribbon would.',
  takes: 'outline',
  gives: 'solid',
  params: sweepParams,
  describe: ({ section, width, height, course, sizeStart, sizeMiddle, sizeEnd, ends }) =>
    `${section === 'half' ? 'Half round' : section === 'piece' ? 'A piece’s' : section.charAt(0).toUpperCase() + section.slice(1)} section, ${plain(width)} × ${plain(height)} mm${
      course === 'curves'
        ? ', along drawn curves'
        : sizeStart === 100 && sizeMiddle === 100 && sizeEnd === 100
          ? ''
          : `, ${plain(sizeStart)} to ${plain(sizeMiddle)} to ${plain(sizeEnd)} %`
    }, ${ends} ends`,

  refersTo: ({ section, other }) => (section === 'piece' && other.piece ? [{ ...other, wants: 'outline' }] : []),

  async evaluate(input, params, context) {
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
    const [other] = context.referred
    const section = params.section === 'piece' ? (other?.kind === 'outline' ? sectionFromOutline(other) : undefined) : sectionOf(params.section)
    if (!section)
      return failed('no-section', 'No piece has been chosen whose outline is the section.', 'Choose a piece with a closed shape, or another section.', 'other')
    const flats = lines.map(({ path }) => flattenPath(bent(path, params.bend), { tolerance: params.tolerance, maxTurn: 8 }))
    const lifts = params.crossings === 'lifted' ? crossingsOf(flats) : []
    const runs = flats.map((flat, i) => ({
      section,
      closed: flat.closed,
      stations: stationsOf(
        flat,
        params,
        lifts.filter((lift) => lift.line === i),
      ),
    }))
    const placed: Placed[] = []
    const crossed: number[] = []
    for (const [i, run] of runs.entries()) {
      await context.breathe()
      if (run.stations.length < 2) continue
      const solid = sweepSkin(section, run.stations, run.closed, input.lattice, lines[i].letter >= 0 ? 0 : NO_LETTER)
      if (solid.indices.length === 0) continue
      if (checkMesh(solid).sound) placed.push({ solid, dx: 0, dy: 0, dz: 0, letters: lines[i].letter >= 0 ? [lines[i].letter] : [], layer: lines[i].layer })
      else crossed.push(i)
      context.progress((0.6 * (i + 1)) / runs.length)
    }
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
      // what crosses itself, or others, is united stretch by stretch
      await context.breathe()
      const usable = runs.filter((run) => run.stations.length >= 2)
      let whole = unitedSweeps(usable, input.lattice)
      let report = checkMesh(whole)
      for (const way of UNITING.slice(1)) {
        if (report.sound) break
        await context.breathe()
        whole = unitedSweeps(usable, input.lattice, way)
        report = checkMesh(whole)
      }
      if (!report.sound)
        return failed(
          'crosses-itself',
          `The bar crosses itself where the line bends more tightly than the section is wide, and could not be united: ${report.findings[0]?.message ?? ''}`,
          'Give a smaller section, rounder corners, or fewer crossings.',
          'width',
        )
      if (params.crossings === 'lifted' && lifts.length > 0)
        issues.push({
          code: 'still-meeting',
          severity: 'warning',
          message: 'Some stretches still run into each other; those are united.',
          remedy: 'Give a smaller section, rounder corners, or more room between crossings.',
          field: 'crossings',
        })
      solid = { ...whole, layers: layersOf(input), letters: input.letters.map((l) => l.text) }
    }
    if (solid.indices.length === 0) return failed('vanished', 'The lines are too short for a bar.', 'Draw longer ones.', 'along')
    return { ok: true, value: solid, issues }
  },
})

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

const bent = (path: Path, radius: number): Path =>
  radius > 0 && path.closed ? roundCorners(path, { outer: radius, inner: radius, from: 12, side: pathArea(path) < 0 ? -1 : 1 }) : path
