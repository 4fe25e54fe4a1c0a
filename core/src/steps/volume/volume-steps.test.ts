import { beforeAll, describe, expect, it } from 'vitest'
import { SHIPPED_FACES } from '../../../fonts/catalogue'
import { assets, FULL, wordRoute } from '../../../test/helpers'
import { rayLength } from '../../check/rays'
import { buildBoxTree } from '../../check/tree'
import { checkMesh } from '../../check/check'
import { Memo } from '../../cache/memo'
import { evaluateRoute } from '../../evaluate/route'
import { loadManifold } from '../../kernel/manifold'
import { INSIDE } from '../../solid/labels'
import { roundedBox } from '../../solid/revolve'
import { split } from '../../solid/operations'
import { labelAt, labelOf, type Solid, solidBounds, surfacesOf, triangleCount } from '../../solid/solid'
import { labelled } from '../../volume/labelled'
import { trianglesFor } from '../../volume/side-lengths'
import { stepKind } from '../registry'
import type { StepContext, StepOutcome } from '../step'

/** A sample for each run; all of them, some with hairlines, in full. */
const FACES = FULL ? SHIPPED_FACES.map(({ id }) => id) : ['alfa-slab', 'pacifico']
/** A descender, counters within each other and a join of strokes. */
const WORD = FULL ? 'Quay 8' : 'Q8y'
const L = 2 ** -14

beforeAll(async () => void (await loadManifold()))

async function run(kind: string, solid: Solid, params: Record<string, unknown> = {}, memo = new Memo()): Promise<StepOutcome> {
  const step = stepKind(kind)
  if (!step) throw new Error(kind)
  return step.evaluate(solid, step.params.parse(params), { assets, inputs: {}, memo, progress: () => {}, breathe: async () => {} })
}

const solidIn = (outcome: StepOutcome): Solid => {
  if (!outcome.ok) throw new Error(`${outcome.issue.code}: ${outcome.issue.message}`)
  if (outcome.value.kind !== 'solid') throw new Error(outcome.value.kind)
  return outcome.value
}

async function word(face: string, text = WORD): Promise<Solid> {
  const edge = { front: { profile: 'ogee', inset: 0.8, height: 1 } }
  const { value } = await evaluateRoute(wordRoute(text, face, {}, edge), { assets })
  if (value?.kind !== 'solid') throw new Error(face)
  return value
}

describe('a channel with its panel', () => {
  it.each(['smooth', 'sharp'])('is sound through voxels, the %s way, where the panel lies a hair above its ledges upon a layer of samples', async (way) => {
    const [lettering, extrude] = wordRoute('u', 'cinzel-decorative')
    const channel = { ...extrude, kind: 'channel', params: { depth: 25, panel: true, thickness: 3, clearance: 0.3, ledge: 1, mounting: 1 } }
    const { value } = await evaluateRoute([lettering, channel], { assets })
    if (value?.kind !== 'solid') throw new Error('no channel')
    expect(checkMesh(value)).toMatchObject({ sound: true, parts: 2 })
    // walls of 2 mm and room of 0.3 mm at voxels of 1 mm: the panel and the channel become one
    const outcome = await run('voxel-remesh', value, { fit: 'given', voxel: 1, way })
    expect(checkMesh(solidIn(outcome))).toMatchObject({ sound: true, parts: 1 })
  })
})

describe.each(FACES)('a word in %s', (face) => {
  let solid: Solid
  beforeAll(async () => {
    solid = await word(face)
  })

  const tried: [string, Record<string, unknown>][] = [
    ['voxel-remesh', { way: 'smooth' }],
    ['voxel-remesh', { way: 'sharp' }],
    ['voxel-remesh', { way: 'smooth', fit: 'given', voxel: 2.5 }],
    ['voxel-remesh', { way: 'sharp', fit: 'given', voxel: 2.5 }],
    ['voxel-remesh', { way: 'sharp', fit: 'given', voxel: 0.6 }],
    ['soften', { amount: 0.7 }],
    ['soften', { amount: 1, how: 'median', keepVolume: true }],
    ['soften', { amount: 0.8, how: 'flow' }],
    ['grow', { by: 0.8 }],
    ['grow', { by: 0.3, how: 'shrink' }],
    ['grow', { by: 1, how: 'close' }],
    ['melt', { radius: 2.5 }],
    ['melt', { radius: 0, between: 'parts' }],
    ['hollow', { wall: 0.8 }],
    ['rebuild', {}],
    ['even-remesh', { edge: 2 }],
    ['reduce', { to: 'count', triangles: 900 }],
    ['subdivide', { times: 1, how: 'plain' }],
    ['smooth-surface', { rounds: 3 }],
  ]
  // of a sample, each is tried on one of the faces in turn
  it.each(tried.filter((_, i) => FULL || i % FACES.length === FACES.indexOf(face)))('is sound after %s %o, and still in letters', async (kind, params) => {
    // of a sample only remeshing fits its voxels, which come to as many triangles for fewer letters
    const coarser = !FULL && ['soften', 'grow', 'melt', 'hollow', 'rebuild'].includes(kind) ? { fit: 'given', voxel: 0.7 } : {}
    const outcome = await run(kind, solid, { ...coarser, ...params })
    // what has no room for so thick a wall says so, with a remedy
    if (!outcome.ok && outcome.issue.code === 'too-thick') return
    const made = solidIn(outcome)
    const { findings } = checkMesh(made)
    expect(findings).toEqual([])
    expect(made.letters).toEqual(solid.letters)
    const had = new Set(labelOf(solid, 'letter'))
    const has = new Set(labelOf(made, 'letter'))
    for (const letter of has) if (letter >= 0) expect(had.has(letter)).toBe(true)
    // no letter is lost but what the step says vanishes
    if (kind === 'voxel-remesh' && params.fit !== 'given') expect(has.size).toBe(had.size)
  })
})

describe('a word taken through a volume letter by letter', () => {
  /** Where each letter lies, and how many triangles it has. */
  const lettersOf = (solid: Solid) => {
    const found = new Map<number, { box: number[]; triangles: number }>()
    labelOf(solid, 'letter').forEach((letter, t) => {
      const one = found.get(letter) ?? { box: [Infinity, Infinity, Infinity, -Infinity, -Infinity, -Infinity], triangles: 0 }
      found.set(letter, one)
      one.triangles++
      for (let i = 3 * t; i < 3 * t + 3; i++)
        for (let k = 0; k < 3; k++) {
          const v = solid.positions[3 * solid.indices[i] + k]
          one.box[k] = Math.min(one.box[k], v)
          one.box[k + 3] = Math.max(one.box[k + 3], v)
        }
    })
    return found
  }

  it.each(['smooth', 'sharp'])('makes only what is new when a letter is typed, the %s way', async (way) => {
    const made: string[] = []
    const memo = new Memo()
    const put = memo.put.bind(memo)
    memo.put = (key, value) => {
      if (key.startsWith('remeshed:')) made.push(key)
      put(key, value)
    }
    const typed = async (text: string) => {
      made.length = 0
      const solid = await word('archivo-bold', text)
      return { solid, remeshed: solidIn(await run('voxel-remesh', solid, { way, fit: 'given', voxel: 1 }, memo)) }
    }
    // what is there twice is made once
    const whole = await typed('Lantern Fair')
    expect(made.length).toBe(new Set('Lantern Fair'.replace(' ', '')).size + 1) // the i has a dot, which is a body by itself
    const { solid, remeshed } = await typed('Lanxtern Fair')
    expect(made.length).toBe(1)
    expect(checkMesh(remeshed).findings).toEqual([])
    expect(remeshed.letters).toEqual(solid.letters)
    const [source, before, after] = [solid, whole.remeshed, remeshed].map(lettersOf)
    expect(new Set(after.keys())).toEqual(new Set(source.keys()))
    for (const [letter, { box, triangles }] of after) {
      // each stands where its letter stands
      source.get(letter)?.box.forEach((v, k) => expect(Math.abs(box[k] - v)).toBeLessThan(1))
      // and is what it was before, moved on
      const old = letter === 3 ? undefined : before.get(letter < 3 ? letter : letter - 1)
      if (old) expect(triangles).toBe(old.triangles)
    }
  })

  it('keeps letters apart that stand more than a voxel apart, and takes those that touch as one', async () => {
    const parted = await word('archivo-bold', 'HH')
    const [first, second] = [...lettersOf(parted).values()].map(({ box }) => box)
    const gap = second[0] - first[3]
    const remeshed = solidIn(await run('voxel-remesh', parted, { fit: 'given', voxel: gap / 1.05 }))
    expect(checkMesh(remeshed)).toMatchObject({ sound: true, parts: 2 })
    const pushed = { ...parted, positions: parted.positions.slice() }
    labelOf(parted, 'letter').forEach((letter, t) => {
      if (letter === 1) for (let i = 3 * t; i < 3 * t + 3; i++) pushed.positions[3 * parted.indices[i]] = parted.positions[3 * parted.indices[i]] - gap - 1
    })
    expect(checkMesh(solidIn(await run('voxel-remesh', pushed, { fit: 'given', voxel: 1 })))).toMatchObject({ sound: true, parts: 1 })
  })
})

describe('what volume steps do', () => {
  it('sheets that come through one voxel keep off each other', async () => {
    const hairlines = await word('abril-fatface')
    const made = solidIn(await run('voxel-remesh', hairlines, { way: 'sharp', fit: 'given', voxel: 2.5 }))
    expect(checkMesh(made).findings).toEqual([])
  })

  it('borders of an edge finer than the voxels cross nothing where they are drawn: they go through the vertices there are', async () => {
    for (const face of FULL ? SHIPPED_FACES.map(({ id }) => id) : ['archivo-bold', 'knewave']) {
      const { value } = await evaluateRoute(wordRoute('Lantern', face, {}, { depth: 10, front: { profile: 'ogee', inset: 1, height: 1 } }), { assets })
      if (value?.kind !== 'solid') throw new Error(face)
      const made = solidIn(await run('voxel-remesh', value, { way: 'sharp', fit: 'given', voxel: 1 }))
      expect(checkMesh(made)).toMatchObject({ sound: true })
      expect(new Set(labelOf(made, 'group'))).toEqual(new Set(labelOf(value, 'group')))
    }
  })

  it('hollow leaves the wall that is asked for, the outside bit for bit, and colours the inside', async () => {
    const solid = await word('alfa-slab', 'O')
    const wall = 1.5
    const made = solidIn(await run('hollow', solid, { wall }))
    expect(made.positions.slice(0, solid.positions.length)).toEqual(solid.positions)
    const groups = labelOf(made, 'group')
    expect(groups.filter((g) => g === INSIDE).length).toBe(triangleCount(made) - triangleCount(solid))
    // from the inner skin straight out it is a wall to the outside, nowhere less
    const tree = buildBoxTree(solid.positions, solid.indices)
    const { positions: p, indices } = made
    let [least, sum, count] = [Infinity, 0, 0]
    for (let t = triangleCount(solid); t < triangleCount(made); t += 7) {
      const [a, b, c] = [0, 1, 2].map((k) => 3 * indices[3 * t + k])
      const [u, v] = [[0, 1, 2].map((k) => p[b + k] - p[a + k]), [0, 1, 2].map((k) => p[c + k] - p[a + k])]
      const n = [u[1] * v[2] - u[2] * v[1], u[2] * v[0] - u[0] * v[2], u[0] * v[1] - u[1] * v[0]]
      const size = Math.hypot(...n)
      if (size === 0) continue
      const from = [0, 1, 2].map((k) => (p[a + k] + p[b + k] + p[c + k]) / 3) as [number, number, number]
      // the inner skin faces into the room: the wall lies behind it
      const through = rayLength(tree, solid.positions, solid.indices, from, [-n[0] / size, -n[1] / size, -n[2] / size])
      least = Math.min(least, through)
      sum += Math.min(through, 2 * wall)
      count++
    }
    expect(count).toBeGreaterThan(300)
    expect(least).toBeGreaterThan(0.95 * wall)
    expect(sum / count).toBeLessThan(1.15 * wall)
  })

  it.each(['below', 'behind'])('drain holes %s open every cavity', async (drains) => {
    const solid = await word('alfa-slab', FULL ? 'in' : 'i')
    const closed = solidIn(await run('hollow', solid, { wall: 1.5 }))
    const open = solidIn(await run('hollow', solid, { wall: 1.5, drains, drain: 2 }))
    const [before, after] = [checkMesh(closed), checkMesh(open)]
    expect(after.findings).toEqual([])
    // each room was a shell of its own and hangs together with the outside now
    expect(after.parts).toBeLessThan(before.parts)
    expect(after.parts).toBe(checkMesh(solid).parts)
  })

  it('colours and letters come through a remesh, in about the same share of the surface', async () => {
    const solid = await word('alfa-slab', 'Ho')
    const made = solidIn(await run('voxel-remesh', solid, { fit: 'given', voxel: 0.4, way: 'sharp' }))
    const shares = (of: Solid) => {
      const { surfaces, of: number } = surfacesOf(of)
      const areas = new Map<string, number>()
      const { positions: p, indices } = of
      for (let t = 0; t < number.length; t++) {
        const [a, b, c] = [0, 1, 2].map((k) => 3 * indices[3 * t + k])
        const [u, v] = [[0, 1, 2].map((k) => p[b + k] - p[a + k]), [0, 1, 2].map((k) => p[c + k] - p[a + k])]
        const area = Math.hypot(u[1] * v[2] - u[2] * v[1], u[2] * v[0] - u[0] * v[2], u[0] * v[1] - u[1] * v[0]) / 2
        const key = `${surfaces[number[t]].group} ${labelAt(of, t, 'letter')}`
        areas.set(key, (areas.get(key) ?? 0) + area)
      }
      return areas
    }
    const [was, is] = [shares(solid), shares(made)]
    expect([...is.keys()].sort()).toEqual([...was.keys()].sort())
    for (const [key, area] of was) expect(Math.abs((is.get(key) ?? 0) / area - 1), key).toBeLessThan(0.12)
  })

  it('melting joins letters that touch, and more of them the wider the radius', async () => {
    const { value } = await evaluateRoute(wordRoute('ooo', 'alfa-slab', { tracking: -20 }), { assets })
    if (value?.kind !== 'solid') throw new Error('no solid')
    const volumes: number[] = []
    for (const radius of [0, 1, 3]) {
      const made = solidIn(await run('melt', value, { radius, fit: 'given', voxel: 0.7 }))
      volumes.push(checkMesh(made).volume)
      if (radius === 3) expect(checkMesh(made).parts).toBe(1)
    }
    expect(volumes[1]).toBeGreaterThan(volumes[0])
    expect(volumes[2]).toBeGreaterThan(volumes[1])
  })

  it('says what a remesh will take, refuses what cannot be with the nearest that can, and what it lost', async () => {
    const solid = await word('bodoni-moda-italic', 'Hi')
    const fine = await run('voxel-remesh', solid, { fit: 'given', voxel: 0.01 })
    expect(fine).toMatchObject({ ok: false, issue: { code: 'too-fine', field: 'voxel', message: expect.stringMatching(/triangles, .* MB/) } })
    const [fix] = fine.ok ? [] : (fine.issue.fixes ?? [])
    expect(Number(fix.params.voxel)).toBeGreaterThan(0.01)
    const coarse = await run('voxel-remesh', solid, { fit: 'given', voxel: 4 })
    expect(coarse.ok ? coarse.issues.map(({ code }) => code) : [coarse.issue.code]).toEqual([expect.stringMatching(/broken-up|parts-gone|nothing-left/)])
    const usual = await run('voxel-remesh', solid)
    expect(usual.ok && usual.told).toMatch(/triangles from voxels of .* mm; .* in .* s expected/)
    for (const voxel of [0, 1e-6, 1e6, Number.NaN]) expect(stepKind('voxel-remesh')?.params.safeParse({ fit: 'given', voxel }).success).toBe(false)
    const empty = { ...solid, positions: new Float64Array(0), indices: new Uint32Array(0), surface: new Uint32Array(0) }
    for (const kind of ['voxel-remesh', 'soften', 'hollow', 'rebuild']) expect(await run(kind, empty)).toMatchObject({ ok: false, issue: { code: 'empty' } })
  })

  it('too thick a wall is said, with what there is', async () => {
    expect(await run('hollow', await word('pacifico', 'il'), { wall: 40 })).toMatchObject({ ok: false, issue: { code: 'too-thick', field: 'wall' } })
  })

  it('triangles are smaller where the surface bends, within the tolerance, and go over from small to large little by little', async () => {
    // half of each side flat, edges and corners round by 6 mm, much finer than what is asked for
    const box = roundedBox(40, 40, 40, 6, 40, L)
    const [most, least, within] = [4, 0.3, 0.02]
    const made = solidIn(await run('even-remesh', box, { edge: most, fit: 'bend', least, within, creases: 40 }))
    expect(checkMesh(made).findings).toEqual([])
    const { positions: p, indices } = made
    const corner = (i: number) => [0, 1, 2].map((k) => p[3 * indices[i] + k] - (k === 1 ? 20 : 0))
    /** how far off the rounded box a place is, and whether it lies on one of its flat sides */
    const off = (at: number[]) => {
      const beyond = at.map((v) => Math.max(0, Math.abs(v) - 14))
      return { distance: Math.hypot(...beyond) - 6, flat: beyond.filter((v) => v > 0).length === 1 }
    }
    const [flat, round]: number[][] = [[], []]
    for (let t = 0; t < indices.length; t += 3) {
      const [a, b, c] = [corner(t), corner(t + 1), corner(t + 2)]
      const sides = [Math.hypot(...a.map((v, k) => v - b[k])), Math.hypot(...b.map((v, k) => v - c[k])), Math.hypot(...c.map((v, k) => v - a[k]))]
      const middle = a.map((v, k) => (v + b[k] + c[k]) / 3)
      // the source has facets of its own
      expect(Math.abs(off(middle).distance)).toBeLessThan(2 * within)
      const inside =
        Math.max(
          ...middle
            .map(Math.abs)
            .sort((u, v) => u - v)
            .slice(0, 2),
        ) < 6
      if (off(middle).flat && inside) flat.push(...sides)
      if ([a, b, c].every((at) => !off(at).flat)) round.push(...sides)
    }
    const middleOf = (list: number[]) => list.sort((u, v) => u - v)[list.length >> 1]
    expect(middleOf(flat)).toBeGreaterThan(2)
    // √(6εr − 3ε²) at a radius of 6 mm
    expect(middleOf(round)).toBeGreaterThan(0.5 * Math.sqrt(6 * within * 6))
    expect(middleOf(round)).toBeLessThan(1.3 * Math.sqrt(6 * within * 6))
    // fewer than the fewest that are as fine all over
    expect(indices.length / 3).toBeLessThan(0.8 * trianglesFor(labelled(box), new Float32Array(box.indices.length / 3).fill(Math.sqrt(6 * within * 6))))
  })

  it('a hollow has even triangles on its inner skin as well', async () => {
    const hollow = solidIn(await run('hollow', roundedBox(40, 30, 20, 4, 6, L), { wall: 3, fit: 'given', voxel: 1 }))
    const outcome = await run('even-remesh', hollow, { edge: 2.5 })
    expect(outcome.ok && outcome.issues).toEqual([])
    const [had, has] = [checkMesh(hollow), checkMesh(solidIn(outcome))]
    expect(has).toMatchObject({ sound: true, parts: 2 })
    expect(has.triangles).toBeLessThan(0.5 * had.triangles)
    expect(Math.abs(has.volume / had.volume - 1)).toBeLessThan(0.01)
    expect(new Set(labelOf(solidIn(outcome), 'group'))).toContain(INSIDE)
  })

  it('sides that would make the surface pass through itself are made shorter there alone, or stay as they were, and that is told', async () => {
    // thin walls that run out into a point, and a needle whose sides, cut, would not lie where they did once rounded
    for (const [edge, text] of [
      [4, 'x'],
      [6, 'x'],
      [0.7, 'g'],
    ] as const) {
      const { value: italic } = await evaluateRoute(wordRoute(text, 'bodoni-moda-italic'), { assets })
      const outcome = await run('even-remesh', italic as Solid, { edge })
      expect(checkMesh(solidIn(outcome)).findings).toEqual([])
      expect(outcome.ok && outcome.issues.map(({ code }) => code)).toEqual(['shorter-there'])
      expect(outcome.ok && outcome.issues[0].places?.length).toBeGreaterThan(0)
    }
  })

  it('gives every letter even triangles by itself: of a word that is typed anew only what is new is made, and the rest is the same', async () => {
    const memo = new Memo()
    const made: string[] = []
    const put = memo.put.bind(memo)
    memo.put = (key, value) => {
      made.push(key)
      put(key, value)
    }
    const remeshed = async (text: string) => {
      made.length = 0
      const solid = solidIn(await run('even-remesh', await word('archivo-bold', text), { edge: 1.6 }, memo))
      expect(checkMesh(solid).findings).toEqual([])
      return { solid, made: made.filter((key) => key.startsWith('even-remesh:')).length }
    }
    const first = await remeshed('TELL')
    expect(first.made).toBe(3)
    const second = await remeshed('TEAL')
    expect(second.made).toBe(1)
    expect(second.solid.letters.join('')).toBe('TEAL')
    for (const letter of [0, 1, 3]) {
      const [was, is] = [first, second].map(({ solid }) => {
        const { positions } = split(solid, (t) => labelAt(solid, t, 'letter')).get(letter) as Solid
        const [x0] = solidBounds(positions)
        return positions.map((v, i) => (i % 3 === 0 ? v - x0 : v))
      })
      expect(is).toEqual(was)
    }
  })

  it('even triangles are even: sides near the length, no slivers, on the very surface', async () => {
    const ball = roundedBox(30, 30, 30, 15, 20, L)
    const made = solidIn(await run('even-remesh', ball, { edge: 2, creases: 60 }))
    const { positions: p, indices } = made
    const sides: number[] = []
    let least = 180
    for (let t = 0; t < indices.length; t += 3) {
      const at = [0, 1, 2].map((k) => [0, 1, 2].map((j) => p[3 * indices[t + k] + j]))
      const l = [0, 1, 2].map((k) => Math.hypot(...[0, 1, 2].map((j) => at[k][j] - at[(k + 1) % 3][j])))
      sides.push(...l)
      for (let k = 0; k < 3; k++) {
        const [a, b, c] = [l[k], l[(k + 2) % 3], l[(k + 1) % 3]]
        least = Math.min(least, (Math.acos(Math.max(-1, Math.min(1, (a * a + b * b - c * c) / (2 * a * b)))) * 180) / Math.PI)
      }
    }
    sides.sort((a, b) => a - b)
    expect(sides[Math.floor(sides.length / 2)]).toBeGreaterThan(1.4)
    expect(sides[Math.floor(sides.length / 2)]).toBeLessThan(2.4)
    expect(sides[sides.length - 1]).toBeLessThan(3.2)
    expect(least).toBeGreaterThan(15)
    let off = 0
    for (let i = 0; i < p.length; i += 3) off = Math.max(off, Math.abs(Math.hypot(p[i], p[i + 1] - 15, p[i + 2]) - 15))
    expect(off).toBeLessThan(0.06)
  })

  it('reducing comes to the number asked for, keeps letters, and stays within the error', async () => {
    const ball = roundedBox(30, 30, 30, 15, 32, L)
    const few = solidIn(await run('reduce', ball, { to: 'count', triangles: 600 }))
    expect(triangleCount(few)).toBeLessThanOrEqual(640)
    const within = solidIn(await run('reduce', ball, { to: 'error', error: 0.1 }))
    expect(triangleCount(within)).toBeLessThan(triangleCount(ball) / 2)
    const { positions: p, indices } = within
    let deepest = 0
    for (let t = 0; t < indices.length; t += 3) {
      const middle = [0, 1, 2].map((j) => [0, 1, 2].reduce((sum, k) => sum + p[3 * indices[t + k] + j], 0) / 3)
      deepest = Math.max(deepest, 15 - Math.hypot(middle[0], middle[1] - 15, middle[2]))
    }
    expect(deepest).toBeLessThan(0.3)
  })

  it('subdividing a coarse ball comes nearer to a ball; smoothing takes roughness out and keeps the volume', async () => {
    const coarse = roundedBox(20, 20, 20, 10, 3, L)
    const spread = ({ positions: p }: Solid) => {
      const r = Array.from({ length: p.length / 3 }, (_, i) => Math.hypot(p[3 * i], p[3 * i + 1] - 10, p[3 * i + 2]))
      const mean = r.reduce((sum, v) => sum + v, 0) / r.length
      return Math.sqrt(r.reduce((sum, v) => sum + (v - mean) ** 2, 0) / r.length) / mean
    }
    const round = solidIn(await run('subdivide', coarse, { times: 2, creases: 180 }))
    expect(triangleCount(round)).toBe(16 * triangleCount(coarse))
    expect(checkMesh(round)).toMatchObject({ sound: true })
    expect(spread(round)).toBeLessThan(0.02)
    // rough by 0.15 mm
    const fine = roundedBox(20, 20, 20, 10, 14, L)
    let state = 3
    const rough = {
      ...fine,
      positions: fine.positions.map((v) => {
        state = (Math.imul(state, 1664525) + 1013904223) | 0
        return Math.round((v + 0.3 * (((state >>> 8) & 0xffff) / 0x10000 - 0.5)) / L) * L
      }),
    }
    const smooth = solidIn(await run('smooth-surface', rough, { rounds: 10, creases: 180 }))
    expect(spread(smooth)).toBeLessThan(0.5 * spread(rough))
    expect(Math.abs(checkMesh(smooth).volume / checkMesh(fine).volume - 1)).toBeLessThan(0.02)
  })

  it('says what it comes to before it begins, triangles within 30 %, and ends there when that is too much', async () => {
    const remesh = stepKind('voxel-remesh')
    if (!remesh) throw new Error('voxel-remesh')
    const ball = roundedBox(30, 30, 30, 15, 32, L)
    const told: { done: number; expected?: string }[] = []
    const leaving = new AbortController()
    const context: StepContext = {
      assets,
      inputs: {},
      memo: new Memo(),
      progress: (done, expected) => void told.push({ done, ...(expected ? { expected } : {}) }),
      breathe: async () => leaving.signal.throwIfAborted(),
    }
    const params = remesh.params.parse({ fit: 'given', voxel: 0.5 })
    const made = solidIn(await remesh.evaluate(ball, params, context))
    const first = told.findIndex(({ expected }) => expected !== undefined)
    expect(told[first].done).toBeLessThan(0.1)
    expect(told.slice(0, first).every(({ done }) => done <= told[first].done)).toBe(true)
    const figures = /^about ([\d,]+) triangles, [\d.,]+ MB and [\d.]+ s$/.exec(told[first].expected ?? '')
    expect(figures).not.toBeNull()
    const triangles = Number(figures?.[1].replaceAll(',', ''))
    expect(Math.abs(triangles / triangleCount(made) - 1)).toBeLessThan(0.3)
    // whoever finds that too much ends it before there is any work
    told.length = 0
    const stopping: StepContext = {
      ...context,
      progress: (done, expected) => (context.progress(done, expected), expected && leaving.abort(new Error('too much'))),
    }
    await expect(remesh.evaluate(ball, params, stopping)).rejects.toThrow('too much')
    expect(told.at(-1)?.expected).toBeDefined()
  })

  it('cuts other pieces out with soft edges, or keeps what both share: volumes within a hundredth of balls and caps', async () => {
    const melt = stepKind('melt')
    if (!melt) throw new Error('melt')
    const ball = roundedBox(30, 30, 30, 15, 32, L)
    const with_ = async (params: Record<string, unknown>) => {
      const matrix = [1, 0, 0, 15, 0, 1, 0, 0, 0, 0, 1, 0] as const
      return solidIn(
        await melt.evaluate(ball, melt.params.parse({ others: [{ piece: 'ball' }], fit: 'given', voxel: 0.6, ...params }), {
          assets,
          inputs: { others: [ball] },
          placed: { others: [{ piece: 'ball', matrix }] },
          memo: new Memo(),
          progress: () => {},
          breathe: async () => {},
        }),
      )
    }
    // two balls of 15 mm with their middles 15 mm apart share two caps of 7.5 mm
    const [r, h] = [15, 7.5]
    const lens = (2 * Math.PI * h * h * (3 * r - h)) / 3
    const whole = (4 / 3) * Math.PI * r ** 3
    const out = await with_({ how: 'out', radius: 0 })
    const overlap = await with_({ how: 'overlap', radius: 0 })
    for (const [made, wanted] of [
      [out, whole - lens],
      [overlap, lens],
    ] as const) {
      expect(checkMesh(made).findings).toEqual([])
      expect(Math.abs(checkMesh(made).volume / wanted - 1)).toBeLessThan(0.01)
    }
    // a soft edge takes more away, and what is laid bare is inside
    expect(checkMesh(await with_({ how: 'out', radius: 3 })).volume).toBeLessThan(checkMesh(out).volume)
    expect(new Set(labelOf(out, 'group')).has(INSIDE)).toBe(true)
  })

  it('limits growing, softening and smoothing by a mask', async () => {
    const box = roundedBox(40, 20, 20, 0, 1, L)
    const right = { list: [{ by: 'plane', facing: 'right', centre: [0, 0, 0], soft: 2 }] }
    for (const [kind, params] of [
      ['grow', { by: 1.5 }],
      ['grow', { by: 1.5, how: 'open' }],
      ['soften', { amount: 2 }],
    ] as const) {
      const made = solidIn(await run(kind, box, { ...params, fit: 'given', voxel: 0.8, mask: right }))
      expect(checkMesh(made).findings).toEqual([])
      const { positions: p } = made
      let [left, rightMost] = [0, 0]
      for (let v = 0; v < p.length; v += 3) {
        // how far off the box's own surface it lies
        const off = Math.max(Math.abs(p[v]) - 20, Math.abs(p[v + 1] - 10) - 10, Math.abs(p[v + 2]) - 10)
        if (p[v] < -4) left = Math.max(left, Math.abs(off))
        if (p[v] > 4) rightMost = Math.max(rightMost, Math.abs(off))
      }
      // where the mask is nought it is a remesh, and no more
      expect(left).toBeLessThan(0.8)
      expect(rightMost).toBeGreaterThan(0.5)
    }
    const rough = roundedBox(30, 30, 30, 15, 12, L)
    const smooth = solidIn(await run('smooth-surface', rough, { rounds: 10, creases: 180, mask: { list: [{ by: 'letters', letters: 'x', turned: true }] } }))
    expect(checkMesh(smooth).sound).toBe(true)
  })
})
