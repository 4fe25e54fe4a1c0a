/** The corners of triangles about each vertex: from `first[v]` up to `first[v + 1]` in the list, in order. `indices`: three vertex numbers a triangle, all below `vertices`. */
export function cornersAbout(indices: ArrayLike<number>, vertices: number): { readonly first: Uint32Array; readonly corners: Uint32Array } {
  const first = new Uint32Array(vertices + 1)
  for (let i = 0; i < indices.length; i++) first[indices[i] + 1]++
  for (let v = 0; v < vertices; v++) first[v + 1] += first[v]
  const corners = new Uint32Array(indices.length)
  const next = first.slice()
  for (let i = 0; i < indices.length; i++) corners[next[indices[i]]++] = i
  return { first, corners }
}
