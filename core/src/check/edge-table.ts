/**
 * Numbers kept under directed edges a → b: open addressing with linear probing. The slots are powers of two, at least
 * twice as many as edges; `from[slot]` is −1 where a slot is free. Vertex numbers must be below 2³¹.
 */
export class EdgeTable {
  readonly from: Int32Array
  readonly to: Int32Array
  readonly value: Int32Array
  private readonly mask: number

  constructor(edges: number) {
    const slots = 2 ** Math.max(4, Math.ceil(Math.log2(2 * edges + 1)))
    this.mask = slots - 1
    this.from = new Int32Array(slots).fill(-1)
    this.to = new Int32Array(slots)
    this.value = new Int32Array(slots)
  }

  /** The slot of an edge, made with value 0 where there is none. */
  slot(a: number, b: number): number {
    let s = (Math.imul(a, 0x9e3779b1) ^ Math.imul(b, 0x85ebca6b)) & this.mask
    while (this.from[s] !== -1) {
      if (this.from[s] === a && this.to[s] === b) return s
      s = (s + 1) & this.mask
    }
    this.from[s] = a
    this.to[s] = b
    return s
  }

  /** The value of an edge, or `otherwise`. */
  get(a: number, b: number, otherwise: number): number {
    let s = (Math.imul(a, 0x9e3779b1) ^ Math.imul(b, 0x85ebca6b)) & this.mask
    while (this.from[s] !== -1) {
      if (this.from[s] === a && this.to[s] === b) return this.value[s]
      s = (s + 1) & this.mask
    }
    return otherwise
  }
}
