import { labelOf, type Solid } from './solid'

/**
 * Of each connected part of a solid the part whose body it belongs to, by number: itself, or for a hollow, which looks inwards (its volume is negative), the smallest body about it; the first
 * body where none is.
 */
export function partHomes(solid: Pick<Solid, 'positions' | 'indices' | 'surface' | 'labels'>): Int32Array {
  const { positions: p, indices } = solid
  const partOf = labelOf(solid, 'part')
  let count = 0
  for (let t = 0; t < partOf.length; t++) if (partOf[t] >= count) count = partOf[t] + 1
  if (count === 1) return Int32Array.of(0)
  const volume = new Float64Array(count)
  const boxes = Float64Array.from({ length: 6 * count }, (_, i) => (i % 6 < 3 ? Infinity : -Infinity))
  for (let t = 0; t < partOf.length; t++) {
    const part = partOf[t]
    const [a, b, c] = [3 * indices[3 * t], 3 * indices[3 * t + 1], 3 * indices[3 * t + 2]]
    volume[part] +=
      p[a] * (p[b + 1] * p[c + 2] - p[b + 2] * p[c + 1]) - p[a + 1] * (p[b] * p[c + 2] - p[b + 2] * p[c]) + p[a + 2] * (p[b] * p[c + 1] - p[b + 1] * p[c])
    for (const v of [a, b, c])
      for (let k = 0; k < 3; k++) {
        const o = 6 * part + k
        boxes[o] = Math.min(boxes[o], p[v + k])
        boxes[o + 3] = Math.max(boxes[o + 3], p[v + k])
      }
  }
  const bodies = Array.from({ length: count }, (_, part) => part).filter((part) => volume[part] >= 0)
  return Int32Array.from({ length: count }, (_, hollow) => {
    if (volume[hollow] >= 0 || bodies.length === 0) return hollow
    const around = (body: number) =>
      [0, 1, 2].every((k) => boxes[6 * body + k] <= boxes[6 * hollow + k] && boxes[6 * body + 3 + k] >= boxes[6 * hollow + 3 + k])
    const about = bodies.filter(around)
    return about.length === 0 ? bodies[0] : about.reduce((best, body) => (volume[body] < volume[best] ? body : best))
  })
}
