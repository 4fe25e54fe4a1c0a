import { hashBits, hashJson } from './hash'
import type { Assembly } from '../solid/assembly'
import type { Solid } from '../solid/solid'

/**
 * Where bakes lie, under a key that says what each was made of, and the parts of those that are being made. Parts go when their bake is written. What cannot be read or kept just now is made anew: neither
 * ever fails.
 */
export interface BakeStore {
  read(key: string): Promise<Uint8Array | undefined>
  write(key: string, bytes: Uint8Array): Promise<void>
}

/** The name of a bake's part. */
export const partKey = (key: string, number: number): string => `${key}-p${number}`
export const isPartKey = (key: string): boolean => /-p\d+$/.test(key)

const known = new WeakMap<object, string>()

const kept = (thing: object, make: () => string): string => {
  const before = known.get(thing)
  if (before) return before
  const made = make()
  known.set(thing, made)
  return made
}

/** Tells a shape from all others: its places and triangles, bit by bit. */
export const shapeKey = (solid: Pick<Solid, 'positions' | 'indices'>): string =>
  kept(solid.positions, () => `${hashBits(solid.positions)} ${hashBits(solid.indices)}`)

/** Tells what stands in an assembly, and where, from all else. */
export const assemblyKey = (assembly: Assembly): string =>
  kept(assembly, () => hashJson([assembly.units.map(shapeKey), hashBits(assembly.placements.unit), hashBits(assembly.placements.matrix)]))
