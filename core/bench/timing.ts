export const median = (list: number[]): number => list.slice().sort((a, b) => a - b)[list.length >> 1]

/** Milliseconds that work takes. */
export function timed(work: () => void): number {
  const begun = performance.now()
  work()
  return performance.now() - begun
}
