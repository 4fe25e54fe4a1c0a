import { setFlagsFromString } from 'node:v8'
import { runInNewContext } from 'node:vm'
import { expect, it } from 'vitest'
import { Memo } from './memo'

/** Bytes on the heap once nothing of it is garbage any more. */
function held(): number {
  setFlagsFromString('--expose-gc')
  runInNewContext('gc')()
  return process.memoryUsage().heapUsed
}

const made = (k: number) => Array.from({ length: 2000 }, (_, i) => ({ at: i, text: `letter ${k}-${i}` }))

it.each([
  ['made here', made],
  ['copied', (k: number) => structuredClone(made(k))],
])('a memo holds no more memory than it says, within a tenth, and not much less, for texts and lists that were %s', (_, make) => {
  const memo = new Memo(128 * 1024 * 1024)
  const before = held()
  for (let k = 0; k < 200; k++) memo.put(String(k), make(k))
  const grown = held() - before
  expect(memo.size).toBe(200)
  expect(memo.bytes).toBeGreaterThan(0.9 * grown)
  expect(memo.bytes).toBeLessThan(1.4 * grown)
})
