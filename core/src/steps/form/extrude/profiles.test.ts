import { beforeAll, describe, expect, it } from 'vitest'
import { assets, wordRoute } from '../../../../test/helpers'
import { checkMesh } from '../../../check/check'
import { evaluateRoute } from '../../../evaluate/route'
import { loadManifold } from '../../../kernel/manifold'
import { PROFILE_NAMES } from '../../../solid/profile-names'
import type { Solid } from '../../../solid/solid'

beforeAll(async () => {
  await loadManifold()
})

describe('every shipped profile', () => {
  it.each(PROFILE_NAMES.map((name) => [name]))('%s is sound on letters, narrower and wider than their strokes', async (name) => {
    for (const font of ['abril-fatface'])
      for (const [inset, height] of [
        [0.8, 1.2],
        [6, 5],
      ]) {
        const edge = { profile: name, inset, height }
        const [lettering] = wordRoute('Q&', font)
        const report = await evaluateRoute(
          [lettering, { id: 'e', kind: 'extrude', on: true, params: { depth: 14, front: edge, back: { ...edge, inset: 0.6, height: 0.6 } } }],
          { assets },
        )
        expect(checkMesh(report.value as Solid), `${font} ${inset}`).toMatchObject({ sound: true })
      }
  })
})
