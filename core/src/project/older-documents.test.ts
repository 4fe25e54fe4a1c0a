import { readFileSync } from 'node:fs'
import { describe, expect, it } from 'vitest'
import { assets, FULL } from '../../test/helpers'
import { checkMesh } from '../check/check'
import { DOCUMENT_VERSION } from '../document/schema'
import { evaluateRoute } from '../evaluate/route'
import { stepKind } from '../steps/registry'
import { migrateSteps } from './migrations'
import { readDocument } from './read'

/** Projects as older versions kept them, and what the command line of those versions made of every piece. */
interface Kept {
  readonly document: unknown
  readonly made: Readonly<Record<string, { triangles?: number; volume?: number; area?: number; size?: number[]; shapes?: number; letters?: number }>>
}
const keptBy = (version: number): Kept[] => JSON.parse(readFileSync(new URL(`../../test/documents/${version}.json`, import.meta.url), 'utf8'))

describe('documents of older versions', () => {
  for (let version = 1; version < DOCUMENT_VERSION; version++)
    it(`version ${version} opens, and every piece is made as it was then`, async () => {
      for (const { document, made } of keptBy(version)) {
        const result = readDocument(document)
        if (!result.ok) throw new Error(result.problem.message)
        const { pieces } = result.document
        expect(pieces.map((piece) => piece.id)).toEqual(Object.keys(made))
        // of a sample every second one, and what it takes from others
        for (const piece of pieces.filter((_, i) => FULL || (i + version) % 2 === 0)) {
          const { value, complete } = await evaluateRoute(piece.route, { assets, pieces, piece: piece.id })
          expect(complete, piece.name).toBe(true)
          const then = made[piece.id]
          if (value?.kind === 'outline') expect([value.regions.length, value.letters.length]).toEqual([then.shapes, then.letters])
          if (value?.kind !== 'solid') continue
          const now = checkMesh(value, { deep: false })
          const known = [then.volume, then.area, ...(then.size ?? [])] as number[]
          const figures = [now.volume, now.area, ...now.size].map((v, i) => v / known[i])
          // strokes have since come nearer to their round ends, by 0.06 % of a tube
          for (const ratio of figures) expect(Math.abs(ratio - 1), piece.name).toBeLessThan(0.001)
        }
      }
    }, 120_000)

  it('state the versions of their steps once they are read', () => {
    const [{ document }] = keptBy(1)
    const result = readDocument(document)
    if (!result.ok) throw new Error('refused')
    for (const { route } of result.document.pieces) for (const step of route) expect(step.version).toBe(stepKind(step.kind)?.version)
  })
})

describe('migrateSteps', () => {
  const kind = {
    version: 3,
    migrations: {
      1: ({ high, ...params }: Record<string, unknown>) => ({ ...params, height: high }),
      2: (params: Record<string, unknown>) => ({ ...params, height: Number(params.height) * 10 }),
    },
  }
  const document = () => ({
    pieces: [
      {
        route: [
          { kind: 'odd', params: { high: 1 } },
          { kind: 'odd', version: 2, params: { height: 1 } },
          { kind: 'odd', version: 3, params: { height: 1 } },
        ],
        tryOuts: [{ route: [{ kind: 'odd', params: { high: 2, other: true } }] }],
      },
    ],
  })
  const kindOf = (name: string) => (name === 'odd' ? kind : undefined)

  it('brings each step from its own version to the present, in try-outs as well', () => {
    const read = document()
    migrateSteps(read, kindOf)
    const [piece] = read.pieces
    expect(piece.route).toEqual([10, 10, 1].map((height) => ({ kind: 'odd', version: 3, params: { height } })))
    expect(piece.tryOuts[0].route).toEqual([{ kind: 'odd', version: 3, params: { height: 20, other: true } }])
  })

  it('leaves newer ones, those of unknown kinds and damaged ones alone', () => {
    const odd = { pieces: [{ route: [{ kind: 'odd', version: 9, params: { height: 1 } }, { kind: 'what', params: {} }, null, { kind: 'odd', params: 7 }] }] }
    const before = structuredClone(odd)
    migrateSteps(odd, kindOf)
    expect(odd.pieces[0].route.slice(0, 3)).toEqual(before.pieces[0].route.slice(0, 3))
    expect(odd.pieces[0].route[3]).toEqual({ kind: 'odd', version: 3, params: 7 })
  })
})
