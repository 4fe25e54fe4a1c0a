import quantize from 'quantize'
import type { Picture } from '../../../format/picture'

const SAMPLES = 40_000
const ROUNDS = 6
/** Colours nearer than this in 8 bit RGB count as one. */
const SAME = 12

export interface Palette {
  readonly colours: string[]
  /** the colour of each pixel, and the one beside it that it is mixed with: its share of that is 0 to 0.5 */
  readonly labels: Uint8Array
  readonly others: Uint8Array
  readonly shares: Float32Array
  readonly ground: number
}

/**
 * The colours of a picture (over white), as "#rrggbb", most of them first, and which of them each pixel has. First cut by
 * medians, then moved to the means of their pixels (Lloyd 1982). `ground` is the colour that most of the rim has.
 */
export function paletteOf(picture: Picture, count: number): Palette {
  const { width, height, rgba } = picture
  const n = width * height
  const rgb = new Float32Array(3 * n)
  for (let i = 0; i < n; i++) {
    const a = rgba[4 * i + 3] / 255
    for (let c = 0; c < 3; c++) rgb[3 * i + c] = rgba[4 * i + c] * a + 255 * (1 - a)
  }
  const every = Math.max(1, Math.floor(n / SAMPLES))
  const samples: [number, number, number][] = []
  for (let i = 0; i < n; i += every) samples.push([rgb[3 * i], rgb[3 * i + 1], rgb[3 * i + 2]])
  const cut = quantize(
    samples.map(([r, g, b]): [number, number, number] => [Math.round(r), Math.round(g), Math.round(b)]),
    Math.max(2, count),
  )
  let means: number[][] = cut ? cut.palette() : []
  // a picture of few colours: take them as they are
  if (means.length === 0) means = [samples[0]]
  const nearest = (r: number, g: number, b: number) => {
    let best = 0
    let least = Infinity
    for (let k = 0; k < means.length; k++) {
      const d = (means[k][0] - r) ** 2 + (means[k][1] - g) ** 2 + (means[k][2] - b) ** 2
      if (d < least) {
        least = d
        best = k
      }
    }
    return best
  }
  for (let round = 0; round < ROUNDS; round++) {
    const sums = means.map(() => [0, 0, 0, 0])
    for (const [r, g, b] of samples) {
      const sum = sums[nearest(r, g, b)]
      sum[0] += r
      sum[1] += g
      sum[2] += b
      sum[3]++
    }
    means = sums.filter((s) => s[3] > 0).map((s) => [s[0] / s[3], s[1] / s[3], s[2] / s[3]])
    means = means.filter((m, i) => means.findIndex((o) => Math.hypot(o[0] - m[0], o[1] - m[1], o[2] - m[2]) < SAME) === i)
  }
  const labels = new Uint8Array(n)
  const counts = new Uint32Array(means.length)
  const rim = new Uint32Array(means.length)
  for (let i = 0; i < n; i++) {
    const k = nearest(rgb[3 * i], rgb[3 * i + 1], rgb[3 * i + 2])
    labels[i] = k
    counts[k]++
    const [x, y] = [i % width, Math.floor(i / width)]
    if (x === 0 || y === 0 || x === width - 1 || y === height - 1) rim[k]++
  }
  const order = means.map((_, k) => k).sort((a, b) => counts[b] - counts[a])
  const place = order.map((_, k) => order.indexOf(k))
  const hex = (m: readonly number[]) =>
    `#${m
      .map((v) =>
        Math.max(0, Math.min(255, Math.round(v)))
          .toString(16)
          .padStart(2, '0'),
      )
      .join('')}`
  const { others, shares } = mixedWith(rgb, width, height, labels, means)
  return {
    colours: order.map((k) => hex(means[k])),
    labels: labels.map((k) => place[k]),
    others: others.map((k) => place[k]),
    shares,
    ground: place[rim.indexOf(Math.max(...rim))],
  }
}

/** At the border of two colours a pixel is a mixture: how much of which neighbouring colour it has, nearest on the line between the two. */
function mixedWith(rgb: Float32Array, width: number, height: number, labels: Uint8Array, means: readonly number[][]): Pick<Palette, 'others' | 'shares'> {
  const others = labels.slice()
  const shares = new Float32Array(labels.length)
  for (let y = 0; y < height; y++) {
    for (let x = 0; x < width; x++) {
      const i = y * width + x
      const a = labels[i]
      let least = Infinity
      for (let v = Math.max(0, y - 1); v <= Math.min(height - 1, y + 1); v++) {
        for (let u = Math.max(0, x - 1); u <= Math.min(width - 1, x + 1); u++) {
          const b = labels[v * width + u]
          if (b === a) continue
          const [p, q] = [means[a], means[b]]
          let [dot, square] = [0, 0]
          for (let c = 0; c < 3; c++) {
            dot += (rgb[3 * i + c] - p[c]) * (q[c] - p[c])
            square += (q[c] - p[c]) ** 2
          }
          const t = Math.max(0, Math.min(0.5, dot / square))
          let distance = 0
          for (let c = 0; c < 3; c++) distance += (rgb[3 * i + c] - p[c] - t * (q[c] - p[c])) ** 2
          if (distance >= least) continue
          least = distance
          others[i] = b
          shares[i] = t
        }
      }
    }
  }
  return { others, shares }
}
