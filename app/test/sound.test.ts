import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { loudest, peaksOf } from '../src/features/motion/sound'
import { setSound } from '../src/state/actions/sound'
import { createWorkbenchStore } from '../src/state/store'
import { newProject } from '@kelvar/core/project/new-project'
import { projectDocument } from '@kelvar/core/document/schema'

const heard = (channels: readonly Float32Array[], sampleRate: number) => ({
  sampleRate,
  length: channels[0].length,
  numberOfChannels: channels.length,
  getChannelData: (channel: number) => channels[channel] as Float32Array<ArrayBuffer>,
})

describe('a waveform', () => {
  it('is as loud as the loudest sample anywhere in it, whatever stretch is asked for', () => {
    const samples = fc.array(fc.double({ min: -1, max: 1, noNaN: true }), { minLength: 1, maxLength: 400 })
    fc.assert(
      fc.property(
        samples,
        fc.constantFrom(150, 1000, 8000),
        fc.double({ min: 0, max: 1, noNaN: true }),
        fc.double({ min: 0, max: 1, noNaN: true }),
        (list, rate, a, b) => {
          const left = Float32Array.from(list)
          const right = left.map((v) => -v / 2)
          const peaks = peaksOf(heard([right, left], rate))
          const most = left.reduce((m, v) => Math.max(m, Math.abs(v)), 0)
          expect(loudest(peaks, 0, list.length / rate)).toBe(most)
          const [from, to] = [Math.min(a, b), Math.max(a, b)].map((t) => (t * list.length) / rate)
          const inside = left.filter((_, i) => i / rate >= from && i / rate < to).reduce((m, v) => Math.max(m, Math.abs(v)), 0)
          expect(loudest(peaks, from, to)).toBeGreaterThanOrEqual(inside)
          expect(loudest(peaks, 1e6, 1e7)).toBe(0)
        },
      ),
    )
  })
})

describe('the sound of a project', () => {
  it('is carried with it, moved, replaced and taken away, each undone', () => {
    const store = createWorkbenchStore('sound', newProject('Sound'), 1)
    const now = () => store.getState().document
    const sounds = () => now().assets.filter(({ type }) => type === 'sound')
    const file = (digit: string) => ({ sha256: digit.repeat(64), name: `${digit}.wav`, bytes: 100 })
    setSound(store, file('a'))
    expect(now().time?.sound).toEqual({ sha256: 'a'.repeat(64), name: 'a.wav', at: 0 })
    expect(sounds()).toEqual([{ ...file('a'), type: 'sound' }])
    setSound(store, { sha256: 'a'.repeat(64), name: 'a.wav' }, -12)
    expect(now().time?.sound?.at).toBe(-12)
    expect(sounds()).toHaveLength(1)
    setSound(store, file('b'))
    expect(sounds().map(({ sha256 }) => sha256[0])).toEqual(['b'])
    setSound(store, undefined)
    expect(now().time?.sound).toBeUndefined()
    expect(sounds()).toEqual([])
    expect(projectDocument.safeParse(now()).success).toBe(true)
    store.getState().undo()
    expect(sounds().map(({ sha256 }) => sha256[0])).toEqual(['b'])
  })
})
