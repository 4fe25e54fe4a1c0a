import { existsSync, readFileSync } from 'node:fs'
import { dirname, relative, resolve } from 'node:path'
import { fileURLToPath } from 'node:url'
import ts from 'typescript'
import { describe, expect, it } from 'vitest'
import { z } from 'zod'
import { stepKind } from './registry'
import { defineStep, type StepContext } from './step'

const core = resolve(dirname(fileURLToPath(import.meta.url)), '..')

/** What a module needs before it runs: not what it only takes types from, nor what it loads later. */
function needs(file: string): string[] {
  const { statements } = ts.createSourceFile(file, readFileSync(file, 'utf8'), ts.ScriptTarget.Latest)
  return statements.flatMap((s) => {
    if (!ts.isImportDeclaration(s) && !ts.isExportDeclaration(s)) return []
    if (!s.moduleSpecifier || !ts.isStringLiteral(s.moduleSpecifier) || !s.moduleSpecifier.text.startsWith('.')) return []
    if (ts.isImportDeclaration(s) ? s.importClause?.phaseModifier === ts.SyntaxKind.TypeKeyword : s.isTypeOnly) return []
    const at = resolve(dirname(file), s.moduleSpecifier.text)
    return [`${at}.ts`, `${at}/index.ts`].filter((path) => existsSync(path))
  })
}

function reached(start: string): string[] {
  const found = new Set([start])
  for (const file of found) for (const next of needs(file)) found.add(next)
  return [...found].map((file) => relative(core, file))
}

describe('the registry of steps', () => {
  const files = reached(resolve(core, 'steps/registry.ts'))

  it('knows every step', () => {
    expect(files.filter((file) => /^steps\/[a-z]+\/[a-z-]+\/index\.ts$/.test(file)).length).toBeGreaterThan(70)
  })

  it('is read without the work of any', () => {
    expect(files.filter((file) => file.endsWith('make.ts'))).toEqual([])
    expect(files.filter((file) => /^(kernel|check|join|lay|repair|centre|paint)\//.test(file))).toEqual([])
  })

  it('fails for now where the work cannot be loaded, and says so', async () => {
    const known = stepKind('bend')
    if (!known) throw new Error('there is no Bend')
    const kind = defineStep({ ...known, params: z.object({}) }, () => Promise.reject(new Error('gone')))
    const outcome = await kind.evaluate(undefined, {}, {} as StepContext)
    expect(outcome).toMatchObject({ ok: false, passing: true, issue: { code: 'not-loaded', message: expect.stringContaining('gone') } })
  })

  it('is told by a search that finds kernels: the work of one leads to the kernels', () => {
    expect(reached(resolve(core, 'steps/join/fuse/make.ts'))).toContain('kernel/manifold.ts')
  })
})
