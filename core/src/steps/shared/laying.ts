import type { Frame, LayOptions, NotLaid } from '../../lay/lay'
import { layOn } from '../../lay/lay'
import { straightFrame } from '../../lay/ground'
import type { RoundBody } from '../../lay/round-body'
import { nearestPlace } from '../../lay/surface'
import { asInside, type JoinHow } from '../../join/join'
import { type Matrix, UNMOVED } from '../../solid/operations'
import { type Solid, solidBounds } from '../../solid/solid'
import { snap } from '../../outline/lattice'
import { plain } from '../meta'
import { type Fix, failed, type StepContext, type StepIssue, type StepKind, type StepMarks, type StepOutcome } from '../step'
import type { Value } from '../value'
import { boundsAt, formedWords, frontUnder, joinInStep, type JoinedInStep, lifted, solidOf } from './joining'
import { layingSchema, type LayingParams } from './laying-fields'

/** As words stand at their place, before the highest of what is under them. */
export const NOT_LAID: LayingParams = layingSchema.parse({})

/** A matrix without its size, and the size. */
export function unsized(m: Matrix): { readonly matrix: Matrix; readonly size: number } {
  const size = Math.hypot(m[0], m[4], m[8])
  return { matrix: m.map((v, i) => (i % 4 === 3 ? v : v / size)) as unknown as Matrix, size }
}

export interface LaidInStep {
  /** in the body's coordinates, ready to be joined */
  readonly solid: Solid
  readonly matrix: Matrix
  readonly issues: readonly StepIssue[]
  readonly marks?: StepMarks
  /** what they lie on, in words; empty where there is nothing to say */
  readonly told: string
}

/** How much the words may be stretched by the surface before it is said. */
const MOST_STRETCH = 1.25

/** What words that are laid take up of their own plane, mm: least x and y, greatest x and y. */
export type LaidArea = readonly [number, number, number, number]

/**
 * Lays the solid of words on a body as a step's parameters say. z of the solid is nought on the surface; `matrix` is their place without size.
 * `depth`: how far from the surface they reach at most, mm. What is laid as a part of something else, and so that it lies where that does, gives the area of the `whole`.
 */
export function layInStep(
  body: Solid,
  words: Solid,
  matrix: Matrix,
  params: LayingParams,
  depth: number,
  whole?: LaidArea,
): { readonly failure: StepOutcome } | LaidInStep {
  const { lay, point: spot, angle, letters, line, floor, smooth } = params
  const box = solidBounds(words.positions)
  if (whole) [box[0], box[1], box[3], box[4]] = whole
  const middle = (box[0] + box[3]) / 2
  if (lay === 'place' && floor === 'flat')
    return { solid: words, matrix: lifted(matrix, frontUnder(body, boundsAt(words, matrix)) - matrix[11]), issues: [], told: '' }
  // picked words hang by the middle of their baseline where they have one, else by their middle
  const base = box[1] <= 0 && box[4] > 0 && -box[1] < 0.45 * (box[4] - box[1]) ? 0 : (box[1] + box[4]) / 2
  const area = [box[0] - middle, box[1] - base, box[3] - middle, box[4] - base] as const
  const point = spot ?? frontMiddle(body)
  const frame = lay === 'place' ? placeFrame(matrix) : undefined
  if (lay === 'straight' && floor === 'flat') {
    const start = nearestPlace(body, point)
    if (!start) return { failure: noSurface() }
    const own = straightFrame(body, start, { area, angle })
    const stands = frameMatrix(own, middle, base)
    const turned = { ...body, positions: toFrame(body.positions, own, middle, base) }
    const height = frontUnder(turned, box)
    return { solid: words, matrix: raised(stands, own, height), issues: [], marks: { frame: own }, told: '' }
  }
  const moved =
    lay === 'place' ? words : { ...words, positions: Float64Array.from(words.positions, (v, i) => (i % 3 === 0 ? v - middle : i % 3 === 1 ? v - base : v)) }
  const options: LayOptions & { letters: 'bent' | 'whole' } = {
    how: lay === 'place' ? 'straight' : lay,
    point: frame?.point ?? point,
    angle,
    line,
    area: lay === 'place' ? [box[0], box[1], box[3], box[4]] : area,
    depth,
    smooth,
    frame,
    letters: lay === 'place' || lay === 'straight' ? 'bent' : letters,
  }
  const laid = layOn(body, moved, options)
  if (!laid.ok) return { failure: { ...notLaid(laid, words, params), ...('frame' in laid ? { marks: { frame: laid.frame } } : {}) } }
  const { solid, round, smoothed, stretch, creases } = laid
  const issues: StepIssue[] = []
  if (stretch.place && (stretch.most > MOST_STRETCH || stretch.least < 1 / MOST_STRETCH))
    issues.push({
      code: 'stretched',
      severity: 'warning',
      message: `The surface stretches the words: lengths are ${plain(stretch.least)} to ${plain(stretch.most)} of what they are when flat.`,
      remedy: 'Make the words smaller, smooth the surface beneath them over a longer way, or choose a flatter spot.',
      places: [stretch.place],
      field: 'point',
    })
  if (creases.length > 0)
    issues.push({
      code: 'over-a-crease',
      severity: 'warning',
      message: 'The words run over a sharp edge of the surface.',
      remedy: 'Slide them off it, or smooth the surface beneath them over a longer way.',
      places: creases,
      field: 'point',
    })
  return {
    solid,
    matrix: UNMOVED,
    issues,
    marks: { frame: laid.frame, ...(round ? { axis: axisOf(round, laid.frame) } : {}) },
    told: [round ? roundWords(round) : '', smoothed > 0 ? `smoothed over ${plain(smoothed)} mm` : ''].filter(Boolean).join(', '),
  }
}

/** What the words are wrapped round, in words. */
const roundWords = (round: RoundBody): string =>
  round.shape === 'cone'
    ? `round a cone of ${plain(Math.round((3600 * round.angle) / Math.PI) / 10)}°`
    : `round a ${round.shape}, radius ${plain(Math.round(10 * round.radius) / 10)} mm`

/** The axis to be shown, as long as the body is wide; of a ball its middle. */
function axisOf(round: RoundBody, { point, up }: Frame): NonNullable<StepMarks['axis']> {
  const words = roundWords(round)
  if (round.shape === 'ball') {
    const end = (s: number) => [0, 1, 2].map((k) => round.centre[k] + s * round.radius * up[k]) as [number, number, number]
    return { from: end(-1), to: end(1), words }
  }
  const base = round.shape === 'cylinder' ? round.centre : round.apex
  const height = [0, 1, 2].reduce((sum, k) => sum + (point[k] - base[k]) * round.axis[k], 0)
  const radius = round.shape === 'cylinder' ? round.radius : Math.abs(height) * Math.tan(round.angle)
  const end = (s: number) => [0, 1, 2].map((k) => base[k] + (height + s * radius) * round.axis[k]) as [number, number, number]
  return { from: end(-2), to: end(2), words }
}

/** The middle of a body's front, where words lie that have been given no spot. */
function frontMiddle(body: Solid): readonly [number, number, number] {
  const [x0, y0, , x1, y1, z1] = solidBounds(body.positions)
  return [(x0 + x1) / 2, (y0 + y1) / 2, z1]
}

const placeFrame = (m: Matrix): Frame => ({ point: [m[3], m[7], m[11]], along: [m[0], m[4], m[8]], up: [m[1], m[5], m[9]], normal: [m[2], m[6], m[10]] })

/** What brings the words' coordinates to a frame whose origin is at (x, y) of them. */
function frameMatrix({ point, along, up, normal }: Frame, x: number, y: number): Matrix {
  return [0, 1, 2].flatMap((k) => [along[k], up[k], normal[k], point[k] - x * along[k] - y * up[k]]) as unknown as Matrix
}

const raised = (m: Matrix, { normal }: Frame, by: number): Matrix => m.map((v, i) => (i % 4 === 3 ? v + by * normal[(i - 3) / 4] : v)) as unknown as Matrix

/** A body's positions as the words see them. */
function toFrame(p: Float64Array, { point, along, up, normal }: Frame, x: number, y: number): Float64Array {
  const out = new Float64Array(p.length)
  for (let i = 0; i < p.length; i += 3) {
    const [dx, dy, dz] = [p[i] - point[0], p[i + 1] - point[1], p[i + 2] - point[2]]
    out[i] = dx * along[0] + dy * along[1] + dz * along[2] + x
    out[i + 1] = dx * up[0] + dy * up[1] + dz * up[2] + y
    out[i + 2] = dx * normal[0] + dy * normal[1] + dz * normal[2]
  }
  return out
}

const noSurface = () => failed('no-surface', 'There is no surface at this spot.', 'Press a spot on the piece.', 'point')

function notLaid(not: NotLaid, words: Solid, { lay, size, smooth }: LayingParams): StepOutcome {
  const smaller: Fix[] = size > 10 ? [{ label: `Size to ${plain(Math.floor(0.8 * size))} %`, params: { size: Math.floor(0.8 * size) } }] : []
  const over: Fix = { label: 'Over the surface', params: { lay: 'any' } }
  switch (not.why) {
    case 'no-surface':
      return noSurface()
    case 'too-large':
      return failed(
        'too-large',
        'The surface under the words is too large for their size to be followed.',
        'Make the words larger, or the body smaller.',
        'point',
      )
    case 'not-round':
      return issueOf(
        'not-round',
        'No cylinder, cone or ball is found at this spot.',
        'Choose another spot, or lay the words over the surface as it is.',
        'point',
        [],
        [over],
      )
    case 'runs-off': {
      const names = not.letters.filter((at) => at >= 0).map((at) => `“${words.letters[at]}”`)
      const which = names.length === 0 ? 'The words' : names.length > 6 ? `${names.slice(0, 6).join(', ')} and others` : names.join(', ')
      return issueOf(
        'runs-off',
        `${which} ${names.length === 1 ? 'has' : 'have'} no surface beneath ${names.length === 1 ? 'it' : 'them'}.`,
        'Slide the words, turn them, or make them smaller.',
        'point',
        [not.frame.point],
        [...smaller, ...(lay === 'round' ? [over] : [])],
      )
    }
    case 'folds': {
      const longer = smooth > 0 ? 2 * smooth : 8
      return issueOf(
        'folds',
        'The surface bends more under the words than they are deep.',
        'Make them less deep or smaller, choose a flatter spot, or smooth the surface beneath them.',
        'point',
        not.places,
        [...(longer <= 50 ? [{ label: `Smooth over ${plain(longer)} mm`, params: { smooth: longer } }] : []), ...smaller],
      )
    }
  }
}

const issueOf = (
  code: string,
  message: string,
  remedy: string,
  field: string,
  places: readonly (readonly [number, number, number])[],
  fixes: readonly Fix[],
): StepOutcome => ({
  ok: false,
  issue: { code, severity: 'failed', message, remedy, field, ...(places.length > 0 ? { places } : {}), ...(fixes.length > 0 ? { fixes } : {}) },
})

/** A form that the words get. */
interface WordsForm {
  readonly kind: StepKind
  readonly values: Record<string, unknown>
  /** what lies on the surface: so far, mm, above its lowest or below its highest */
  readonly face: { readonly aboveLowest: number } | { readonly belowHighest: number }
}

interface LaidWords {
  readonly title: string
  readonly how: Exclude<JoinHow, 'overlap'>
  readonly forms: readonly WordsForm[]
  readonly laying: LayingParams
  /** the area that they are laid by, where that is not their own */
  readonly whole?: LaidArea
}

interface LaidAndJoined extends JoinedInStep {
  readonly words: { readonly issues: readonly StepIssue[]; readonly told: string; readonly marks?: StepMarks }
}

/** Forms the words that a step names, lays them on its body and joins them with it. */
export async function laidWords(
  input: Value | undefined,
  context: StepContext,
  { title, how, forms, laying, whole }: LaidWords,
): Promise<{ readonly failure: StepOutcome } | LaidAndJoined> {
  const { matrix, size } = unsized(context.placed?.words?.[0]?.matrix ?? UNMOVED)
  const body = solidOf(input)
  const laid: LaidInStep[] = []
  const issues: StepIssue[] = []
  for (const { kind, values, face } of forms) {
    const formed = await formedWords(kind, values, title, laying.lay === 'place' ? size : laying.size / 100, context)
    if ('failure' in formed) return formed
    if (laid.length === 0) issues.push(...formed.issues)
    await context.breathe()
    const { positions } = formed.solid
    const [, , low, , , high] = solidBounds(positions)
    const surface = snap('aboveLowest' in face ? low + face.aboveLowest : high - face.belowHighest, formed.solid.lattice)
    const risen = { ...formed.solid, positions: Float64Array.from(positions, (v, i) => (i % 3 === 2 ? v - surface : v)) }
    const flat = how === 'carve' ? asInside(risen, UNMOVED) : risen
    const one = body ? layInStep(body, flat, matrix, laying, Math.max(high - surface, surface - low), whole) : { solid: flat, matrix, issues: [], told: '' }
    if ('failure' in one) return one
    laid.push(one)
    await context.breathe()
  }
  const result = await joinInStep(input, context, {
    title,
    how,
    field: 'words',
    solids: laid.map(({ solid }) => solid),
    inside: how === 'carve',
    standing: () => (_, i) => laid[i].matrix,
  })
  if ('failure' in result) return result
  const [{ told, marks, issues: laidIssues }] = laid
  return { ...result, words: { issues: [...issues, ...laidIssues], told, marks } }
}
