import { expect } from 'vitest'

/** What the fixed work below takes, ms, on the machine and in the kind of hour that bounds of time are stated for. */
const USUAL = 35

/** A fixed work of sorting, hashing and small objects, as reading and computing are made of; ms. */
function yardstick(): number {
  const begun = performance.now()
  const values = new Float64Array(100_000)
  let seed = 1
  for (let i = 0; i < values.length; i++) {
    seed = (Math.imul(seed, 1664525) + 1013904223) >>> 0
    values[i] = seed / 2 ** 32
  }
  const places = new Map<string, { at: number }[]>()
  for (let i = 0; i < 30_000; i++) {
    const key = values[i].toFixed(4)
    const list = places.get(key)
    if (list) list.push({ at: i })
    else places.set(key, [{ at: i }])
  }
  values.sort()
  expect(places.size).toBeGreaterThan(9000)
  return performance.now() - begun
}

/** How many times slower than usual this machine is just now, 1 at the least. */
export function slowness(): number {
  const tries = Array.from({ length: 5 }, yardstick).toSorted((a, b) => a - b)
  return Math.max(1, tries[2] / USUAL)
}

/**
 * Gives what the work gives. Fails when it takes more than so many ms on a machine that is as fast as usual, three times in a row:
 * one that is slower in this hour has as much longer, and work that somebody else held up once is tried again. Time in which the process itself did
 * nothing does not count.
 */
export async function within<T>(limit: number, work: () => T | Promise<T>): Promise<T> {
  for (let left = 2; ; left--) {
    const [begun, cpu] = [performance.now(), process.cpuUsage()]
    const made = await work()
    const { user, system } = process.cpuUsage(cpu)
    const took = Math.min(performance.now() - begun, (user + system) / 1000)
    if (took < limit) return made
    const bound = limit * slowness()
    if (left === 0) expect(took).toBeLessThan(bound)
    if (took < bound || left === 0) return made
  }
}
