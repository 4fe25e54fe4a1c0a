/**
 * A plane affine map [a, b, c, d, e, f]: x' = a·x + c·y + e, y' = b·x + d·y + f (the order of SVG's `matrix()`).
 */
export type Affine = readonly [number, number, number, number, number, number]

export const IDENTITY: Affine = [1, 0, 0, 1, 0, 0]

/** The map that applies `first`, then `second`. */
export function compose(second: Affine, first: Affine): Affine {
  const [a, b, c, d, e, f] = second
  const [g, h, i, j, k, l] = first
  return [a * g + c * h, b * g + d * h, a * i + c * j, b * i + d * j, a * k + c * l + e, b * k + d * l + f]
}

export function translation(dx: number, dy: number): Affine {
  return [1, 0, 0, 1, dx, dy]
}

export function scaling(s: number): Affine {
  return [s, 0, 0, s, 0, 0]
}
