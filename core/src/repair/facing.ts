import { edgesOf } from '../check/edges'
import { lengthTo, type Point } from '../check/rays'

/** Turns triangles so that neighbours agree, and shells as they must face; in place. Gives those that were turned. */
export function faceOneWay(positions: Float64Array, indices: Uint32Array): Uint32Array {
  const triangles = indices.length / 3
  const { edge, count } = edgesOf(indices)
  // first and second triangle at a side, whichever way it runs
  const first = new Int32Array(count)
  const second = new Int32Array(count).fill(-1)
  const uses = new Uint8Array(count)
  for (let t = 0; t < triangles; t++)
    for (let k = 0; k < 3; k++) {
      const s = edge[3 * t + k]
      if (uses[s] === 0) first[s] = t
      else if (uses[s] === 1) second[s] = t
      if (uses[s] < 3) uses[s]++
    }
  const turn = new Uint8Array(triangles)
  const shell = new Int32Array(triangles).fill(-1)
  const stack: number[] = []
  const volumes: number[] = []
  const seeds: number[] = []
  for (let seed = 0; seed < triangles; seed++) {
    if (shell[seed] >= 0) continue
    const own = volumes.length
    shell[seed] = own
    stack.push(seed)
    let volume = 0
    while (stack.length > 0) {
      const t = stack.pop() as number
      volume += (turn[t] ? -1 : 1) * volumeOf(positions, indices, t)
      for (let k = 0; k < 3; k++) {
        const [a, b] = [indices[3 * t + k], indices[3 * t + ((k + 1) % 3)]]
        const s = edge[3 * t + k]
        // where more than two meet there is no telling
        if (uses[s] !== 2) continue
        const o = first[s] === t ? second[s] : first[s]
        if (shell[o] >= 0) continue
        shell[o] = own
        const sameWay = [0, 1, 2].some((j) => indices[3 * o + j] === a && indices[3 * o + ((j + 1) % 3)] === b)
        turn[o] = sameWay ? 1 - turn[t] : turn[t]
        stack.push(o)
      }
    }
    volumes.push(volume)
    seeds.push(seed)
  }
  const depth = nesting(positions, indices, shell, seeds)
  const turned: number[] = []
  for (let t = 0; t < triangles; t++) {
    const inward = depth[shell[t]] % 2 === 1
    if (volumes[shell[t]] < 0 !== inward) turn[t] = 1 - turn[t]
    if (!turn[t]) continue
    turned.push(t)
    ;[indices[3 * t + 1], indices[3 * t + 2]] = [indices[3 * t + 2], indices[3 * t + 1]]
  }
  return Uint32Array.from(turned)
}

function volumeOf(p: Float64Array, indices: Uint32Array, t: number): number {
  const [a, b, c] = [3 * indices[3 * t], 3 * indices[3 * t + 1], 3 * indices[3 * t + 2]]
  return (
    (p[a] * (p[b + 1] * p[c + 2] - p[b + 2] * p[c + 1]) + p[a + 1] * (p[b + 2] * p[c] - p[b] * p[c + 2]) + p[a + 2] * (p[b] * p[c + 1] - p[b + 1] * p[c])) / 6
  )
}

/** Of more shells than this it is not worked out which lie in others. */
const MOST_SHELLS = 200

/** A shell lies in another one only if so many of its points do: those that cross each other are no cavities. */
const POINTS = 8

/** In how many other shells each lies: crossings of slanting rays from some of its points, counted per shell. */
function nesting(p: Float64Array, indices: Uint32Array, shell: Int32Array, seeds: readonly number[]): number[] {
  if (seeds.length < 2 || seeds.length > MOST_SHELLS) return seeds.map(() => 0)
  const members: number[][] = seeds.map(() => [])
  for (let t = 0; t < shell.length; t++) members[shell[t]].push(t)
  return members.map((own, number) => {
    const within = new Uint8Array(seeds.length).fill(1)
    within[number] = 0
    for (let i = 0; i < POINTS; i++) {
      const t = own[Math.floor((i * own.length) / POINTS)]
      const v = 3 * indices[3 * t + (i % 3)]
      const from: Point = [p[v], p[v + 1], p[v + 2]]
      const crossed = new Uint32Array(seeds.length)
      for (let o = 0; o < shell.length; o++) if (within[shell[o]] && meetsSlantingRay(p, indices, o, from)) crossed[shell[o]]++
      for (let other = 0; other < within.length; other++) if (crossed[other] % 2 === 0) within[other] = 0
    }
    return within.reduce((sum, inside) => sum + inside, 0)
  })
}

/** No side of anything drawn lies this way. */
const SLANT: Point = [0.4361, 0.7529, 0.4927]

function meetsSlantingRay(p: Float64Array, indices: Uint32Array, t: number, from: Point): boolean {
  const length = lengthTo(p, indices, t, from, SLANT)
  return length > 0 && length < Infinity
}
