import { packBake, unpackBake } from '@kelvar/core/format/bake'
import { packBakePart } from '@kelvar/core/format/bake-part'
import { afterAll, describe, expect, it } from 'vitest'
import { GET, PUT } from '@/app/api/bakes/[key]/route'
import { findBake, keepBake } from '@/server/bakes'
import { database } from '@/server/database'

const key = (n: number) => `test-${String(n).padStart(64, '0')}`
const bake = packBake({ about: {}, frames: 3, stride: 6, period: 3, values: Float32Array.from({ length: 18 }, (_, i) => i) })
const at = (name: string) => ({ params: Promise.resolve({ key: name }) })
const put = (name: string, body: Uint8Array) =>
  PUT(new Request('http://127.0.0.1:3717/', { method: 'PUT', body: body as BodyInit, headers: { host: '127.0.0.1:3717', 'x-kelvar': '1' } }), at(name))
const get = (name: string) => GET(new Request('http://127.0.0.1:3717/', { headers: { host: '127.0.0.1:3717' } }), at(name))

afterAll(async () => {
  await (await database()).em.getConnection().execute("delete from bake where key like 'test-%'")
})

describe('bakes', () => {
  it('come back as they were left, and are not there before', async () => {
    expect((await get(key(1))).status).toBe(204)
    expect((await put(key(1), bake)).status).toBe(204)
    const back = await get(key(1))
    expect(back.status).toBe(200)
    expect(unpackBake(new Uint8Array(await back.arrayBuffer()))?.values).toEqual(unpackBake(bake)?.values)
    // again is no fault
    expect((await put(key(1), bake)).status).toBe(204)
  })

  it.each([
    ['something else', key(2), new Uint8Array([1, 2, 3]), 422],
    ['a key of another kind', 'Not A Key', bake, 422],
  ])('refuses %s', async (_, name, body, status) => {
    expect((await put(name, body)).status).toBe(status)
    expect((await get(name)).status).toBe(204)
  })

  it('are kept in parts while they are made, which go once they are whole', async () => {
    const part = packBakePart({ run: 1, before: 0, stride: 6, values: new Float32Array(12), engine: new Uint8Array(5), own: [] })
    for (const n of [0, 1]) expect((await put(`${key(4)}-p${n}`, part)).status).toBe(204)
    expect((await put(`${key(5)}-p0`, part)).status).toBe(204)
    expect(new Uint8Array(await (await get(`${key(4)}-p1`)).arrayBuffer())).toEqual(part)
    // each only where it belongs
    expect((await put(`${key(4)}-p2`, bake)).status).toBe(422)
    expect((await put(key(4), part)).status).toBe(422)
    expect((await put(key(4), bake)).status).toBe(204)
    for (const n of [0, 1]) expect((await get(`${key(4)}-p${n}`)).status).toBe(204)
    expect((await get(`${key(5)}-p0`)).status).toBe(200)
  })

  it('is no place for strangers', async () => {
    const request = new Request('http://127.0.0.1:3717/', {
      method: 'PUT',
      body: bake as BodyInit,
      headers: { host: '127.0.0.1:3717', origin: 'http://elsewhere.test' },
    })
    expect((await PUT(request, at(key(3)))).status).toBe(403)
  })

  it('lets those go that were not used for longest, when there are too many', async () => {
    const em = (await database()).em.fork()
    for (const n of [10, 11, 12]) await keepBake(em, key(n), bake)
    await findBake(em, key(10))
    // room for two of them, and for whatever else lies there
    const [{ whole }] = await em
      .getConnection()
      .execute<{ whole: string }[]>("select coalesce(sum(length(bytes)), 0) as whole from bake where key not like 'test-%' and used_at > now()")
    await keepBake(em, key(13), bake, Number(whole) + 2 * bake.length)
    expect(await findBake(em, key(13))).toBeDefined()
    expect(await findBake(em, key(10))).toBeDefined()
    expect(await findBake(em, key(11))).toBeUndefined()
  })
})
