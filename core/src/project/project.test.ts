import { readFileSync } from 'node:fs'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { z } from 'zod'
import { migrate } from './migrations'
import { newProject } from './new-project'
import { readDocument, readDocumentText } from './read'
import { DOCUMENT_VERSION, projectDocument } from '../document/schema'

const problem = (value: unknown) => {
  const result = readDocument(value)
  return result.ok ? undefined : result.problem
}

describe('readDocument', () => {
  it('gives a new project back unchanged', () => {
    const project = newProject('Gate')
    expect(readDocumentText(JSON.stringify(project))).toEqual({ ok: true, document: project })
  })

  it('refuses a project of a newer version in plain words and does not change it', () => {
    const newer = { ...newProject(), version: DOCUMENT_VERSION + 3 }
    const before = JSON.stringify(newer)
    expect(problem(newer)).toMatchObject({ code: 'newer-version', message: expect.stringContaining('newer Kelvar') })
    expect(JSON.stringify(newer)).toBe(before)
  })

  it('says where a damaged project is damaged', () => {
    const damaged = newProject() as unknown as { pieces: { route: { kind: unknown }[] }[] }
    damaged.pieces[0].route[1].kind = 7
    expect(problem(damaged)).toMatchObject({ code: 'invalid', message: expect.stringContaining('pieces › 0 › route › 1 › kind') })
    const twice = newProject()
    twice.pieces.push(twice.pieces[0])
    expect(problem(twice)).toMatchObject({ code: 'invalid', message: expect.stringContaining('words-1') })
  })

  it('never throws and never lets anything else pass as a project', () => {
    fc.assert(
      fc.property(
        fc.oneof(fc.jsonValue(), fc.record({ format: fc.constant('kelvar'), version: fc.jsonValue(), pieces: fc.jsonValue(), name: fc.jsonValue() })),
        (value) => {
          const result = readDocument(value)
          if (result.ok) expect(result.document.format).toBe('kelvar')
          else expect(result.problem.remedy.length).toBeGreaterThan(5)
        },
      ),
      { numRuns: 500 },
    )
    for (const text of ['', '{', 'null', '[]', '"kelvar"', '{"format":"kelvar"}']) expect(readDocumentText(text).ok).toBe(false)
  })

  it('keeps bad values of steps, which the step itself reports', () => {
    const project = newProject()
    project.pieces[0].route[0].params.size = -1
    expect(readDocument(project).ok).toBe(true)
  })
})

describe('migrate', () => {
  const chain = {
    1: (d: Record<string, unknown>) => ({ ...d, title: d.name }),
    2: ({ name: _name, ...d }: Record<string, unknown>) => d,
  }

  it('applies every step in order to a copy', () => {
    const old = { version: 1, name: 'Gate' }
    expect(migrate(old, chain, 3)).toEqual({ version: 3, title: 'Gate' })
    expect(old).toEqual({ version: 1, name: 'Gate' })
    expect(migrate({ version: 2, title: 'x', name: 'y' }, chain, 3)).toEqual({ version: 3, title: 'x' })
  })

  it('keeps the returns of older channel letters as high as they were, in try-outs as well', () => {
    const rimmed = (rim: object) => [{ id: 'channel-1', kind: 'channel', on: true, params: rim }]
    const tryOuts = [{ id: 'try-out-1', name: 'Wide', route: rimmed({ rim: 'cove', rimSize: 3 }) }]
    const pieces = [{ id: 'a', name: 'A', route: rimmed({ rim: 'round', rimSize: 2 }), tryOuts }]
    const result = readDocument({ format: 'kelvar', version: 2, name: 'Old', pieces, assets: [] })
    const [piece] = result.ok ? result.document.pieces : []
    expect(piece.route[0].params).toEqual({ rim: 'round', rimSize: 2, rimHeight: 2 })
    expect(piece.tryOuts?.[0].route[0].params).toEqual({ rim: 'cove', rimSize: 3, rimHeight: 3 })
  })

  it('fails loudly when a step is missing', () => {
    expect(() => migrate({ version: 1 }, {}, 2)).toThrow('no migration from document version 1')
  })
})

describe('the published JSON Schema', () => {
  it('is the one the code checks by', () => {
    const page = readFileSync(new URL('../../../docs/document-format.md', import.meta.url), 'utf8')
    const published = /```json\n([\s\S]*?)\n```/.exec(page)?.[1] ?? ''
    expect(JSON.parse(published)).toEqual(JSON.parse(JSON.stringify(z.toJSONSchema(projectDocument, { io: 'input' }))))
  })
})
