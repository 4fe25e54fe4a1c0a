import { existsSync, readFileSync } from 'node:fs'
import { readdir } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { counted, isCrowded } from '../src/server/crowd'
import { spool } from '../src/server/spool'

async function* chunks(list: readonly Uint8Array[], fault?: Error): AsyncIterable<Uint8Array> {
  for (const chunk of list) {
    await Promise.resolve()
    yield chunk
  }
  if (fault) throw fault
}

const folders = async () => (await readdir(tmpdir())).filter((name) => name.startsWith('kelvar-')).sort()

describe('a file on its way in', () => {
  it('is on disk as it was sent, in a folder of its own that goes with it', async () => {
    await fc.assert(
      fc.asyncProperty(fc.array(fc.uint8Array({ maxLength: 400 }), { maxLength: 12 }), async (list) => {
        const spooled = await spool(chunks(list), 10_000)
        if (!spooled) throw new Error('refused')
        expect(readFileSync(spooled.path).equals(Buffer.concat(list))).toBe(true)
        expect(spooled.size).toBe(list.reduce((sum, chunk) => sum + chunk.length, 0))
        expect(spooled.path.startsWith(spooled.folder)).toBe(true)
        await spooled.remove()
        expect(existsSync(spooled.folder)).toBe(false)
        // twice does no harm
        await spooled.remove()
      }),
      { numRuns: 25 },
    )
  })

  it('is given up as soon as it grows beyond the limit, with nothing left of it and the rest not asked for', async () => {
    const before = await folders()
    let asked = 0
    async function* endless(): AsyncIterable<Uint8Array> {
      for (;;) {
        asked++
        yield new Uint8Array(1000)
      }
    }
    expect(await spool(endless(), 5500)).toBeUndefined()
    expect(asked).toBe(6)
    expect(await folders()).toEqual(before)
    // just as long as it may be
    const whole = await spool(chunks([new Uint8Array(5500)]), 5500)
    expect(whole?.size).toBe(5500)
    await whole?.remove()
  })

  it('leaves nothing when its sender breaks off, and says why', async () => {
    const before = await folders()
    await expect(spool(chunks([new Uint8Array(100)], new Error('the line is dead')), 1000)).rejects.toThrow('the line is dead')
    expect(await folders()).toEqual(before)
  })
})

describe('a crowd', () => {
  it('is more than five requests at once, counted whether they are answered or fail', async () => {
    const open: ((fail: boolean) => void)[] = []
    const ask = () =>
      counted(
        () =>
          new Promise<string>((resolve, reject) => {
            open.push((fail) => (fail ? reject(new Error('failed')) : resolve('answered')))
          }),
      )
    const asked = Array.from({ length: 5 }, ask)
    expect(isCrowded()).toBe(false)
    asked.push(ask())
    expect(isCrowded()).toBe(true)
    open[0](true)
    await expect(asked[0]).rejects.toThrow('failed')
    expect(isCrowded()).toBe(false)
    for (const end of open.slice(1)) end(false)
    expect(await Promise.all(asked.slice(1))).toEqual(new Array(5).fill('answered'))
    expect(isCrowded()).toBe(false)
  })
})
