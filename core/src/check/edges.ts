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
  const degree = new Uint32Array(vertices)
  for (let i = 0; i < n; i++) degree[indices[i]]++
  const from = new Uint32Array(vertices + 1)
  // the end that each half-edge is gathered at
  const home = new Uint32Array(n)
  for (let h = 0; h < n; h++) {
    const a = indices[h]
    const b = indices[h % 3 === 2 ? h - 2 : h + 1]
    const at = degree[a] < degree[b] || (degree[a] === degree[b] && a < b) ? a : b
    home[h] = at
    from[at + 1]++
  }
  for (let v = 0; v < vertices; v++) from[v + 1] += from[v]
  // in the order in which they are gathered, the half-edges and their other ends
  const gathered = new Uint32Array(n)
  const away = new Uint32Array(n)
  const next = from.slice(0, vertices)
  for (let h = 0; h < n; h++) {
    const a = indices[h]
    const at = next[home[h]]++
    gathered[at] = h
    away[at] = a === home[h] ? indices[h % 3 === 2 ? h - 2 : h + 1] : a
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

/** The half-edge against each of a mesh, −1 where there is none; of edges with more than two the last ones. */
export function oppositesOf(indices: ArrayLike<number>, { edge, count } = edgesOf(indices)): Int32Array {
  const forth = new Int32Array(count).fill(-1)
  const back = new Int32Array(count).fill(-1)
  const forward = (h: number) => indices[h] < indices[h % 3 === 2 ? h - 2 : h + 1]
  for (let h = 0; h < edge.length; h++) (forward(h) ? forth : back)[edge[h]] = h
  const opposite = new Int32Array(edge.length)
  for (let h = 0; h < edge.length; h++) opposite[h] = (forward(h) ? back : forth)[edge[h]]
  return opposite
}

function verticesIn(indices: ArrayLike<number>): number {
  let most = -1
  for (let i = 0; i < indices.length; i++) if (indices[i] > most) most = indices[i]
  return most + 1
}
