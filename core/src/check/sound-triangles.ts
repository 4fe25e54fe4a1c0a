import { pointHash } from './point-hash'

interface Triangles {
  /** x, y, z per vertex, mm */
  readonly positions: Float64Array
  /** vertex numbers, three a triangle */
  readonly indices: ArrayLike<number>
}

/**
 * The triangles of sound solids, to be known again in a mesh that was made of them: those of one solid do not cross each other there either, so that only
 * what is new has to be looked at. Corners are compared bit for bit.
 */
export class SoundTriangles {
  private table?: Table

  /** The solids must be sound, and stay as they are. */
  constructor(private readonly solids: readonly Triangles[]) {}

  /** Of each triangle of a mesh the number of a solid that has the very same one, counted from 1; 0 where none has. */
  ownersIn({ positions, indices }: Triangles): Int32Array {
    const { slots, hashes, first } = (this.table ??= tableOf(this.solids))
    const mask = slots.length - 1
    const ofVertex = vertexHashes(positions)
    const owners = new Int32Array(indices.length / 3)
    for (let t = 0; t < owners.length; t++) {
      const hash = triangleHash(ofVertex, indices, t)
      for (let s = hash & mask; slots[s] !== 0; s = (s + 1) & mask) {
        const known = slots[s] - 1
        if (hashes[known] !== hash) continue
        const owner = solidOf(first, known)
        if (!sameTriangle(positions, indices, t, this.solids[owner], known - first[owner])) continue
        owners[t] = owner + 1
        break
      }
    }
    return owners
  }
}

/** Open addressing: of each slot a triangle's number plus one, over all solids; of each triangle its hash; and where each solid's triangles begin. */
interface Table {
  readonly slots: Int32Array
  readonly hashes: Int32Array
  readonly first: readonly number[]
}

function tableOf(solids: readonly Triangles[]): Table {
  let count = 0
  const first = solids.map(({ indices }) => {
    const from = count
    count += indices.length / 3
    return from
  })
  let size = 16
  while (size < 2 * count) size *= 2
  const slots = new Int32Array(size)
  const hashes = new Int32Array(count)
  solids.forEach(({ positions, indices }, i) => {
    const ofVertex = vertexHashes(positions)
    for (let t = 0; 3 * t < indices.length; t++) {
      const hash = triangleHash(ofVertex, indices, t)
      let s = hash & (size - 1)
      while (slots[s] !== 0) s = (s + 1) & (size - 1)
      hashes[first[i] + t] = hash
      slots[s] = first[i] + t + 1
    }
  })
  return { slots, hashes, first }
}

function solidOf(first: readonly number[], triangle: number): number {
  let [low, high] = [0, first.length - 1]
  while (low < high) {
    const middle = (low + high + 1) >> 1
    if (first[middle] <= triangle) low = middle
    else high = middle - 1
  }
  return low
}

function vertexHashes(positions: Float64Array): Int32Array {
  // zero of either sign is one place
  const point = new Float64Array(3)
  const bits = new Int32Array(point.buffer)
  const out = new Int32Array(positions.length / 3)
  for (let v = 0; v < out.length; v++) {
    for (let k = 0; k < 3; k++) point[k] = positions[3 * v + k] + 0
    out[v] = pointHash(bits)
  }
  return out
}

/** The same for whichever corner comes first. */
function triangleHash(ofVertex: Int32Array, indices: ArrayLike<number>, t: number): number {
  let hash = (ofVertex[indices[3 * t]] + ofVertex[indices[3 * t + 1]] + ofVertex[indices[3 * t + 2]]) | 0
  hash = Math.imul(hash ^ (hash >>> 16), 0x85ebca6b)
  return hash ^ (hash >>> 13)
}

/** Whether two triangles have the same corners, in the same turn. */
function sameTriangle(p: Float64Array, ids: ArrayLike<number>, t: number, { positions: q, indices }: Triangles, u: number): boolean {
  for (let turn = 0; turn < 3; turn++) {
    let same = true
    for (let k = 0; k < 3 && same; k++) {
      const v = 3 * ids[3 * t + k]
      const w = 3 * indices[3 * u + ((k + turn) % 3)]
      same = p[v] === q[w] && p[v + 1] === q[w + 1] && p[v + 2] === q[w + 2]
    }
    if (same) return true
  }
  return false
}
