/**
 * A map from ordered pairs of vertex ids to a number, by open addressing: several times faster than a Map with joined keys, and
 * what the kernels spend most of their time on. Ids are 0 to 2^31 − 2; values are whole numbers.
 */
export class PairTable {
  private mask: number
  /** three numbers a slot, side by side: the first id and one, 0 where it is empty; the second id; the value */
  private slots: Int32Array
  private count = 0

  /** `expected`: about how many pairs it will hold. */
  constructor(expected: number) {
    let size = 16
    while (size < expected * 2) size *= 2
    this.mask = size - 1
    this.slots = new Int32Array(3 * size)
  }

  get size(): number {
    return this.count
  }

  /** Where a pair's slot begins, or the empty one that it would have. */
  private slot(a: number, b: number): number {
    const { slots, mask } = this
    let h = Math.imul(a, 0x9e3779b1) ^ Math.imul(b, 0x85ebca6b)
    h ^= h >>> 15
    let i = h & mask
    while (slots[3 * i] !== 0 && (slots[3 * i] !== a + 1 || slots[3 * i + 1] !== b)) i = (i + 1) & mask
    return 3 * i
  }

  has(a: number, b: number): boolean {
    return this.slots[this.slot(a, b)] !== 0
  }

  /** The value of a pair, −1 when it is not there. */
  get(a: number, b: number): number {
    const i = this.slot(a, b)
    return this.slots[i] === 0 ? -1 : this.slots[i + 2]
  }

  /** False when the pair was there already; its value is replaced. */
  set(a: number, b: number, value: number): boolean {
    const i = this.slot(a, b)
    const { slots } = this
    slots[i + 2] = value
    if (slots[i] !== 0) return false
    slots[i] = a + 1
    slots[i + 1] = b
    this.count++
    if (this.count * 2 > this.mask) this.resize(2 * (this.mask + 1))
    return true
  }

  /** Adds bits to the value of a pair; returns those it had before, 0 when it was not there. */
  mark(a: number, b: number, bits: number): number {
    const i = this.slot(a, b)
    if (this.slots[i] === 0) {
      this.set(a, b, bits)
      return 0
    }
    const had = this.slots[i + 2]
    this.slots[i + 2] = had | bits
    return had
  }

  /** Makes room for so many more pairs. */
  reserve(more: number): void {
    let size = this.mask + 1
    while (size < (this.count + more) * 2) size *= 2
    if (size > this.mask + 1) this.resize(size)
  }

  private resize(size: number): void {
    const { slots: old } = this
    this.mask = size - 1
    this.slots = new Int32Array(3 * size)
    for (let k = 0; k < old.length; k += 3) {
      if (old[k] === 0) continue
      const i = this.slot(old[k] - 1, old[k + 1])
      this.slots[i] = old[k]
      this.slots[i + 1] = old[k + 1]
      this.slots[i + 2] = old[k + 2]
    }
  }
}
