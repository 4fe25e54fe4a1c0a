/** The edges of a mesh, whichever way its triangles run along them. */
export interface Edges {
  /** of each half-edge (3t, 3t + 1 and 3t + 2 of triangle t, from that corner to the next) its edge */
  readonly edge: Int32Array
  readonly count: number
}

/**
 * Numbers the edges of a mesh. Half-edges are gathered at the end at which fewer meet, so that a vertex with very many triangles costs no more than
 * others, and compared there: several times faster than a table of pairs. `indices`: three vertex numbers a triangle, all below `vertices` (looked for when left out).
 */
export function edgesOf(indices: ArrayLike<number>, vertices = verticesIn(indices)): Edges {
  const n = indices.length
  const [degree, from, home, gathered, away] = scratch(vertices, vertices + 2, n, n, n)
  degree.fill(0)
  from.fill(0)
  for (let i = 0; i < n; i++) degree[indices[i]]++
  // the end that each half-edge is gathered at, counted two places on, so that filling moves each count to where it belongs
  for (let t = 0; t < n; t += 3) {
    let a = indices[t + 2]
    // sides from the third corner to the first, and so on
    for (let k = 0; k < 3; k++) {
      const b = indices[t + k]
      const at = degree[a] < degree[b] || (degree[a] === degree[b] && a < b) ? a : b
      home[k === 0 ? t + 2 : t + k - 1] = at
      from[at + 2]++
      a = b
    }
  }
  for (let v = 0; v <= vertices; v++) from[v + 1] += from[v]
  // in the order in which they are gathered, the half-edges and their other ends
  for (let t = 0; t < n; t += 3)
    for (let k = 0; k < 3; k++) {
      const h = t + k
      const a = indices[h]
      const at = from[home[h] + 1]++
      gathered[at] = h
      away[at] = a === home[h] ? indices[k === 2 ? t : h + 1] : a
    }
  const edge = new Int32Array(n)
  let count = 0
  for (let v = 0; v < vertices; v++) {
    const first = from[v]
    for (let i = first; i < from[v + 1]; i++) {
      const other = away[i]
      let same = first
      while (away[same] !== other) same++
      edge[gathered[i]] = same === i ? count++ : edge[gathered[same]]
    }
  }
  return { edge, count }
}

/** Lists of these lengths, their values whatever was there: for small meshes always in the same place, which nothing may hold on to. */
function scratch(...lengths: readonly number[]): Uint32Array[] {
  const all = lengths.reduce((sum, length) => sum + length, 0)
  const room = all <= shared.length ? shared : new Uint32Array(all)
  let at = 0
  return lengths.map((length) => room.subarray(at, (at += length)))
}

const shared = new Uint32Array(2 ** 16)

/** The half-edge against each of a mesh, −1 where there is none; of edges with more than two the last ones. */
export function oppositesOf(indices: ArrayLike<number>, { edge, count } = edgesOf(indices)): Int32Array {
  // of each edge the last half-edge forth and the last one back
  const last = new Int32Array(2 * count).fill(-1)
  // where each half-edge finds the one against it
  const opposite = new Int32Array(edge.length)
  for (let t = 0; t < edge.length; t += 3)
    for (let k = 0; k < 3; k++) {
      const h = t + k
      const own = 2 * edge[h] + (indices[h] < indices[k === 2 ? t : h + 1] ? 0 : 1)
      last[own] = h
      opposite[h] = own ^ 1
    }
  for (let h = 0; h < opposite.length; h++) opposite[h] = last[opposite[h]]
  return opposite
}

function verticesIn(indices: ArrayLike<number>): number {
  let most = -1
  for (let i = 0; i < indices.length; i++) if (indices[i] > most) most = indices[i]
  return most + 1
}
