import { type Assembly, copyBoxes, copySolid, pickEntries } from '../solid/assembly'
import { NONE } from '../solid/labels'
import { letterParts } from '../solid/letter-parts'
import { letterTurns } from '../solid/letter-turns'
import { split } from '../solid/operations'
import { labelOf, type Solid } from '../solid/solid'
import { asAssembly } from './assemble'
import { around, letterGroups, type LetterBox, solidBoxes } from './letter-boxes'
import { APART_BY } from './apart-by'

export type ApartBy = (typeof APART_BY)[number]

/** Things that move each for itself. */
export interface Thing {
  /** its first letter, or its number where it stands for none */
  readonly order: number
  /** what lots are drawn for it by: its own, however many things of other letters stand before it */
  readonly lot: number
  /** its letters, in their order */
  readonly letters: readonly number[]
  /** what makes it up, of the assembly's entries */
  readonly entries: readonly number[]
  /** the box about all of it, mm */
  readonly box: LetterBox
}

export interface Apart {
  /** the value, with every thing as entries of its own; what stands still, such as the body that copies are set on, is there too */
  readonly assembly: Assembly
  /** in their order */
  readonly things: readonly Thing[]
  /** how many of them are several letters, words or lines that hang together and cannot move each for itself */
  readonly joined: number
}

const known = new WeakMap<Solid | Assembly, Map<ApartBy, Apart>>()

/**
 * A value taken apart by its letters, words, lines, connected parts, or copies and shards. What hangs together stays together, so that every thing is closed; copies go with the
 * letter they stand on. The same value is taken apart once.
 */
export function takenApart(value: Solid | Assembly, by: ApartBy): Apart {
  const lists = known.get(value) ?? new Map<ApartBy, Apart>()
  known.set(value, lists)
  const before = lists.get(by)
  if (before) return before
  const apart = takeApart(asAssembly(value), by)
  lists.set(by, apart)
  return apart
}

function takeApart(whole: Assembly, by: ApartBy): Apart {
  if (by === 'copy') {
    const { copy, shard } = whole.placements
    return grouped(
      whole,
      Array.from(copy, (number, i) => (number !== NONE ? `copy ${number}` : shard[i] !== NONE ? `shard ${shard[i]}` : undefined)),
      0,
    )
  }
  const unitOf = by === 'part' ? (letter: number) => letter : letterUnits(whole, by)
  const { placements } = whole
  const units: Solid[] = []
  const pieces = new Map<number, readonly { readonly unit: number; readonly letters: readonly number[] }[]>()
  /** units that stay whole */
  const uncut = new Map<number, number>()
  /** a unit as its closed pieces */
  const piecesOf = (u: number) => {
    const before = pieces.get(u)
    if (before) return before
    const solid = whole.units[u]
    const { of, groups } = by === 'part' ? connected(solid) : letterParts(solid, unitOf)
    const made =
      groups.length <= 1
        ? [{ unit: units.push(solid) - 1, letters: groups[0] ?? [] }]
        : [...split(solid, (t) => of[t])].sort(([a], [b]) => a - b).map(([group, piece]) => ({ unit: units.push(piece) - 1, letters: groups[group] }))
    pieces.set(u, made)
    return made
  }
  const from: number[] = []
  const unit: number[] = []
  const letters: (readonly number[])[] = []
  for (let i = 0; i < placements.unit.length; i++) {
    const own = placements.letter[i]
    // what stands for one letter goes with it as it is
    if (own !== NONE && by !== 'part') {
      const u = placements.unit[i]
      const number = uncut.get(u) ?? units.push(whole.units[u]) - 1
      uncut.set(u, number)
      from.push(i)
      unit.push(number)
      letters.push([own])
      continue
    }
    for (const piece of piecesOf(placements.unit[i])) {
      from.push(i)
      unit.push(piece.unit)
      letters.push(piece.letters)
    }
  }
  const picked = pickEntries(whole, from)
  const assembly = { ...picked, units, placements: { ...picked.placements, unit: Uint32Array.from(unit) } }
  if (by === 'part')
    return grouped(
      assembly,
      unit.map((_, i) => `part ${i}`),
      0,
      letters,
    )
  // what shares a unit goes together, over all that stands there
  const parent = new Map<number, number>()
  const root = (u: number): number => {
    const up = parent.get(u) ?? u
    return up === u ? u : root(up)
  }
  let joined = 0
  for (const list of letters) {
    const own = [...new Set(list.map(unitOf))]
    for (const other of own.slice(1))
      if (root(other) !== root(own[0])) {
        parent.set(root(other), root(own[0]))
        joined++
      }
  }
  return grouped(
    assembly,
    letters.map((list) => (list.length > 0 ? `unit ${root(unitOf(list[0]))}` : undefined)),
    joined,
    letters,
  )
}

/** Entries with the same name as one thing; those without a name stand still. */
function grouped(assembly: Assembly, names: readonly (string | undefined)[], joined: number, letters?: readonly (readonly number[])[]): Apart {
  const boxes = copyBoxes(assembly)
  const things = new Map<string, { entries: number[]; letters: Set<number>; box: LetterBox }>()
  names.forEach((name, i) => {
    if (name === undefined) return
    const box = boxes.subarray(6 * i, 6 * i + 6)
    const thing = things.get(name) ?? { entries: [], letters: new Set(), box: Array.from(box) as LetterBox }
    things.set(name, thing)
    thing.entries.push(i)
    thing.box = around(thing.box, box)
    const own = assembly.placements.letter[i]
    for (const letter of letters?.[i] ?? (own === NONE ? [] : [own])) thing.letters.add(letter)
  })
  const list = [...things.values()].map(({ entries, letters: own, box }) => {
    const sorted = [...own].sort((a, b) => a - b)
    return { order: sorted[0] ?? Infinity, letters: sorted, entries, box }
  })
  if (letters) list.sort((a, b) => a.order - b.order || a.entries[0] - b.entries[0])
  const likes = new Map<number, number>()
  return {
    assembly,
    joined,
    things: list.map((thing): Thing => {
      const nth = likes.get(thing.order) ?? 0
      likes.set(thing.order, nth + 1)
      return { ...thing, lot: Math.imul(Number.isFinite(thing.order) ? thing.order + 1 : -1, 0x9e3779b1) ^ nth }
    }),
  }
}

/** Every connected part by itself. */
function connected(solid: Solid): { of: Int32Array; groups: number[][] } {
  const [of, letter] = [labelOf(solid, 'part'), labelOf(solid, 'letter')]
  const groups: Set<number>[] = []
  for (let t = 0; t < of.length; t++) {
    groups[of[t]] ??= new Set()
    if (letter[t] !== NONE) groups[of[t]].add(letter[t])
  }
  return { of, groups: Array.from(groups, (own) => [...(own ?? [])].sort((a, b) => a - b)) }
}

/** The number of the letter's own letter, word or line. */
function letterUnits(assembly: Assembly, by: 'letter' | 'word' | 'line'): (letter: number) => number {
  const { placements, letters } = assembly
  if (by === 'letter') return (letter) => letter
  if (by === 'word') {
    const { word } = letterTurns(letters)
    return (letter) => word[letter]
  }
  const boxes = new Map<number, LetterBox>()
  const whole = copyBoxes(assembly)
  for (let i = 0; i < placements.unit.length; i++) {
    const own = placements.letter[i]
    const list = own === NONE ? solidBoxes(copySolid(assembly, i)) : [[own, whole.subarray(6 * i, 6 * i + 6)] as const]
    for (const [letter, box] of list) {
      const before = boxes.get(letter)
      boxes.set(letter, before ? around(before, box) : (Array.from(box) as LetterBox))
    }
  }
  const firsts = letterGroups(letters, boxes, 'line').map(({ letter }) => letter)
  return (letter) =>
    Math.max(
      0,
      firsts.findLastIndex((first) => first <= letter),
    )
}
