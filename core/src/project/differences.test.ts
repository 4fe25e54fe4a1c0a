import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { cutText } from '../document/words'
import { differences } from './differences'
import { newPiece, newProject } from './new-project'
import { readDocument } from './read'
import type { ProjectDocument } from '../document/schema'

const document = (): ProjectDocument => {
  const read = readDocument(newProject())
  if (!read.ok) throw new Error(read.problem.message)
  return read.document
}
/** The document after a change to a copy of it. */
function produce(before: ProjectDocument, recipe: (draft: ProjectDocument) => void): ProjectDocument {
  const copy = structuredClone(before)
  recipe(copy)
  return copy
}

const changed = (recipe: (draft: ProjectDocument) => void) => differences(document(), produce(document(), recipe))
const stepOf = (draft: ProjectDocument, kind: string) => {
  const step = draft.pieces[0].route.find((s) => s.kind === kind)
  if (!step) throw new Error(kind)
  return step
}

describe('differences in words', () => {
  it('say a value with its unit, before and after', () => {
    expect(
      changed((d) => {
        stepOf(d, 'extrude').params.depth = 14
      }),
    ).toEqual(['Extrude: depth 12 → 14 mm'])
  })

  it('say words, choices, switches and values inside an edge', () => {
    expect(
      changed((d) => {
        stepOf(d, 'lettering').params.text = 'Tern\nQuay'
        stepOf(d, 'lettering').params.align = 'right'
        Object.assign(stepOf(d, 'extrude').params, { corners: 'round', front: { profile: 'ogee', inset: 2, height: 1.5 } })
        stepOf(d, 'dress').on = false
      }),
    ).toEqual([
      'Lettering: words “Hello” → “Tern Quay”',
      'Lettering: lines centred → right',
      'Extrude: front edge profile chamfer → ogee',
      'Extrude: front edge inset 1.5 → 2 mm',
      'Extrude: inner corners mitred → round',
      'Dress switched off',
    ])
  })

  it('say what came, went and moved, and name the piece where there are several', () => {
    expect(
      changed((d) => {
        d.name = 'Gate'
        d.pieces[0].route.reverse()
        d.pieces[0].route.push({ id: 'slice-1', kind: 'slice', on: true, params: {} })
        d.pieces.push(newPiece('piece-2', 'Plate', 'x'))
      }),
    ).toEqual(['Name of the project “Untitled lettering” → “Gate”', 'Words · Slice inserted', 'Words · steps in another order', '“Plate” added'])
  })

  it('are none exactly when nothing has changed, whatever is changed', () => {
    const value = fc.oneof(
      fc.integer(),
      fc.string(),
      fc.boolean(),
      fc.array(fc.integer(), { maxLength: 3 }),
      fc.dictionary(fc.string(), fc.integer(), { maxKeys: 3 }),
    )
    fc.assert(
      fc.property(fc.constantFrom('lettering', 'extrude', 'dress'), fc.constantFrom('text', 'depth', 'front', 'unheard-of'), value, (kind, name, set) => {
        const before = document()
        const after = produce(before, (d) => {
          stepOf(d, kind).params[name] = set
        })
        const equal = JSON.stringify(stepOf(before, kind).params[name]) === JSON.stringify(set)
        const said = differences(before, after)
        expect(differences(after, JSON.parse(JSON.stringify(after)))).toEqual([])
        if (!equal && JSON.stringify(set) !== '{}') expect(said.length).toBeGreaterThan(0)
        expect(said.every((words) => !words.includes('undefined') && words.length < 200)).toBe(true)
      }),
      { numRuns: 300 },
    )
  })
})

describe('texts that are cut', () => {
  it('never leave half a letter, whatever is typed, so that what is said can always be kept', () => {
    // half a letter makes encodeURIComponent throw
    const texts = fc.oneof(
      fc.string({ unit: 'grapheme', maxLength: 80 }),
      fc.array(fc.constantFrom('😀', '👩‍👩‍👧‍👦', 'é', 'x', '🏴󠁧󠁢󠁳󠁣󠁴󠁿'), { maxLength: 60 }).map((list) => list.join('')),
    )
    fc.assert(
      fc.property(texts, texts, (before, after) => {
        const old = newProject()
        old.pieces[0].route[0].params.text = before
        const now = structuredClone(old)
        now.pieces[0].route[0].params.text = after
        for (const words of differences(old, now)) expect(encodeURIComponent(words)).toBeTruthy()
      }),
      { numRuns: 300 },
    )
    // 39 letters of two units each do not fit forty units: the cut would fall into the middle of one
    expect(cutText('😀'.repeat(39), 40)).toBe(`${'😀'.repeat(19)}…`)
    expect(cutText('x'.repeat(40), 40)).toBe('x'.repeat(40))
  })
})
