import { type Mask, maskEntry, maskSchema } from '@kelvar/core/mask/schema'
import fc from 'fast-check'
import { afterAll, beforeEach, describe, expect, it } from 'vitest'
import { DELETE } from '@/app/api/masks/[id]/route'
import { GET, POST } from '@/app/api/masks/route'
import { KeptMask } from '@/server/entities'
import { MAX_MASKS } from '@/server/masks'
import { openLibrary } from './library'

const library = openLibrary()

const empty = async () => {
  await library.orm.em.fork().nativeDelete(KeptMask, {})
}
beforeEach(empty)
afterAll(empty)

const url = 'http://127.0.0.1:3717/api/masks'
const headers = { host: '127.0.0.1:3717', 'x-kelvar': 'test', 'content-type': 'application/json' }
async function keep(body: unknown, more: Record<string, string> = {}) {
  const response = await POST(new Request(url, { method: 'POST', headers: { ...headers, ...more }, body: JSON.stringify(body) }))
  return { status: response.status, answer: (await response.json()) as { id: string; error: { code: string; message: string; remedy: string } } }
}
const list = async () => ((await (await GET(new Request(url, { headers }))).json()) as { masks: { id: string; name: string; mask: Mask }[] }).masks
const remove = (id: string) => DELETE(new Request(`${url}/${id}`, { method: 'DELETE', headers }), { params: Promise.resolve({ id }) })
const maskOf = (...entries: object[]): Mask => maskSchema.parse({ list: entries })

describe('masks in the cabinet', () => {
  it('are kept by name as they are, replaced by a newer one of that name, and removed', async () => {
    const entry = fc
      .record({
        by: fc.constantFrom('distance', 'height', 'noise', 'ball', 'letters') as fc.Arbitrary<'distance'>,
        strength: fc.integer({ min: 0, max: 100 }),
        turned: fc.boolean(),
        letters: fc.constantFrom('', 'Quay', 'é'),
        curve: fc.constantFrom(
          [],
          [
            [0, 0],
            [1, 40],
          ],
        ) as fc.Arbitrary<[number, number][]>,
      })
      .map((values) => maskEntry.parse(values))
    await fc.assert(
      fc.asyncProperty(fc.array(entry, { minLength: 1, maxLength: 4 }), fc.integer({ min: 0, max: 9 }), async (entries, blur) => {
        await empty()
        const mask = maskSchema.parse({ list: entries, blur })
        const { status, answer } = await keep({ name: ' Weathered ', mask })
        expect(status).toBe(201)
        expect(await list()).toEqual([{ id: answer.id, name: 'Weathered', mask }])
        const other = maskOf({ by: 'plane' })
        expect((await keep({ name: 'Weathered', mask: other })).answer.id).toBe(answer.id)
        await keep({ name: 'Below', mask })
        expect((await list()).map((m) => [m.name, m.mask])).toEqual([
          ['Below', mask],
          ['Weathered', other],
        ])
        expect((await remove(answer.id)).status).toBe(200)
        expect((await remove(answer.id)).status).toBe(404)
        expect((await list()).map((m) => m.name)).toEqual(['Below'])
      }),
      { numRuns: 8 },
    )
    expect((await remove('../../etc')).status).toBe(404)
  })

  it('that could serve no other piece are refused with the reason, and nothing is kept', async () => {
    const mask = maskOf({ by: 'height' })
    for (const [body, reason] of [
      [{ name: 'None', mask: maskOf() }, /one entry at least/],
      [{ name: 'Painted', mask: maskOf({ by: 'height' }, { by: 'painted' }) }, /none that is painted/],
      [{ name: 'Picture', mask: maskOf({ by: 'picture' }) }, /picture/],
      [{ name: ' ', mask }, /needs a name/],
      [{ name: 'x'.repeat(61), mask }, /60 letters/],
      [{ name: 'Odd', mask: { ...mask, blur: Number.NaN } }, /blur/i],
      [{ name: 'Odd', mask: { list: [{ ...mask.list[0], by: 'magic' }] } }, /by/],
    ] as const) {
      const refused = await keep(body)
      expect(refused.status).toBe(422)
      expect(refused.answer.error.message).toMatch(reason)
      expect(refused.answer.error.remedy).not.toBe('')
    }
    expect((await keep({ name: 'Mine', mask }, { origin: 'http://elsewhere.example' })).status).toBe(403)
    expect(await list()).toEqual([])
  })

  it('have an end, and what has become unreadable is left out', async () => {
    const em = library.orm.em.fork()
    const mask = maskOf({ by: 'height' })
    const rows = Array.from({ length: MAX_MASKS }, (_, i) => ({
      id: `00000000-0000-4000-8000-${String(i).padStart(12, '0')}`,
      name: `M${i}`,
      mask: i === 3 ? ({ list: 'gone' } as never) : mask,
      createdAt: new Date(),
    }))
    await em.insertMany(KeptMask, rows)
    expect((await keep({ name: 'One more', mask })).answer.error.code).toBe('full')
    expect((await keep({ name: 'M7', mask })).status).toBe(201)
    expect(await list()).toHaveLength(MAX_MASKS - 1)
  })
})
