/**
 * The lattice. Finished coordinates are multiples of a power of two chosen so that every coordinate of a piece fits the
 * 24-bit significand of a 32-bit float. What is proven about a solid in memory therefore holds bit for bit in an STL or
 * glTF file, and orientation tests in the plane are exact in double precision (differences < 2^25, products < 2^50).
 */

/** The lattice step for coordinates up to `extent` mm from the origin: 2^-14 mm up to 512 mm, coarser beyond. */
export function latticeFor(extent: number): number {
  const reach = Math.max(512, extent)
  return 2 ** (Math.ceil(Math.log2(reach)) - 23)
}

/** The nearest multiple of `step`. */
export function snap(value: number, step: number): number {
  return Math.round(value / step) * step
}

/** Integer key of a lattice point; unique for coordinates below 2^25 steps. */
export function latticeKey(x: number, y: number, step: number): number {
  return Math.round(x / step) * 67108864 + Math.round(y / step)
}
