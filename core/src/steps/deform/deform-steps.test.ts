import { beforeAll, describe, expect, it } from 'vitest'
import { SHIPPED_FACES } from '../../../fonts/catalogue'
import { assets, circlePath, FULL, wordRoute } from '../../../test/helpers'
import { Memo } from '../../cache/memo'
import { checkMesh } from '../../check/check'
import { placeMatrix } from '../../document/place'
import type { RouteStep } from '../../document/schema'
import { evaluateRoute } from '../../evaluate/route'
import { loadManifold } from '../../kernel/manifold'
import { PathBuilder } from '../../outline/path'
import type { Matrix } from '../../solid/operations'
import { labelOf, type Solid, solidBounds } from '../../solid/solid'
import { stepKind } from '../registry'
import type { StepContext, StepOutcome } from '../step'
import type { Value } from '../value'

const FACES = FULL ? SHIPPED_FACES.map(({ id }) => id) : ['alfa-slab', 'pacifico']
const STACKS = FULL ? 200 : 5
const WORD = FULL ? 'Quay 8' : 'Q8y'

beforeAll(async () => void (await loadManifold()))

async function run(
  kind: string,
  input: Value | undefined,
  params: Record<string, unknown> = {},
  inputs: Record<string, readonly Value[]> = {},
  more: Partial<StepContext> = {},
): Promise<StepOutcome> {
  const step = stepKind(kind)
  if (!step) throw new Error(kind)
  return step.evaluate(input, step.params.parse(params), { assets, inputs, memo: new Memo(), progress: () => {}, breathe: async () => {}, ...more })
}

const solidIn = (outcome: StepOutcome): Solid => {
  if (!outcome.ok) throw new Error(`${outcome.issue.code}: ${outcome.issue.message} ${JSON.stringify(outcome.issue.places?.[0] ?? '')}`)
  return outcome.value as Solid
}

async function word(face: string, text = WORD, edge: object = { profile: 'round', inset: 0.6, height: 0.8 }): Promise<Solid> {
  const { value } = await evaluateRoute(wordRoute(text, face, {}, { depth: 8, front: edge }), { assets })
  return value as Solid
}

/** Each deformation at three strengths. */
const STRENGTHS: readonly (readonly [string, readonly Record<string, unknown>[]])[] = [
  ['bend', [{ angle: 20 }, { angle: 120 }, { angle: 200, way: 'back' }]],
  ['twist', [{ angle: 20 }, { angle: 90 }, { angle: 270 }]],
  ['taper', [{ amount: 20 }, { amount: 60, depth: true }, { amount: -80, axis: 'up' }]],
  ['stretch', [{ amount: 20 }, { amount: 150, keepVolume: true }, { amount: -50, axis: 'up' }]],
  ['shear', [{ angle: 10 }, { angle: 30, way: 'rise' }, { angle: 50, way: 'lean' }]],
  ['bulge', [{ amount: 20 }, { amount: 90, shape: 'upright' }, { amount: -60, shape: 'face' }]],
  [
    'free-cage',
    [
      { moved: [{ at: [0, 2, 1], by: [5, 20, 10] }] },
      {
        across: 6,
        up: 4,
        deep: 3,
        moved: [
          { at: [3, 3, 2], by: [0, 60, 40] },
          { at: [1, 0, 0], by: [10, -50, 0] },
        ],
      },
      { across: 2, up: 2, moved: [0, 1].map((k) => ({ at: [1, 1, k], by: [30, 80, 0] })), strength: 70 },
    ],
  ],
  ['wave', [{ height: 1 }, { height: 4, way: 'forward' }, { height: 6, way: 'ring', count: 3 }]],
  ['roughen', [{ height: 0.2, way: 'forward' }, { height: 0.6 }, { height: 1.5, scale: 12 }]],
  ['swell', [{ by: 0.5 }, { by: 2 }, { by: -1 }]],
]

describe.each(FACES)('a word in %s', (face) => {
  let solid: Solid
  beforeAll(async () => {
    solid = await word(face)
  })

  // of a sample, each strength is tried on one of the faces in turn
  const tried = STRENGTHS.flatMap(([kind, list]) => list.map((params) => [kind, params] as const))
  it.each(tried.filter((_, i) => FULL || i % FACES.length === FACES.indexOf(face)))('is sound after %s %o, and still in letters', async (kind, params) => {
    const made = solidIn(await run(kind, solid, params))
    expect(checkMesh(made).findings).toEqual([])
    expect(new Set(labelOf(made, 'letter'))).toEqual(new Set(labelOf(solid, 'letter')))
    expect(new Set(labelOf(made, 'group'))).toEqual(new Set(labelOf(solid, 'group')))
  })
})

describe('stacks of three', () => {
  const kinds = ['bend', 'twist', 'taper', 'stretch', 'shear', 'bulge', 'wave'] as const
  let state = 20261
  const random = () => (state = (state * 16807) % 2147483647) / 2147483647
  const params = (kind: (typeof kinds)[number]): Record<string, unknown> => {
    const way = random() * 2 - 1
    const amounts = {
      bend: { angle: 70 * way },
      twist: { angle: 60 * way },
      taper: { amount: 40 * way },
      stretch: { amount: 40 * way, keepVolume: random() < 0.5 },
      shear: { angle: 25 * way },
      bulge: { amount: 50 * way },
      wave: { height: 3 * way, way: random() < 0.5 ? 'up' : 'forward' },
    }
    return amounts[kind]
  }
  it.each(
    Array.from({ length: STACKS }, (_, i) => ({
      face: SHIPPED_FACES[i % SHIPPED_FACES.length].id,
      steps: Array.from({ length: 3 }, () => {
        const kind = kinds[Math.floor(random() * kinds.length)]
        return [kind, params(kind)] as const
      }),
    })),
  )('$face: $steps', async ({ face, steps }) => {
    let value: Value = await word(face, 'Re')
    for (const [kind, values] of steps) value = solidIn(await run(kind, value, values))
    expect(checkMesh(value as Solid).findings).toEqual([])
  })
})

describe('a deformation', () => {
  it('with no strength is the piece itself, bit for bit', async () => {
    const solid = await word('jost-bold', 'A')
    for (const [kind] of STRENGTHS) expect(solidIn(await run(kind, solid, { strength: 0 }))).toBe(solid)
  })

  it('is the same for the whole and for each letter where there is one letter', async () => {
    const solid = await word('jost-bold', 'A')
    for (const kind of ['bend', 'twist', 'taper', 'bulge', 'wave']) {
      const [whole, letter] = [solidIn(await run(kind, solid, { each: 'whole' })), solidIn(await run(kind, solid, { each: 'letter' }))]
      expect(letter.positions).toEqual(whole.positions)
      expect(letter.indices).toEqual(whole.indices)
    }
  })

  it('by a cage whose points all go one way is moved that way, and one turned inside out is told', async () => {
    const solid = await word('jost-bold', 'A')
    const all = [0, 1, 2, 3].flatMap((i) => [0, 1, 2].flatMap((j) => [0, 1].map((k) => ({ at: [i, j, k], by: [10, -20, 5] }))))
    const moved = solidIn(await run('free-cage', solid, { moved: all }))
    const [x0, y0, , x1, y1] = solidBounds(solid.positions)
    const by = [(x1 - x0) / 10, -(y1 - y0) / 5, (y1 - y0) / 20]
    expect(moved.positions.length).toBe(solid.positions.length)
    moved.positions.forEach((at, i) => expect(Math.abs(at - solid.positions[i] - by[i % 3])).toBeLessThan(solid.lattice * 1.01))
    const inverted = await run('free-cage', solid, { moved: [0, 1, 2].flatMap((j) => [0, 1].map((k) => ({ at: [0, j, k], by: [250, 0, 0] }))) })
    expect(inverted).toMatchObject({ ok: false, issue: { code: 'folds', field: 'strength', fixes: [{ params: { strength: expect.any(Number) } }] } })
    if (inverted.ok) return
    const strength = inverted.issue.fixes?.[0].params.strength
    expect((await run('free-cage', solid, { moved: [0, 1, 2].flatMap((j) => [0, 1].map((k) => ({ at: [0, j, k], by: [250, 0, 0] }))), strength })).ok).toBe(
      true,
    )
    const fewer = await run('free-cage', solid, { across: 2, moved: [{ at: [3, 0, 0], by: [5, 0, 0] }] })
    expect(fewer).toMatchObject({ ok: true, issues: [{ code: 'points-aside' }] })
  })

  it('shows what else is taken in hand where the deformation takes it', async () => {
    const solid = await word('jost-bold', 'AB')
    const outcome = await run('bend', solid, { angle: 180, from: 20 })
    const knobs = outcome.marks?.knobs ?? []
    expect(knobs.map(({ name, line }) => [name, line?.value])).toEqual([
      ['centre', 50],
      ['from', 20],
      ['to', 100],
    ])
    const [x0, , , x1, y1] = solidBounds(solid.positions)
    // the centre stays; what is further out has turned with the bend, whose lengths along the neutral line stay
    expect(knobs[0].at[0]).toBeCloseTo((x0 + x1) / 2, 6)
    for (const knob of knobs) expect(Math.hypot(...(knob.line?.way ?? [0, 0, 0]))).toBeCloseTo((x1 - x0) / 100, 3)
    expect(y1).toBeGreaterThan(0)
    const cage = await run('free-cage', solid, { across: 3, up: 2, moved: [{ at: [2, 1, 1], by: [0, 50, 0] }] })
    expect(cage.marks?.knobs?.length).toBe(12)
    const corner = cage.marks?.knobs?.find(({ name }) => name === 'cage-2-1-1')
    const box = solidBounds(solid.positions)
    expect(corner?.at[1]).toBeCloseTo(box[4] + (box[4] - box[1]) / 2, 6)
  })

  it('takes words and letters by themselves', async () => {
    const solid = await word('jost-bold', 'AB CD')
    const width = (one: Solid, letters: readonly number[]) => {
      const points = new Set<number>()
      labelOf(one, 'letter').forEach((letter, t) => letters.includes(letter) && [0, 1, 2].forEach((k) => points.add(one.indices[3 * t + k])))
      const xs = [...points].map((v) => one.positions[3 * v])
      return [Math.min(...xs), Math.max(...xs)]
    }
    const made = solidIn(await run('stretch', solid, { amount: 10, each: 'word' }))
    for (const letters of [
      [0, 1],
      [3, 4],
    ]) {
      const [[a, b], [c, d]] = [width(solid, letters), width(made, letters)]
      expect((d - c) / (b - a)).toBeCloseTo(1.1, 3)
      expect((c + d) / 2).toBeCloseTo((a + b) / 2, 3)
    }
  })

  it('begins at the shape before the one before it, so that both are one map', async () => {
    const solid = await word('jost-bold', 'Ra')
    const once = solidIn(await run('bend', solid, { angle: 90 }))
    const twice = solidIn(await run('twist', once, { angle: 40 }))
    expect(once.deformed?.from).toBeDefined()
    expect(twice.deformed?.from).toBe(once.deformed?.from)
    expect(twice.deformed?.stages.length).toBe(2)
    // dressed in between it is another piece, and the twist begins there
    const dressed = solidIn(await run('dress', once, {}))
    const after = solidIn(await run('twist', dressed, { angle: 40 }))
    expect(after.deformed?.stages.length).toBe(1)
    expect(checkMesh(after).sound).toBe(true)
  })

  it('says where it folds, and what does not', async () => {
    const solid = await word('jost-bold', 'Quay')
    const outcome = await run('bend', solid, { way: 'back', by: 'radius', radius: 3, neutral: 100 })
    expect(outcome.ok ? '' : outcome.issue.code).toBe('folds')
    if (outcome.ok) return
    expect(outcome.issue.places?.length).toBeGreaterThan(0)
    const fix = outcome.issue.fixes?.[0].params
    // as far off as the piece is deep
    expect(Number(fix?.radius)).toBeGreaterThan(8)
    expect(Number(fix?.radius)).toBeLessThan(9)
  })

  it('leaves slivers as they are where turning them back to their normals would let them cross', async () => {
    const copies = { id: 'copies', kind: 'at-letters', on: true, params: { across: 'right', by: 'line', tilt: 54.5 } }
    const wave = { id: 'wave', kind: 'wave', on: true, params: { length: 56.5 } }
    const { value, steps, complete } = await evaluateRoute([wordRoute('S', 'knewave')[0], copies, wave], { assets })
    expect(steps.flatMap(({ issues }) => issues.filter(({ severity }) => severity === 'failed'))).toEqual([])
    expect([complete, value?.kind]).toEqual([true, 'solid'])
    expect(checkMesh(value as Solid).findings).toEqual([])
  })

  it('closes a ring: its ends come together', async () => {
    const solid = await word('jost-bold', 'LANTERN FAIR')
    const made = solidIn(await run('bend', solid, { angle: 359, way: 'back' }))
    const box = solidBounds(made.positions)
    const length = solidBounds(solid.positions)[3] - solidBounds(solid.positions)[0]
    expect(Math.abs(box[5] - box[2] - (length / Math.PI + 16)) / length).toBeLessThan(0.03)
  })

  it('acts only where its mask is, measured at rest', async () => {
    const solid = await word('jost-bold', 'ABC')
    const mask = { list: [{ by: 'letters', letters: 'C' }] }
    const made = solidIn(await run('wave', solid, { way: 'forward', mask }))
    const of = (one: Solid, wanted: number) => {
      const out: string[] = []
      labelOf(one, 'letter').forEach((letter, t) => {
        if (letter === wanted)
          out.push(
            [0, 1, 2]
              .map((k) => [...one.positions.subarray(3 * one.indices[3 * t + k], 3 * one.indices[3 * t + k] + 3)].join(' '))
              .sort()
              .join(' | '),
          )
      })
      return new Set(out)
    }
    const points = (set: Set<string>) => new Set([...set].flatMap((triangle) => triangle.split(' | ')))
    expect(points(of(made, 0))).toEqual(points(of(solid, 0)))
    expect(points(of(made, 2))).not.toEqual(points(of(solid, 2)))
  })

  it('swells by the tones of a picture', async () => {
    const block = solidIn(await run('block', undefined, { shape: 'box', width: 60, height: 60, depth: 8 }))
    // dark on the left, light on the right
    const rgba = Uint8Array.from({ length: 4 * 64 }, (_, i) => (i % 4 === 3 || Math.floor(i / 4) % 8 >= 4 ? 255 : 0))
    const source = { ...assets, picture: async () => ({ width: 8, height: 8, rgba }) }
    const file = { sha256: '1'.repeat(64), name: 'halves.png' }
    const swollen = async (params: Record<string, unknown>) => {
      const made = solidIn(
        await run('swell', block, { how: 'picture', file, by: 1, fit: 'given', edge: 1.2, mask: { list: [] }, ...params }, {}, { assets: source }),
      )
      expect(checkMesh(made).findings).toEqual([])
      // how high the front stands about the middle of either half
      const [, low, back, , high, front] = solidBounds(block.positions)
      const at = (x: number) => {
        const found: number[] = []
        for (let o = 0; o < made.positions.length; o += 3)
          if (made.positions[o + 2] > (back + front) / 2 && Math.hypot(made.positions[o] - x, made.positions[o + 1] - (low + high) / 2) < 6)
            found.push(made.positions[o + 2] - front)
        expect(found.length).toBeGreaterThan(20)
        return found
      }
      return [at(-16), at(16)]
    }
    const all = (list: number[], height: number) => list.forEach((z) => expect(Math.abs(z - height)).toBeLessThan(0.01))
    const [dark, light] = await swollen({})
    all(dark, 0)
    all(light, 1)
    // the other way round, and dents
    const [in_, out] = await swollen({ tones: [0, 1].map((t) => [t, 50 - 90 * t]) })
    all(in_, 0.5)
    all(out, -0.4)
    // as wide as half of it, it is there twice
    const [first, second] = await swollen({ wide: 32 })
    expect(Math.max(...first)).toBeGreaterThan(0.9)
    expect(Math.min(...first)).toBeLessThan(0.1)
    expect(second.length).toBeGreaterThan(0)
    expect(await run('swell', block, { how: 'picture' })).toMatchObject({ ok: false, issue: { code: 'no-file' } })
  })

  it('leaves the piece and says so where its mask is nowhere', async () => {
    const solid = await word('jost-bold', 'A')
    for (const kind of ['bend', 'roughen', 'swell', 'soften']) {
      const outcome = await run(kind, solid, { mask: { list: [{ by: 'letters', letters: 'Z' }] } })
      expect(outcome.ok && outcome.issues.map(({ code }) => code)).toEqual(['mask-nowhere'])
      expect(outcome.ok && outcome.value).toBe(solid)
    }
  })

  it.each([
    ['bend', { by: 'radius', radius: 0 }, 'radius'],
    ['bend', { angle: Number.NaN }, 'number'],
    ['taper', { amount: 100 }, '99'],
    ['taper', { curve: [[0, Number.NaN]] }, 'number'],
    ['wave', { fit: 'length', length: 0 }, '0.5'],
    ['bulge', { amount: 300 }, 'fold'],
    ['roughen', { scale: 0 }, '0.2'],
    ['twist', { mask: { list: [{ by: 'ball', radius: Number.NaN }] } }, 'number'],
  ])('refuses %s %o', (kind, params, words) => {
    const parsed = stepKind(kind)?.params.safeParse(params)
    expect(parsed?.success ? '' : parsed?.error.issues[0].message).toContain(words)
  })
})

describe('running along', () => {
  const line = (build: (path: PathBuilder) => void): Value => {
    const path = new PathBuilder(0, 0)
    build(path)
    return { kind: 'outline', regions: [], strokes: [path.build(false)], letters: [], layers: [], lattice: 2 ** -14 } as unknown as Value
  }
  const arc = line((path) => path.cubicTo(60, 80, 140, 80, 200, 0))

  it('goes from end to end of the line, sound', async () => {
    const solid = await word('jost-bold', 'Harbour')
    for (const fit of ['fitted', 'kept', 'repeated']) {
      const made = solidIn(await run('run-along', solid, { fit }, { line: [arc] }))
      expect(checkMesh(made).findings).toEqual([])
      const box = solidBounds(made.positions)
      if (fit !== 'kept') {
        expect(box[0]).toBeLessThan(25)
        expect(box[3]).toBeGreaterThan(175)
      }
    }
  })

  it('repeats what is shorter than the line, whole, as often as it has room', async () => {
    const solid = await word('jost-bold', 'Ha')
    const box = solidBounds(solid.positions)
    const made = solidIn(await run('run-along', solid, { fit: 'repeated' }, { line: [arc] }))
    const { sound, parts } = checkMesh(made)
    expect(sound).toBe(true)
    const copies = parts / checkMesh(solid).parts
    expect(Number.isInteger(copies)).toBe(true)
    // the arc is longer than its chord and shorter than its handles
    expect(copies).toBeGreaterThanOrEqual(Math.round(200 / (box[3] - box[0])))
    expect(copies).toBeLessThanOrEqual(Math.round(280 / (box[3] - box[0])))
    expect(copies).toBeGreaterThan(2)
  })

  it('rises with a line in space and winds round with it, as long as it is', async () => {
    const ring = { ...line((path) => path.lineTo(1, 0)), strokes: [circlePath(40)] } as unknown as Value
    // a bar whose middle runs on the line: by Pappus, a section without twist sweeps its area times the length of the line
    const bar = solidIn(await run('block', undefined, { shape: 'box', width: 300, height: 6, depth: 6 }))
    const rise = [0, 1].map((t) => [t, 20 * t])
    const wound = solidIn(await run('run-along', bar, { rise, level: 50, end: 250 }, { line: [ring] }))
    const report = checkMesh(wound)
    expect(report.findings).toEqual([])
    expect(Math.abs(report.volume / (36 * 2.5 * Math.hypot(2 * Math.PI * 40, 20)) - 1)).toBeLessThan(2e-3)
    const [, , z0, , , z1] = solidBounds(wound.positions)
    expect(z1 - z0).toBeGreaterThan(50)
    expect(z1 - z0).toBeLessThan(50 + 6 * Math.SQRT2)
  })

  it('closes on a closed line that goes up and comes down again', async () => {
    const ring = { ...line((path) => path.lineTo(1, 0)), strokes: [circlePath(40)] } as unknown as Value
    const bar = solidIn(await run('block', undefined, { shape: 'box', width: 200, height: 5, depth: 4 }))
    const rise = [0, 0.5, 1].map((t) => [t, t === 0.5 ? 30 : 0])
    for (const frames of ['least-twist', 'level']) {
      const made = solidIn(await run('run-along', bar, { rise, frames }, { line: [ring] }))
      const report = checkMesh(made)
      expect(report.findings).toEqual([])
      // a ring: Euler's number is 0
      expect(made.positions.length / 3 - made.indices.length / 6).toBe(0)
    }
  })

  it('goes where its line stands in space', async () => {
    const solid = await word('jost-bold', 'Bay')
    const upright = placeMatrix({ position: [5, 6, 7], turn: [-90, 0, 0], size: 2 })
    const at = (matrix: Matrix) =>
      run('run-along', solid, { fit: 'kept' }, { line: [arc] }, { placed: { line: [{ matrix }] } } as unknown as Partial<StepContext>)
    const big = placeMatrix({ position: [0, 0, 0], turn: [0, 0, 0], size: 2 })
    const [there, here] = [solidIn(await at(upright)), solidIn(await at(big))]
    expect(checkMesh(there).findings).toEqual([])
    // what lies along an arc twice as large, turned and moved as a whole
    const [a, b] = [solidBounds(there.positions), solidBounds(here.positions)]
    // turned a quarter back about x: up is away, forward is up
    const expected = [b[0] + 5, b[2] + 6, 7 - b[4], b[3] + 5, b[5] + 6, 7 - b[1]]
    a.forEach((v, k) => expect(Math.abs(v - expected[k])).toBeLessThan(0.02))
    expect(checkMesh(there).volume / checkMesh(here).volume).toBeCloseTo(1, 4)
  })

  it('stands as it was on a straight line as long as itself', async () => {
    const solid = await word('jost-bold', 'Bay')
    const box = solidBounds(solid.positions)
    const straight = line((path) => path.lineTo(box[3] - box[0], 0))
    const made = solidIn(await run('run-along', solid, {}, { line: [straight] }))
    const after = solidBounds(made.positions)
    expect(after[3] - after[0]).toBeCloseTo(box[3] - box[0], 3)
    expect(after[4] - after[1]).toBeCloseTo(box[4] - box[1], 3)
    expect(after[2]).toBeCloseTo(box[2], 3)
  })

  it('says what is missing', async () => {
    const solid = await word('jost-bold', 'A')
    const point = line(() => undefined)
    const codes = await Promise.all(
      [
        run('run-along', solid),
        run('run-along', solid, {}, { line: [point] }),
        run('run-along', solid, { number: 2 }, { line: [arc] }),
        run('run-along', solid, { end: 200 }, { line: [arc] }),
      ].map(async (outcome) => {
        const result = await outcome
        return result.ok ? '' : result.issue.code
      }),
    )
    expect(codes).toEqual(['no-line', 'no-line', 'no-such-line', 'beyond'])
    // as long as it is, it has no end on the line
    expect(await run('run-along', solid, { end: 200, fit: 'kept' }, { line: [arc] })).toMatchObject({ ok: true })
  })
})

/** A route behind a word keeps up with it: another text, another face. */
it('follows the words', async () => {
  const steps = (text: string, face: string): RouteStep[] => [
    ...wordRoute(text, face),
    { id: 'bend-1', kind: 'bend', on: true, params: { angle: 90 } },
    { id: 'twist-1', kind: 'twist', on: true, params: { angle: 30 } },
  ]
  for (const [text, face] of [
    ['Pier', 'jost-bold'],
    ['Ferry', 'jost-bold'],
    ['Ferry', 'pacifico'],
  ]) {
    const { value } = await evaluateRoute(steps(text, face), { assets })
    expect(checkMesh(value as Solid).sound).toBe(true)
  }
})
