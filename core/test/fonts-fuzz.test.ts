import { describe, expect, it } from 'vitest'
import { SHIPPED_FACES } from '../fonts/catalogue'
import { FontError, FontFace } from '../src/font/face'
import { readFaceFacts } from '../src/font/facts'
import { unpackFont } from '../src/font/unpack'
import { letteringParams } from '../src/steps/source/lettering/schema'
import { setText } from '../src/steps/source/lettering/set-text'
import { FULL, fontBytes } from './helpers'
import { within } from './within'

const MUTATIONS = FULL ? 1000 : 300
const words = { Arab: 'ميناء 8', Hebr: 'נמל 8', Deva: 'क्षेत्र 8', Hira: 'みな港 8' } as Record<string, string>

/** Numbers that follow from a seed (Lehmer), so that a failure can be made again. */
function numbers(seed: number): (n: number) => number {
  let state = seed
  return (n) => {
    state = (Math.imul(state, 48271) >>> 0) % 0x7fffffff || 1
    return state % n
  }
}

describe('damaged fonts', () => {
  it.each(SHIPPED_FACES.map((f) => [f.id, f] as const))(
    '%s: a font or a FontError within 2 s, whatever the damage',
    async (_, shipped) => {
      const whole = fontBytes(shipped)
      const random = numbers(shipped.bytes)
      const params = letteringParams.parse({ text: `${words[shipped.scripts[0]] ?? 'fiQé 8'}` })
      const optical = { ...params, kerning: 'optical' as const }
      let opened = 0
      for (let i = 0; i < MUTATIONS; i++) {
        const bytes = whole.slice(0, i % 50 === 0 ? random(whole.length) : whole.length)
        // in the directory, in one place, or all over
        const reach = i % 3 === 0 ? Math.min(400, bytes.length) : bytes.length
        const from = i % 3 === 1 ? random(Math.max(1, bytes.length - 64)) : 0
        for (let k = random(20); k >= 0; k--) bytes[from + random(i % 3 === 1 ? 64 : Math.max(1, reach))] = random(4) === 0 ? 255 : random(256)
        await within(2000, async () => {
          try {
            for (const font of await unpackFont(bytes)) {
              const face = await FontFace.open(font, `damaged-${i}`)
              opened++
              readFaceFacts(face)
              setText(face, i % 10 === 0 ? optical : params)
              setText(face.at(Object.fromEntries(face.axes.map((a) => [a.tag, a.max]))), params)
            }
          } catch (error) {
            expect(error instanceof FontError || error instanceof RangeError, `${i}: ${(error as Error).stack}`).toBe(true)
          }
        })
        // lets the engine's memory be given back
        if (i % 20 === 0) await new Promise((resolve) => setImmediate(resolve))
      }
      expect(opened).toBeGreaterThan(20)
    },
    300_000,
  )
})
