import { beforeAll, describe, expect, it } from 'vitest'
import { SHIPPED_FACES } from '../../../../fonts/catalogue'
import { assets, FULL, SAMPLE_WORD, wordRoute } from '../../../../test/helpers'
import { Memo } from '../../../cache/memo'
import { checkMesh } from '../../../check/check'
import { evaluateRoute } from '../../../evaluate/route'
import { loadManifold } from '../../../kernel/manifold'
import { throughPoints } from '../../../outline/through-points'
import { FACE, INSIDE } from '../../../solid/labels'
import { gather } from '../../../solid/operations'
import { roundedBox } from '../../../solid/revolve'
import { normalsOf } from '../../../solid/shading'
import { labelAt, labelOf, type Solid, solidBounds, triangleCount } from '../../../solid/solid'
import { chisel } from '.'

const FACES = FULL ? SHIPPED_FACES.map(({ id }) => id) : ['jost-bold', 'abril-fatface', 'pacifico']

beforeAll(async () => void (await loadManifold()))

async function word(face: string, text: string, front: object = { profile: 'square' }): Promise<Solid> {
  const { value } = await evaluateRoute(wordRoute(text, face, {}, { depth: 8, front }), { assets })
  if (value?.kind !== 'solid') throw new Error(face)
  return value
}

const cut = (solid: Solid, params: Record<string, unknown>, memo = new Memo()) =>
  chisel.evaluate(solid, chisel.params.parse(params), { assets, inputs: {}, memo, progress: () => {}, breathe: async () => {} })

async function chiselled(solid: Solid, params: Record<string, unknown>): Promise<Solid> {
  const outcome = await cut(solid, params)
  if (!outcome.ok) throw new Error(`${outcome.issue.code}: ${outcome.issue.message}`)
  return outcome.value as Solid
}

/** The sides of what lies flat at a height and looks up, as x, y, x, y: found by what has no twin, with no help of the kernel. */
function bordersAt({ positions: p, indices }: Solid, z: number): number[][] {
  const sides = new Map<string, number[]>()
  for (let t = 0; t < indices.length; t += 3) {
    const corners = [indices[t], indices[t + 1], indices[t + 2]]
    if (corners.some((v) => p[3 * v + 2] !== z)) continue
    corners.forEach((a, k) => {
      const b = corners[(k + 1) % 3]
      if (!sides.delete(`${b} ${a}`)) sides.set(`${a} ${b}`, [p[3 * a], p[3 * a + 1], p[3 * b], p[3 * b + 1]])
    })
  }
  return [...sides.values()]
}

const distanceTo = (sides: number[][], x: number, y: number): number =>
  Math.sqrt(
    sides.reduce((least, [ax, ay, bx, by]) => {
      const [dx, dy] = [bx - ax, by - ay]
      const f = Math.max(0, Math.min(1, ((x - ax) * dx + (y - ay) * dy) / (dx * dx + dy * dy)))
      return Math.min(least, (ax + f * dx - x) ** 2 + (ay + f * dy - y) ** 2)
    }, Infinity),
  )

/** Where a curve is steep, a height is right that the curve has this near, mm: positions are rounded, too. */
const NEAR = 0.001

/** The most that the faces of a chiselled solid are off a curve over the distance, mm, over samples on some thousand triangles. */
function worst(before: Solid, after: Solid, top: number, curve: (d: number) => number): number {
  const sides = bordersAt(before, top)
  const { positions: p, indices } = after
  let most = 0
  const every = Math.max(1, Math.floor(triangleCount(after) / 4000))
  for (let t = 0; t < triangleCount(after); t += every) {
    if (labelAt(after, t, 'group') !== FACE) continue
    const [a, b, c] = [3 * indices[3 * t], 3 * indices[3 * t + 1], 3 * indices[3 * t + 2]]
    for (const [u, v] of [
      [1 / 3, 1 / 3],
      [0.6, 0.2],
      [0.2, 0.6],
    ]) {
      const [x, y, z] = [0, 1, 2].map((k) => p[a + k] + u * (p[b + k] - p[a + k]) + v * (p[c + k] - p[a + k]))
      const [d, height] = [distanceTo(sides, x, y), z - top]
      const [here, before, behind] = [curve(d), curve(Math.max(0, d - NEAR)), curve(d + NEAR)]
      const [low, high] = [Math.min(here, before, behind), Math.max(here, before, behind)]
      most = Math.max(most, low - height, height - high)
    }
  }
  return most
}

describe.each(FACES)('a word chiselled in %s', (face) => {
  const share = (d: number, reach: number) => Math.min(1, d / reach)
  const points: [number, number][] = [
    [0, 0],
    [0.3, 80],
    [0.6, -20],
    [1, 60],
  ]
  it.each([
    ['a cushion', { shape: 'cushion', height: 2, reach: 4 }, (d: number) => 2 * Math.sqrt(1 - (1 - share(d, 4)) ** 2)],
    ['sunk slopes', { shape: 'slope', height: -2.5, reach: 5 }, (d: number) => -2.5 * share(d, 5)],
    ['a drawn curve', { shape: 'drawn', height: 3, reach: 3, curve: points }, (d: number) => 0.03 * throughPoints(points, 0)(share(d, 3))],
  ] as [string, Record<string, unknown>, (d: number) => number][])('lies at its curve over the exact distance: %s', async (_, params, curve) => {
    const solid = await word(face, 'Rag8')
    const made = await chiselled(solid, params)
    expect(checkMesh(made).findings).toEqual([])
    expect(new Set(labelOf(made, 'letter'))).toEqual(new Set(labelOf(solid, 'letter')))
    expect(worst(solid, made, 8, curve)).toBeLessThan(0.01)
  })

  it.each([
    ['terraces', { shape: 'terraces', height: 3, reach: 3, terraces: 4 }],
    ['a groove', { shape: 'groove', height: 1, inside: 1, width: 0.8 }],
    ['both sides', { shape: 'cushion', height: 1, side: 'both' }],
  ])('is sound with %s, behind a shaped edge', async (_, params) => {
    const solid = await word(face, SAMPLE_WORD, { profile: 'ogee', inset: 0.4, height: 0.6 })
    expect(checkMesh(await chiselled(solid, params)).findings).toEqual([])
  })
})

/** The sides at which what looks forward ends, as x, y, x, y. */
function seenBorders({ positions: p, indices }: Solid): number[][] {
  const sides = new Map<string, number[]>()
  for (const t of forward({ positions: p, indices })) {
    const corners = [indices[t], indices[t + 1], indices[t + 2]]
    corners.forEach((a, k) => {
      const b = corners[(k + 1) % 3]
      if (!sides.delete(`${b} ${a}`)) sides.set(`${a} ${b}`, [p[3 * a], p[3 * a + 1], p[3 * b], p[3 * b + 1]])
    })
  }
  return [...sides.values()]
}

/** Where the triangles that look forward begin among the indices. */
function forward({ positions: p, indices }: Pick<Solid, 'positions' | 'indices'>): number[] {
  const out: number[] = []
  for (let t = 0; t < indices.length; t += 3) {
    const [a, b, c] = [3 * indices[t], 3 * indices[t + 1], 3 * indices[t + 2]]
    if ((p[b] - p[a]) * (p[c + 1] - p[a + 1]) > (p[b + 1] - p[a + 1]) * (p[c] - p[a])) out.push(t)
  }
  return out
}

/** How high what looks forward lies over a place in the plane, mm; undefined beside it. */
function heightOver({ positions: p, indices }: Solid, triangles: readonly number[], x: number, y: number): number | undefined {
  for (const t of triangles) {
    const [a, b, c] = [3 * indices[t], 3 * indices[t + 1], 3 * indices[t + 2]]
    const area = (p[b] - p[a]) * (p[c + 1] - p[a + 1]) - (p[b + 1] - p[a + 1]) * (p[c] - p[a])
    const v = ((x - p[a]) * (p[c + 1] - p[a + 1]) - (y - p[a + 1]) * (p[c] - p[a])) / area
    const w = ((p[b] - p[a]) * (y - p[a + 1]) - (p[b + 1] - p[a + 1]) * (x - p[a])) / area
    if (v >= -1e-9 && w >= -1e-9 && v + w <= 1 + 1e-9) return (1 - v - w) * p[a + 2] + v * p[b + 2] + w * p[c + 2]
  }
  return undefined
}

/** The most that the front of a chiselled solid is off a curve over the distance, above the front as it was, over some hundred samples; where it is steep, a height is right that it has this near, mm. */
function worstRise(before: Solid, after: Solid, curve: (d: number) => number, leans: number): number {
  const [sides, old, now] = [seenBorders(before), forward(before), forward(after)]
  const { positions: p, indices } = after
  let [most, measured] = [0, 0]
  const every = Math.max(1, Math.floor(now.length / 600))
  for (let i = 0; i < now.length; i += every) {
    const corners = [0, 1, 2].map((k) => 3 * indices[now[i] + k])
    const [x, y, z] = [0, 1, 2].map((k) => corners.reduce((sum, c) => sum + p[c + k], 0) / 3)
    const was = heightOver(before, old, x, y)
    if (was === undefined) continue
    measured++
    const d = distanceTo(sides, x, y)
    const near = [-leans, -leans / 2, 0, leans / 2, leans].map((off) => curve(Math.max(0, d + off)))
    most = Math.max(most, Math.min(...near) - (z - was), z - was - Math.max(...near))
  }
  expect(measured).toBeGreaterThan(500)
  return most
}

/** How far the shading of what looks forward leans off its triangles, degrees: by area, of those that are wide enough to tell. */
function leanOfShading(solid: Solid): number {
  const { positions: p, indices } = solid
  const normals = normalsOf(solid)
  let [sum, area] = [0, 0]
  for (const t of forward(solid)) {
    const [a, b, c] = [0, 1, 2].map((k) => [0, 1, 2].map((d) => p[3 * indices[t + k] + d]))
    const [u, v] = [b.map((value, d) => value - a[d]), c.map((value, d) => value - a[d])]
    const n = [u[1] * v[2] - u[2] * v[1], u[2] * v[0] - u[0] * v[2], u[0] * v[1] - u[1] * v[0]]
    const size = Math.hypot(...n)
    if (size < 1e-3) continue
    for (let k = 0; k < 3; k++) {
      const dot = n.reduce((total, value, d) => total + (value / size) * normals[3 * (t + k) + d], 0)
      sum += (size * Math.acos(Math.max(-1, Math.min(1, dot))) * 180) / Math.PI
      area += size
    }
  }
  return sum / area
}

describe.each(FULL ? FACES : ['pacifico'])('a shaped front of %s', (face) => {
  const forms: Record<string, { kind: string; params: object }> = {
    inflated: { kind: 'inflate', params: {} },
    'with an edge that leaves no face': { kind: 'extrude', params: { front: { profile: 'ogee', inset: 20, height: 4 } } },
  }
  it.each(Object.keys(forms))('lies higher than it was by the curve over the exact distance: %s', async (name) => {
    const { kind, params } = forms[name]
    const { value } = await evaluateRoute([wordRoute('a8', face)[0], { id: 'f', kind, on: true, params: params as Record<string, unknown> }], { assets })
    const solid = value as Solid
    for (const [shape, curve, leans] of [
      [{ shape: 'slope', height: 1.5, reach: 3 }, (d: number) => 1.5 * Math.min(1, d / 3), 0],
      [{ shape: 'terraces', height: 2, reach: 2, terraces: 2 }, (d: number) => (d > 2 ? 2 : d > 1 ? 1 : 0), 0.04],
      [{ shape: 'cushion', height: -0.6, reach: 2 }, (d: number) => -0.6 * Math.sqrt(1 - (1 - Math.min(1, d / 2)) ** 2), 0.03],
    ].slice(FULL || kind !== 'inflate' ? 0 : 1) as [object, (d: number) => number, number][]) {
      const made = await chiselled(solid, { acts: 'side', ...shape })
      expect(checkMesh(made).findings).toEqual([])
      expect(new Set(labelOf(made, 'letter'))).toEqual(new Set(labelOf(solid, 'letter')))
      expect(worstRise(solid, made, curve, leans)).toBeLessThan(0.01)
      expect(leanOfShading(made)).toBeLessThan(leanOfShading(solid) + 4)
    }
  })
})

describe('chisel', () => {
  it('makes each shape of letter once, and only the new one when a letter changes', async () => {
    const memo = new Memo()
    const keys = () => memo.size
    await cut(await word('jost-bold', 'LOLLO'), {}, memo)
    expect(keys()).toBe(2)
    await cut(await word('jost-bold', 'LOLLOE'), {}, memo)
    expect(keys()).toBe(3)
  })

  it('keeps what is not face bit for bit', async () => {
    const solid = await word('jost-bold', 'AB')
    const made = await chiselled(solid, { height: 1 })
    const others = (one: Solid) => {
      const out: string[] = []
      for (let t = 0; t < triangleCount(one); t++)
        if (labelAt(one, t, 'group') !== FACE)
          out.push(Array.from({ length: 9 }, (_, i) => one.positions[3 * one.indices[3 * t + Math.floor(i / 3)] + (i % 3)]).join(' '))
      return out.sort()
    }
    expect(others(made)).toEqual(others(solid))
  })

  it('says where it would go through the piece, and what would fit', async () => {
    const outcome = await cut(await word('jost-bold', 'O'), { shape: 'slope', height: -30, reach: 2 })
    expect(outcome.ok).toBe(false)
    if (outcome.ok) return
    expect(outcome.issue.code).toBe('cut-through')
    expect(outcome.issue.places?.length).toBeGreaterThan(0)
    const fix = outcome.issue.fixes?.[0]
    const solid = await word('jost-bold', 'O')
    const mended = await chiselled(solid, { shape: 'slope', reach: 2, ...fix?.params })
    expect(checkMesh(mended).sound).toBe(true)
    expect(solidBounds(mended.positions)[2]).toBe(0)
  })

  it('says that it goes before what sets bulbs on the letters, and does', async () => {
    const [lettering, extrude] = wordRoute('l', 'jost-bold')
    const bulbs = { id: 'bulbs', kind: 'on-surface', on: true, params: {} }
    const cushion = { id: 'chisel', kind: 'chisel', on: true, params: {} }
    const after = await evaluateRoute([lettering, extrude, bulbs, cushion], { assets })
    const [issue] = after.steps[3].issues
    expect([issue.code, issue.remedy]).toEqual(['cut-through', expect.stringContaining('put Chisel before')])
    const before = await evaluateRoute([lettering, extrude, cushion, bulbs], { assets })
    expect([before.complete, before.value?.kind]).toEqual([true, 'assembly'])
  })

  it('works on the whole side where there is no flat face, and says so', async () => {
    const ball = roundedBox(10, 10, 10, 5, 8, 2 ** -14)
    const outcome = await cut(ball, { shape: 'slope', height: 2, reach: 4 })
    expect(outcome.ok && outcome.issues.map(({ code }) => code)).toEqual(['no-flat-face'])
    if (!outcome.ok) return
    const made = outcome.value as Solid
    expect(checkMesh(made).findings).toEqual([])
    expect(solidBounds(made.positions)[5]).toBeCloseTo(solidBounds(ball.positions)[5] + 2, 3)
    expect(solidBounds(made.positions)[2]).toBe(solidBounds(ball.positions)[2])
  })

  it('goes by the outside of a hollow letter', async () => {
    const route = [
      wordRoute('o', 'jost-bold')[0],
      { id: 'i', kind: 'inflate', on: true, params: {} },
      { id: 'h', kind: 'hollow', on: true, params: { wall: 1.2, fit: 'given', voxel: 0.6 } },
    ]
    const hollow = (await evaluateRoute(route, { assets })).value as Solid
    const made = await chiselled(hollow, { acts: 'side', shape: 'slope', height: 1, reach: 2.5 })
    expect(checkMesh(made).findings).toEqual([])
    // the middle of its stroke lies further inside than that, if nearer to the inner skin
    expect(solidBounds(made.positions)[5] - solidBounds(hollow.positions)[5]).toBeCloseTo(1, 2)
    const inner = (one: Solid) =>
      solidBounds(
        gather(
          one,
          [...labelOf(one, 'group')].flatMap((group, t) => (group === INSIDE ? [t] : [])),
        ).positions,
      )
    expect(inner(made)).toEqual(inner(hollow))
  })

  it('leaves single places as they were where it would pass through itself, and shows them', async () => {
    // a hairline is not as thick as it is to be sunk
    const { value } = await evaluateRoute([wordRoute('u', 'abril-fatface')[0], { id: 'i', kind: 'inflate', on: true, params: {} }], { assets })
    const outcome = await cut(value as Solid, { acts: 'side', height: -1 })
    expect(outcome.ok && outcome.issues.map(({ code, severity }) => [code, severity])).toEqual([['kept-there', 'note']])
    expect(outcome.ok && checkMesh(outcome.value as Solid).findings).toEqual([])
  })

  it.each([
    [{ curve: [] }, 'point'],
    [{ curve: [[0, Number.NaN]] }, 'number'],
    [{ reach: 0 }, 'reach'],
    [{ height: Number.NaN }, 'number'],
  ])('refuses %o', (params, word) => {
    const parsed = chisel.params.safeParse(params)
    expect(parsed.success ? '' : parsed.error.issues[0].message).toContain(word)
  })
})
