import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import type { Piece, RouteStep } from '../document/schema'
import { piecesBehind, piecesNeeded } from './references'

const NAMES = ['a', 'b', 'c', 'd', 'e', 'f'] as const

/** A piece that is joined with others. */
const piece = (id: string, others: readonly string[], more: Partial<RouteStep> = {}): Piece => ({
  id,
  name: id,
  route: [
    { id: 'block-1', kind: 'block', on: true, params: {} },
    { id: 'fuse-1', kind: 'fuse', on: true, params: { others: others.map((other) => ({ piece: other })) }, ...more },
  ],
})

describe('the pieces behind a piece', () => {
  const links = fc.array(fc.tuple(fc.constantFrom(...NAMES), fc.constantFrom(...NAMES)), { maxLength: 14 })

  it('are all that can be reached, each once, also where it leads in a ring; itself only then', () => {
    fc.assert(
      fc.property(links, (list) => {
        const others = (id: string) => [...new Set(list.filter(([from]) => from === id).map(([, to]) => to))]
        const pieces = NAMES.map((id) => piece(id, others(id)))
        for (const id of NAMES) {
          // by matrix: what is reached in one step, then again and again
          const reached = new Set(others(id))
          for (let i = 0; i < NAMES.length; i++) for (const at of [...reached]) for (const next of others(at)) reached.add(next)
          const found = piecesBehind(pieces, id)
          expect(new Set(found.map((p) => p.id))).toEqual(reached)
          expect(found).toHaveLength(reached.size)
          // what is needed has nothing twice, and all that is behind
          const needed = piecesNeeded(pieces, id)
          expect(new Set(needed).size).toBe(needed.length)
          for (const p of found) expect(needed).toContain(p)
        }
      }),
      { numRuns: 120 },
    )
  })

  it('count a step that is switched off as well, since it may be switched on', () => {
    const pieces = [piece('a', ['b'], { on: false }), piece('b', [])]
    expect(piecesBehind(pieces, 'a').map((p) => p.id)).toEqual(['b'])
  })

  it('are none for what is not there, for steps of unknown kinds, and for pieces that went', () => {
    expect(piecesBehind([], 'a')).toEqual([])
    expect(piecesBehind([piece('a', ['gone'])], 'a')).toEqual([])
    const strange: Piece = { id: 'a', name: 'a', route: [{ id: 'x-1', kind: 'no-such-kind', on: true, params: { others: [{ piece: 'b' }] } }] }
    expect(piecesBehind([strange, piece('b', [])], 'a')).toEqual([])
  })
})
