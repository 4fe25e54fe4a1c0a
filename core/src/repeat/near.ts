/** Places in space, asked for neighbours within a distance. Cells are as wide as that distance, so that only the 27 about a place are looked at. */
export class NearPlaces {
  private readonly cells = new Map<number, number[]>()
  private readonly at: number[] = []

  /** `reach` mm is the largest distance that is asked for. */
  constructor(private readonly reach: number) {}

  add(x: number, y: number, z = 0): void {
    const key = this.key(Math.floor(x / this.reach), Math.floor(y / this.reach), Math.floor(z / this.reach))
    const list = this.cells.get(key)
    if (list) list.push(this.at.length)
    else this.cells.set(key, [this.at.length])
    this.at.push(x, y, z)
  }

  /** The least distance to a place of these, within `reach`; Infinity where none is so near. `counts` leaves single ones out by their number. */
  nearest(x: number, y: number, z = 0, counts?: (number: number) => boolean): number {
    const [i, j, k] = [Math.floor(x / this.reach), Math.floor(y / this.reach), Math.floor(z / this.reach)]
    let best = this.reach * this.reach
    let found = false
    for (let a = i - 1; a <= i + 1; a++)
      for (let b = j - 1; b <= j + 1; b++)
        for (let c = k - 1; c <= k + 1; c++)
          for (const o of this.cells.get(this.key(a, b, c)) ?? []) {
            const far = (this.at[o] - x) ** 2 + (this.at[o + 1] - y) ** 2 + (this.at[o + 2] - z) ** 2
            if (far > best || (counts && !counts(o / 3))) continue
            best = far
            found = true
          }
    return found ? Math.sqrt(best) : Infinity
  }

  private key(a: number, b: number, c: number): number {
    return ((a & 0x1ffff) * 0x20000 + (b & 0x1ffff)) * 0x20000 + (c & 0x1ffff)
  }
}
