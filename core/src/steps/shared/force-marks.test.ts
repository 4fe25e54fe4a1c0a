import { describe, expect, it } from 'vitest'
import { block, run, STILL, step, words } from '../../../test/simulating'
import { forceMarks } from './force-marks'
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

  it('come with the steps that things are moved by', async () => {
    const marksOf = async (...route: Parameters<typeof run>) => (await run(...route)).steps.at(-1)?.marks?.knobs?.map(({ name }) => name)
    const letters = words('I')
    expect(await marksOf(...letters, step('drop', { at: 0.1, length: 0.1, force: 'pull', reach: 20, air: 'wind' }))).toEqual(['spot', 'reach', 'wind'])
    expect(await marksOf(...letters, step('jelly', { at: 0.1, length: 0.1, force: 'whirl' }))).toEqual(['spot'])
    expect(await marksOf(...letters, step('drape', { at: 0.1, length: 0.1, edge: 5, air: 'wind' }))).toEqual(['wind'])
    expect(await marksOf(letters[0], step('balloon', { at: 0.1, length: 0.1, edge: 3, tie: 'string', air: 'wind' }))).toEqual(['wind'])
    expect(await marksOf(...letters, step('drop', { at: 0.1, length: 0.1 }))).toBeUndefined()
    expect((await block(1, 1, 1)).kind).toBe('solid')
  })
})
