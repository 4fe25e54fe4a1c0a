import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { bakePartHead, packBakePart, unpackBakePart } from './bake-part'

const some = (numbers: readonly number[], stride: number, engine: Uint8Array = Uint8Array.of(1, 2, 3)) => ({
  run: 7,
  before: 61,
  stride,
  values: Float32Array.from(numbers),
  engine,
  own: [0.1, -3, 2 ** 40],
})

describe('A part of a bake', () => {
  it('comes back as it was, bit by bit', () => {
    fc.assert(
      fc.property(
        fc.integer({ min: 1, max: 7 }),
        fc.integer({ min: 1, max: 30 }),
        fc.infiniteStream(fc.float({ noNaN: true })),
        fc.uint8Array({ maxLength: 200 }),
        fc.array(
          fc.double({ noNaN: true, noDefaultInfinity: true }).filter((v) => !Object.is(v, -0)),
          { maxLength: 20 },
        ),
        (stride, frames, stream, engine, own) => {
          const values = Float32Array.from({ length: stride * frames }, () => stream.next().value ?? 0)
          const part = { run: 2 ** 39 + 1, before: 12, stride, values, engine, own }
          expect(unpackBakePart(packBakePart(part))).toEqual(part)
          expect(bakePartHead(packBakePart(part))).toMatchObject({ before: 12, frames, stride, state: engine.length })
        },
      ),
      { numRuns: 60 },
    )
  })

  it('that is damaged, cut short or of another kind is none', () => {
    const bytes = packBakePart(some([1, 2, 3, 4, 5, 6], 3))
    for (let length = 0; length < bytes.length; length++) expect(unpackBakePart(bytes.subarray(0, length))).toBeUndefined()
    fc.assert(
      fc.property(fc.nat(bytes.length - 1), fc.integer({ min: 1, max: 255 }), (at, by) => {
        const other = bytes.slice()
        other[at] ^= by
        // either it is told, or what comes back has as many numbers as it says
        const part = unpackBakePart(other)
        if (part) expect(part.values.length % part.stride).toBe(0)
      }),
      { numRuns: 300 },
    )
    const head = new TextEncoder().encode(JSON.stringify({ run: 0, before: 0, frames: 100_000, stride: 24_000_000, state: 0, own: [] }))
    const bomb = new Uint8Array(12 + head.length + 8)
    bomb.set(bytes.subarray(0, 8))
    new DataView(bomb.buffer).setUint32(8, head.length, true)
    bomb.set(head, 12)
    expect(bakePartHead(bomb)).toBeUndefined()
  })
})
