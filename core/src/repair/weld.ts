/** Vertices at one place of the lattice are one: their places, and for each vertex given the number of its own. */
export function weld(positions: ArrayLike<number>, lattice: number): { places: Float64Array; of: Uint32Array } {
  const count = positions.length / 3
  const slots = 2 ** Math.max(4, Math.ceil(Math.log2(2 * count + 1)))
  const table = new Int32Array(slots).fill(-1)
  const places = new Float64Array(3 * count)
  const of = new Uint32Array(count)
  let welded = 0
  for (let v = 0; v < count; v++) {
    const i = Math.round(positions[3 * v] / lattice)
    const j = Math.round(positions[3 * v + 1] / lattice)
    const k = Math.round(positions[3 * v + 2] / lattice)
    // + 0 makes one of the two zeros
    const [x, y, z] = [i * lattice + 0, j * lattice + 0, k * lattice + 0]
    let hash = Math.imul(i | 0, 0x9e3779b1) ^ Math.imul(j | 0, 0x85ebca6b) ^ Math.imul(k | 0, 0xc2b2ae35)
    hash ^= hash >>> 15
    let slot = Math.imul(hash, 0x2c1b3c6d) >>> 0
    slot = (slot ^ (slot >>> 13)) & (slots - 1)
    for (;;) {
      const w = table[slot]
      if (w < 0) {
        table[slot] = welded
        places[3 * welded] = x
        places[3 * welded + 1] = y
        places[3 * welded + 2] = z
        of[v] = welded++
        break
      }
      if (places[3 * w] === x && places[3 * w + 1] === y && places[3 * w + 2] === z) {
        of[v] = w
        break
      }
      slot = (slot + 1) & (slots - 1)
    }
  }
  return { places: places.slice(0, 3 * welded), of }
}
