import { loadManifold } from '../../kernel/manifold'
import { snap } from '../../outline/lattice'
import type { Outline, Region } from '../../outline/outline'
import { controlBounds } from '../../outline/path'
import { flattenMember, regionPolygons, winding } from '../../outline/polygon'
import { type ExtrudeResult, extrudePolygons } from '../../solid/extrude'
import { type Profile, type ProfileProblem, profileFromPoints, shippedProfile } from '../../solid/profile'
import { joinPlaced, NO_LETTER, type Placed } from '../../solid/solid'
import { plain } from '../meta'
import { defineStep, failed, type StepIssue } from '../step'
import { type EdgeParams, type ExtrudeParams, extrudeParams } from './schema'

export const extrude = defineStep({
  kind: 'extrude',
  version: 1,
  family: 'Form',
  title: 'Extrude',
  summary: 'Gives an outline depth, with shaped edges in front and behind.',
  takes: 'outline',
  gives: 'solid',
  params: extrudeParams,

  describe(params) {
    const edge = ({ profile, inset, height }: EdgeParams) =>
      `${profile === 'points' ? 'own profile' : profile.replaceAll('-', ' ')} ${inset === height ? plain(inset) : `${plain(inset)} × ${plain(height)}`} mm`
    const { front, back } = params
    const words = [`${plain(params.depth)} mm deep`]
    if (front.profile !== 'square') words.push(`${edge(front)} in front`)
    if (back.profile !== 'square') words.push(`${edge(back)} behind`)
    return words.length === 1 ? `${words[0]}, plain edges` : words.join(' · ')
  },

  async evaluate(input, params, context) {
    if (input?.kind !== 'outline') return failed('no-outline', 'Extrude needs an outline to work on.', 'Put a source such as Lettering before it.')
    if (input.regions.length === 0) return failed('no-areas', 'The outline has no closed shapes to extrude.', 'Close the strokes, or set some words.')
    await loadManifold()
    const front = edgeProfile(params.front)
    if (front && 'message' in front) return failed('profile', front.message, front.remedy, 'front')
    const back = sameEdge(params.front, params.back) ? front : edgeProfile(params.back)
    if (back && 'message' in back) return failed('profile', back.message, back.remedy, 'back')
    const own = layerForms(input, params)
    const keys = own.map((form) => JSON.stringify([form.params, input.lattice]))
    const placed: Placed[] = []
    const results: ExtrudeResult[] = []
    for (const region of input.regions) {
      const form = own[region.layer] ?? own[0]
      const key = `extrude@${extrude.version}:${region.key}:${keys[region.layer] ?? keys[0]}`
      const known = context.memo.peek<ExtrudeResult>(key)
      if (!known) await context.breathe()
      const result =
        known ?? context.memo.get(key, () => extrudeRegion(region, form.params, input.lattice, form.scaled ? edgeProfileOf(form.params.front) : front, back))
      results.push(result)
      placed.push({ solid: result.solid, dx: region.dx, dy: region.dy, dz: form.lift, letters: region.members.map((m) => m.letter), layer: region.layer })
      context.progress(results.length / input.regions.length)
    }
    const solid = joinPlaced(
      placed.filter((p) => p.solid.indices.length > 0),
      input.letters.map((l) => l.text),
      input.lattice,
      input.layers.map(({ name, colour }) => ({ name, ...(colour ? { colour } : {}) })),
    )
    if (solid.indices.length === 0) return failed('vanished', 'The shapes are too small to form a solid at this size.', 'Raise the cap height.', 'depth')
    return { ok: true, value: solid, issues: reportIssues(input.regions, results, params, (r) => lettersOf(r, input.letters)) }
  },
})

interface LayerForm {
  readonly params: ExtrudeParams
  /** its front edge has another size than the step's */
  readonly scaled: boolean
  /** on the lattice, mm */
  readonly lift: number
}

/** What each layer is formed with: the step's values, and the layer's own where it has them. */
function layerForms(input: Outline, params: ExtrudeParams): LayerForm[] {
  const forms = input.layers.map(({ depth, edge, lift }): LayerForm => {
    const { front } = params
    const scaled = edge !== undefined && front.inset > 0 && edge !== front.inset
    const sized = scaled ? { ...front, inset: edge, height: (front.height * edge) / front.inset } : front
    return { params: { ...params, depth: depth ?? params.depth, front: sized }, scaled, lift: snap(lift ?? 0, input.lattice) }
  })
  return forms.length > 0 ? forms : [{ params, scaled: false, lift: 0 }]
}

/** The profile of an edge that differs from a usable one only in size. */
function edgeProfileOf(edge: EdgeParams): Profile | undefined {
  const profile = edgeProfile(edge)
  return profile && 'message' in profile ? undefined : profile
}

const sameEdge = (a: EdgeParams, b: EdgeParams) => JSON.stringify(a) === JSON.stringify(b)

function edgeProfile(edge: EdgeParams): Profile | ProfileProblem | undefined {
  if (edge.profile !== 'points') return shippedProfile(edge.profile, edge.inset, edge.height)
  const points = edge.points ?? []
  const last = points[points.length - 1]
  if (!last) return { message: 'The profile has no points.', remedy: 'Choose a shipped profile or give points.' }
  const sx = last[0] > 0 ? edge.inset / last[0] : 1
  const sy = last[1] > 0 ? edge.height / last[1] : 1
  return profileFromPoints(points.map(([i, h]) => [i * sx, h * sy] as const))
}

function extrudeRegion(region: Region, params: ExtrudeParams, lattice: number, front?: Profile, back?: Profile): ExtrudeResult {
  const set = regionPolygons(region, params.tolerance, lattice)
  return extrudePolygons(set, {
    depth: params.depth,
    front,
    back,
    tolerance: params.tolerance,
    letterAt: letterFinder(region, params.tolerance, lattice),
  })
}

/** Which member of a region a point of the plane belongs to: the first whose area holds it. */
export function letterFinder(region: Region, tolerance: number, lattice: number): (x: number, y: number) => number {
  if (region.members.length === 1) return () => 0
  const areas = region.members.map((member) => flattenMember(member, tolerance, lattice))
  return (x, y) => {
    const k = areas.findIndex((rings) => winding(rings, x, y) > 0)
    return k < 0 ? NO_LETTER : k
  }
}

/** The letters a region holds, for what is said of it. */
export const lettersOf = (region: Region, letters: readonly { text: string }[]) => region.members.map((m) => letters[m.letter]?.text ?? 'shape').join('')

function reportIssues(regions: readonly Region[], results: readonly ExtrudeResult[], params: ExtrudeParams, name: (r: Region) => string): StepIssue[] {
  const issues: StepIssue[] = []
  const approximate = regions.filter((_, i) => results[i].approximate)
  if (approximate.length > 0) {
    const [region] = approximate
    const [x0, y0, x1, y1] = controlBounds(region.members.flatMap((m) => m.paths))
    issues.push({
      code: 'approximate-edge',
      severity: 'warning',
      message: `The edge of ${approximate
        .slice(0, 6)
        .map((r) => `“${name(r)}”`)
        .join(', ')} is approximated: ridges are cut flat.`,
      remedy: 'The solid is sound. A slightly smaller inset gives the exact edge.',
      field: 'front',
      place: [region.dx + (x0 + x1) / 2, region.dy + (y0 + y1) / 2, params.depth],
    })
  }
  const scale = Math.min(...results.map((r) => r.heightScale))
  if (scale < 1) {
    const needed = params.depth / scale
    issues.push({
      code: 'edge-taller-than-depth',
      severity: 'warning',
      message: `The edges are taller than the piece is deep; they were lowered to ${Math.round(scale * 100)} %.`,
      remedy: `Make the depth at least ${plain(needed)} mm, or the edges lower.`,
      field: 'depth',
    })
  }
  return issues
}
