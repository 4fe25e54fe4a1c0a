import { EdgeTable } from '../check/edge-table'

/** Sides of some triangles that none of them lies across, from and to one after another; the triangle lies on their left. */
export function openSides(indices: ArrayLike<number>, triangles: ArrayLike<number>): number[] {
  const sides = new EdgeTable(3 * triangles.length)
  const each = (visit: (a: number, b: number) => void) => {
    for (let i = 0; i < triangles.length; i++) for (let k = 0; k < 3; k++) visit(indices[3 * triangles[i] + k], indices[3 * triangles[i] + ((k + 1) % 3)])
  }
  each((a, b) => {
    sides.value[sides.slot(a, b)] = 1
  })
  const open: number[] = []
  each((a, b) => {
    if (sides.get(b, a, 0) === 0) open.push(a, b)
  })
  return open
}

/** Sides, from and to one after another, as closed rings of vertices; undefined where they do not close, or several begin at one vertex. */
export function ringsOf(sides: readonly number[]): number[][] | undefined {
  const after = new Map<number, number>()
  for (let i = 0; i < sides.length; i += 2) after.set(sides[i], sides[i + 1])
  if (2 * after.size !== sides.length) return undefined
  const rings: number[][] = []
  while (after.size > 0) {
    const [first] = after.keys()
    const ring: number[] = []
    let v = first
    do {
      ring.push(v)
      const next = after.get(v)
      if (next === undefined) return undefined
      after.delete(v)
      v = next
    } while (v !== first)
    rings.push(ring)
  }
  return rings
}
