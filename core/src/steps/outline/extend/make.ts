import { loadManifold } from '../../../kernel/manifold'
import { ArcLength } from '../../../outline/arc-length'
import { boxesMeet, connectedShapes, fitRings, keyOf, offsetRings, orientedPaths, regionArea } from '../../../outline/areas'
import { taperedOutlines } from '../../../outline/brush'
import { Area, areasOverlap, clipAreas } from '../../../outline/clip'
import { endDirectionOf } from '../../../outline/cubic'
import { flattenPath } from '../../../outline/flatten'
import { type NodePath, toPath } from '../../../outline/nodes'
import type { Member, Outline, Region } from '../../../outline/outline'
import { type Path, pathArea, PathBuilder, segmentsOf } from '../../../outline/path'
import { toPairs } from '../../../outline/polygon'
import { GONE, lettersKept } from '../../../document/letters'
import { type Evaluate, failed, type StepIssue } from '../../step'
import { editableShapes, textOf } from '../../../outline/letter-shapes'
import type { Anchor, extendParams, Limb } from './schema'

export const evaluate: Evaluate<typeof extendParams> = async (input, { limbs }, context) => {
  if (input?.kind !== 'outline') return failed('no-outline', 'Extend needs an outline to work on.', 'Put a source such as Lettering before it.')
  if (limbs.list.length === 0) return { ok: true, value: input, issues: [] }
  await loadManifold()
  const kept = lettersKept(limbs.of, textOf(input))
  const contours = new Map(editableShapes(input).map((shape) => [shape.at, shape.paths.map(toPath)]))
  let value: Outline = input
  let aside = 0
  for (const one of limbs.list) {
    const line = lineOf(contours, one, kept)
    if (!line) aside++
    else value = withLimb(value, line, one)
    await context.breathe()
  }
  const issues: StepIssue[] =
    aside > 0
      ? [
          {
            code: 'set-aside',
            severity: 'warning',
            message: `${aside} ${aside === 1 ? 'limb is' : 'limbs are'} set aside: the letter ${aside === 1 ? 'it begins or ends at is' : 'they begin or end at are'} gone.`,
            remedy: 'They are kept, and used again when such a letter comes back.',
            field: 'limbs',
          },
        ]
      : []
  return { ok: true, value, issues }
}

interface PlacedLimb {
  readonly line: NodePath
  /** direction of the outline it leaves from and arrives at; undefined at an end that is on none */
  readonly along: readonly [Direction | undefined, Direction | undefined]
}

type Direction = readonly [number, number]

/** The limb's line where its letters stand now, `contours` being theirs by offset; undefined when one of them is gone. */
function lineOf(contours: ReadonlyMap<number, readonly Path[]>, { from, to, line }: Limb, kept: ReadonlyMap<number, number>): PlacedLimb | undefined {
  const { nodes } = line
  const along: [Direction | undefined, Direction | undefined] = [undefined, undefined]
  const placeOf = (a: Anchor, node: { x: number; y: number }, end: 0 | 1): [number, number] | undefined => {
    if (a.at === GONE) return undefined
    if (a.at < 0) return [node.x, node.y]
    const at = kept.get(a.at)
    const path = at === undefined ? undefined : contours.get(at)?.[a.contour]
    if (!path) return undefined
    const length = new ArcLength(path)
    const p = length.at(a.share * length.length)
    along[end] = [p.tx, p.ty]
    return [p.x, p.y]
  }
  const [first, last] = [nodes[0], nodes[nodes.length - 1]]
  let [p, q] = [placeOf(from, first, 0), placeOf(to, last, 1)]
  if (!p || !q) return undefined
  // an end in the plane goes along with the end that is on a letter
  if (from.at < 0 && to.at >= 0) p = [first.x + q[0] - last.x, first.y + q[1] - last.y]
  if (to.at < 0 && from.at >= 0) q = [last.x + p[0] - first.x, last.y + p[1] - first.y]
  const [ax, ay, bx, by] = [last.x - first.x, last.y - first.y, q[0] - p[0], q[1] - p[1]]
  const square = ax * ax + ay * ay
  // turned, stretched and moved so that both ends meet their places again
  const [c, s] = square < 1e-12 ? [1, 0] : [(ax * bx + ay * by) / square, (ax * by - ay * bx) / square]
  const turn = (v: readonly [number, number] | undefined): [number, number] | undefined => v && [c * v[0] - s * v[1], s * v[0] + c * v[1]]
  const placed = nodes.map((node) => {
    const [x, y] = turn([node.x - first.x, node.y - first.y]) as [number, number]
    return { ...node, x: x + p[0], y: y + p[1], in: turn(node.in), out: turn(node.out) }
  })
  return { line: { closed: false, nodes: placed }, along }
}

/** Pieces of a limb smaller than this, mm², are not worth keeping. */
const DUST = 1e-3

function withLimb(outline: Outline, { line, along }: PlacedLimb, { width, endWidth, blend }: Limb): Outline {
  const path = toPath(line)
  const segments = segmentsOf(path)
  if (segments.length === 0) return outline
  // carried on a little into the letters, so that no wedge stays open between the limb and a slanting outline
  const ends = [
    { towards: endDirectionOf(segments[0].cubic, 0).map((v) => -v), width, along: along[0] },
    { towards: endDirectionOf(segments[segments.length - 1].cubic, 1), width: endWidth, along: along[1] },
  ].map((end) => ({ ...end, reach: end.along ? depthInto(end.towards, end.along, end.width) : 0 }))
  const whole = new PathBuilder(path.coords[0] + ends[0].towards[0] * ends[0].reach, path.coords[1] + ends[0].towards[1] * ends[0].reach)
  whole.lineTo(path.coords[0], path.coords[1])
  whole.follow(path)
  whole.lineTo(whole.x + ends[1].towards[0] * ends[1].reach, whole.y + ends[1].towards[1] * ends[1].reach)
  const body = new ArcLength(path).length
  const total = body + ends[0].reach + ends[1].reach
  const radiusAt = (share: number) => {
    const s = Math.max(0, Math.min(1, (share * total - ends[0].reach) / (body || 1)))
    return (width + (endWidth - width) * s) / 2
  }
  const line0 = whole.build(false)
  const rounded = new Area(taperedOutlines(line0, (r) => r, 0.01, radiusAt))
  // ends on letters are flat: a round one would stick out of a thin stem
  const last = line0.coords.length - 2
  const flat = ends.flatMap((end, i) =>
    end.along ? [capOf(line0.coords[i === 0 ? 0 : last], line0.coords[i === 0 ? 1 : last + 1], end.towards, end.width)] : [],
  )
  const reaching = flat.length > 0 ? new Area(clipAreas(rounded, new Area(flat), 'subtract')) : rounded
  const touched = outline.regions
    .map((region) => ({ region, area: regionArea(region) }))
    .filter(({ area }) => boxesMeet(area.box, reaching.box) && areasOverlap(area, reaching))
  let solid = reaching.paths
  const letters = new Area(touched.flatMap(({ area }) => area.paths))
  if (touched.length > 0) {
    // what sticks out of a letter's far side is no part of the limb
    const outside = connectedShapes(clipAreas(reaching, letters, 'subtract'))
    const bare = new Area(
      taperedOutlines(
        path,
        (r) => r * 0.5,
        0.02,
        (share) => (width + (endWidth - width) * share) / 2,
      ),
    )
    const spikes = outside.filter((shape) => clipAreas(new Area(shape), bare, 'intersect').reduce((sum, p) => sum + pathArea(p), 0) < DUST)
    if (spikes.length > 0) solid = clipAreas(reaching, new Area(spikes.flat()), 'subtract')
  }
  const places = ends.flatMap((end, i) =>
    end.along ? [{ x: path.coords[i === 0 ? 0 : path.coords.length - 2], y: path.coords[i === 0 ? 1 : path.coords.length - 1], width: end.width }] : [],
  )
  const fill = blend > 0 && touched.length > 0 ? places.flatMap((place) => fillets(letters, new Area(solid), blend, place)) : []
  const [first] = touched
  const letter = first?.region.members[0]?.letter ?? -1
  const members: Member[] = [
    ...touched.flatMap(({ region }) => region.members.map((member) => ({ letter: member.letter, paths: orientedPaths({ ...region, members: [member] }) }))),
    { letter, paths: solid },
    ...fill.map((paths) => ({ letter, paths })),
  ]
  const gone = new Set(touched.map(({ region }) => region))
  const united: Region = {
    key: keyOf(
      'extend',
      members.flatMap((m) => m.paths),
    ),
    members,
    dx: 0,
    dy: 0,
    layer: first?.region.layer ?? 0,
  }
  const at = first ? outline.regions.indexOf(first.region) : outline.regions.length
  const regions = outline.regions.filter((region) => !gone.has(region))
  regions.splice(Math.min(at, regions.length), 0, united)
  return { ...outline, regions }
}

/** How far a limb must go on beyond an outline to meet it over its whole width. */
function depthInto(towards: readonly number[], along: Direction, width: number): number {
  const sine = Math.abs(towards[0] * along[1] - towards[1] * along[0])
  const cosine = Math.abs(towards[0] * along[0] + towards[1] * along[1])
  return 0.1 + Math.min(width, (width / 2) * (cosine / Math.max(sine, 0.05)))
}

/** The half disc at the end of a limb, as a box about it. */
function capOf(x: number, y: number, [dx, dy]: readonly number[], width: number): Path {
  const r = width / 2 + 0.2
  const builder = new PathBuilder(x + dy * r, y - dx * r)
  builder.lineTo(x + dx * r + dy * r, y + dy * r - dx * r)
  builder.lineTo(x + dx * r - dy * r, y + dy * r + dx * r)
  builder.lineTo(x - dy * r, y + dx * r)
  return builder.build(true)
}

/** What rounds the hollow corners between letters and limb off at one of its ends: the closing by a disc, as far as it touches both. */
function fillets(letters: Area, body: Area, blend: number, end: { x: number; y: number; width: number }): Path[][] {
  // a window about the end is enough, and a fraction of the work
  const reach = 2 * end.width + 6 * blend + 2
  const window = new Area([squareAt(end.x, end.y, reach)])
  const [near, limb] = [new Area(clipAreas(letters, window, 'intersect')), new Area(clipAreas(body, window, 'intersect'))]
  const union = clipAreas(near, limb, 'add')
  const rings = union.map((path) => toPairs(flattenPath(path, { tolerance: 0.003, maxTurn: 5 }).xy)).filter((ring) => ring.length >= 3)
  const closed = new Area(fitRings(offsetRings(offsetRings(rings, blend, 'round'), -blend, 'round')))
  const grow = (area: Area) =>
    new Area(
      fitRings(
        offsetRings(
          area.paths.map((path) => toPairs(flattenPath(path, { tolerance: 0.01 }).xy)),
          0.06,
          'round',
        ),
      ),
    )
  const [nearBody, nearLetters] = [grow(limb), grow(near)]
  return connectedShapes(clipAreas(closed, new Area(union), 'subtract'))
    .filter((shape) => {
      if (shape.reduce((sum, p) => sum + pathArea(p), 0) < 0.01) return false
      const area = new Area(shape)
      // what reaches the window's border was hollow only because of it
      if (Math.max(end.x - area.box[0], area.box[2] - end.x, end.y - area.box[1], area.box[3] - end.y) > reach - 0.05) return false
      return areasOverlap(area, nearBody) && areasOverlap(area, nearLetters)
    })
    .map((shape) =>
      // grown by a hair so that it overlaps what it fills the corner of
      fitRings(
        offsetRings(
          shape.map((path) => toPairs(flattenPath(path, { tolerance: 0.003, maxTurn: 5 }).xy)),
          0.015,
          'mitre',
        ),
      ),
    )
}

function squareAt(x: number, y: number, half: number): Path {
  const builder = new PathBuilder(x - half, y - half)
  builder.lineTo(x + half, y - half)
  builder.lineTo(x + half, y + half)
  builder.lineTo(x - half, y + half)
  return builder.build(true)
}
