import { describe, expect, it } from 'vitest'
import { run, STILL, step, words } from '../../../test/simulating'
import { turnedBack } from '../../physics/drape'
import { forceMarks } from './force-marks'
import { allMarks, floorMarks, hingeMarks, ropeMarks } from './hang-marks'
import { airOf } from './physics'

const BOX = [0, 0, 0, 100, 40, 10]
const calm = { force: 'none', power: 10, spot: null, reach: 0, wind: 8 }

describe('the marks of forces', () => {
  it('are none where nothing acts', () => {
    expect(forceMarks(calm, STILL, BOX)).toEqual({})
  })

  it('show the spot where it is, in the middle when none is picked, and the ring where it is half as strong', () => {
    const middle = forceMarks({ ...calm, force: 'pull' }, STILL, BOX).marks
    expect(middle?.knobs).toMatchObject([{ at: [50, 20, 5], title: 'Pulls to', spot: { field: 'spot' } }])
    const { marks } = forceMarks({ ...calm, force: 'whirl', spot: [10, 20, 30], reach: 25 }, STILL, BOX)
    expect(marks?.knobs?.map(({ name }) => name)).toEqual(['spot', 'reach'])
    expect(marks?.knobs?.[1]).toMatchObject({ at: [35, 20, 30], line: { field: 'reach', value: 25, way: [1, 0, 0] } })
    const ring = marks?.lines?.find((line) => line.length > 10) ?? []
    for (const [x, y, z] of ring) {
      expect(Math.hypot(x - 10, z - 30)).toBeCloseTo(25, 9)
      expect(y).toBe(20)
    }
    expect(ring.length).toBeGreaterThan(30)
  })

  it('blow towards the things from outside of them, the longer the harder', () => {
    for (const towards of [0, 90, -45]) {
      const tips = [4, 12, 30].map((wind) => {
        const { marks } = forceMarks({ ...calm, wind }, airOf({ air: 'wind', wind, towards, rising: 10, gusts: 0, turbulence: 0, seed: 1 }), BOX)
        const [line] = marks?.lines ?? []
        const [knob] = marks?.knobs ?? []
        const way = knob.line?.way ?? [0, 0, 0]
        // one more m/s is one `way` further from its end
        knob.at.forEach((v, k) => expect(v - line[0][k]).toBeCloseTo(wind * way[k], 6))
        // towards the middle, and not yet there
        const left = [50, 20, 5].map((v, k) => v - line[1][k])
        expect(left.reduce((sum, v, k) => sum + v * way[k], 0)).toBeGreaterThan(0)
        return Math.hypot(...line[1].map((v, k) => v - line[0][k]))
      })
      expect(tips[0]).toBeLessThan(tips[1])
      expect(tips[1]).toBeLessThan(tips[2])
    }
  })

  it('come with the steps that things are moved by, with the floor and what things hang on', async () => {
    const marksOf = async (...route: Parameters<typeof run>) => (await run(...route)).steps.at(-1)?.marks?.knobs?.map(({ name }) => name)
    const letters = words('I')
    const short = { at: 0.1, length: 0.1 }
    expect(await marksOf(...letters, step('drop', { ...short, force: 'pull', reach: 20, air: 'wind' }))).toEqual(['fall', 'spot', 'reach', 'wind'])
    expect(await marksOf(...letters, step('drop', { ...short, floor: 'none', hang: 'rope' }))).toEqual(['rope'])
    expect(await marksOf(...letters, step('jelly', { ...short, force: 'whirl' }))).toEqual(['fall', 'spot'])
    expect(await marksOf(...letters, step('drape', { ...short, edge: 5, air: 'wind' }))).toEqual(['fall', 'wind'])
    expect(await marksOf(letters[0], step('balloon', { ...short, edge: 3, tie: 'string', air: 'wind' }))).toEqual(['string', 'wind'])
    expect(await marksOf(letters[0], step('balloon', { ...short, edge: 3 }))).toBeUndefined()
    expect(await marksOf(...letters, step('drop', { ...short, floor: 'none' }))).toBeUndefined()
  })
})

describe('the marks of what things fall and hang on', () => {
  const box = [0, 10, 0, 100, 40, 20]

  it('show the floor as deep as it lies, about what falls, also for what falls backwards', () => {
    const { marks } = floorMarks({ floor: 'below', fall: 30, room: 5 }, box)
    const [knob] = marks?.knobs ?? []
    expect(knob).toMatchObject({ at: [50, -20, 10], line: { field: 'fall', value: 30, way: [0, -1, 0] } })
    for (const [x, y, z] of marks?.lines?.[0] ?? []) expect([[-10, 110].includes(x), y, [-10, 30].includes(z)]).toEqual([true, -20, true])
    const pen = floorMarks({ floor: 'pen', fall: 30, room: 5 }, box).marks?.lines?.[0] ?? []
    expect(Math.min(...pen.map(([x]) => x))).toBe(-5)
    expect(floorMarks({ floor: 'none', fall: 30, room: 5 }, box)).toEqual({})
    // as a cloth sees it that falls back: its down is −z
    const back = floorMarks({ floor: 'below', fall: 30, room: 5 }, box, (at) => Array.from(turnedBack(at, 'back')) as [number, number, number]).marks
    expect(back?.knobs?.[0]).toMatchObject({ at: [50, -10, -20], line: { way: [0, -0, -1] } })
  })

  it('take a rope in hand where it is fast, a millimetre for a millimetre', () => {
    const tethers = [0, 30].map((x) => ({ from: { at: [x, 100, 5] as const }, to: { at: [x, 40, 5] as const, thing: 0 }, length: 60 }))
    expect(ropeMarks(tethers, 'rope').marks?.knobs).toMatchObject([{ at: [0, 100, 5], line: { field: 'rope', value: 60, way: [0, 1, 0] } }])
    expect(ropeMarks(tethers, 'rope').marks?.lines?.length).toBe(2)
    expect(ropeMarks([], 'rope')).toEqual({})
  })

  it('show what each thing turns about, and all of them together', () => {
    const ends = (edge: 'top' | 'bottom' | 'left' | 'right') => hingeMarks([box], edge).marks?.lines
    expect(ends('top')).toEqual([
      [
        [0, 40, 10],
        [100, 40, 10],
      ],
    ])
    expect(ends('right')).toEqual([
      [
        [100, 10, 10],
        [100, 40, 10],
      ],
    ])
    expect(allMarks({}, {})).toEqual({})
    const both = allMarks(hingeMarks([box, box], 'left'), {}, floorMarks({ floor: 'below', fall: 1, room: 0 }, box)).marks
    expect([both?.lines?.length, both?.knobs?.length]).toEqual([3, 1])
  })
})
