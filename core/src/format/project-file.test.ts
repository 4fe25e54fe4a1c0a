import { strFromU8, strToU8, unzipSync, zipSync } from 'fflate'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { fontBytes, shippedFace } from '../../test/helpers'
import { packedAlike } from '../../test/packed'
import { newProject } from '../project/new-project'
import { hashBytes } from '../cache/hash'
import { readProjectFile, writeProjectFile } from './project-file'
import { within } from '../../test/within'

const face = shippedFace('archivo-bold')
const document = newProject('Tern Quay')
const assets = new Map([[face.sha256, fontBytes(face)]])
const file = await writeProjectFile(document, assets)

const problem = async (bytes: Uint8Array) => {
  const result = await readProjectFile(bytes)
  if (result.ok) throw new Error('it was read')
  expect(result.problem.message).toMatch(/\.$/)
  expect(result.problem.remedy).not.toBe('')
  return result.problem
}

describe('the project file', () => {
  it('carries the document and all it needs, bit for bit', async () => {
    const result = await readProjectFile(file)
    if (!result.ok) throw new Error(result.problem.message)
    expect(result.document).toEqual(document)
    expect([...result.assets.keys()]).toEqual([face.sha256])
    expect(hashBytes(result.assets.get(face.sha256) ?? new Uint8Array())).toBe(face.sha256)
    expect(await writeProjectFile(result.document, result.assets)).toEqual(file)
    // open to anyone: a zip of JSON and of plain files
    expect(JSON.parse(strFromU8(unzipSync(file)['project.json']))).toEqual(document)
  })

  it('carries what simulations recorded, and does without what is damaged', async () => {
    const bakes = [
      ['drop-0123456789', strToU8('recorded '.repeat(40))],
      ['jelly-abcdef0123-4', Uint8Array.from({ length: 5000 }, (_, i) => (i * i) % 251)],
    ] as const
    const whole = await writeProjectFile(document, assets, bakes)
    const result = await readProjectFile(whole)
    if (!result.ok) throw new Error(result.problem.message)
    expect([...result.bakes]).toEqual(bakes.map(([key, bytes]) => [key, bytes]))
    expect(await writeProjectFile(result.document, result.assets, result.bakes)).toEqual(whole)
    // spoilt where the last of them lies: the rest is as it was, and the project can be read
    const spoilt = whole.slice()
    const at = spoilt.findLastIndex((_, i) => bakes[1][1].every((byte, k) => k > 40 || spoilt[i + k] === byte))
    spoilt[at + 100] ^= 255
    const without = await readProjectFile(spoilt)
    if (!without.ok) throw new Error(without.problem.message)
    expect([...without.bakes.keys()]).toContain('drop-0123456789')
    expect(without.bakes.get('jelly-abcdef0123-4') ?? new Uint8Array()).not.toEqual(bakes[1][1])
    expect((await readProjectFile(file)) as object).toMatchObject({ ok: true, bakes: new Map() })
  })

  it('takes whole recordings alone, and none that is too large', async () => {
    const json = strToU8(JSON.stringify(document))
    for (const name of ['bakes/../x', 'bakes/x', 'bakes/jelly-0123456789-p0', 'bakes/Jelly-0123456789'])
      expect((await problem(zipSync({ 'project.json': json, [name]: strToU8('x') }))).code).toBe('foreign-part')
    const large = await problem(packedAlike(['bakes/jelly-0123456789'], new Uint8Array(48 * 1024 * 1024 + 1)))
    expect(large.code).toBe('too-large')
    expect(large.message).toContain('48 MB')
  })

  it('refuses bombs, foreign names and paths that lead out, before anything is unpacked', async () => {
    const json = strToU8(JSON.stringify(document))
    for (const name of ['../../etc/passwd', '/etc/passwd', 'assets/../project.json', 'assets\\x', 'C:\\x', 'assets/xyz', 'readme.txt'])
      expect((await problem(zipSync({ 'project.json': json, [name]: strToU8('x') }))).code).toBe('foreign-part')
    const eight = Array.from({ length: 8 }, (_, i) => `assets/${String(i).repeat(64)}`)
    const bomb = packedAlike(eight, new Uint8Array(60 * 1024 * 1024))
    expect(bomb.length).toBeLessThan(2 * 1024 * 1024)
    expect((await within(500, () => problem(bomb))).code).toBe('too-large')
    expect((await problem(zipSync({ 'project.json': new Uint8Array(17 * 1024 * 1024) }))).code).toBe('too-large')
    expect((await problem(zipSync(Object.fromEntries(Array.from({ length: 700 }, (_, i) => [`assets/${i.toString(16).padStart(64, '0')}`, json]))))).code).toBe(
      'too-many',
    )
  })

  it('says what is wrong with the document, or with what it carries', async () => {
    const of = (value: unknown) => zipSync({ 'project.json': strToU8(typeof value === 'string' ? value : JSON.stringify(value)) })
    expect((await problem(of({ ...document, version: 99 }))).code).toBe('newer-version')
    expect((await problem(of('{'))).code).toBe('not-json')
    expect((await problem(of({ hello: 1 }))).code).toBe('not-a-project')
    expect((await problem(zipSync({ [`assets/${face.sha256}`]: fontBytes(face) }))).code).toBe('not-a-project')
    expect((await problem(zipSync({ 'project.json': strToU8(JSON.stringify(document)), [`assets/${'0'.repeat(64)}`]: strToU8('other') }))).code).toBe('damaged')
    expect((await problem(strToU8('this is no archive'))).code).toBe('damaged')
    for (const cut of [10, file.length >> 1, file.length - 30]) expect((await problem(file.subarray(0, cut))).code).toBe('damaged')
  })

  it('bears damage anywhere', async () => {
    await fc.assert(
      fc.asyncProperty(fc.array(fc.tuple(fc.nat(), fc.nat(255)), { minLength: 1, maxLength: 8 }), async (changes) => {
        const bytes = file.slice()
        for (const [at, value] of changes) bytes[at % bytes.length] = value
        const result = await readProjectFile(bytes)
        // whatever is still read is whole
        if (result.ok) for (const [sha256, content] of result.assets) expect(hashBytes(content)).toBe(sha256)
      }),
      { numRuns: 200 },
    )
  })
})
