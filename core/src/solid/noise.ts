import { randomInts } from '../cache/random'

/**
 * Smooth noise in space, −1 to 1: gradients at whole places blended by quintic curves (Perlin, "Improving noise", 2002), of a seed. The same for
 * the same place everywhere.
 */
export function noise(seed: number): (x: number, y: number, z: number) => number {
  const table = permutation(seed)
  const gradient = (hash: number, x: number, y: number, z: number): number => {
    const h = hash & 15
    const u = h < 8 ? x : y
    const v = h < 4 ? y : h === 12 || h === 14 ? x : z
    return ((h & 1) === 0 ? u : -u) + ((h & 2) === 0 ? v : -v)
  }
  const fade = (t: number) => t * t * t * (t * (t * 6 - 15) + 10)
  const mix = (a: number, b: number, f: number) => a + (b - a) * f
  return (x, y, z) => {
    const [fx, fy, fz] = [Math.floor(x), Math.floor(y), Math.floor(z)]
    const [i, j, k] = [fx & 255, fy & 255, fz & 255]
    const [u, v, w] = [x - fx, y - fy, z - fz]
    const a = table[i] + j
    const b = table[i + 1] + j
    const [aa, ab, ba, bb] = [table[a] + k, table[a + 1] + k, table[b] + k, table[b + 1] + k]
    const [fu, fv, fw] = [fade(u), fade(v), fade(w)]
    return mix(
      mix(
        mix(gradient(table[aa], u, v, w), gradient(table[ba], u - 1, v, w), fu),
        mix(gradient(table[ab], u, v - 1, w), gradient(table[bb], u - 1, v - 1, w), fu),
        fv,
      ),
      mix(
        mix(gradient(table[aa + 1], u, v, w - 1), gradient(table[ba + 1], u - 1, v, w - 1), fu),
        mix(gradient(table[ab + 1], u, v - 1, w - 1), gradient(table[bb + 1], u - 1, v - 1, w - 1), fu),
        fv,
      ),
      fw,
    )
  }
}

/** 0 to 255 in an order of the seed's, twice over. */
function permutation(seed: number): Uint8Array {
  const table = new Uint8Array(514)
  for (let i = 0; i < 256; i++) table[i] = i
  const next = randomInts(seed ^ 0x9e3779b9)
  for (let i = 255; i > 0; i--) {
    const j = next() % (i + 1)
    ;[table[i], table[j]] = [table[j], table[i]]
  }
  table.copyWithin(256, 0, 256)
  table[512] = table[0]
  table[513] = table[1]
  return table
}

/** Noise of several sizes one upon another: each half as large and half as high as the one before; about −1 to 1. */
export function fractalNoise(seed: number, octaves: number): (x: number, y: number, z: number) => number {
  const layers = Array.from({ length: octaves }, (_, i) => noise(seed + 1013 * i))
  const total = 2 - 2 ** (1 - octaves)
  return (x, y, z) => {
    let sum = 0
    for (let i = 0; i < octaves; i++) sum += layers[i](x * 2 ** i, y * 2 ** i, z * 2 ** i) / 2 ** i
    return sum / total
  }
}
