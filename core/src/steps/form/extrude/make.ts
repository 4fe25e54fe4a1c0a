import { loadManifold } from '../../../kernel/manifold'
import { offsetRegions } from '../../../outline/grow'
import { type Outline, outlineBounds, type Region, regionPaths } from '../../../outline/outline'
import { controlBounds } from '../../../outline/path'
import { divideRings, type PolygonSet, regionPolygons } from '../../../outline/polygon'
import type { Division } from '../../../solid/even-caps'
import { extrudePolygons, type ExtrudeResult } from '../../../solid/extrude'
import type { Profile } from '../../../solid/profile'
import { approximateIssue, formRegions, letterFinder, named, placesOf, regionRidge, strokesLeft } from '../../shared/forming'
import { plain } from '../../meta'
import { type Evaluate, failed, type Fix, type StepContext, type StepIssue } from '../../step'
import { type ExtrudeParams, type extrudeParams, VERSION } from './schema'
import { type EdgeParams, edgeProfile, stoppedProfile } from '../../shared/edge'

export const evaluate: Evaluate<typeof extrudeParams> = async (input, params, context) => {
  if (input?.kind !== 'outline') return failed('no-outline', 'Extrude needs an outline to work on.', 'Put a source such as Lettering before it.')
  if (input.regions.length === 0) return failed('no-areas', 'The outline has no closed shapes to extrude.', 'Close the strokes, or set some words.')
  await loadManifold()
  const front = edgeProfile(params.front)
  if (front && 'message' in front) return failed('profile', front.message, front.remedy, 'front')
  const back = sameEdge(params.front, params.back) ? front : edgeProfile(params.back)
  if (back && 'message' in back) return failed('profile', back.message, back.remedy, 'back')
  for (const { name, from, to } of params.bands)
    if (to <= from)
      return failed('band', `The band “${name}” ends at ${plain(to)} mm, before it begins.`, 'Give an end that lies further in than the start.', 'bands')
  const grown = params.outset > 0 ? offsetRegions(input, params.outset, OUTSET_JOINS[params.corners], context.memo) : input
  const outline = grown.regions.length > 0 ? grown : input
  const stops = await flatStops(outline, params, context)
  const own = layerForms(outline, params)
  const keys = own.map((form) => JSON.stringify([form.params, input.lattice, stops]))
  const division = divisionOf(params)
  const { solid, results } = await formRegions<ExtrudeResult>(outline, context, (region) => {
    const k = own[region.layer] ? region.layer : 0
    const { params: values, scaled, lift } = own[k]
    return {
      key: `extrude@${VERSION}:${keys[k]}`,
      lift,
      make: () =>
        extrudePolygons(polygonsOf(region, values, outline.lattice), {
          depth: values.depth,
          front: stoppedProfile(scaled ? usable(values.front) : front, params.front.flat ?? 0, stops),
          back: stoppedProfile(back, params.back.flat ?? 0, stops),
          tolerance: values.tolerance,
          corners: values.corners,
          bands: values.bands,
          division,
          letterAt: letterFinder(region, values.tolerance, outline.lattice),
        }),
    }
  })
  if (solid.indices.length === 0) return failed('vanished', 'The shapes are too small to form a solid at this size.', 'Raise the cap height.', 'depth')
  return { ok: true, value: solid, issues: [...strokesLeft(input), ...reportIssues(outline, results, params)] }
}

const OUTSET_JOINS = { mitre: 'mitre', round: 'round', flat: 'square' } as const

const divisionOf = ({ division, divisionEdge }: ExtrudeParams): Division | undefined =>
  division === 'none' ? undefined : { pattern: division, edge: divisionEdge }

function polygonsOf(region: Region, params: ExtrudeParams, lattice: number): PolygonSet {
  const set = regionPolygons(region, params.tolerance, lattice)
  return params.division === 'none' ? set : divideRings(set, params.divisionEdge)
}

/** Where edges stop so that a flat is left: the inset, mm, at which the thinnest of the letters would close in a ridge. */
async function flatStops(outline: Outline, { front, back, tolerance }: ExtrudeParams, context: StepContext): Promise<number> {
  if (!front.flat && !back.flat) return Infinity
  let least = Infinity
  for (const region of outline.regions) {
    least = Math.min(least, regionRidge(context.memo, region, tolerance, outline.lattice))
    await context.breathe()
  }
  return least
}

interface LayerForm {
  readonly params: ExtrudeParams
  /** its front edge has another size than the step's */
  readonly scaled: boolean
  /** mm */
  readonly lift: number
}

/** What each layer is formed with: the step's values, and the layer's own where it has them. */
function layerForms(input: Outline, params: ExtrudeParams): LayerForm[] {
  const forms = input.layers.map(({ depth, edge, lift }): LayerForm => {
    const { front } = params
    const scaled = edge !== undefined && front.inset > 0 && edge !== front.inset
    const sized = scaled ? { ...front, inset: edge, height: (front.height * edge) / front.inset } : front
    return { params: { ...params, depth: depth ?? params.depth, front: sized }, scaled, lift: lift ?? 0 }
  })
  return forms.length > 0 ? forms : [{ params, scaled: false, lift: 0 }]
}

/** The profile of an edge that differs from a usable one only in size. */
function usable(edge: EdgeParams): Profile | undefined {
  const profile = edgeProfile(edge)
  return profile && 'message' in profile ? undefined : profile
}

const sameEdge = (a: EdgeParams, b: EdgeParams) => JSON.stringify(a) === JSON.stringify(b)

/** The flat offered where edges leave no face, mm. */
const OFFERED_FLAT = 1

/** Depth and edge for a height, as a new piece has them: capitals of 40 mm are 12 mm deep with an edge of 1.5 mm. */
const DEPTH_SHARE = 12 / 40

const EDGE_SHARE = 1.5 / 40

/** Two digits are as fine as one sets such values. */
const round = (mm: number) => Number(mm.toPrecision(mm < 0.1 ? 1 : 2))

/** Values in proportion, where what is made is so small for its depth that neither depth nor edge was meant for it; undefined where they suit. */
function fitting(outline: Outline, params: ExtrudeParams): Fix | undefined {
  const [, y0, , y1] = outlineBounds(outline)
  const heights = outline.regions.map((region) => {
    const [, low, , high] = controlBounds(regionPaths(region))
    return high - low
  })
  // letters by their own height, a drawing by its whole
  const height = outline.letters.length > 0 ? heights.reduce((most, h) => Math.max(most, h), 0) : y1 - y0
  if (!(height > 0) || params.depth < 0.45 * height) return undefined
  const depth = round(height * DEPTH_SHARE)
  const edge = round(height * EDGE_SHARE)
  const { inset, height: tall } = params.front
  const front = { ...params.front, inset: edge, height: round(inset > 0 ? (tall * edge) / inset : edge) }
  return { label: `Fit it: ${plain(depth)} mm deep, edge ${plain(edge)} mm`, params: { depth, front } }
}

function reportIssues(outline: Outline, results: readonly ExtrudeResult[], params: ExtrudeParams): StepIssue[] {
  const issues = approximateIssue(outline, results, 'edge', params.depth, 'front')
  const scale = results.reduce((least, r) => Math.min(least, r.heightScale), 1)
  if (scale < 1) {
    const needed = Math.ceil((params.depth / scale) * 10) / 10
    issues.push({
      code: 'edge-taller-than-depth',
      severity: 'warning',
      message: `The edges are taller than the piece is deep; they were lowered to ${Math.round(scale * 100)} %.`,
      remedy: `Make the depth at least ${plain(needed)} mm, or the edges lower.`,
      field: 'depth',
      fixes: [{ label: `Make it ${plain(needed)} mm deep`, params: { depth: needed } }],
    })
  }
  const faceless = outline.regions.filter((_, i) => results[i].faceless)
  if (faceless.length > 0)
    issues.push({
      code: 'no-face-left',
      severity: 'warning',
      message: `The front edge is wider than the strokes of ${named(faceless, outline)}: it closes in a ridge and no face is left.`,
      remedy: 'Keep the ridges if they are wanted, give a smaller inset, or stop at a flat.',
      field: 'front',
      places: placesOf(faceless, params.depth),
      fixes: [fitting(outline, params) ?? { label: `Stop at a flat of ${OFFERED_FLAT} mm`, params: { front: { ...params.front, flat: OFFERED_FLAT } } }],
    })
  return issues
}
