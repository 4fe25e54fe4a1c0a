import fc from 'fast-check'
import { beforeAll, describe, expect, it } from 'vitest'
import { checkMesh } from '../check/check'
import { circlePath, polygons } from '../../test/helpers'
import { loadManifold } from '../kernel/manifold'
import { ArcLength } from '../outline/arc-length'
import { extrudePolygons } from '../solid/extrude'
import { roundedBox } from '../solid/revolve'
import { type Solid, solidBounds, triangleCount, vertexCount } from '../solid/solid'
import { volumeOf } from '../solid/volume'
import { type Bend, bendMap } from './bend'
import { BULGE_LIMITS, bulgeMap } from './bulge'
import type { Stage } from './composed'
import type { Deformation } from './deformation'
import { deformSolid } from './deform'
import type { SpaceMap } from './space-map'
import { twistMap } from './twist'

const L = 2 ** -14

beforeAll(async () => void (await loadManifold()))

const whole = (by: Deformation, strength = 1): Stage => ({ by: [by], strength })

async function deformed(solid: Solid, stages: readonly Stage[], tolerance = 0.01): Promise<Solid> {
  const result = await deformSolid(solid, stages, { tolerance })
  if (!result.ok) throw new Error(`${result.why} at ${JSON.stringify(result.places[0])}`)
  return result.solid
}

/** The way back: what was bent so becomes straight again. Exact between the ends of the extent, and within half a turn of the middle. */
function unbendMap({ along, towards, extent, middle, neutral, curvature: k }: Bend): SpaceMap {
  return (p, o) => {
    if (k === 0) return
    const radius = 1 / k
    const [a, b] = [p[o + along] - middle, neutral + radius - p[o + towards]]
    const angle = k > 0 ? Math.atan2(a, b) : Math.atan2(-a, -b)
    const s = middle + angle * radius
    if (s >= extent.from && s <= extent.to) {
      p[o + along] = s
      p[o + towards] = neutral + radius - Math.sign(k) * Math.sqrt(a * a + b * b)
      return
    }
    // straight beyond: its frame at the end, undone
    const end = s < extent.from ? extent.from : extent.to
    const turn = k * (end - middle)
    const [sin, cos] = [Math.sin(turn), Math.cos(turn)]
    const dx = a - (end - middle) * sinc(turn)
    const dy = p[o + towards] - neutral - (end - middle) * versine(turn)
    p[o + along] = end + dx * cos + dy * sin
    p[o + towards] = neutral - dx * sin + dy * cos
  }
}

/** sin(a)/a and (1 − cos a)/a. */
const sinc = (a: number) => (a === 0 ? 1 : Math.sin(a) / a)
const versine = (a: number) => (Math.abs(a) < 1e-6 ? a / 2 : (1 - Math.cos(a)) / a)

const number = (min: number, max: number) => fc.double({ min, max, noNaN: true })
const bends = fc
  .record({ curvature: number(-0.03, 0.03), middle: number(-50, 50), neutral: number(-10, 10), from: number(-60, -20), to: number(20, 60) })
  .map(({ from, to, ...rest }): Bend => ({ kind: 'bend', along: 0, towards: 1, extent: { from, to }, ...rest }))

describe('bending', () => {
  it('keeps the length of the neutral line, and cuts across it straight', () => {
    fc.assert(
      fc.property(bends, number(-8, 8), (by, u) => {
        const map = bendMap(by)
        const at = (x: number, y: number) => {
          const p = Float64Array.of(x, y, 3)
          map(p, 0)
          return p
        }
        let length = 0
        let before = at(-70, by.neutral)
        for (let i = 1; i <= 4000; i++) {
          const next = at(-70 + (140 * i) / 4000, by.neutral)
          length += Math.hypot(next[0] - before[0], next[1] - before[1])
          before = next
        }
        // chords of a curve of that many pieces are short by their sagittae only
        expect(Math.abs(length - 140)).toBeLessThan(140 * (by.curvature * 0.035) ** 2 + 1e-6)
        for (const x of [-65, -10, 0, 35, 64]) {
          const [foot, tip] = [at(x, by.neutral), at(x, by.neutral + u)]
          expect(Math.hypot(tip[0] - foot[0], tip[1] - foot[1])).toBeCloseTo(Math.abs(u), 9)
        }
      }),
      { numRuns: 60 },
    )
  })

  it('is undone by its own way back, to a millionth', () => {
    fc.assert(
      fc.property(bends, number(-70, 70), number(-9, 9), (by, x, u) => {
        const turn = by.curvature * (Math.min(by.extent.to, Math.max(by.extent.from, x)) - by.middle)
        // within half a turn, and on this side of the bend's centre
        fc.pre(Math.abs(turn) < 3 && Math.abs(by.curvature * (by.extent.to - by.middle)) < 3 && Math.abs(by.curvature * (by.extent.from - by.middle)) < 3)
        fc.pre(by.curvature === 0 || Math.abs(by.curvature) > 1e-6)
        const beyond = Math.abs(x - Math.min(by.extent.to, Math.max(by.extent.from, x)))
        fc.pre(beyond === 0)
        const p = Float64Array.of(x, by.neutral + u, 1)
        bendMap(by)(p, 0)
        unbendMap(by)(p, 0)
        expect(Math.hypot(p[0] - x, p[1] - by.neutral - u)).toBeLessThan(1e-6)
      }),
      { numRuns: 300 },
    )
  })
})

describe('bulging and twisting', () => {
  it('never brings two points to one place within the limits', () => {
    for (const amount of BULGE_LIMITS) {
      const map = bulgeMap({ kind: 'bulge', centre: [0, 0, 0], axes: [true, true, true], radius: 10, amount })
      let last = -1
      for (let r = 0; r <= 12; r += 0.01) {
        const p = Float64Array.of(r, 0, 0)
        map(p, 0)
        expect(p[0]).toBeGreaterThan(last)
        last = p[0]
      }
    }
  })

  it('turns each way by the right hand', () => {
    const ends: [0 | 1 | 2, number[], number[]][] = [
      [0, [10, 1, 0], [10, 0, 1]],
      [1, [0, 10, 1], [1, 10, 0]],
      [2, [1, 0, 10], [0, 1, 10]],
    ]
    for (const [about, from, to] of ends) {
      const p = Float64Array.from(from)
      twistMap({ kind: 'twist', about, extent: { from: 0, to: 10 }, centre: [0, 0], start: 0, end: 90 })(p, 0)
      p.forEach((v, k) => expect(v).toBeCloseTo(to[k], 12))
    }
  })
})

/** A bar of twelve triangles, 100 × 10 × 10 mm, x from −50 to 50, y from 0 to 10. */
const bar = () => roundedBox(100, 10, 10, 0, 1, L)
const half: Bend = { kind: 'bend', along: 0, towards: 1, extent: { from: -50, to: 50 }, middle: 0, neutral: 5, curvature: Math.PI / 100 }

/** The same bar with other places for its eight corners, by planes: slanting ones are as flat as those square to an axis. */
const cut = (to: (x: number, y: number, z: number) => readonly [number, number, number]): Solid => {
  const solid = bar()
  const positions = solid.positions.slice()
  for (let v = 0; v < positions.length; v += 3) positions.set(to(positions[v], positions[v + 1], positions[v + 2]), v)
  return { ...solid, positions }
}
const topOf = (x: number) => 10 - (x + 50) / 32
const frontOf = (x: number, y: number) => 5 - (x + 50) / 64 - y / 8
const bars: Record<string, { readonly solid: () => Solid; readonly off: (x: number, y: number, z: number) => number }> = {
  'a bar': { solid: bar, off: (x, y, z) => Math.max(Math.abs(x) - 50, Math.abs(y - 5) - 5, Math.abs(z) - 5) },
  'a bar with a slanting top': {
    solid: () => cut((x, y, z) => [x, y > 0 ? topOf(x) : 0, z]),
    off: (x, y, z) => Math.max(Math.abs(x) - 50, y - topOf(x), -y, Math.abs(z) - 5),
  },
  'a bar whose top and front slant both': {
    solid: () =>
      cut((x, y, z) => {
        const up = y > 0 ? topOf(x) : 0
        return [x, up, z > 0 ? frontOf(x, up) : -5]
      }),
    off: (x, y, z) => Math.max(Math.abs(x) - 50, y - topOf(x), -y, (z - frontOf(x, y)) / Math.hypot(1, 1 / 64, 1 / 8), -5 - z),
  },
}

describe.each(Object.entries(bars))('%s of twelve triangles, bent half round', (_, { solid, off: offSurface }) => {
  const tolerance = 0.01
  let bent: Solid
  beforeAll(async () => {
    bent = await deformed(solid(), [whole(half)], tolerance)
  })

  it('takes at most twice the fewest triangles that come so near', () => {
    // the outer radius asks for steps of √(8·e·R)·(R neutral/R) along four sides, two triangles each
    const outer = 100 / Math.PI + 5
    const step = (2 * Math.acos(1 - tolerance / outer)) / (Math.PI / 100)
    const fewest = 4 * 2 * Math.ceil(100 / step) + 4
    expect(triangleCount(bent)).toBeLessThanOrEqual(2 * fewest)
  })

  it('is within the tolerance of the exact bend everywhere, has no T-junctions and no slivers', () => {
    const back = unbendMap(half)
    const { positions: p, indices } = bent
    let [most, least] = [0, 180]
    const sides = new Map<string, number>()
    for (let t = 0; t < indices.length; t += 3) {
      const at = [0, 1, 2].map((k) => [0, 1, 2].map((j) => p[3 * indices[t + k] + j]))
      for (let k = 0; k < 3; k++) {
        const [u, v] = [1, 2].map((n) => at[(k + n) % 3].map((c, j) => c - at[k][j]))
        const cos = u.reduce((sum, c, j) => sum + c * v[j], 0) / (Math.hypot(...u) * Math.hypot(...v))
        least = Math.min(least, (Math.acos(cos) * 180) / Math.PI)
        const [a, b] = [indices[t + k], indices[t + ((k + 1) % 3)]]
        const key = a < b ? `${a} ${b}` : `${b} ${a}`
        sides.set(key, (sides.get(key) ?? 0) + (a < b ? 1 : -1))
      }
      for (let i = 0; i <= 6; i++)
        for (let j = 0; j <= 6 - i; j++) {
          const q = Float64Array.from(at[0], (_, k) => (at[0][k] * i + at[1][k] * j + at[2][k] * (6 - i - j)) / 6)
          back(q, 0)
          // how far off its surface it lies, straight again
          most = Math.max(most, Math.abs(offSurface(q[0], q[1], q[2])))
        }
    }
    expect(most).toBeLessThan(tolerance)
    expect(least).toBeGreaterThan(1)
    expect([...sides.values()].every((count) => count === 0)).toBe(true)
  })
})

describe('a bar of twelve triangles, bent half round', () => {
  it('has the normals of the exact bend, within half a degree', async () => {
    const bent = await deformed(bar(), [whole(half)])
    const { positions: p, indices, attributes } = bent
    const normal = attributes.normal as Float32Array
    const back = unbendMap(half)
    let worst = 0
    for (let i = 0; i < indices.length; i++) {
      const q = p.slice(3 * indices[i], 3 * indices[i] + 3)
      back(q, 0)
      const turn = half.curvature * q[0]
      // the bar's own normals turned with the bend, whichever of its six is nearest
      const [cos, sin] = [Math.cos(turn), Math.sin(turn)]
      const n = [normal[3 * i], normal[3 * i + 1], normal[3 * i + 2]]
      const straight = [n[0] * cos + n[1] * sin, -n[0] * sin + n[1] * cos, n[2]]
      worst = Math.max(worst, Math.acos(Math.min(1, Math.max(...straight.map(Math.abs)))))
    }
    expect((worst * 180) / Math.PI).toBeLessThan(0.5)
  })
})

describe('deforming', () => {
  it('keeps the volume of a stretch that is to keep it', async () => {
    const ball = roundedBox(30, 30, 30, 15, 20, L)
    const a = 1 / Math.sqrt(1.6)
    const made = await deformed(ball, [whole({ kind: 'stretch', factors: [1.6, a, a], centre: [0, 15, 0] })])
    expect(Math.abs(volumeOf(made) / volumeOf(ball) - 1)).toBeLessThan(1e-4)
  })

  it('leaves what has no weight bit for bit where it was', async () => {
    const ball = roundedBox(30, 30, 30, 15, 12, L)
    const weights = Float32Array.from({ length: vertexCount(ball) }, (_, v) => Math.min(1, Math.max(0, -ball.positions[3 * v] / 12)))
    const made = await deformed(ball, [{ ...whole({ kind: 'shear', moved: 2, by: 1, level: 15, slope: 0.3 }), weights }])
    const places = new Set<string>()
    for (let v = 0; v < vertexCount(made); v++) places.add([...made.positions.subarray(3 * v, 3 * v + 3)].join(' '))
    for (let v = 0; v < weights.length; v++) if (weights[v] === 0) expect(places.has([...ball.positions.subarray(3 * v, 3 * v + 3)].join(' '))).toBe(true)
  })

  it('says where a map turns the piece inside out', async () => {
    const result = await deformSolid(bar(), [whole({ ...half, curvature: 0.4, neutral: 5 })], { tolerance: 0.05 })
    expect(result.ok ? '' : result.why).toBe('folds')
    expect(result.ok ? [] : result.places.length).toBeGreaterThan(0)
  })

  it('makes one map of several, as exact as one', async () => {
    const stages = [whole(half), whole({ kind: 'twist', about: 2, extent: { from: -5, to: 5 }, centre: [0, 5], start: 0, end: 30 })]
    const made = await deformed(bar(), stages, 0.02)
    // the corners of the bar go where both maps take them
    const corner = Float64Array.of(50, 0, 5)
    bendMap(half)(corner, 0)
    twistMap(stages[1].by[0] as Parameters<typeof twistMap>[0])(corner, 0)
    let nearest = Infinity
    for (let v = 0; v < vertexCount(made); v++) nearest = Math.min(nearest, Math.hypot(...corner.map((c, k) => c - made.positions[3 * v + k])))
    expect(nearest).toBeLessThan(2 * L)
  })
})

describe('what comes once round', () => {
  const bar = (steps = 1) => roundedBox(120, 12, 4, 0, steps, L)
  const turned = (towards: 1 | 2, sign: number, extent = { from: -60, to: 60 }): Bend => ({
    kind: 'bend',
    along: 0,
    towards,
    extent,
    middle: 0,
    neutral: 0,
    curvature: (sign * 2 * Math.PI) / (extent.to - extent.from),
  })
  /** 2 for a ball, 0 for a ring */
  const euler = ({ positions, indices }: Solid) => positions.length / 3 - indices.length / 2 + indices.length / 3

  it.each([
    [1, 1],
    [1, -1],
    [2, 1],
    [2, -1],
  ] as const)('grows together to a ring, without the faces where it met (towards %i, %i)', async (towards, sign) => {
    const straight = bar()
    const box = solidBounds(straight.positions)
    const neutral = (box[towards] + box[towards + 3]) / 2
    const ring = await deformed(straight, [whole({ ...turned(towards, sign), neutral })])
    expect(checkMesh(ring).sound).toBe(true)
    expect(euler(straight)).toBe(2)
    expect(euler(ring)).toBe(0)
    // Pappus: the middle of its section goes as far round as the bar was long
    expect(Math.abs(volumeOf(ring) / volumeOf(straight) - 1)).toBeLessThan(2e-3)
    // nothing stands across the place where it met: no triangle has all of its corners at one angle
    const { positions: p, indices } = ring
    const centre = neutral + sign * (60 / Math.PI)
    const angle = (v: number) => Math.atan2(p[3 * v], p[3 * v + towards] - centre)
    for (let i = 0; i < indices.length; i += 3) {
      const [a, b, c] = [angle(indices[i]), angle(indices[i + 1]), angle(indices[i + 2])]
      expect(Math.max(Math.abs(Math.sin(b - a)), Math.abs(Math.sin(c - a)))).toBeGreaterThan(1e-4)
    }
  })

  it('does so along a closed line as well, and when it is stretched on', async () => {
    const circle = circlePath(60 / Math.PI)
    const along: Deformation = {
      kind: 'run-along',
      path: circle,
      start: -60,
      scale: new ArcLength(circle).length / 120,
      from: 7,
      level: 0,
      offset: 0,
      banking: [
        [0, 0],
        [1, 0],
      ],
      size: [
        [0, 1],
        [1, 1],
      ],
      length: 120,
      middle: 0,
    }
    const ring = await deformed(bar(), [whole(along)])
    expect(checkMesh(ring).sound).toBe(true)
    expect(euler(ring)).toBe(0)
    const more = await deformed(bar(), [whole(turned(2, 1)), whole({ kind: 'stretch', factors: [1, 1.4, 0.8], centre: [0, 0, 0] })])
    expect(euler(more)).toBe(0)
  })

  it('stays open where it does not come round, and is no ring where its ends are not alike', async () => {
    const most = { ...turned(2, 1), curvature: (2 * Math.PI * 0.99) / 120 }
    expect(euler(await deformed(bar(), [whole(most)]))).toBe(2)
    // lower at one end than at the other
    const steps = polygons([
      [-60, 0],
      [60, 0],
      [60, 5],
      [0, 5],
      [0, 12],
      [-60, 12],
    ])
    const stepped = extrudePolygons(steps, { depth: 4, tolerance: 0.02 }).solid
    const result = await deformSolid(stepped, [whole(turned(2, 1))], { tolerance: 0.01 })
    expect(result).toMatchObject({ ok: false, why: 'crosses' })
    // where they meet: at the far side of the ring
    if (result.ok || result.places.length === 0) throw new Error('no places')
    for (const [x, , z] of result.places) {
      expect(Math.abs(x)).toBeLessThan(1e-3)
      expect(z).toBeGreaterThan(60 / Math.PI)
    }
  })
})
