import { joinSolid } from '../../../join/join'
import { loadManifold } from '../../../kernel/manifold'
import { latticeFor } from '../../../outline/lattice'
import { asAssembly, repeated } from '../../../repeat/assemble'
import { SpotList } from '../../../repeat/spots'
import { type StrutGraph, surfaceGraph, withInside } from '../../../repeat/strut-graph'
import { barShare, SIDES, strutSolid, strutVolume, throughBars } from '../../../repeat/struts'
import { labelled, solidOf as solidOfMesh } from '../../../volume/labelled'
import { evenlyRemeshed } from '../../../volume/even-remesh'
import { shadowsOf } from '../../../volume/estimate'
import { volumeOf } from '../../../solid/volume'
import { FACE, INSIDE, RETURN, withLabel } from '../../../solid/labels'
import { type Matrix, UNMOVED } from '../../../solid/operations'
import { roundedBox, turnedBar } from '../../../solid/revolve'
import { type Solid, solidBounds, triangleCount } from '../../../solid/solid'
import { MeasuredMask } from '../../../mask/measure'
import { plain } from '../../meta'
import { solidOf } from '../../shared/joining'
import { MASK_NOWHERE, paintedAside } from '../../shared/masks'
import { onLattice } from '../../shared/surfaces'
import { tooManyCopies } from '../../shared/repeating'
import { type Evaluate, failed, type StepIssue } from '../../step'
import { type latticeParams, LEAST_BAR } from './schema'

export const evaluate: Evaluate<typeof latticeParams> = async (
  input,
  { edge, thick, bar: radius, ball: globe, filled, mesh, through, body, as, creases, mask, does, thin },
  context,
) => {
  const given = solidOf(input)
  if (!given || triangleCount(given) === 0) return failed('no-solid', 'Strut lattice needs a solid to work on.', 'Put a form such as Extrude before it.')
  const byVolume = thick === 'filled'
  if (!byVolume && radius >= THICKEST * edge)
    return failed(
      'too-thick',
      `Bars of ${plain(2 * radius)} mm leave no opening between joints ${plain(edge)} mm apart.`,
      `Take a radius of at most ${plain(0.24 * edge)} mm, or longer bars.`,
      'bar',
    )
  const rounder = Math.max(1, globe / radius)
  // what the radius comes to is known when it is known how many bars there are
  let bar = byVolume ? 0.12 * edge : radius
  let ball = byVolume ? rounder * bar : globe
  const expected = ((shadowsOf(given) / 1.5 / (edge * edge)) * 2.31 * 3) / 2
  const many = tooManyCopies(Math.round(expected), 'edge')
  if (many) return many
  if (body) await loadManifold()
  const breathe = () => context.breathe()
  const even = await evenlyRemeshed(labelled(given), edge, creases, breathe)
  context.progress(0.4)
  const surface: Solid = solidOfMesh({ ...even, positions: onLattice(even.positions, given.lattice) }, given, given.lattice)
  const issues: StepIssue[] = []
  let shares: Float64Array | undefined
  let graph = surfaceGraph(surface, mesh, Math.max(2.6 * bar, 0.6 * edge))
  if (mask.list.length > 0) {
    const measured = new MeasuredMask(surface, mask)
    issues.push(...paintedAside(measured.aside))
    const { nodes, vertex } = graph
    const weights = Float64Array.from(vertex, (v, n) => measured.at(nodes, 3 * n, v, v, 0))
    if (does === 'where') graph = where(graph, weights)
    else shares = weights.map((weight) => thin / 100 + (1 - thin / 100) * weight)
    if (graph.bars.length === 0) return { ok: true, value: given, issues: [...issues, MASK_NOWHERE] }
  }
  if (through) {
    graph = withInside(given, graph, edge * 1.1, 2 * bar)
    if (shares) shares = throughBars(graph, shares)
  }
  const whole = byVolume ? volumeOf(given) : 0
  const wanted = (filled / 100) * whole
  if (byVolume && graph.bars.length > 0) {
    const most = 0.96 * THICKEST * edge
    const volumeAt = (r: number) => strutVolume(graph, { bar: r, ball: rounder * r, shares })
    const found = radiusFor(volumeAt, wanted, LEAST_BAR, most)
    if (found === undefined) {
      const reached = (100 * volumeAt(wanted > volumeAt(most) ? most : LEAST_BAR)) / whole
      return wanted > volumeAt(most)
        ? failed(
            'too-full',
            `Bars ${plain(edge)} mm long fill about ${plain(reached)} % at the most.`,
            'Ask for less, take shorter bars, or let them go through the inside.',
            'filled',
          )
        : failed('too-empty', `Bars ${plain(edge)} mm long fill about ${plain(reached)} % at the least.`, 'Ask for more, or take longer bars.', 'filled')
    }
    bar = found
    ball = rounder * bar
  }
  const bars = graph.bars.length / 2
  if (bars === 0) return failed('no-bars', 'No bar is left.', 'Give shorter bars, or widen the mask.', 'edge')
  await breathe()
  const box = solidBounds(given.positions)
  const lattice = Math.max(given.lattice, latticeFor(Math.max(...box.map(Math.abs)) + ball))
  const told = (count: number, share?: string) =>
    `${count.toLocaleString('en')} bars${byVolume ? ` of ${plain(2 * bar)} mm${ball > bar ? `, balls of ${plain(2 * ball)} mm` : ''}, ${share} % filled` : ''}`
  if (as === 'copies')
    return {
      ok: true,
      value: asCopies(graph, { bar, ball, shares, lattice, letters: given.letters }, body ? inner(given) : undefined),
      issues,
      told: told(bars, `about ${plain(filled)}`),
    }
  const struts = () => strutSolid(graph, { bar, ball: Math.max(ball, bar), ...(shares ? { shares } : {}), lattice, letters: given.letters })
  let made = struts()
  // what bars have in common is more than can be told before they are made
  for (let left = AGAIN; byVolume && made.ok && left > 0; left--) {
    const off = volumeOf(made.solid) / wanted
    if (Math.abs(off - 1) <= NEAR) break
    await breathe()
    const [was, before] = [bar, made]
    bar = Math.min(0.96 * THICKEST * edge, Math.max(LEAST_BAR, bar / Math.sqrt(off)))
    ball = rounder * bar
    made = struts()
    if (made.ok) continue
    // one that is a little off is better than none
    ;[bar, ball, made] = [was, rounder * was, before]
    break
  }
  context.progress(0.9)
  if (!made.ok)
    return {
      ok: false,
      issue: {
        code: made.why,
        severity: 'failed',
        message: 'The bars are so thick for their length that too many of them would run into each other.',
        remedy: 'Take thinner or longer bars, or make them as copies. Places are shown in the view.',
        field: byVolume ? 'filled' : 'bar',
        places: made.places,
      },
    }
  const dressed: Solid = { ...made.solid, layers: [{ name: 'Lattice' }] }
  const done = told(made.bars, byVolume ? plain((100 * volumeOf(made.solid)) / whole) : undefined)
  if (made.out > 0)
    issues.push({
      code: 'bars-left-out',
      severity: 'note',
      message: `${made.out.toLocaleString('en')} bar${made.out === 1 ? '' : 's'} that would lie in others ${made.out === 1 ? 'is' : 'are'} left out.`,
      remedy: 'Thinner or longer bars leave room for more.',
      field: byVolume ? 'filled' : 'bar',
    })
  if (!body) return { ok: true, value: dressed, issues, told: done }
  await breathe()
  const joined = joinSolid(inner(given), [{ solid: dressed, matrix: UNMOVED }], 'fuse')
  if (!joined.ok) return failed('not-united', 'The bars could not be united soundly with the solid inside.', 'Change the radius of bars by a hair.', 'body')
  return { ok: true, value: joined.solid, issues, told: done }
}

/** Of the length of bars: thicker ones leave no opening. */
const THICKEST = 0.25

/** How near the volume comes to what is asked for, of it, and how often the lattice is made anew for that. */
const NEAR = 0.02

const AGAIN = 2

/** The radius at which a volume that grows with it is what is wanted, between two; undefined where it is not between theirs. */
function radiusFor(volumeAt: (radius: number) => number, wanted: number, least: number, most: number): number | undefined {
  if (volumeAt(least) > wanted || volumeAt(most) < wanted) return undefined
  let [low, high] = [least, most]
  while (high - low > 1e-4 * high) {
    const middle = (low + high) / 2
    if (volumeAt(middle) < wanted) low = middle
    else high = middle
  }
  return (low + high) / 2
}

/** The solid between the bars: all of it inside. */
const inner = (solid: Solid): Solid => ({ ...solid, labels: withLabel(solid.labels, 'group', () => INSIDE) })

/** Bars whose both ends are where a mask is. */
function where(graph: StrutGraph, weights: Float64Array): StrutGraph {
  const bars: number[] = []
  for (let b = 0; b < graph.bars.length; b += 2)
    if (weights[graph.bars[b]] >= 0.5 && weights[graph.bars[b + 1]] >= 0.5) bars.push(graph.bars[b], graph.bars[b + 1])
  return { ...graph, bars: Uint32Array.from(bars) }
}

/** A bar and a ball, placed. */
function asCopies(
  graph: StrutGraph,
  { bar, ball, shares, lattice, letters }: { bar: number; ball: number; shares?: Float64Array; lattice: number; letters: readonly string[] },
  body: Solid | undefined,
) {
  const { nodes, bars, letter } = graph
  const upright = (solid: Solid) => ({ ...solid, layers: [{ name: 'Lattice' }] })
  const rod = turnedBar(bar, bar, 1, SIDES, lattice)
  const unitBar = upright({ ...rod, labels: withLabel(rod.labels, 'group', () => RETURN) })
  const globe = roundedBox(2 * ball, 2 * ball, 2 * ball, ball, 3, lattice)
  const unitBall = upright({ ...globe, labels: withLabel(globe.labels, 'group', () => FACE) })
  const list = new SpotList()
  for (let b = 0; b < bars.length; b += 2) {
    const [p, q] = [3 * bars[b], 3 * bars[b + 1]]
    const d = [0, 1, 2].map((k) => nodes[q + k] - nodes[p + k])
    const length = Math.hypot(...d)
    const w = d.map((v) => v / length)
    const other = Math.abs(w[2]) < 0.9 ? [0, 0, 1] : [1, 0, 0]
    const u = [other[1] * w[2] - other[2] * w[1], other[2] * w[0] - other[0] * w[2], other[0] * w[1] - other[1] * w[0]]
    const size = Math.hypot(...u)
    for (let k = 0; k < 3; k++) u[k] /= size
    const v = [w[1] * u[2] - w[2] * u[1], w[2] * u[0] - w[0] * u[2], w[0] * u[1] - w[1] * u[0]]
    const thick = barShare(graph, shares, b / 2)
    // the unit stands along Y: its length is stretched, and turned into the bar's direction
    const m = [0, 1, 2].flatMap((k) => [thick * v[k], d[k], thick * u[k], nodes[p + k]]) as unknown as Matrix
    list.push(m, letter[bars[b]], b / 2, 0, 0)
  }
  const spots = list.finish()
  const whole = repeated(
    asAssembly(unitBar),
    spots,
    Int32Array.from({ length: spots.count }, (_, i) => i),
    { letters, ...(body ? { body: asAssembly(body) } : {}) },
  )
  if (ball <= bar) return whole
  const used = new Uint8Array(letter.length)
  for (const n of bars) used[n] = 1
  const balls = new SpotList()
  for (let n = 0; n < letter.length; n++)
    if (used[n]) {
      const s = shares ? shares[n] : 1
      balls.push([s, 0, 0, nodes[3 * n], 0, s, 0, nodes[3 * n + 1] - s * ball, 0, 0, s, nodes[3 * n + 2]], letter[n], n, 1, 0)
    }
  const at = balls.finish()
  return repeated(
    asAssembly(unitBall),
    at,
    Int32Array.from({ length: at.count }, (_, i) => spots.count + i),
    { letters, body: whole },
  )
}
