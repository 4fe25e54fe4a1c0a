/**
 * A map from ordered pairs of vertex ids to a number, by open addressing: several times faster than a Map with joined keys, and
 * what the kernels spend most of their time on. Ids are 0 to 2^31 − 2; values are whole numbers.
 */
export class PairTable {
  private mask: number
  private first: Int32Array
  private second: Int32Array
  private value: Int32Array
  private count = 0

  /** `expected`: about how many pairs it will hold. */
  constructor(expected: number) {
    let size = 16
    while (size < expected * 2) size *= 2
    this.mask = size - 1
    this.first = new Int32Array(size).fill(-1)
    this.second = new Int32Array(size)
    this.value = new Int32Array(size)
  }

  get size(): number {
    return this.count
  }

  private slot(a: number, b: number): number {
    const { first, second, mask } = this
    let h = Math.imul(a, 0x9e3779b1) ^ Math.imul(b, 0x85ebca6b)
    h ^= h >>> 15
    let i = h & mask
    while (first[i] >= 0 && (first[i] !== a || second[i] !== b)) i = (i + 1) & mask
    return i
  }

  has(a: number, b: number): boolean {
    return this.first[this.slot(a, b)] >= 0
  }

  /** The value of a pair, −1 when it is not there. */
  get(a: number, b: number): number {
    const i = this.slot(a, b)
    return this.first[i] < 0 ? -1 : this.value[i]
  }

  /** False when the pair was there already; its value is replaced. */
  set(a: number, b: number, value: number): boolean {
    const i = this.slot(a, b)
    this.value[i] = value
    if (this.first[i] >= 0) return false
    this.first[i] = a
    this.second[i] = b
    this.count++
    if (this.count * 2 > this.mask) this.resize(2 * this.first.length)
    return true
  }

  /** Adds bits to the value of a pair; returns those it had before, 0 when it was not there. */
  mark(a: number, b: number, bits: number): number {
    const i = this.slot(a, b)
    if (this.first[i] < 0) {
      this.set(a, b, bits)
      return 0
    }
    const had = this.value[i]
    this.value[i] = had | bits
    return had
  }

  /** Makes room for so many more pairs. */
  reserve(more: number): void {
    let size = this.first.length
    while (size < (this.count + more) * 2) size *= 2
    if (size > this.first.length) this.resize(size)
  }

  private resize(size: number): void {
    const { first, second, value } = this
    this.mask = size - 1
    this.first = new Int32Array(size).fill(-1)
    this.second = new Int32Array(size)
    this.value = new Int32Array(size)
    for (let k = 0; k < first.length; k++) {
      if (first[k] < 0) continue
      const i = this.slot(first[k], second[k])
      this.first[i] = first[k]
      this.second[i] = second[k]
      this.value[i] = value[k]
    }
  }
}
