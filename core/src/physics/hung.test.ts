import { beforeAll, describe, expect, it } from 'vitest'
import { block, falling, quiet, run, step, valueOf, words } from '../../test/simulating'
import { loadManifold } from '../kernel/manifold'
import { takenApart } from '../repeat/apart'
import { type Assembly, copySolid } from '../solid/assembly'
import { checkMesh } from '../check/check'
import { solidBounds } from '../solid/solid'
import { drop, poseMatrix, type Recording, seenAt } from './drop'
import { accelerations } from './forces'
import { RATE } from './recording'
import { drawnTethers, hanging, hungFromAbove, type Tether, withTethers } from './tethers'
import { apply } from '../solid/operations'
import { windField } from './wind'

beforeAll(() => loadManifold())

const at = ({ poses, things }: Recording, frame: number, thing = 0) =>
  Array.from(poses.subarray(7 * (frame * things + thing), 7 * (frame * things + thing) + 3))
const distance = (a: readonly number[], b: readonly number[]) => Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2])
const bob = async () => takenApart(await block(10, 10, 10), 'part')

/** A rope from a fixed point to the middle of the block's top, held aside by so many degrees: the block stands where that takes it, upright. */
function heldAside(top: readonly [number, number, number], length: number, degrees: number): Tether {
  const a = (degrees * Math.PI) / 180
  return { from: { at: [top[0] - length * Math.sin(a), top[1] + length * Math.cos(a), top[2]] }, to: { at: top, thing: 0 }, length }
}

describe('A force that ends', () => {
  it('throws up what lies, which falls again and comes to rest', async () => {
    const how = falling({ floor: 0, seconds: 6, forces: { spot: [0, 1e5, 0], pull: 0, whirl: 0, shake: 0, reach: 0, seed: 1 } })
    const up = { ...how, forces: { ...how.forces, pull: 20, acts: [1, 1.2] as const } }
    const rec = await drop(await bob(), up, quiet)
    const heights = Array.from({ length: rec.frames }, (_, frame) => at(rec, frame)[1])
    const before = heights[Math.floor(0.9 * RATE)]
    const highest = Math.max(...heights)
    expect(before).toBeLessThan(6)
    // 0.2 s of 20 − 9.81 m/s², then up by that speed, at 50 mm a metre
    const speed = 0.2 * (20 - 9.81)
    expect(Math.abs((highest - before) / (50 * (0.5 * 0.2 * speed + speed ** 2 / (2 * 9.81))) - 1)).toBeLessThan(0.06)
    expect(rec.rest).toBeGreaterThan(1.2)
    expect(Math.abs(heights[heights.length - 1] - before)).toBeLessThan(0.2)
  })
})

describe('Ropes', () => {
  it('swing with the period of a pendulum, within 1 %, and never higher than they began', async () => {
    const apart = await bob()
    const box = apart.things[0].box
    const top = [(box[0] + box[3]) / 2, box[4], (box[2] + box[5]) / 2] as const
    const length = 400
    const rec = await drop(apart, falling({ tethers: [heldAside(top, length, 4)], seconds: 24 }), quiet)
    const pivot = top[0] - length * Math.sin((4 * Math.PI) / 180)
    const aside = Array.from({ length: rec.frames }, (_, frame) => at(rec, frame)[0] - pivot)
    const crossings: number[] = []
    for (let i = 1; i < aside.length; i++) if (aside[i - 1] > 0 !== aside[i] > 0) crossings.push((i - aside[i] / (aside[i] - aside[i - 1])) / RATE)
    const period = (2 * (crossings[crossings.length - 1] - crossings[0])) / (crossings.length - 1)
    const expected = 2 * Math.PI * Math.sqrt((length + 5) / (9.81 * 50)) * (1 + ((4 * Math.PI) / 180) ** 2 / 16)
    expect(crossings.length).toBeGreaterThan(6)
    expect(Math.abs(period / expected - 1)).toBeLessThan(0.01)
    const heights = Array.from({ length: rec.frames }, (_, frame) => at(rec, frame)[1])
    expect(Math.max(...heights)).toBeLessThanOrEqual(heights[0] + 0.05)
  })

  it('hold a sign in gusts for half a minute: none grows, and the sign stays under its ropes', async () => {
    const apart = takenApart(await block(120, 30, 4), 'part')
    const tethers = hungFromAbove(apart, () => apart.assembly.units[0], 2, 40)
    const rec = await drop(apart, falling({ stuff: 'birch', tethers, seconds: 30, air: { speed: [3, 0, -6], gusts: 0.8, turbulence: 0.5, seed: 4 } }), quiet)
    expect(rec.frames).toBe(30 * RATE + 1)
    let [worst, furthest] = [0, 0]
    for (let frame = 0; frame < rec.frames; frame += 3) {
      for (const { from, to, length } of tethers) worst = Math.max(worst, distance(from.at, apply(poseMatrix(rec, 0, frame / RATE), ...to.at)) / length)
      furthest = Math.max(furthest, distance(at(rec, frame), at(rec, 0)))
    }
    expect(worst).toBeLessThan(1.02)
    expect(furthest).toBeLessThan(100)
    // it does move
    expect(furthest).toBeGreaterThan(2)
  })

  it('are as long as they are, straight or hanging through', () => {
    for (const far of [100, 95, 70, 40]) {
      const points = hanging([0, 0, 0], [far, 0, 0], 100, 400)
      const length = points.slice(1).reduce((sum, p, i) => sum + distance(p, points[i]), 0)
      expect(Math.abs(length / 100 - 1)).toBeLessThan(0.005)
      expect(points[0]).toEqual([0, 0, 0])
      expect(points[400][0]).toBeCloseTo(far, 9)
    }
  })

  it('that are drawn are fast to what they end at; those without length, or that hold nothing, are none', async () => {
    const apart = await bob()
    const [x, y, z] = [0, 1, 2].map((k) => (apart.things[0].box[k] + apart.things[0].box[k + 3]) / 2)
    const made = drawnTethers(
      apart,
      [
        [
          [x, y + 80, z],
          [x, y + 40, z],
          [x, y + 4, z],
        ],
        [
          [x, y + 80, z],
          [x, y + 80, z],
        ],
        [
          [x + 90, y, z],
          [x + 99, y, z],
        ],
      ],
      2,
    )
    expect(made).toHaveLength(1)
    expect(made[0].from.thing).toBeUndefined()
    expect(made[0].to.thing).toBe(0)
    expect(made[0].length).toBeCloseTo(76, 9)
  })

  it.each(['rope', 'chain'] as const)('are shown as sound %s between where things are', async (look) => {
    const apart = await bob()
    const tethers = hungFromAbove(apart, () => apart.assembly.units[0], 1, 40)
    const shown = withTethers(apart.assembly, tethers, look, 1.5, () => undefined, { knots: true })
    const added = Array.from({ length: shown.placements.unit.length }, (_, i) => copySolid(shown, i)).slice(apart.assembly.placements.unit.length)
    for (const solid of added) expect(checkMesh(solid).sound).toBe(true)
    const boxes = added.map(({ positions }) => solidBounds(positions))
    const [{ from, to }] = tethers
    expect(Math.max(...boxes.map((box) => box[4]))).toBeGreaterThan(from.at[1] - 0.5)
    expect(Math.min(...boxes.map((box) => box[1]))).toBeLessThan(to.at[1] + 0.5)
    // links of a chain do not come into each other
    if (look === 'chain') for (let i = 2; i < boxes.length - 1; i++) expect(boxes[i][4]).toBeLessThan(boxes[i - 2][1])
  })
})

describe('Hinges, glue and floors', () => {
  it('turn about their edge and no other way', async () => {
    const apart = takenApart(await block(40, 30, 4), 'part')
    const box = apart.things[0].box
    const rec = await drop(apart, falling({ hinged: 'top', air: { speed: [0, 0, -9], gusts: 0, turbulence: 0, seed: 1 }, seconds: 3 }), quiet)
    let swung = 0
    for (let frame = 0; frame < rec.frames; frame += 5) {
      const move = poseMatrix(rec, 0, frame / RATE)
      for (const x of [box[0], box[3]]) {
        const edge = [x, box[4], (box[2] + box[5]) / 2] as const
        expect(distance(apply(move, ...edge), edge)).toBeLessThan(0.3)
      }
      swung = Math.max(swung, Math.abs(apply(move, box[0], box[1], 0)[2]))
    }
    expect(swung).toBeGreaterThan(3)
  })

  it('holds by glue until that would have to hold more than it can', async () => {
    const route = (glue: number) =>
      run(...words('I'), step('shatter', { pieces: 6 }), step('drop', { by: 'copy', at: 2, length: 2, hang: 'glue', glue, fall: 150, spin: 0 }))
    const gave = async (glue: number) => {
      const told = (await route(glue)).steps.at(-1)?.told ?? ''
      const [, parted, all] = told.match(/(\d+) of (\d+) glued places gave way/)?.map(Number) ?? []
      return { parted, all }
    }
    const [none, weak, strong] = [await gave(0), await gave(4), await gave(5000)]
    expect(none.all).toBeGreaterThan(4)
    expect(none.parted).toBe(none.all)
    expect(weak.parted).toBeGreaterThan(0)
    expect(strong.parted).toBe(0)
  })

  it('takes along what lies on a floor that goes on', async () => {
    const rec = await drop(await bob(), falling({ floor: -10, belt: 100, friction: 1, seconds: 3 }), quiet)
    // from the third second on as fast as the floor
    expect(at(rec, 180)[0] - at(rec, 120)[0]).toBeCloseTo(100, 0)
  })

  it('tells what begins inside another, and pushes it out when asked', async () => {
    const value = await valueOf(step('block', { width: 20, height: 20, depth: 20 }), step('row', { count: 2, gap: -6 }))
    const apart = takenApart(value, 'copy')
    const overlap = apart.things[0].box[3] - apart.things[1].box[0]
    expect(overlap).toBeGreaterThan(1)
    const left = await drop(apart, falling({ seconds: 0.2 }), quiet)
    expect(left.inside).toBe(1)
    const pushed = await drop(apart, falling({ pushApart: true, seconds: 0.2 }), quiet)
    const start = seenAt(apart, pushed, 0)
    const [one, other] = [0, 1].map((i) => solidBounds(copySolid(start, i).positions))
    // no longer inside, by more than what rests may sink in
    expect(Math.max(...[0, 1, 2].map((k) => Math.max(other[k] - one[k + 3], one[k] - other[k + 3])))).toBeGreaterThan(-0.4)
    const { steps } = await run(
      step('block', { width: 20, height: 20, depth: 20 }),
      step('row', { count: 2, gap: -6 }),
      step('drop', { by: 'copy', length: 0.2, at: 0.1 }),
    )
    expect(steps.at(-1)?.issues.map(({ code }) => code)).toContain('inside-each-other')
  })
})

describe('Forces and air', () => {
  it('pull, push and whirl as strong as they say, half as strong where they reach', () => {
    const out = new Float64Array(3)
    const calm = { spot: [0, 0, 0] as const, pull: 0, whirl: 0, shake: 0, reach: 0, seed: 1 }
    accelerations({ ...calm, pull: 10 })(20, 0, 0, 0, out)
    expect(out[0]).toBeCloseTo(-10, 1)
    accelerations({ ...calm, pull: -10, reach: 2 })(0, 2, 0, 0, out)
    expect(out[1]).toBeCloseTo(5, 0)
    accelerations({ ...calm, whirl: 10 })(20, 5, 0, 0, out)
    // anticlockwise from above: what is at the right goes back
    expect(out[2]).toBeCloseTo(-10, 1)
    expect(out[0]).toBeCloseTo(0, 9)
    let most = 0
    for (let t = 0; t < 200; t++) {
      accelerations({ ...calm, shake: 10 })(0.1, 0.2, 0.3, t / 10, out)
      most = Math.max(most, Math.hypot(...out))
    }
    expect(most).toBeGreaterThan(3)
    expect(most).toBeLessThan(30)
  })

  it('comes and goes about its speed, and is the same field whenever it is asked', () => {
    const air = { speed: [8, 0, 0] as const, gusts: 0.7, turbulence: 0.4, seed: 9 }
    const [wind, again] = [windField(air), windField(air)]
    const [a, b] = [new Float64Array(3), new Float64Array(3)]
    let sum = 0
    for (let i = 0; i < 4000; i++) {
      wind(0.3, 0.1, 0.2, i / 20, a)
      sum += a[0]
    }
    again(0.3, 0.1, 0.2, 3999 / 20, b)
    expect(b).toEqual(a)
    expect(sum / 4000).toBeGreaterThan(6)
    expect(sum / 4000).toBeLessThan(10)
  })

  it('carries light things further than heavy ones', async () => {
    const far = async (stuff: 'foam' | 'steel') => {
      const rec = await drop(await bob(), falling({ gravity: 0, stuff, seconds: 2, air: { speed: [10, 0, 0], gusts: 0, turbulence: 0, seed: 1 } }), quiet)
      return at(rec, rec.frames - 1)[0] - at(rec, 0)[0]
    }
    const [light, heavy] = [await far('foam'), await far('steel')]
    expect(light).toBeGreaterThan(20 * heavy)
    expect(heavy).toBeGreaterThan(0)
    // never faster than the wind
    expect(light).toBeLessThan(10 * 50 * 2)
  })
})

describe('Drop', () => {
  it.each([
    ['ropes where nothing is drawn at anything', { hang: 'rope', lines: [] }, undefined],
    ['glue where nothing touches', { hang: 'glue' }, 'no-glue'],
    ['a rope of no length', { hang: 'rope', rope: 0 }, 'bad-value'],
  ])('says what is the matter with %s', async (_, params, code) => {
    const { steps, value } = await run(...words('Fo'), step('drop', { at: 0.3, length: 0.3, ...params }))
    const codes = steps.at(-1)?.issues.map((issue) => issue.code) ?? []
    if (code) expect(codes).toContain(code)
    else expect((value as Assembly).units.length).toBeGreaterThan(2)
  })
})
