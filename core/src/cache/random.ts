/** Whole numbers from 0 to 2³² − 1 in an order of the seed's own, always the same (mulberry32, Tommy Ettinger 2017). */
export function randomInts(seed: number): () => number {
  let state = seed | 0
  return () => {
    state = (state + 0x6d2b79f5) | 0
    let h = Math.imul(state ^ (state >>> 15), 1 | state)
    h = (h + Math.imul(h ^ (h >>> 7), 61 | h)) ^ h
    return (h ^ (h >>> 14)) >>> 0
  }
}

/** Numbers from 0 to under 1 in an order of the seed's own. */
export function randomShares(seed: number): () => number {
  const next = randomInts(seed)
  return () => next() / 4294967296
}
