/** Triangles by their number that are left out: of those with the same corners all but one; of two with their backs to each other both. */
export function duplicates(indices: Uint32Array): Uint32Array {
  const triangles = indices.length / 3
  const slots = 2 ** Math.max(4, Math.ceil(Math.log2(2 * triangles + 1)))
  // the triangles met so far by their corners, whichever way they run
  const table = new Int32Array(slots).fill(-1)
  const sorted = new Uint32Array(3 * triangles)
  const even = new Uint8Array(triangles)
  const gone = new Uint8Array(triangles)
  const out: number[] = []
  for (let t = 0; t < triangles; t++) {
    let [a, b, c] = [indices[3 * t], indices[3 * t + 1], indices[3 * t + 2]]
    let turns = 0
    if (a > b) {
      ;[a, b] = [b, a]
      turns++
    }
    if (b > c) {
      ;[b, c] = [c, b]
      turns++
    }
    if (a > b) {
      ;[a, b] = [b, a]
      turns++
    }
    even[t] = turns % 2
    sorted[3 * t] = a
    sorted[3 * t + 1] = b
    sorted[3 * t + 2] = c
    let hash = Math.imul(a, 0x9e3779b1) ^ Math.imul(b, 0x85ebca6b) ^ Math.imul(c, 0xc2b2ae35)
    hash ^= hash >>> 15
    let slot = (Math.imul(hash, 0x2c1b3c6d) >>> 0) & (slots - 1)
    for (;;) {
      const s = table[slot]
      if (s < 0) {
        table[slot] = t
        break
      }
      if (sorted[3 * s] === a && sorted[3 * s + 1] === b && sorted[3 * s + 2] === c) {
        out.push(t)
        if (gone[s]) {
          // both of the pair before are out: this one stands for itself again
          out.pop()
          table[slot] = t
        } else if (even[s] !== even[t]) {
          gone[s] = 1
          out.push(s)
        }
        break
      }
      slot = (slot + 1) & (slots - 1)
    }
  }
  return Uint32Array.from(out).sort()
}
