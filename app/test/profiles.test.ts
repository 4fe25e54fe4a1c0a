import { afterAll, beforeEach, describe, expect, it } from 'vitest'
import { DELETE } from '@/app/api/profiles/[id]/route'
import { GET, POST } from '@/app/api/profiles/route'
import { Profile } from '@/server/entities'
import { MAX_PROFILES } from '@/server/profiles'
import { openLibrary } from './library'

const library = openLibrary()

beforeEach(async () => {
  await library.orm.em.fork().nativeDelete(Profile, {})
})
afterAll(async () => {
  await library.orm.em.fork().nativeDelete(Profile, {})
})

const url = 'http://127.0.0.1:3717/api/profiles'
const headers = { host: '127.0.0.1:3717', 'x-kelvar': 'test', 'content-type': 'application/json' }
async function keep(body: unknown, more: Record<string, string> = {}) {
  const response = await POST(
    new Request(url, { method: 'POST', headers: { ...headers, ...more }, body: typeof body === 'string' ? body : JSON.stringify(body) }),
  )
  return { status: response.status, answer: (await response.json()) as { id: string; error: { code: string; message: string; remedy: string } } }
}
const list = async () => ((await (await GET(new Request(url, { headers }))).json()) as { profiles: { id: string; name: string; drawn: unknown }[] }).profiles
const remove = (id: string) => DELETE(new Request(`${url}/${id}`, { method: 'DELETE', headers }), { params: Promise.resolve({ id }) })

const rail = {
  closed: false,
  nodes: [
    { x: 0, y: 0 },
    { x: 1, y: 1.5, kind: 'smooth', in: [-0.5, 0], out: [0.5, 0] },
    { x: 3, y: 2 },
  ],
}

describe('profiles in the cabinet', () => {
  it('are kept by name, listed, replaced by a newer one of that name, and removed', async () => {
    const { status, answer } = await keep({ name: ' Pier rail ', drawn: rail })
    expect(status).toBe(201)
    expect(await list()).toEqual([{ id: answer.id, name: 'Pier rail', drawn: rail }])
    const flatter = {
      closed: false,
      nodes: [
        { x: 0, y: 0 },
        { x: 4, y: 1 },
      ],
    }
    expect((await keep({ name: 'Pier rail', drawn: flatter })).answer.id).toBe(answer.id)
    await keep({ name: 'Anchor', drawn: rail })
    expect((await list()).map((p) => p.name)).toEqual(['Anchor', 'Pier rail'])
    expect((await list())[1].drawn).toEqual(flatter)
    expect((await remove(answer.id)).status).toBe(200)
    expect((await remove(answer.id)).status).toBe(404)
    expect((await remove('../../etc')).status).toBe(404)
    expect((await list()).map((p) => p.name)).toEqual(['Anchor'])
  })

  it('that no edge could have are refused with the reason, and nothing is kept', async () => {
    const back = {
      closed: false,
      nodes: [
        { x: 0, y: 0 },
        { x: 3, y: 1 },
        { x: 1, y: 2 },
      ],
    }
    for (const [body, status, reason] of [
      [{ name: 'Back', drawn: back }, 422, /runs backwards at 3 mm/],
      [
        {
          name: 'Up',
          drawn: {
            closed: false,
            nodes: [
              { x: 0, y: 0 },
              { x: 0, y: 2 },
            ],
          },
        },
        422,
        /no width/,
      ],
      [{ name: '', drawn: rail }, 422, /needs a name/],
      [{ name: 'x'.repeat(61), drawn: rail }, 422, /60 letters/],
      [{ name: 'Ring', drawn: { ...rail, closed: true } }, 422, /open curve/],
      [
        {
          name: 'Far',
          drawn: {
            closed: false,
            nodes: [
              { x: 0, y: 0 },
              { x: 1e9, y: 0 },
            ],
          },
        },
        422,
        /drawn\.nodes/,
      ],
      [{ name: 'Many', drawn: { closed: false, nodes: Array.from({ length: 61 }, (_, i) => ({ x: i, y: 0 })) } }, 422, /60 nodes/],
      ['{', 400, /not valid JSON/],
    ] as const) {
      const refused = await keep(body)
      expect(refused.status).toBe(status)
      expect(refused.answer.error.message).toMatch(reason)
      expect(refused.answer.error.remedy).not.toBe('')
    }
    expect((await keep({ name: 'Mine', drawn: rail }, { origin: 'http://elsewhere.example' })).status).toBe(403)
    expect((await keep({ name: 'Mine', drawn: rail }, { host: 'elsewhere.example' })).status).toBe(403)
    expect(await list()).toEqual([])
  })

  it('have an end: a full cabinet says so', async () => {
    const em = library.orm.em.fork()
    const rows = Array.from({ length: MAX_PROFILES }, (_, i) => ({
      id: `00000000-0000-4000-8000-${String(i).padStart(12, '0')}`,
      name: `P${i}`,
      drawn: rail as never,
      createdAt: new Date(),
    }))
    await em.insertMany(Profile, rows)
    expect((await keep({ name: 'One more', drawn: rail })).answer.error.code).toBe('full')
    expect((await keep({ name: 'P7', drawn: rail })).status).toBe(201)
  })
})
