/** Twice the signed area of the triangle of three vertex ids. */
function area(x: ArrayLike<number>, y: ArrayLike<number>, a: number, b: number, c: number): number {
  return (x[b] - x[a]) * (y[c] - y[a]) - (y[b] - y[a]) * (x[c] - x[a])
}

function longestSquare(x: ArrayLike<number>, y: ArrayLike<number>, a: number, b: number, c: number): number {
  return Math.max((x[b] - x[a]) ** 2 + (y[b] - y[a]) ** 2, (x[c] - x[b]) ** 2 + (y[c] - y[b]) ** 2, (x[a] - x[c]) ** 2 + (y[a] - y[c]) ** 2)
}

/** Area over the longest side squared; 0 when a–b–c is no valid ear of the polygon `ids`. */
function earQuality(ids: readonly number[], x: ArrayLike<number>, y: ArrayLike<number>, a: number, b: number, c: number): number {
  const d = area(x, y, a, b, c)
  if (d <= 0) return 0
  for (const p of ids) {
    if (p === a || p === b || p === c) continue
    if ((x[p] === x[a] && y[p] === y[a]) || (x[p] === x[b] && y[p] === y[b]) || (x[p] === x[c] && y[p] === y[c])) continue
    if (area(x, y, a, b, p) >= 0 && area(x, y, b, c, p) >= 0 && area(x, y, c, a, p) >= 0) return 0
  }
  return d / longestSquare(x, y, a, b, c)
}

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
  if (loop.length === 4 && clipQuad(loop, x, y, out)) return
  const ids = loop.slice()
  const quality: number[] = ids.map(() => NaN) // NaN: must be worked out anew
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
      if (Number.isNaN(quality[i])) quality[i] = earQuality(ids, x, y, a, b, c)
      const q = quality[i]
      if (q > bestQuality) {
        bestQuality = q
        best = i
      }
      if (best < 0) {
        const f = roundness(x, y, a, b, c)
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
}

/** How round a triangle is: twice its area over its longest side squared, below 0 when it is turned over. */
function roundness(x: ArrayLike<number>, y: ArrayLike<number>, a: number, b: number, c: number): number {
  return area(x, y, a, b, c) / (longestSquare(x, y, a, b, c) + 1e-300)
}

/** The commonest case, done at once: the diagonal whose worse triangle is rounder; false when neither is valid. */
function clipQuad(loop: readonly number[], x: ArrayLike<number>, y: ArrayLike<number>, out: number[]): boolean {
  const a = loop[0]
  const b = loop[1]
  const c = loop[2]
  const d = loop[3]
  const ac = Math.min(roundness(x, y, a, b, c), roundness(x, y, a, c, d))
  const bd = Math.min(roundness(x, y, b, c, d), roundness(x, y, b, d, a))
  if (Math.max(ac, bd) <= 0) return false
  if (ac >= bd) out.push(a, b, c, a, c, d)
  else out.push(b, c, d, b, d, a)
  return true
}
