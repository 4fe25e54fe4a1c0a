import { oppositesOf } from '../check/edges'

/** Triangles that hang together and are of one kind. */
export interface Patch {
  readonly kind: number
  readonly triangles: readonly number[]
  /** its borders as rings of vertices, the patch to their left; where it touches itself at a point they stay apart */
  readonly rings: readonly (readonly number[])[]
}

const nextSide = (h: number) => (h % 3 === 2 ? h - 2 : h + 1)

/** The patches of a closed mesh by what `kindOf` says of its triangles, in the order of their first ones; those of a negative kind are of none. */
export function patchesOf(indices: Uint32Array, kindOf: (triangle: number) => number): Patch[] {
  const count = indices.length / 3
  const kinds = Float64Array.from({ length: count }, (_, t) => kindOf(t))
  const opposite = oppositesOf(indices)
  const within = (h: number, kind: number) => opposite[h] >= 0 && kinds[Math.floor(opposite[h] / 3)] === kind
  const seen = new Uint8Array(count)
  const patches: Patch[] = []
  for (let first = 0; first < count; first++) {
    const kind = kinds[first]
    if (kind < 0 || seen[first]) continue
    seen[first] = 1
    const triangles = [first]
    const borders: number[] = []
    for (let i = 0; i < triangles.length; i++)
      for (let h = 3 * triangles[i]; h < 3 * triangles[i] + 3; h++) {
        if (!within(h, kind)) borders.push(h)
        else {
          const other = Math.floor(opposite[h] / 3)
          if (seen[other]) continue
          seen[other] = 1
          triangles.push(other)
        }
      }
    const left = new Set(borders)
    const rings: number[][] = []
    for (const start of borders) {
      if (!left.has(start)) continue
      const ring: number[] = []
      let h = start
      do {
        left.delete(h)
        ring.push(indices[h])
        h = nextSide(h)
        // turn about the end of the border, within the patch, until its other border is met
        while (within(h, kind)) h = nextSide(opposite[h])
      } while (h !== start)
      rings.push(ring)
    }
    patches.push({ kind, triangles, rings })
  }
  return patches
}
