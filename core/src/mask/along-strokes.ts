import { lengthsOf } from '../centre/line'
import { type CentreStroke, centreStrokes } from '../centre/strokes'
import type { Flat } from '../outline/flatten'
import { cleanPolygons } from '../outline/polygon'
import { labelOf, type Solid } from '../solid/solid'
import { seenOutline } from './outline-distance'
import { lettersIn } from './painted'

/** Of a letter with more sides than this, seen from the front, no strokes are looked for. */
const MOST_SIDES = 20_000

/** The lines of a letter's strokes: x, y, x, y a piece of them, and how far along its stroke it begins and ends, 0 to 1. */
interface Lines {
  readonly pieces: Float64Array
  readonly shares: Float64Array
}

/** By a solid's places; for the letters that its labels say. */
const known = new WeakMap<object, { readonly labels: Solid['labels']; readonly surface: Solid['surface']; readonly lines: ReadonlyMap<number, Lines> }>()

/**
 * How far along its stroke a place is, 0 to 1, as it is written: by the nearest place on the centre lines of its own letter, seen from the front. A dot is
 * half way. `letterOf` gives each vertex its letter. Letters of which no strokes are found are at 0. Needs the manifold kernel loaded.
 */
export function alongStrokes(solid: Solid): { readonly letterOf: Int32Array; readonly at: (p: Float64Array, o: number, letter: number) => number } {
  const lines = letterLines(solid)
  return {
    letterOf: lettersIn(solid).letterOf,
    at(p, o, letter) {
      const own = lines.get(letter)
      if (!own) return 0
      const { pieces, shares } = own
      let [best, share] = [Infinity, 0]
      for (let i = 0; i < pieces.length; i += 4) {
        const [x, y, dx, dy] = [p[o] - pieces[i], p[o + 1] - pieces[i + 1], pieces[i + 2] - pieces[i], pieces[i + 3] - pieces[i + 1]]
        const size = dx * dx + dy * dy
        const f = size > 0 ? Math.min(1, Math.max(0, (x * dx + y * dy) / size)) : 0
        const far = (x - f * dx) ** 2 + (y - f * dy) ** 2
        if (far >= best) continue
        best = far
        share = shares[i / 2] + f * (shares[i / 2 + 1] - shares[i / 2])
      }
      return share
    },
  }
}

function letterLines(solid: Solid): ReadonlyMap<number, Lines> {
  const { positions, labels, surface } = solid
  const before = known.get(positions)
  if (before?.labels === labels && before.surface === surface) return before.lines
  const triangles = new Map<number, number[]>()
  labelOf(solid, 'letter').forEach((letter, t) => {
    const own = triangles.get(letter) ?? []
    triangles.set(letter, own)
    own.push(t)
  })
  const lines = new Map([...triangles].map(([letter, own]) => [letter, linesOf(solid, own)]))
  known.set(positions, { labels, surface, lines })
  return lines
}

function linesOf({ positions, indices, surface, lattice }: Solid, triangles: readonly number[]): Lines {
  const part = {
    positions,
    indices: Uint32Array.from({ length: 3 * triangles.length }, (_, i) => indices[3 * triangles[Math.floor(i / 3)] + (i % 3)]),
    surface: Uint32Array.from(triangles, (t) => surface[t]),
  }
  const sides = seenOutline(part, true)
  const strokes = sides.length / 4 > MOST_SIDES ? [] : centreStrokes(cleanPolygons(ringsOf(sides), lattice))
  const pieces: number[] = []
  const shares: number[] = []
  for (const stroke of strokes) addPieces(stroke, pieces, shares)
  return { pieces: Float64Array.from(pieces), shares: Float64Array.from(shares) }
}

function addPieces({ points, closed, dot }: CentreStroke, pieces: number[], shares: number[]): void {
  if (dot) {
    const [[x, y]] = points
    pieces.push(x, y, x, y)
    shares.push(0.5, 0.5)
    return
  }
  const line = closed ? [...points, points[0]] : points
  const lengths = lengthsOf(line)
  const whole = lengths[lengths.length - 1] || 1
  for (let i = 0; i + 1 < line.length; i++) {
    pieces.push(line[i][0], line[i][1], line[i + 1][0], line[i + 1][1])
    shares.push(lengths[i] / whole, lengths[i + 1] / whole)
  }
}

/** Closed lines of sides, x, y, x, y each, of which at every place as many begin as end. */
function ringsOf(sides: Float64Array): Flat[] {
  const from = new Map<string, number[]>()
  const place = (o: number) => `${sides[o]} ${sides[o + 1]}`
  for (let s = 0; s < sides.length; s += 4) {
    const list = from.get(place(s))
    if (list) list.push(s)
    else from.set(place(s), [s])
  }
  const used = new Uint8Array(sides.length / 4)
  const rings: Flat[] = []
  for (let start = 0; start < sides.length; start += 4) {
    if (used[start / 4]) continue
    const ring: number[] = []
    for (let s: number | undefined = start; s !== undefined && !used[s / 4]; s = from.get(place(s + 2))?.find((next) => !used[next / 4])) {
      used[s / 4] = 1
      ring.push(s)
    }
    const tangents = ring.flatMap((s, i) =>
      [ring[(i || ring.length) - 1], s].flatMap((side) => {
        const [dx, dy] = [sides[side + 2] - sides[side], sides[side + 3] - sides[side + 1]]
        const size = Math.hypot(dx, dy) || 1
        return [dx / size, dy / size]
      }),
    )
    rings.push({ xy: Float64Array.from(ring.flatMap((s) => [sides[s], sides[s + 1]])), tangents: Float64Array.from(tangents), closed: true })
  }
  return rings
}
