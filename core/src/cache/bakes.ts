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

/** A bake's key: the kind of step that it is of, and what it was made of. */
export const BAKE_KEY = /^[a-z]{1,20}-[0-9a-z-]{8,90}$/
/** Of a bake so many bytes are kept beyond the page that made it. */
export const MAX_BAKE_BYTES = 48 * 1024 * 1024

/** The kind of step that a bake is of. */
export const bakeKind = (key: string): string => key.slice(0, key.indexOf('-'))

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
