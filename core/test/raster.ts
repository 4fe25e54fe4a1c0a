/** Scan conversion for tests: coverage of rings by the non-zero rule, on a grid of samples, independent of any clipper. */
export class Raster {
  readonly rgb: Float32Array

  /** White to begin with. */
  constructor(
    readonly width: number,
    readonly height: number,
  ) {
    this.rgb = new Float32Array(3 * width * height).fill(255)
  }

  /** Paints the area of rings given in pixels, Y downwards; four sample lines a pixel, exact spans along each. */
  fill(rings: readonly ArrayLike<number>[], [r, g, b]: readonly [number, number, number]): void {
    const LINES = 4
    const cover = new Float32Array(this.width)
    const edges: [number, number, number, number][] = []
    for (const ring of rings) {
      for (let i = 0, j = ring.length - 2; i < ring.length; j = i, i += 2) {
        if (ring[j + 1] !== ring[i + 1]) edges.push([ring[j], ring[j + 1], ring[i], ring[i + 1]])
      }
    }
    const rows: number[][] = Array.from({ length: this.height }, () => [])
    edges.forEach(([, y0, , y1], k) => {
      for (let y = Math.max(0, Math.floor(Math.min(y0, y1))); y <= Math.min(this.height - 1, Math.floor(Math.max(y0, y1))); y++) rows[y].push(k)
    })
    for (let y = 0; y < this.height; y++) {
      if (rows[y].length === 0) continue
      cover.fill(0)
      for (let line = 0; line < LINES; line++) {
        const at = y + (line + 0.5) / LINES
        const hits: [number, number][] = []
        for (const k of rows[y]) {
          const [x0, y0, x1, y1] = edges[k]
          if (y0 <= at === y1 <= at) continue
          hits.push([x0 + ((at - y0) / (y1 - y0)) * (x1 - x0), y1 > y0 ? 1 : -1])
        }
        hits.sort((p, q) => p[0] - q[0])
        let wind = 0
        for (let i = 0; i + 1 < hits.length; i++) {
          wind += hits[i][1]
          if (wind === 0) continue
          const [from, to] = [Math.max(0, hits[i][0]), Math.min(this.width, hits[i + 1][0])]
          for (let x = Math.floor(from); x < to; x++) cover[x] += Math.max(0, Math.min(to, x + 1) - Math.max(from, x)) / LINES
        }
      }
      for (let x = 0; x < this.width; x++) {
        const a = Math.min(1, cover[x])
        if (a === 0) continue
        const o = 3 * (y * this.width + x)
        this.rgb[o] += (r - this.rgb[o]) * a
        this.rgb[o + 1] += (g - this.rgb[o + 1]) * a
        this.rgb[o + 2] += (b - this.rgb[o + 2]) * a
      }
    }
  }
}
