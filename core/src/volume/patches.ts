/**
 * How a cell of eight samples is crossed. Corner i has the bits x, y, z; edge 4·a + k runs along axis a from the corner whose other two
 * bits, on the axes a + 1 and a + 2, are k. The crossings of a cell's edges fall into patches, each a ring: one vertex stands for each
 * (Nielson, "Dual marching cubes", 2004). A face with four crossings keeps its inside corners apart or, flipped, its outside corners;
 * flipped on both sides of a face where both cells would have one patch pass it twice, the mesh is two-manifold always
 * (Schaefer, Ju & Warren, "Manifold dual contouring", 2007; Wenger, "Isosurfaces", 2013).
 */
export const EDGES: readonly (readonly [number, number])[] = Array.from({ length: 12 }, (_, e) => {
  const [a, k] = [e >> 2, e & 3]
  const corner = ((k & 1) << ((a + 1) % 3)) | ((k >> 1) << ((a + 2) % 3))
  return [corner, corner | (1 << a)]
})

const edgeBetween = (p: number, q: number) => EDGES.findIndex(([a, b]) => (a === p && b === q) || (a === q && b === p))

/** Face 2·a + side: its four corners in turn. */
const FACES: readonly (readonly number[])[] = Array.from({ length: 6 }, (_, f) => {
  const a = f >> 1
  const [b, c, p] = [1 << ((a + 1) % 3), 1 << ((a + 2) % 3), (f & 1) << a]
  return [p, p | b, p | b | c, p | c]
})

interface Patches {
  /** per edge its patch, −1 where it is not crossed */
  readonly patch: Int8Array
  readonly count: number
  /** faces with four crossings, and their first and third edge */
  readonly ambiguous: readonly (readonly [face: number, first: number, third: number])[]
}

function patchesOf(inside: number, flipped: number): Patches {
  const links: number[][] = Array.from({ length: 12 }, () => [])
  const ambiguous: [number, number, number][] = []
  const join = (p: number, q: number) => {
    links[p].push(q)
    links[q].push(p)
  }
  FACES.forEach((corners, f) => {
    const on = corners.map((corner) => (inside >> corner) & 1)
    const edges = corners.map((corner, i) => edgeBetween(corner, corners[(i + 1) % 4]))
    const cut = [0, 1, 2, 3].filter((i) => on[i] !== on[(i + 1) % 4])
    if (cut.length === 2) join(edges[cut[0]], edges[cut[1]])
    if (cut.length < 4) return
    ambiguous.push([f, edges[0], edges[2]])
    // the corners that are kept apart are cut off by their two edges
    if (on[0] !== ((flipped >> f) & 1)) {
      join(edges[3], edges[0])
      join(edges[1], edges[2])
    } else {
      join(edges[0], edges[1])
      join(edges[2], edges[3])
    }
  })
  const patch = new Int8Array(12).fill(-1)
  let count = 0
  for (let e = 0; e < 12; e++) {
    if (links[e].length === 0 || patch[e] >= 0) continue
    let [at, from] = [e, -1]
    do {
      patch[at] = count
      const [p, q] = links[at]
      const next = p !== from ? p : q
      from = at
      at = next
    } while (at !== e)
    count++
  }
  return { patch, count, ambiguous }
}

/** Numbers a row of the table: twelve patches, then how many there are. */
export const ROW = 13

/** Rows by configuration of insides (256) and flipped face plus one (0 for none): see `rowOf`. */
export const PATCHES = new Int8Array(256 * 7 * ROW)

/** Per configuration: bit f where both arcs of the ambiguous face f belong to one patch. */
export const TWICE = new Uint8Array(256)

export const rowOf = (inside: number, flipped: number): number => (inside * 7 + flipped) * ROW

for (let inside = 0; inside < 256; inside++)
  for (let flipped = 0; flipped < 7; flipped++) {
    const { patch, count, ambiguous } = patchesOf(inside, flipped === 0 ? 0 : 1 << (flipped - 1))
    PATCHES.set(patch, rowOf(inside, flipped))
    PATCHES[rowOf(inside, flipped) + 12] = count
    if (flipped === 0) for (const [f, first, third] of ambiguous) if (patch[first] === patch[third]) TWICE[inside] |= 1 << f
  }
