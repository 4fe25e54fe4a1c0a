import { setFlagsFromString } from 'node:v8'
import { runInNewContext } from 'node:vm'
import { expect, it } from 'vitest'
import { assets, FULL, wordRoute } from '../../test/helpers'
import { loadManifold } from '../kernel/manifold'
import { Memo } from '../cache/memo'
import { evaluateRoute } from './route'

setFlagsFromString('--expose-gc')
const collect = runInNewContext('gc') as () => void

/** The memories of all WebAssembly kernels, noted as they are started; they can grow and never shrink. */
interface Memory {
  readonly buffer: ArrayBuffer
}
interface Kernels {
  Memory: new () => Memory
  Instance: new (...of: unknown[]) => { exports: object }
  instantiate(...of: unknown[]): Promise<{ exports: object } | { instance: { exports: object } }>
}
const kernels = new Set<Memory>()
// the library of types for Node.js leaves WebAssembly to that for browsers
const wasm = (globalThis as unknown as { WebAssembly: Kernels }).WebAssembly
const note = ({ exports }: { exports: object }) => {
  for (const value of Object.values(exports)) if (value instanceof wasm.Memory) kernels.add(value)
}
const { instantiate } = wasm
wasm.instantiate = async (...of) => {
  const result = await instantiate(...of)
  note('instance' in result ? result.instance : result)
  return result
}
wasm.Instance = new Proxy(wasm.Instance, {
  construct(Instance, of) {
    const instance = new Instance(...of)
    note(instance)
    return instance
  },
})

/** Bytes held after everything that can be freed is freed: JavaScript's heap, its buffers, and the kernels' own memory. */
function held(): { script: number; kernel: number } {
  for (let i = 0; i < 3; i++) collect()
  const { heapUsed, arrayBuffers } = process.memoryUsage()
  return { script: heapUsed + arrayBuffers, kernel: [...kernels].reduce((sum, memory) => sum + memory.buffer.byteLength, 0) }
}

/** A sample for each run; a thousand in full. */
const EDITS = FULL ? 1000 : 200

it(`memory after ${EDITS} edits is within 10 % of that after 50, that of the WebAssembly kernel included`, async () => {
  await loadManifold()
  // as one types and pulls values: words that differ, depths, edges, outlines cut and joined
  const memo = new Memo(24 * 1024 * 1024)
  const LETTERS = 'TERN QUAY lantern fair 0123456789'
  const edit = async (n: number) => {
    // words of eight letters and more, of which a few are new each time
    const text = Array.from({ length: 8 + (n % 5) }, (_, i) => LETTERS[(n + i * 7) % LETTERS.length]).join('')
    const [words, extrude] = wordRoute(
      text.trim(),
      'archivo-bold',
      { size: 30 + (n % 11) },
      { depth: 8 + (n % 9), front: { profile: 'chamfer', inset: 1, height: 1 + (n % 3) / 4 } },
    )
    const route = n % 3 === 0 ? [words, { id: 'slice-1', kind: 'slice', on: true, params: { cut: 'wave', count: 1 + (n % 3) } }, extrude] : [words, extrude]
    const { value } = await evaluateRoute(route, { assets, memo })
    expect(value?.kind).toBe('solid')
  }
  for (let n = 0; n < 50; n++) await edit(n)
  const early = held()
  for (let n = 50; n < EDITS; n++) await edit(n)
  const late = held()
  const words = ({ script, kernel }: typeof early) => `${(script / 1e6).toFixed(1)} MB of script and ${(kernel / 1e6).toFixed(1)} MB of kernels`
  console.log(`memory after 50 edits: ${words(early)}; after ${EDITS}: ${words(late)}`)
  expect(kernels.size).toBeGreaterThan(1)
  expect((late.script + late.kernel) / (early.script + early.kernel)).toBeLessThan(1.1)
}, 300_000)
