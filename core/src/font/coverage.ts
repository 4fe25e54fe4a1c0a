/** Code points as sorted ranges in hexadecimal: "20-7e,a0-ff". */
export function writeRanges(codePoints: Iterable<number>): string {
  const sorted = [...new Set(codePoints)].sort((a, b) => a - b)
  const ranges: string[] = []
  for (let i = 0; i < sorted.length; ) {
    let j = i
    while (j + 1 < sorted.length && sorted[j + 1] === sorted[j] + 1) j++
    ranges.push(i === j ? sorted[i].toString(16) : `${sorted[i].toString(16)}-${sorted[j].toString(16)}`)
    i = j + 1
  }
  return ranges.join()
}

/** Which characters a font has, read from what `writeRanges` wrote. Anything else in the text counts as no range. */
export class Coverage {
  private readonly starts: number[] = []
  private readonly ends: number[] = []

  constructor(ranges: string) {
    for (const part of ranges.split(',')) {
      const match = /^([0-9a-f]{1,6})(?:-([0-9a-f]{1,6}))?$/.exec(part)
      if (!match) continue
      this.starts.push(Number.parseInt(match[1], 16))
      this.ends.push(Number.parseInt(match[2] ?? match[1], 16))
    }
  }

  has(codePoint: number): boolean {
    let lo = 0
    let hi = this.starts.length - 1
    while (lo <= hi) {
      const mid = (lo + hi) >> 1
      if (this.starts[mid] > codePoint) hi = mid - 1
      else if (this.ends[mid] < codePoint) lo = mid + 1
      else return true
    }
    return false
  }

  /** The characters of a text that are missing, each once; what has no shape by itself is never missing. */
  missing(text: string): string[] {
    return [...new Set(text)].filter(
      (c) => !/[\p{White_Space}\p{Control}\p{Format}\p{Default_Ignorable_Code_Point}]/u.test(c) && !this.has(c.codePointAt(0) as number),
    )
  }
}
