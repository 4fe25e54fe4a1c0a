import { z } from 'zod'
import { faceGrounds, type Ground, outlineGrounds } from '../../repeat/grounds'
import type { Path } from '../../outline/path'
import { SpotList, type Spots, turnedAt } from '../../repeat/spots'
import { GROUPS } from '../../solid/labels'
import { failed, type StepContext, type StepIssue, type StepOutcome } from '../step'
import { bored, type ByHand, handOn, type HoleParams, repeatInStep, type Unit, unitsTold } from './repeating'
import { type UnitParams } from './repeat-fields'
import type { Value } from '../value'
import { asAssembly, withoutLetters } from '../../repeat/assemble'
import { type Assembly, pickEntries } from '../../solid/assembly'
import type { Solid } from '../../solid/solid'
import { groundField } from './ground-field'

/** What places are looked for on, and what of it stays. */
export interface GroundedInput {
  readonly grounds: readonly Ground[]
  readonly letters: readonly string[]
  /** the solid that carries the copies; none for outlines */
  readonly solid?: Solid
  /** what else stands there already and stays */
  readonly others?: Assembly
  readonly strokes: readonly Path[]
}

const ORDER: readonly (readonly number[])[] = [['inside'], ['face'], ['edge', 'return', 'back']].map((names) =>
  names.map((name) => GROUPS.indexOf(name as (typeof GROUPS)[number])),
)

/** The flat places of what comes before a step; copies that stand there already stay, and what carries them is what is worked on. */
export function groundsOf(input: Value | undefined, on: z.infer<typeof groundField>, title: string): GroundedInput | Extract<StepOutcome, { ok: false }> {
  if (!input) return failed('no-input', `${title} needs an outline or a solid.`, 'Put a source such as Lettering before it.')
  if (input.kind === 'outline') {
    if (input.regions.length === 0 && input.strokes.length === 0) return failed('empty-outline', 'The outline is empty.', 'Type some words, or draw something.')
    return { grounds: outlineGrounds(input), letters: input.letters.map(({ text }) => text), strokes: input.strokes }
  }
  const carrier = carrierOf(input)
  if (!carrier) return failed('no-body', `${title} needs one solid to set copies on, and gets copies only.`, 'Put this step before the one that repeats.')
  const wanted = on === 'face' ? [ORDER[1]] : on === 'inside' ? [ORDER[0]] : on === 'back' ? [ORDER[2]] : ORDER
  for (const groups of wanted) {
    const grounds = faceGrounds(carrier.solid, groups)
    if (grounds.length > 0) return { grounds, letters: input.letters, ...carrier, strokes: [] }
  }
  return failed('no-flat', 'The piece has no flat place there that looks forward.', 'Choose another place, or use On a surface.', 'on')
}

/** The one solid of a value that is no copy, and the rest. */
export function carrierOf(value: Solid | Assembly): { readonly solid: Solid; readonly others?: Assembly } | undefined {
  if (value.kind === 'solid') return { solid: value }
  const { copy, matrix } = value.placements
  const still = (i: number) => [0, 5, 10].every((k) => matrix[12 * i + k] === 1) && [1, 2, 3, 4, 6, 7, 8, 9, 11].every((k) => matrix[12 * i + k] === 0)
  const at = copy.findIndex((number, i) => number < 0 && still(i))
  if (at < 0) return undefined
  const solid = value.units[value.placements.unit[at]]
  const rest = Array.from(copy.keys()).filter((i) => i !== at)
  return rest.length === 0 ? { solid } : { solid, others: pickEntries(value, rest) }
}

/** What carries the copies of a step, with what stood there before. */
export function bodyWith(solid: Solid | undefined, others: Assembly | undefined): Assembly | undefined {
  if (!solid) return others && withoutLetters(others)
  const own = asAssembly(solid)
  if (!others) return own
  const count = others.placements.unit.length
  const [a, b] = [own.placements, others.placements]
  const ints = (x: Int32Array, y: Int32Array) => Int32Array.from([...x, ...y])
  return {
    ...own,
    units: [solid, ...others.units],
    letters: others.letters,
    placements: {
      unit: Uint32Array.from([0, ...Array.from(b.unit, (u) => u + 1)]),
      matrix: Float64Array.from([...a.matrix, ...b.matrix]),
      letter: ints(a.letter, b.letter),
      // numbers of earlier copies would be taken for those of the new ones
      copy: new Int32Array(count + 1).fill(-1),
      shard: ints(a.shard, b.shard),
      ...(b.colour ? { colour: Int32Array.from([-1, ...b.colour]) } : {}),
    },
  }
}

/** The lower left corner of every letter over all its grounds, mm. */
export function letterCorners(grounds: readonly Ground[]): ReadonlyMap<number, readonly [number, number]> {
  const corners = new Map<number, [number, number]>()
  for (const { set, x, y, letter } of grounds) {
    const corner = corners.get(letter) ?? [Infinity, Infinity]
    corners.set(letter, corner)
    for (const { xy } of set().rings)
      for (let i = 0; i < xy.length; i += 2) {
        corner[0] = Math.min(corner[0], x + xy[i])
        corner[1] = Math.min(corner[1], y + xy[i + 1])
      }
  }
  return corners
}

/** Places on grounds as spots: `places[g]` holds x, y and the direction, degrees, of those of ground g in its own coordinates. */
export function spotsOn(grounds: readonly Ground[], places: readonly Float64Array[], turned: boolean): Spots {
  const corners = letterCorners(grounds)
  const list = new SpotList()
  grounds.forEach(({ x, y, z, letter }, g) => {
    const [cx, cy] = letter < 0 ? [0, 0] : (corners.get(letter) ?? [0, 0])
    for (let i = 0; i < places[g].length; i += 3) {
      const [px, py] = [x + places[g][i], y + places[g][i + 1]]
      list.push(turnedAt(px, py, z, turned ? places[g][i + 2] : 0), letter, px - cx, py - cy, 0)
    }
  })
  return list.finish()
}

/** What is set on a carrier: its holes, if it is to have any, are bored under the places that are left after what was changed by hand. */
interface Setting {
  readonly carrier: { readonly solid?: Solid; readonly others?: Assembly; readonly letters: readonly string[] }
  readonly unit: Unit
  readonly spots: Spots
  readonly params: UnitParams & HoleParams & { readonly pitch: number; readonly power: number; readonly hand: ByHand }
  readonly issues?: readonly StepIssue[]
}

/** The outcome of setting units on places that are named by mm, on what carries them. */
export async function setOnCarrier({ carrier, unit, spots, params, issues = [] }: Setting, context: Pick<StepContext, 'breathe'>): Promise<StepOutcome> {
  const { letters, others } = carrier
  const { hand, power } = params
  const reach = params.pitch / 2
  let { solid } = carrier
  if (solid && params.holes !== 'none') {
    const cut = await bored(solid, handOn(spots, hand, reach, letters).spots, unit.foot, params, context)
    if (!cut.ok) return cut
    solid = cut.solid
  }
  return repeatInStep({
    unit: unit.assembly,
    spots,
    hand,
    reach,
    letters,
    body: bodyWith(solid, others),
    told: (left, apart) => unitsTold(params.unit, left, power, apart),
    issues,
  })
}
