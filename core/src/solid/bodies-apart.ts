import { hashBits, hashJson } from '../cache/hash'
import { triangleMeets } from './in-box'
import { LABELS } from './labels'
import { type Placed, split } from './operations'
import { labelOf, type Solid, solidBounds, triangleCount } from './solid'
import { upTo } from './vertex-table'

/** More bodies than this are not told apart: what each takes by itself would be more than it spares. */
const MOST_BODIES = 300

/**
 * The bodies of a solid that have nothing to do with each other in a volume: their boxes, `apart` mm larger all round, do not meet. What hangs together, lies in another
 * or near it is one. Each is moved to where its box begins half a voxel off the grid to the right and up, and as far forward of the grid as it stood, by whole steps of the lattice, so that the same letter is the same
 * wherever it stands in a word. Undefined where there is but one, or there are too many.
 */
export function bodiesApart(
  solid: Solid,
  { voxel, apart, lattice }: { readonly voxel: number; readonly apart: number; readonly lattice: number },
): Placed[] | undefined {
  const part = labelOf(solid, 'part')
  const { positions: p, indices } = solid
  const boxes = new Map<number, [number, number, number, number, number, number]>()
  part.forEach((number, t) => {
    let box = boxes.get(number)
    if (!box) boxes.set(number, (box = [Infinity, Infinity, Infinity, -Infinity, -Infinity, -Infinity]))
    for (let i = 3 * t; i < 3 * t + 3; i++)
      for (let k = 0; k < 3; k++) {
        const v = p[3 * indices[i] + k]
        if (v < box[k]) box[k] = v
        if (v > box[k + 3]) box[k + 3] = v
      }
  })
  if (boxes.size < 2 || boxes.size > MOST_BODIES) return undefined
  const list = [...boxes]
  const first = new Map(list.map(([number]) => [number, number]))
  const find = (number: number): number => {
    const up = first.get(number) as number
    return up === number ? number : find(up)
  }
  list.forEach(([number, a], i) => {
    for (const [other, b] of list.slice(i + 1))
      if ([0, 1, 2].every((k) => a[k] - apart <= b[k + 3] && b[k] - apart <= a[k + 3])) first.set(find(number), find(other))
  })
  const groups = split(solid, (t) => find(part[t]))
  if (groups.size < 2) return undefined
  return [...groups.values()].map((body): Placed => {
    const box = solidBounds(body.positions)
    const onLattice = (v: number) => Math.floor(v / lattice) * lattice
    const move = [onLattice(box[0] - voxel / 2), onLattice(box[1] - voxel / 2), onLattice(Math.floor(box[2] / voxel) * voxel)] as const
    const letters: number[] = []
    const letter = body.labels.letter.map((number) => {
      if (number < 0) return number
      const known = letters.indexOf(number)
      return known >= 0 ? known : letters.push(number) - 1
    })
    return {
      solid: {
        ...body,
        positions: body.positions.map((v, i) => v - move[i % 3]),
        labels: { ...body.labels, letter, part: body.labels.part.map(() => 0) },
        letters: letters.map((number) => solid.letters[number]),
      },
      dx: move[0],
      dy: move[1],
      dz: move[2],
      letters,
    }
  })
}

/** What two bodies have in common that are the same but for the letters they are: shape, labels, bands, looks and layers. */
export function bodyKey({ positions, indices, surface, labels, bands, looks, layers, lattice }: Solid): string {
  const bits = [positions, indices, surface].map(hashBits).join(':')
  return `${lattice}:${bits}:${hashJson({ labels: LABELS.map((label) => [...labels[label]]), bands, looks, layers })}`
}

/** The same with their shading, texture coordinates and weights. */
export const shadedBodyKey = (solid: Solid): string =>
  `${bodyKey(solid)}:${Object.entries(solid.attributes)
    .map(([name, array]) => `${name}=${array instanceof Float32Array ? hashBits(array) : ''}`)
    .join()}`

/** A solid as the only body of itself, where it stands. */
export const wholeBody = (solid: Solid): Placed => ({ solid, dx: 0, dy: 0, dz: 0, letters: [...solid.letters.keys()] })

/** Whether the boxes of any two bodies meet. */
export const bodiesMeet = (bodies: readonly Placed[]): boolean => pairsThatMeet(bodies).length > 0

/** Whether the surfaces of any two bodies may meet: the box of one's triangle a triangle of the other. Letters set closely do not, though their own boxes do. */
export const surfacesMeet = (bodies: readonly Placed[]): boolean =>
  pairsThatMeet(bodies).some(([a, b]) => {
    // turn by turn what is left of the one near what is left of the other
    let ofB = allOf(b)
    let ofA = nearTo(a, allOf(a), boxAbout(b, ofB))
    for (let round = 0; round < ROUNDS && ofA.length > 0; round++) {
      ofB = nearTo(b, ofB, boxAbout(a, ofA))
      ofA = nearTo(a, ofA, boxAbout(b, ofB))
    }
    // so many, as of rings in rings, are not compared each with each
    if (ofA.length * ofB.length > MOST_COMPARED) return true
    const one = new Uint32Array(1)
    return ofA.some((t) => {
      one[0] = t
      const box = inBody(b, boxAbout(a, one))
      return ofB.some((u) => triangleMeets(b.solid.positions, b.solid.indices, u, box))
    })
  })

const ROUNDS = 3
const MOST_COMPARED = 4e6

/** [minX, minY, minZ, maxX, maxY, maxZ], mm, where bodies are placed. */
type Box = readonly number[]

function pairsThatMeet(bodies: readonly Placed[]): [Placed, Placed][] {
  const boxes = bodies.map((body) => placedBox(body, solidBounds(body.solid.positions)))
  const meet = (a: Box, b: Box) => [0, 1, 2].every((k) => a[k] <= b[k + 3] && b[k] <= a[k + 3])
  return bodies.flatMap((a, i) => bodies.flatMap((b, j): [Placed, Placed][] => (j > i && meet(boxes[i], boxes[j]) ? [[a, b]] : [])))
}

const placedBox = ({ dx, dy, dz }: Placed, box: Box): Box => box.map((v, k) => v + [dx, dy, dz][k % 3])
const inBody = ({ dx, dy, dz }: Placed, box: Box): Box => box.map((v, k) => v - [dx, dy, dz][k % 3])

const allOf = ({ solid }: Placed): Uint32Array => upTo(triangleCount(solid))

function nearTo(body: Placed, triangles: Uint32Array, box: Box): Uint32Array {
  const own = inBody(body, box)
  return triangles.filter((t) => triangleMeets(body.solid.positions, body.solid.indices, t, own))
}

/** Around some triangles of a body. */
function boxAbout(body: Placed, triangles: Uint32Array): Box {
  const { positions: p, indices } = body.solid
  const box = [Infinity, Infinity, Infinity, -Infinity, -Infinity, -Infinity]
  for (const t of triangles)
    for (let i = 3 * t; i < 3 * t + 3; i++)
      for (let k = 0; k < 3; k++) {
        const v = p[3 * indices[i] + k]
        if (v < box[k]) box[k] = v
        if (v > box[k + 3]) box[k + 3] = v
      }
  return placedBox(body, box)
}
