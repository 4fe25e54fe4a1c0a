import { beforeAll, describe, expect, it } from 'vitest'
import { SHIPPED_FACES } from '../../fonts/catalogue'
import { assets, FULL, SAMPLE_WORD, wordRoute } from '../../test/helpers'
import { within } from '../../test/within'
import { checkMesh } from '../check/check'
import { evaluateRoute, type RouteReport } from '../evaluate/route'
import { loadManifold } from '../kernel/manifold'
import { type Assembly, matrixOf } from '../solid/assembly'
import { RETURN } from '../solid/labels'
import { partCount, type Solid, triangleCount } from '../solid/solid'
import { surfaceGraph } from './strut-graph'
import { barShare, strutSolid } from './struts'

beforeAll(async () => void (await loadManifold()))

const latticeOf = (face: string, text: string, more: Record<string, unknown> = {}): Promise<RouteReport> =>
  evaluateRoute(
    [...wordRoute(text, face, { size: 40 }, { depth: 12 }), { id: 'lattice-1', kind: 'lattice', on: true, params: { edge: 5, bar: 0.5, ball: 0.9, ...more } }],
    { assets },
  )

const block: { id: string; kind: string; on: boolean; params: Record<string, unknown> } = {
  id: 'b',
  kind: 'block',
  on: true,
  params: { shape: 'ball', width: 60 },
}

/** How far the surface is from a point along a way, mm, and of which group: the first triangle met (Möller & Trumbore 1997). */
function firstHit({ positions: p, indices, labels, surface }: Solid, from: readonly number[], way: readonly number[]): { far: number; group: number } {
  let [best, group] = [Infinity, -1]
  for (let t = 0; t < indices.length; t += 3) {
    const [a, b, c] = [0, 1, 2].map((k) => p.subarray(3 * indices[t + k], 3 * indices[t + k] + 3))
    const [e, f] = [
      [b[0] - a[0], b[1] - a[1], b[2] - a[2]],
      [c[0] - a[0], c[1] - a[1], c[2] - a[2]],
    ]
    const h = [way[1] * f[2] - way[2] * f[1], way[2] * f[0] - way[0] * f[2], way[0] * f[1] - way[1] * f[0]]
    const det = e[0] * h[0] + e[1] * h[1] + e[2] * h[2]
    if (Math.abs(det) < 1e-12) continue
    const s = [from[0] - a[0], from[1] - a[1], from[2] - a[2]]
    const u = (s[0] * h[0] + s[1] * h[1] + s[2] * h[2]) / det
    if (u < -1e-9 || u > 1 + 1e-9) continue
    const q = [s[1] * e[2] - s[2] * e[1], s[2] * e[0] - s[0] * e[2], s[0] * e[1] - s[1] * e[0]]
    const v = (way[0] * q[0] + way[1] * q[1] + way[2] * q[2]) / det
    if (v < -1e-9 || u + v > 1 + 1e-9) continue
    const far = (f[0] * q[0] + f[1] * q[1] + f[2] * q[2]) / det
    if (far > 1e-9 && far < best) [best, group] = [far, labels.group[surface[t / 3]]]
  }
  return { far: best, group }
}

describe('a strut lattice', () => {
  const faces = FULL ? SHIPPED_FACES : SHIPPED_FACES.filter(({ id }) => ['pacifico', 'im-fell-italic'].includes(id))
  it.each(faces.map(({ id }) => id))('of “Quay 8” in %s is sound', async (id) => {
    const { complete, value, steps } = await latticeOf(
      id,
      id === 'lalezar' ? 'سوق 8' : id === 'suez-one' ? 'רציף 8' : id === 'yatra-one' ? 'घाट 8' : SAMPLE_WORD,
      id === 'monoton' ? { edge: 2.4, bar: 0.14, ball: 0.25 } : {},
    )
    expect(steps.flatMap(({ issues }) => issues).filter(({ severity }) => severity === 'failed')).toEqual([])
    expect(complete).toBe(true)
    expect(checkMesh(value as Solid)).toMatchObject({ sound: true })
  })

  it.each([
    ['one thickness', undefined],
    ['a thickness of its own at each node', (z: number) => 0.4 + 0.6 * Math.min(1, Math.max(0, 0.5 + z / 40))],
  ] as const)('of a ball hangs together, and its bars are as thick as asked, by rays: %s', async (_, share) => {
    const { value } = await evaluateRoute([block, { id: 'even', kind: 'even-remesh', on: true, params: { edge: 8, creases: 180 } }], { assets })
    const graph = surfaceGraph(value as Solid, 'triangles', 1)
    const { nodes } = graph
    const shares = share && Float64Array.from(graph.letter, (_, n) => share(nodes[3 * n + 2]))
    const made = strutSolid(graph, { bar: 0.8, ball: 1.4, ...(shares ? { shares } : {}), lattice: 2 ** -14, letters: [] })
    if (!made.ok) throw new Error(made.why)
    expect(checkMesh(made.solid)).toMatchObject({ sound: true })
    expect(partCount(made.solid)).toBe(1)
    expect(made.bars + made.out).toBe(graph.bars.length / 2)
    // a closed surface of triangles has three sides for every two of them: V − E + F = 2
    expect(graph.letter.length - graph.bars.length / 2 + graph.bars.length / 3).toBe(2)
    let measured = 0
    const thicknesses: number[] = []
    for (let b = 0; b < graph.bars.length; b += 40) {
      const [p, q] = [3 * graph.bars[b], 3 * graph.bars[b + 1]]
      const [from, to] = [graph.nodes.subarray(p, p + 3), graph.nodes.subarray(q, q + 3)]
      const middle = [0, 1, 2].map((k) => (from[k] + to[k]) / 2)
      const w = [0, 1, 2].map((k) => to[k] - from[k])
      const other = Math.abs(w[2]) < Math.abs(w[0]) ? [0, 0, 1] : [1, 0, 0]
      const u = [other[1] * w[2] - other[2] * w[1], other[2] * w[0] - other[0] * w[2], other[0] * w[1] - other[1] * w[0]]
      const size = Math.hypot(...u)
      const { far: hit, group } = firstHit(
        made.solid,
        middle,
        u.map((v) => v / size),
      )
      // where a bar is left out there is nothing in the middle, and of short ones it is joint
      if (hit > 2 || group !== RETURN) continue
      measured++
      const asked = 0.8 * barShare(graph, shares, b / 2)
      expect(Math.abs(hit / asked - 1)).toBeLessThan(0.02)
      thicknesses.push(asked)
    }
    expect(measured).toBeGreaterThan(5)
    expect(Math.max(...thicknesses) / Math.min(...thicknesses)).toBeGreaterThan(share ? 1.4 : 0.99)
  })

  it('of ten letters takes less than 3 s of work', async () => {
    const words = wordRoute('LANTERNFAI', 'archivo-bold', { size: 40 })
    const { value } = await within(3000, () => evaluateRoute([...words, { id: 'l', kind: 'lattice', on: true, params: { edge: 5 } }], { assets }))
    expect(checkMesh(value as Solid)).toMatchObject({ sound: true })
    expect(triangleCount(value as Solid)).toBeGreaterThan(200_000)
  })

  it('goes through the inside, keeps the solid inside, and can stay copies', async () => {
    const cube = { ...block, params: { shape: 'box', width: 30, height: 30, depth: 30 } }
    const run = async (params: Record<string, unknown>) =>
      (await evaluateRoute([cube, { id: 'l', kind: 'lattice', on: true, params: { edge: 6, bar: 0.5, ball: 0.8, ...params } }], { assets })).value
    const skin = (await run({})) as Solid
    const through = (await run({ through: true })) as Solid
    expect(checkMesh(through)).toMatchObject({ sound: true, parts: 1 })
    expect(checkMesh(through).volume).toBeGreaterThan(1.2 * checkMesh(skin).volume)
    const body = (await run({ body: true })) as Solid
    expect(checkMesh(body)).toMatchObject({ sound: true, parts: 1 })
    expect(checkMesh(body).volume).toBeGreaterThan(27_000)
    expect(new Set(Array.from(body.surface, (row) => body.labels.group[row]))).toContain(4)
    const copies = (await run({ as: 'copies' })) as Assembly
    expect(copies.kind).toBe('assembly')
    expect(copies.units.length).toBe(2)
    const quads = (await run({ mesh: 'quads', as: 'copies' })) as Assembly
    expect(quads.placements.unit.length).toBeLessThan(0.9 * copies.placements.unit.length)
    const masked = (await run({ as: 'copies', mask: { list: [{ by: 'height', from: 50, to: 50 }] } })) as Assembly
    expect(masked.placements.unit.length).toBeLessThan(0.6 * copies.placements.unit.length)
    expect(masked.placements.unit.length).toBeGreaterThan(20)
    // as thick as a mask is strong: as many bars, and of what they weigh as much as lies between thin and thick ones
    const mask = { list: [{ by: 'height', from: 0, to: 100 }] }
    const [fading, thin] = [(await run({ mask, does: 'thickness', through: true })) as Solid, (await run({ bar: 0.2, ball: 0.32, through: true })) as Solid]
    const volumes = [thin, fading, through].map((solid) => checkMesh(solid))
    expect(volumes[1]).toMatchObject({ sound: true, parts: 1 })
    expect(volumes[1].volume).toBeGreaterThan(1.3 * volumes[0].volume)
    expect(volumes[1].volume).toBeLessThan(0.8 * volumes[2].volume)
    const scaled = (await run({ mask, does: 'thickness', as: 'copies' })) as Assembly
    expect(scaled.placements.unit.length).toBe(copies.placements.unit.length)
    const across = Array.from({ length: scaled.placements.unit.length }, (_, i) => {
      const m = matrixOf(scaled.placements, i)
      return Math.hypot(m[0], m[4], m[8])
    })
    expect(Math.min(...across)).toBeGreaterThan(0.39)
    expect(Math.min(...across)).toBeLessThan(0.5)
    expect(Math.max(...across)).toBeGreaterThan(0.9)
    expect(Math.max(...across)).toBeLessThan(1 + 1e-9)
  })

  it('is as thick as fills what is asked for, or says what it could', async () => {
    const cube = { ...block, params: { shape: 'box', width: 30, height: 30, depth: 30 } }
    const run = async (params: Record<string, unknown>) => {
      const { value, steps } = await evaluateRoute(
        [cube, { id: 'l', kind: 'lattice', on: true, params: { edge: 6, bar: 0.5, ball: 0.8, thick: 'filled', ...params } }],
        {
          assets,
        },
      )
      return { solid: value as Solid, step: steps[1] }
    }
    for (const [filled, through, mask] of [
      [4, false, []],
      [9, true, []],
      [5, true, [{ by: 'height', from: 0, to: 100 }]],
    ] as const) {
      const { solid, step } = await run({ filled, through, mask: { list: mask }, does: 'thickness' })
      const { sound, volume } = checkMesh(solid)
      expect(sound, JSON.stringify(step.issues)).toBe(true)
      expect(Math.abs(volume / (27_000 * (filled / 100)) - 1), `${filled} %: ${step.told}`).toBeLessThan(0.03)
      const told = /bars of ([\d.]+) mm, balls of ([\d.]+) mm, ([\d.]+) % filled/.exec(step.told ?? '')
      expect(Number(told?.[3])).toBeCloseTo((100 * volume) / 27_000, 1)
      expect(Number(told?.[2]) / Number(told?.[1])).toBeCloseTo(1.6, 1)
    }
    const { step: copies } = await run({ filled: 4, as: 'copies' })
    expect(copies.told).toContain('about 4 % filled')
    expect((await run({ filled: 70 })).step.issues[0]).toMatchObject({
      code: 'too-full',
      field: 'filled',
      message: expect.stringMatching(/about \d+(\.\d+)? % at the most/),
    })
    expect((await run({ filled: 0.1, edge: 0.9, through: true, as: 'copies' })).step.issues[0]).toMatchObject({ field: expect.stringMatching(/filled|edge/) })
  })

  it('says when bars are too thick for their length', async () => {
    const { steps } = await latticeOf('jost-bold', 'Q', { bar: 2, edge: 5 })
    expect(steps[2].issues[0]).toMatchObject({ code: 'too-thick', severity: 'failed' })
  })
})
