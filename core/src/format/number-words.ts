/** The numbers of a text that stand between blanks, read from its bytes one after another, so that no list of words is made. */
export class NumberWords {
  private at: number
  constructor(
    private readonly bytes: Uint8Array,
    from = 0,
  ) {
    this.at = from
  }

  /** The next word as a number, NaN when it is none; undefined at the end. */
  next(): number | undefined {
    const { bytes } = this
    let { at } = this
    while (at < bytes.length && bytes[at] <= 32) at++
    if (at >= bytes.length) return undefined
    const from = at
    // whole numbers of few digits, most of what there is, are told without making text of them
    const negative = bytes[at] === 45
    if (negative) at++
    let whole = 0
    while (at < bytes.length && bytes[at] >= 48 && bytes[at] <= 57) whole = 10 * whole + bytes[at++] - 48
    if (at - from <= 15 && at > from + (negative ? 1 : 0) && (at >= bytes.length || bytes[at] <= 32)) {
      this.at = at
      return negative ? -whole : whole
    }
    while (at < bytes.length && bytes[at] > 32) at++
    this.at = at
    // no number is longer than this
    if (at - from > 64) return Number.NaN
    return Number(String.fromCharCode(...bytes.subarray(from, at)))
  }
}
