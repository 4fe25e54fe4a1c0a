/**
 * Ear clipping that keeps every vertex: n − 2 triangles whatever the input, so that neighbouring faces always match.
 * (earcut drops collinear points, which breaks rings; see shared/edge-kernel.md.) Of all valid ears the roundest goes
 * first. Where a polygon is so degenerate that none is valid, the least bad is cut and left to the caller's certificate.
 *
 * `loop` holds vertex ids, counter-clockwise; x and y are indexed by id; triangles are appended to `out` as id triples.
 */
export function earClip(loop: readonly number[], x: ArrayLike<number>, y: ArrayLike<number>, out: number[]): void {
  if (loop.length === 3) {
    out.push(loop[0], loop[1], loop[2])
    return
  }
  const ids = loop.slice()
  const quality: number[] = ids.map(() => NaN) // NaN: must be worked out anew
  const area = (a: number, b: number, c: number) => (x[b] - x[a]) * (y[c] - y[a]) - (y[b] - y[a]) * (x[c] - x[a])
  const square = (a: number, b: number) => (x[b] - x[a]) ** 2 + (y[b] - y[a]) ** 2
  while (ids.length > 3) {
    const n = ids.length
    let best = -1
    let bestQuality = 0
    let forced = 0
    let forcedQuality = -Infinity
    for (let i = 0; i < n; i++) {
      const a = ids[(i + n - 1) % n]
      const b = ids[i]
      const c = ids[(i + 1) % n]
      if (Number.isNaN(quality[i])) quality[i] = earQuality(a, b, c)
      const q = quality[i]
      if (q > bestQuality) {
        bestQuality = q
        best = i
      }
      if (best < 0) {
        const f = area(a, b, c) / (Math.max(square(a, b), square(b, c), square(a, c)) + 1e-300)
        if (f > forcedQuality) {
          forcedQuality = f
          forced = i
        }
      }
    }
    const i = best >= 0 ? best : forced
    out.push(ids[(i + n - 1) % n], ids[i], ids[(i + 1) % n])
    ids.splice(i, 1)
    quality.splice(i, 1)
    const m = n - 1
    // only the neighbours' ears change shape; ears blocked by the vertex just cut may become valid
    for (let k = 0; k < m; k++) if (quality[k] <= 0) quality[k] = NaN
    quality[(i + m - 1) % m] = NaN
    quality[i % m] = NaN
  }
  out.push(ids[0], ids[1], ids[2])

  /** Area over the longest side squared; 0 when it is no valid ear. */
  function earQuality(a: number, b: number, c: number): number {
    const d = area(a, b, c)
    if (d <= 0) return 0
    for (const p of ids) {
      if (p === a || p === b || p === c) continue
      if ((x[p] === x[a] && y[p] === y[a]) || (x[p] === x[b] && y[p] === y[b]) || (x[p] === x[c] && y[p] === y[c])) continue
      if (area(a, b, p) >= 0 && area(b, c, p) >= 0 && area(c, a, p) >= 0) return 0
    }
    return d / Math.max(square(a, b), square(b, c), square(a, c))
  }
}
