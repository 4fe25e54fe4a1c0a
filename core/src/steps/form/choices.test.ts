import { beforeAll, describe, expect, it } from 'vitest'
import { z } from 'zod'
import { assets, FULL, wordRoute } from '../../../test/helpers'
import { Memo } from '../../cache/memo'
import { checkMesh } from '../../check/check'
import { evaluateRoute } from '../../evaluate/route'
import { loadManifold } from '../../kernel/manifold'
import { stepKind } from '../registry'

beforeAll(async () => void (await loadManifold()))

const EDGES = ['square', 'chamfer', 'round', 'cove', 'ogee', 'bead', 'scotia'].map((profile) => ({ profile, inset: 0.8, height: 0.9 }))

/** What can be chosen in a step: fields with the values they may have. */
function choicesOf(kind: string): (readonly [string, readonly unknown[]])[] {
  const step = stepKind(kind)
  if (!step) throw new Error(kind)
  const { properties } = z.toJSONSchema(step.params, { io: 'output', unrepresentable: 'any' }) as {
    properties: Record<string, { enum?: unknown[]; type?: string }>
  }
  return Object.entries(properties).flatMap(([name, { enum: values, type }]): [string, readonly unknown[]][] => {
    if (values) return [[name, values]]
    if (type === 'boolean') return [[name, [true, false]]]
    return ['front', 'back', 'profile'].includes(name) ? [[name, EDGES]] : []
  })
}

/** All pairs of choices, each with everything else as it comes. */
function pairsOf(kind: string): Record<string, unknown>[] {
  const choices = choicesOf(kind)
  return choices.flatMap(([first, ones], i) =>
    choices.slice(i + 1).flatMap(([second, others]) => ones.flatMap((one) => others.map((other) => ({ [first]: one, [second]: other })))),
  )
}

describe('whatever two things are chosen in a form', () => {
  it.each(['extrude', 'inflate', 'prismatic', 'relief', 'channel', 'plate', 'brush'])('%s is sound, or says why not', async (kind) => {
    const memo = new Memo()
    let made = 0
    for (const face of FULL ? ['archivo-bold', 'abril-fatface', 'pacifico', 'monoton'] : ['archivo-bold'])
      for (const params of pairsOf(kind)) {
        const [words] = wordRoute('a', face, { size: 30 })
        const route = [words, { id: 'form', kind, on: true, params }]
        if (stepKind(kind)?.gives === 'outline') route.push({ id: 'extrude', kind: 'extrude', on: true, params: {} })
        const { steps, value } = await evaluateRoute(route, { assets, memo })
        const failure = steps[1].issues.find(({ severity }) => severity === 'failed')
        const what = `${face} ${JSON.stringify(params)} ${failure?.message ?? ''}`
        // what needs a picture or a piece has none here
        expect(failure?.code ?? 'made', what).toMatch(/^(made|no-file|no-piece|nothing-to-follow|no-strokes|too-thick)$/)
        if (failure || value?.kind !== 'solid') continue
        expect(checkMesh(value).findings, what).toEqual([])
        made++
      }
    expect(made).toBeGreaterThan(3)
  })
})
