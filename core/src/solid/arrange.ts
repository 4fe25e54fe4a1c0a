import { letterParts } from './letter-parts'
import { type Assembly, movedAssembly } from './assembly'
import { FACE, GROUPS, NONE, withLabel } from './labels'
import { compose, type Matrix, split, transformed } from './operations'
import { uvsOf } from './shading'
import type { Solid } from './solid'

export interface Arrangement {
  /** factor on all sizes */
  readonly scale: number
  /** 'z' stands the piece up for programs whose Z points upwards; 'y' leaves it as it is, on its back in such programs */
  readonly up: 'y' | 'z'
}

/**
 * The solid scaled and turned for another program. A turn is exact; scaled positions are rounded to the solid's lattice, so a
 * solid that was scaled should be checked again. Returns the solid itself when nothing changes.
 */
export function arranged(solid: Solid, { scale, up }: Arrangement): Solid {
  if (scale === 1 && up === 'y') return solid
  const sized: Matrix = [scale, 0, 0, 0, 0, scale, 0, 0, 0, 0, scale, 0]
  const { attributes, ...moved } = transformed(solid, up === 'z' ? compose(STANDING, sized) : sized)
  return { ...moved, attributes: scale === 1 ? attributes : { ...attributes, uv: uvsOf(solid).map((v) => v * scale) } }
}

/** The same for copies, whose units stay as they are. */
export function arrangedAssembly(assembly: Assembly, { scale, up }: Arrangement): Assembly {
  const sized: Matrix = [scale, 0, 0, 0, 0, scale, 0, 0, 0, 0, scale, 0]
  return scale === 1 && up === 'y' ? assembly : movedAssembly(assembly, up === 'z' ? compose(STANDING, sized) : sized)
}

/** A quarter turn about X: Y becomes Z. */
const STANDING: Matrix = [1, 0, 0, 0, 0, 0, -1, 0, 0, 1, 0, 0]

/** The solid as one surface in the look that most of its face has. */
export function merged(solid: Solid): Solid {
  const { labels, surface } = solid
  const triangles = new Map<number, number>()
  for (const row of surface) if (labels.group[row] === FACE) triangles.set(labels.look[row], (triangles.get(labels.look[row]) ?? 0) + 1)
  const look = [...triangles].reduce((most, entry) => (entry[1] > most[1] ? entry : most), [NONE, 0])[0]
  let one = labels
  for (const [label, value] of [
    ['group', FACE],
    ['layer', 0],
    ['band', NONE],
    ['look', look],
  ] as const)
    one = withLabel(one, label, () => value)
  return { ...solid, labels: one, layers: [{ name: 'all' }], looks: solid.looks.map(({ material }) => ({ name: GROUPS[FACE], material })) }
}

/**
 * The solid taken apart by its letters, each with what it is called: whole connected parts, so that each is closed. Letters
 * that are joined stay together. A part that belongs to no letter, such as a plate, is a solid of its own.
 */
export function lettersApart(solid: Solid): { name: string; solid: Solid }[] {
  const { of, groups } = letterParts(solid)
  return [...split(solid, (t) => of[t])]
    .sort(([a], [b]) => a - b)
    .map(([group, part]) => ({ name: groups[group].map((letter) => solid.letters[letter] ?? '').join('') || 'rest', solid: part }))
}
