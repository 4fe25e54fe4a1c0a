import { endDirectionOf } from '../../../outline/cubic'
import { flattenPath } from '../../../outline/flatten'
import { type Path, PathBuilder, segmentsOf } from '../../../outline/path'

export interface BandOptions {
  readonly cut: 'straight' | 'wave' | 'zigzag'
  readonly count: number
  /** degrees */
  readonly angle: number
  /** mm */
  readonly shift: number
  readonly amplitude: number
  readonly length: number
}

/** Curves that a wave is drawn with, per wave. */
const PER_WAVE = 8

/**
 * The bands between even cuts over a box [minX, minY, maxX, maxY], from the top down. Both functions give only what is near
 * another box, made of the very same curves each time, so that parts fit each other exactly.
 */
export function bandsAcross(
  [x0, y0, x1, y1]: readonly number[],
  { cut, count, angle: degrees, shift, amplitude, length }: BandOptions,
): {
  bands: (near: readonly number[]) => { index: number; path: Path }[]
  /** the cuts themselves, as open paths */
  linesNear: (near: readonly number[]) => Path[]
  /** which band a part of an area that lies in one of them is of */
  bandOf: (part: Path) => number
} {
  const angle = (degrees * Math.PI) / 180
  const [c, s] = [Math.cos(angle), Math.sin(angle)]
  const [cx, cy] = [(x0 + x1) / 2, (y0 + y1) / 2]
  const h = Math.abs(s) * (x1 - x0) + Math.abs(c) * (y1 - y0)
  const heights = Array.from({ length: count }, (_, i) => h / 2 - (h * (i + 1)) / (count + 1) + shift)
  const rise = cut === 'straight' ? 0 : amplitude
  const step = cut === 'straight' ? Infinity : cut === 'zigzag' ? length / 2 : length / PER_WAVE
  const k = (2 * Math.PI) / length
  const height = (i: number) => (cut === 'zigzag' ? amplitude * (i % 2 === 0 ? 1 : -1) : amplitude * Math.sin(k * i * step))
  const slope = (i: number) => amplitude * k * Math.cos(k * i * step)
  /** a cut's height over its level anywhere */
  const at = (u: number) => {
    if (cut === 'straight') return 0
    const i = Math.floor(u / step)
    if (cut === 'wave') return amplitude * Math.sin(k * u)
    return height(i) + (height(i + 1) - height(i)) * (u / step - i)
  }
  const out = (u: number, v: number): [number, number] => [cx + c * u - s * v, cy + s * u + c * v]
  /** a box as it lies in the cuts' own frame, with room */
  const inFrame = (box: readonly number[]) => {
    const corners = [0, 2].flatMap((i) => [1, 3].map((j) => [c * (box[i] - cx) + s * (box[j] - cy), -s * (box[i] - cx) + c * (box[j] - cy)]))
    const us = corners.map((p) => p[0])
    const vs = corners.map((p) => p[1])
    return { u0: Math.min(...us) - 2, u1: Math.max(...us) + 2, v0: Math.min(...vs) - 2, v1: Math.max(...vs) + 2 }
  }
  const range = (u0: number, u1: number): [number, number] => (cut === 'straight' ? [u0, u1] : [Math.floor(u0 / step), Math.ceil(u1 / step)])
  const draw = (builder: PathBuilder, v: number, [a, b]: [number, number]) => {
    if (cut === 'straight') return builder.lineTo(...out(b, v))
    for (let i = a; i !== b; i += Math.sign(b - a)) {
      const j = i + Math.sign(b - a)
      const [u, w] = [i * step, j * step]
      if (cut === 'zigzag') builder.lineTo(...out(w, v + height(j)))
      else {
        const third = (w - u) / 3
        const [p, q] = [out(u + third, v + height(i) + slope(i) * third), out(w - third, v + height(j) - slope(j) * third)]
        builder.cubicTo(...p, ...q, ...out(w, v + height(j)))
      }
    }
  }
  const startOf = (v: number, i: number) => (cut === 'straight' ? out(i, v) : out(i * step, v + height(i)))
  return {
    bands(near) {
      const { u0, u1, v0, v1 } = inFrame(near)
      const [a, b] = range(u0, u1)
      const far = v1 - v0 + 2 * rise + 10
      const edges = [Infinity, ...heights, -Infinity]
      const found: { index: number; path: Path }[] = []
      for (let i = 0; i + 1 < edges.length; i++) {
        if (edges[i + 1] - rise > v1 || edges[i] + rise < v0) continue
        const low = edges[i + 1] === -Infinity ? undefined : edges[i + 1]
        const high = edges[i] === Infinity ? undefined : edges[i]
        const [ua, ub] = cut === 'straight' ? [a, b] : [a * step, b * step]
        const builder = new PathBuilder(...(low === undefined ? out(ua, v0 - far) : startOf(low, a)))
        if (low === undefined) builder.lineTo(...out(ub, v0 - far))
        else draw(builder, low, [a, b])
        if (high === undefined) {
          builder.lineTo(...out(ub, v1 + far))
          builder.lineTo(...out(ua, v1 + far))
        } else {
          builder.lineTo(...startOf(high, b))
          draw(builder, high, [b, a])
        }
        found.push({ index: i, path: builder.build(true) })
      }
      return found
    },
    bandOf(part) {
      // the part's border runs along cuts as well: the place furthest from all of them tells
      let [clearest, found] = [-1, 0]
      const { xy } = flattenPath(part, { tolerance: 0.01, maxTurn: 20 })
      for (let i = 0; i < xy.length; i += 2) {
        const [x, y] = [(xy[i] + xy[(i + 2) % xy.length]) / 2 - cx, (xy[i + 1] + xy[(i + 3) % xy.length]) / 2 - cy]
        const [u, v] = [c * x + s * y, -s * x + c * y]
        const rest = v - at(u)
        let index = 0
        let clear = Infinity
        for (const level of heights) {
          if (rest < level) index++
          clear = Math.min(clear, Math.abs(rest - level))
        }
        if (clear <= clearest) continue
        clearest = clear
        found = index
      }
      return found
    },
    linesNear(near) {
      const { u0, u1, v0, v1 } = inFrame(near)
      const [a, b] = range(u0 - rise, u1 + rise)
      return heights
        .filter((v) => v - rise <= v1 && v + rise >= v0)
        .map((v) => {
          const builder = new PathBuilder(...startOf(v, a))
          draw(builder, v, [a, b])
          return builder.build(false)
        })
    },
  }
}

/** An open line carried on straight beyond its ends, to a circle well outside a box; and that circle. */
function carriedOn(line: Path, [x0, y0, x1, y1]: readonly number[]): { builder: PathBuilder; cx: number; cy: number; reach: number } {
  const segments = segmentsOf(line)
  const { coords } = line
  const [sx, sy, ex, ey] = [coords[0], coords[1], coords[coords.length - 2], coords[coords.length - 1]]
  const [cx, cy] = [(x0 + x1) / 2, (y0 + y1) / 2]
  const reach = 2 * Math.max(Math.hypot(x1 - x0, y1 - y0), Math.hypot(sx - cx, sy - cy), Math.hypot(ex - cx, ey - cy)) + 10
  /** where a ray from inside meets the circle of that reach */
  const onCircle = (x: number, y: number, dx: number, dy: number): [number, number] => {
    const b = (x - cx) * dx + (y - cy) * dy
    const t = -b + Math.sqrt(Math.max(0, b * b - ((x - cx) ** 2 + (y - cy) ** 2 - reach * reach)))
    return [x + dx * t, y + dy * t]
  }
  const start = segments.length > 0 ? endDirectionOf(segments[0].cubic, 0) : [1, 0]
  const end = segments.length > 0 ? endDirectionOf(segments[segments.length - 1].cubic, 1) : [1, 0]
  const builder = new PathBuilder(...onCircle(sx, sy, -start[0], -start[1]))
  builder.lineTo(sx, sy)
  builder.follow(line)
  builder.lineTo(...onCircle(ex, ey, end[0], end[1]))
  return { builder, cx, cy, reach }
}

/** An open line with straight ends that reach beyond a box [minX, minY, maxX, maxY]. */
export const extended = (line: Path, box: readonly number[]): Path => carriedOn(line, box).builder.build(false)

/** What lies to the left of an open line that is carried on straight beyond its ends, as a closed path about a box. */
export function leftOf(line: Path, box: readonly number[]): Path {
  const { builder, cx, cy, reach } = carriedOn(line, box)
  const [fromX, fromY] = builder.start
  const a = Math.atan2(builder.y - cy, builder.x - cx)
  let sweep = Math.atan2(fromY - cy, fromX - cx) - a
  while (sweep <= 0) sweep += 2 * Math.PI
  const steps = Math.ceil(sweep / (Math.PI / 6))
  for (let i = 1; i < steps; i++) builder.lineTo(cx + reach * Math.cos(a + (sweep * i) / steps), cy + reach * Math.sin(a + (sweep * i) / steps))
  return builder.build(true)
}
