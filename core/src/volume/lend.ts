/** Vertices of a mesh without a value (−1) take what a neighbour has, ring by ring; what no side leads to takes 0. */
export function lendToNeighbours(value: Int32Array, indices: Uint32Array): void {
  for (let again = value.includes(-1); again; ) {
    again = false
    for (let i = 0; i < indices.length; i++) {
      const [a, b] = [indices[i], indices[i % 3 === 2 ? i - 2 : i + 1]]
      if (value[a] < 0 === value[b] < 0) continue
      if (value[a] < 0) value[a] = value[b]
      else value[b] = value[a]
      again = true
    }
  }
  for (let v = 0; v < value.length; v++) if (value[v] < 0) value[v] = 0
}
