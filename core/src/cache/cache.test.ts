import fc from 'fast-check'
import { MessageChannel } from 'node:worker_threads'
import { describe, expect, it, vi } from 'vitest'
import { breather, nextTask } from './breathing'
import { hashBits, hashJson, hashNumbers } from './hash'
import { measure } from './measure'
import { Memo } from './memo'

describe('Memo', () => {
  it('drops what was used longest ago when it is full', () => {
    const memo = new Memo(10_000)
    for (const key of ['a', 'b', 'c']) memo.put(key, new Uint8Array(3000))
    memo.peek('a')
    memo.put('d', new Uint8Array(3000))
    expect([memo.peek('a'), memo.peek('b')].map((v) => v !== undefined)).toEqual([true, false])
  })

  it('keeps nothing when making fails, and nothing larger than itself', () => {
    const memo = new Memo(1000)
    expect(() =>
      memo.get('x', () => {
        throw new Error('no')
      }),
    ).toThrow('no')
    memo.put('large', new Uint8Array(2000))
    expect([memo.size, memo.bytes]).toEqual([0, 0])
  })

  it('counts a buffer once however many share it, and forgets it with the last of them', () => {
    const memo = new Memo(1_000_000)
    const common = new Float32Array(25_000)
    memo.put('one', { positions: common, own: 1 })
    const alone = memo.bytes
    memo.put('two', { positions: common.subarray(10), own: 2 })
    expect(memo.bytes - alone).toBeLessThan(1000)
    memo.put('one', 1)
    expect(memo.bytes).toBeGreaterThan(100_000)
    memo.put('two', 2)
    expect(memo.bytes).toBeLessThan(1000)
  })

  it('stays within its bound whatever is put in, again and again', () => {
    const shared = Array.from({ length: 5 }, (_, i) => new Uint8Array(500 * (i + 1)))
    const value = fc.oneof(
      fc.nat(4).map((i) => ({ buffer: shared[i] })),
      fc.string({ maxLength: 400 }),
      fc.array(fc.integer(), { maxLength: 100 }),
      fc.nat(1500).map((n) => new Float64Array(n / 8)),
    )
    fc.assert(
      fc.property(fc.array(fc.tuple(fc.nat(40), value), { maxLength: 200 }), (puts) => {
        const memo = new Memo(6000)
        for (const [key, v] of puts) {
          memo.put(String(key), v)
          expect(memo.bytes).toBeLessThanOrEqual(6000)
          expect(memo.bytes).toBeGreaterThanOrEqual(0)
        }
        for (let key = 0; key <= 40; key++) memo.put(String(key), new Uint8Array(5999))
        expect(memo.size).toBeLessThanOrEqual(1)
      }),
      { numRuns: 100 },
    )
  })
})

describe('one run for all', () => {
  it('ends by its own signal only when nobody asks any more', async () => {
    const memo = new Memo()
    let runs = 0
    let ended: unknown
    const work = async (signal: AbortSignal) => {
      runs++
      signal.addEventListener('abort', () => (ended = signal.reason))
      for (;;) {
        await nextTask()
        signal.throwIfAborted()
      }
    }
    const [first, second] = [new AbortController(), new AbortController()]
    const asked = [memo.share('k', work, first.signal), memo.share('k', work, second.signal)]
    first.abort(new Error('first'))
    await expect(asked[0]).rejects.toThrow('first')
    expect(ended).toBeUndefined()
    second.abort(new Error('second'))
    await expect(asked[1]).rejects.toThrow('second')
    expect(ended).toMatchObject({ message: 'second' })
    // who asks now is not given the run that is over
    const third = memo.share('k', async () => 'fresh')
    await expect(third).resolves.toBe('fresh')
    expect(runs).toBe(1)
  })
})

describe('measure', () => {
  it('follows what refers to itself, and counts every buffer once', () => {
    const ring: { self?: unknown; a: Uint8Array; b: Uint8Array } = { a: new Uint8Array(10), b: new Uint8Array(20) }
    ring.self = ring
    const { bytes, buffers } = measure([ring, ring, new Map([['k', ring]])])
    expect(buffers.map((b) => b.byteLength).sort()).toEqual([10, 20])
    expect(bytes).toBeLessThan(1000)
  })
})

describe('breathing', () => {
  it('lets messages in where there is no setImmediate, as in a browser, whose own way of yielding does not', async () => {
    vi.stubGlobal('setImmediate', undefined)
    vi.stubGlobal('scheduler', { yield: () => Promise.resolve() })
    const { port1, port2 } = new MessageChannel()
    try {
      const heard = new Promise<void>((resolve) => port1.once('message', () => resolve()))
      let over = false
      void heard.then(() => (over = true))
      port2.postMessage('stop')
      const end = performance.now() + 5000
      while (!over && performance.now() < end) await nextTask()
      expect(over).toBe(true)
    } finally {
      port1.close()
      vi.unstubAllGlobals()
    }
  })

  it('lets other tasks in while work goes on, and stops at the signal', async () => {
    const controller = new AbortController()
    const breathe = breather(controller.signal)
    let others = 0
    const timer = setInterval(() => others++, 1)
    // however busy the machine is: without breathing not one of them ever came in
    const end = performance.now() + 10_000
    while (others <= 3 && performance.now() < end) await breathe()
    clearInterval(timer)
    expect(others).toBeGreaterThan(3)
    controller.abort(new Error('stop'))
    await expect(breathe()).rejects.toThrow('stop')
  })
})

describe('hashJson', () => {
  it('does not depend on the order of keys, but on everything else', () => {
    expect(hashJson({ a: 1, b: [2, { c: 3 }] })).toBe(hashJson({ b: [2, { c: 3 }], a: 1 }))
    expect(hashJson({ a: 1 })).not.toBe(hashJson({ a: '1' }))
    expect(hashJson([1, 2])).not.toBe(hashJson([2, 1]))
    // published vector: SHA-256 of the two bytes {}
    expect(hashJson({})).toBe('44136fa355b3678a1146ad16f7e8649e94fb4fc21fe77e8310c060f61caaff8a')
  })
})

describe('hashes of numbers', () => {
  const lists = fc.array(fc.integer({ min: -1000, max: 1000 }), { maxLength: 40 })

  it('are equal for equal lists alone, wherever they lie in memory', () => {
    fc.assert(
      fc.property(lists, lists, fc.nat(3), (one, other, offset) => {
        const [a, b] = [Float32Array.from(one), Float32Array.from(other)]
        const moved = new Float32Array(offset + one.length)
        moved.set(one, offset)
        const same = one.length === other.length && one.every((v, i) => v === other[i])
        expect(hashBits(moved.subarray(offset))).toBe(hashBits(a))
        expect(hashBits(a) === hashBits(b)).toBe(same)
        expect(hashNumbers([one]) === hashNumbers([other])).toBe(same)
      }),
    )
  })

  it('change with every single number, with their order and with their count', () => {
    fc.assert(
      fc.property(fc.array(fc.integer({ min: 0, max: 1e6 }), { minLength: 1, maxLength: 30 }), fc.nat(), fc.integer({ min: 1, max: 255 }), (list, at, by) => {
        const whole = Uint32Array.from(list)
        const changed = whole.slice()
        changed[at % list.length] ^= by
        const longer = Uint32Array.from([...list, 0])
        const hashes = [whole, changed, longer].map(hashBits)
        expect(new Set(hashes).size).toBe(3)
        const turned = whole.toReversed()
        if (turned.some((v, i) => v !== whole[i])) expect(hashBits(turned)).not.toBe(hashes[0])
      }),
    )
  })

  it('do not fall together among many', () => {
    const seen = new Set<string>()
    for (let n = 0; n < 20_000; n++) seen.add(hashBits(Float64Array.from([n / 7, n, 1, 2, 3])))
    expect(seen.size).toBe(20_000)
  })
})
