import { deserialize, serialize } from 'node:v8'
import { describe, expect, it, vi } from 'vitest'
import { assets, shippedFace } from '../../test/helpers'
import { Memo } from '../cache/memo'
import { hashBits } from '../cache/hash'
import type { RouteStep } from '../document/schema'
import { evaluateRoute } from '../evaluate/route'
import type { Task, Thread, Threads } from '../parallel/share-out'
import type { Solid } from '../solid/solid'
import { paintRegion } from './form/brush/region'
import { bodyThroughVolume } from './shared/body-through-volume'
import { runTask } from './tasks'
import { remeshBody } from './shared/even-triangles'

/** Threads as others are: nothing comes to them or from them but what can be sent. */
class Sent implements Threads {
  readonly count = 2
  readonly ready = true
  readonly did: string[] = []
  async lend(work: (thread: Thread) => Promise<void>): Promise<void> {
    const run = async (task: string, data: unknown) => {
      this.did.push(task)
      return deserialize(serialize(await runTask(task, deserialize(serialize(data))))) as unknown
    }
    await work({ run })
  }
}

const bits = ({ positions, indices, surface, labels, letters, layers, attributes }: Solid) => [
  hashBits(positions),
  hashBits(indices),
  hashBits(surface),
  Object.entries(labels).map(([name, list]) => [name, [...list]]),
  letters,
  layers,
  Object.entries(attributes).map(([name, list]) => [name, hashBits(list as Float32Array)]),
]

const step = (kind: string, params: Record<string, unknown>): RouteStep => ({ id: `${kind}-1`, kind, on: true, params })
const { sha256, name } = shippedFace('archivo-bold')
const words = step('lettering', { text: 'Lit', size: 40, font: { sha256, name } })
const form = step('extrude', { depth: 8, front: { profile: 'chamfer', inset: 1, height: 1 } })

const ROUTES: readonly (readonly [string, readonly RouteStep[]])[] = [
  ['even-remesh', [words, form, step('even-remesh', { edge: 0.4 })]],
  ['even-remesh', [words, form, step('even-remesh', { edge: 1.5, fit: 'bend', least: 0.1 })]],
  ['through-volume', [words, form, step('voxel-remesh', { fit: 'given', voxel: 0.5 })]],
  ['through-volume', [words, form, step('voxel-remesh', { fit: 'given', voxel: 0.5, way: 'sharp' })]],
  ['through-volume', [words, form, step('soften', { fit: 'given', voxel: 0.7, amount: 0.5 })]],
  ['through-volume', [words, form, step('grow', { fit: 'given', voxel: 0.7, how: 'close', by: 0.4 })]],
  ['brush', [words, step('brush', {})]],
  ['brush', [words, step('brush', { drawn: 60 })]],
]

describe('what other threads do', () => {
  it.each(ROUTES)('comes to the very same: %s', async (task, route) => {
    const threads = new Sent()
    const [alone, shared] = [await evaluateRoute(route, { assets, memo: new Memo() }), await evaluateRoute(route, { assets, memo: new Memo(), threads })]
    expect(threads.did.length).toBeGreaterThan(0)
    expect(new Set(threads.did)).toEqual(new Set([task]))
    expect(alone.steps.map(({ state, issues }) => [state, issues])).toEqual(shared.steps.map(({ state, issues }) => [state, issues]))
    expect(bits(shared.value as Solid)).toEqual(bits(alone.value as Solid))
  })

  it.each([
    ['even-remesh', remeshBody, { edge: 1.5 }],
    ['voxel-remesh', bodyThroughVolume, { fit: 'given', voxel: 0.8 }],
    ['soften', bodyThroughVolume, { fit: 'given', voxel: 0.8, amount: 0.5 }],
    ['grow', bodyThroughVolume, { fit: 'given', voxel: 0.8, how: 'open', by: 0.3 }],
    ['brush', paintRegion, {}],
  ] as const)('is done anew for the letters that change, and once for those that are alike: %s', async (kind, task, params) => {
    const made = vi.spyOn(task as Task<unknown, unknown>, 'run')
    const memo = new Memo()
    const route = (text: string) => [
      step('lettering', { text, size: 40, tracking: 100, font: { sha256, name } }),
      ...(kind === 'brush' ? [] : [form]),
      step(kind, params),
    ]
    try {
      expect((await evaluateRoute(route('TEN'), { assets, memo })).complete).toBe(true)
      expect(made).toHaveBeenCalledTimes(3)
      // the brush paints no two letters of a word alike
      expect((await evaluateRoute(route('TENT'), { assets, memo })).complete).toBe(true)
      expect(made).toHaveBeenCalledTimes(kind === 'brush' ? 4 : 3)
      expect((await evaluateRoute(route('TELT'), { assets, memo })).complete).toBe(true)
      expect(made).toHaveBeenCalledTimes(kind === 'brush' ? 5 : 4)
    } finally {
      made.mockRestore()
    }
  })

  it('is known by name only', async () => {
    await expect(runTask('toString', {})).rejects.toThrow(RangeError)
    await expect(runTask('dream', {})).rejects.toThrow('dream')
  })
})
