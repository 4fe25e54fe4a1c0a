import { z } from 'zod'
import { lettersKept } from '../../document/letters'
import { joinSolid } from '../../join/join'
import { loadManifold } from '../../kernel/manifold'
import { latticeFor } from '../../outline/lattice'
import { asAssembly, repeated, withoutLetters } from '../../repeat/assemble'
import { assemblyBounds, movedAssembly } from '../../solid/assembly'
import { NearPlaces } from '../../repeat/near'
import { changedByHand, type HandChange, MOST_COPIES, shift, sized, type Spots, through, turnAbout } from '../../repeat/spots'
import { asOneSolid } from '../../repeat/united'
import { FOOT, readyUnit } from '../../repeat/units'
import { type Assembly, assemblyTriangles, copyCount } from '../../solid/assembly'
import { type Matrix, transformed, UNMOVED } from '../../solid/operations'
import { turnedBar } from '../../solid/revolve'
import type { Solid } from '../../solid/solid'
import { textOfLetters } from '../../mask/painted'
import { plain } from '../meta'
import { failed, type StepContext, type StepIssue, type StepOutcome } from '../step'
import type { Value } from '../value'
import { byHandParam, type UnitParams, NAMES } from './repeat-fields'

export type ByHand = z.infer<typeof byHandParam>

/** Holes as a step is told them. */
export interface HoleParams {
  readonly holes: 'none' | 'blind' | 'through'
  readonly deep: number
  readonly clearance: number
}

/** What is to be set, standing on the origin and looking forward. */
export interface Unit {
  readonly assembly: Assembly
  /** half of what it takes up across, and how far its foot reaches, mm */
  readonly radius: number
  readonly foot: number
}

/** The unit that a step sets; a failure where no piece was chosen, or the piece is empty. */
export function unitOf(
  { unit, width, size, lift, turn, tilt }: UnitParams,
  { inputs, memo }: Pick<StepContext, 'inputs' | 'memo'>,
): Unit | Extract<StepOutcome, { ok: false }> {
  const stand = through(shift(0, 0, lift), turnAbout('z', turn), turnAbout('x', -tilt))
  if (unit !== 'piece') {
    const ready = memo.get(`unit:${unit}:${width}`, () => readyUnit(unit, width))
    return { assembly: movedAssembly(asAssembly(ready), stand), radius: width / 2, foot: FOOT[unit] * width }
  }
  const value = inputs.piece?.[0]
  if (!value || value.kind === 'outline') return failed('no-piece', 'No piece is chosen to be set.', 'Choose one, or take a ready one.', 'piece')
  const given = withoutLetters(asAssembly(value))
  const [x0, y0, z0, x1, y1] = assemblyBounds(given)
  if (!Number.isFinite(x0)) return failed('empty-piece', 'The piece that is to be set is empty.', 'Choose another one.', 'piece')
  const by = size / 100
  const radius = (by * Math.hypot(x1 - x0, y1 - y0)) / 2
  const foot = (by * Math.min(x1 - x0, y1 - y0)) / 2
  return { assembly: movedAssembly(given, through(stand, sized(by), shift(-(x0 + x1) / 2, -(y0 + y1) / 2, -z0))), radius, foot }
}

/** Too many copies, found out before any is made; undefined where they are not too many. */
export const tooManyCopies = (count: number, field: string): Extract<StepOutcome, { ok: false }> | undefined =>
  count > MOST_COPIES
    ? failed(
        'too-many-copies',
        `That would be ${count.toLocaleString('en')} copies; ${MOST_COPIES.toLocaleString('en')} are the most.`,
        'Give fewer, or a wider spacing.',
        field,
      )
    : undefined

/** What else a step that repeats has to say and to keep in mind. */
interface Repeating {
  readonly unit: Assembly
  readonly spots: Spots
  readonly hand: ByHand
  /** how far a place may have moved from its name and still be the same one, in the unit of names */
  readonly reach: number
  readonly letters?: readonly string[]
  readonly body?: Assembly
  /** for the docket: how many there are, and how far one is from the next, mm, of most; undefined for a single one */
  readonly told?: (count: number, apart: number | undefined) => string
  readonly issues?: readonly StepIssue[]
}

/** The outcome of repeating something at places, with what was changed by hand. */
export function repeatInStep({ unit, spots, hand, reach, letters, body, told, issues = [] }: Repeating): StepOutcome {
  const many = tooManyCopies(spots.count * copyCount(unit), 'unit')
  if (many) return many
  const changed = handOn(spots, hand, reach, letters ?? unit.letters)
  if (changed.spots.count === 0 && !body) return failed('all-left-out', 'All copies are left out.', 'Put some back, or switch the step off.', 'hand')
  const value = repeated(unit, changed.spots, changed.numbers, { letters, body })
  const count = changed.spots.count
  return {
    ok: true,
    value,
    told:
      told?.(count, told.length > 1 ? usualGap(changed.spots, 6 * reach) : undefined) ??
      `${count.toLocaleString('en')} cop${count === 1 ? 'y' : 'ies'}, ${assemblyTriangles(value).toLocaleString('en')} triangles`,
    issues: [...issues, ...handAside(changed.aside)],
  }
}

/** Places with what was changed by hand, told by letters that are there now. */
export function handOn(spots: Spots, { of, list }: ByHand, reach: number, letters: readonly string[]) {
  const { text, offsets } = textOfLetters(letters)
  const kept = of === text ? undefined : lettersKept(of, text)
  const numbers = new Map(offsets.map((at, i) => [at, i]))
  return changedByHand(spots, list as readonly HandChange[], reach, (at) => {
    const now = kept ? kept.get(at) : at
    return now === undefined ? undefined : numbers.get(now)
  })
}

const handAside = (aside: number): StepIssue[] =>
  aside === 0
    ? []
    : [
        {
          code: 'set-aside',
          severity: 'warning',
          message: `${aside} cop${aside === 1 ? 'y that was' : 'ies that were'} left out or moved ${aside === 1 ? 'has' : 'have'} no place any more and ${aside === 1 ? 'is' : 'are'} set aside.`,
          remedy: 'They come back with their places; or put all copies back.',
          field: 'hand',
        },
      ]

/**
 * A body with a hole under every place: round, as wide as a foot and its clearance, along the place's own direction. Certified as joins are. Undefined where no
 * place is left.
 */
export async function bored(
  body: Solid,
  { matrix, count }: Spots,
  foot: number,
  { holes, deep, clearance, lift }: HoleParams & Pick<UnitParams, 'lift'>,
  context: Pick<StepContext, 'breathe'>,
): Promise<{ readonly ok: true; readonly solid: Solid } | Extract<StepOutcome, { ok: false }>> {
  if (holes === 'none' || count === 0) return { ok: true, solid: body }
  await loadManifold()
  const far = Math.max(...assemblyBounds(asAssembly(body)).map(Math.abs))
  const lattice = Math.max(body.lattice, latticeFor(far))
  const radius = foot + clearance
  const [low, high] = holes === 'through' ? [-4 * far, 1] : [-deep + Math.min(0, lift), Math.max(0.5, 2 * radius)]
  const bar = transformed(turnedBar(radius, radius, high - low, 24, lattice), through([1, 0, 0, 0, 0, 0, -1, 0, 0, 1, 0, low] as Matrix))
  const cutters = repeated(
    asAssembly(bar),
    { count, matrix, letter: new Int32Array(count).fill(-1), spot: new Float64Array(3 * count) },
    Int32Array.from({ length: count }, (_, i) => i),
    { letters: [] },
  )
  const one = await asOneSolid(cutters, () => context.breathe())
  if (!one.ok) return failed(one.code, one.message, one.remedy, 'holes')
  const joined = joinSolid(body, [{ solid: one.solid, matrix: UNMOVED }], 'carve')
  if (joined.ok) return { ok: true, solid: joined.solid }
  return joined.why === 'empty'
    ? failed('nothing-left', 'The holes leave nothing of the piece.', 'Give smaller units, or blind holes.', 'holes')
    : {
        ...failed(
          'not-bored',
          'The holes could not be cut soundly.',
          'Give another clearance or a slightly other spacing. The place is shown in the view.',
          'holes',
        ),
      }
}

/** The value as what carries copies, undefined for outlines. */
export const bodyOf = (value: Value | undefined): Assembly | undefined => (value && value.kind !== 'outline' ? asAssembly(value) : undefined)

/** How far most places are from their nearest neighbour, mm; undefined where none has one within `most`. */
function usualGap({ matrix, count }: Spots, most: number): number | undefined {
  const near = new NearPlaces(most)
  for (let i = 0; i < count; i++) near.add(matrix[12 * i + 3], matrix[12 * i + 7], matrix[12 * i + 11])
  const gaps: number[] = []
  for (let i = 0; i < count; i++) {
    const gap = near.nearest(matrix[12 * i + 3], matrix[12 * i + 7], matrix[12 * i + 11], (n) => n !== i)
    if (Number.isFinite(gap)) gaps.push(gap)
  }
  return gaps.sort((a, b) => a - b)[gaps.length >> 1]
}

/** “146 bulbs, 10.8 mm apart, 73 W”. */
export const unitsTold = (unit: UnitParams['unit'], count: number, power = 0, apart?: number): string => {
  const name = unit === 'piece' ? (count === 1 ? 'copy' : 'copies') : NAMES[unit][count === 1 ? 0 : 1].toLowerCase()
  return `${count.toLocaleString('en')} ${name}${apart === undefined ? '' : `, ${plain(apart)} mm apart`}${unit === 'bulb' && power > 0 ? `, ${plain(power * count)} W` : ''}`
}
