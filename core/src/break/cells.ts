import { NONE } from '../solid/labels'
import { brickAt, type Courses, mapped, type Sites } from './sites'

/** A flat wall of a cell: a convex polygon, counter-clockwise seen from outside of `cell`. */
export interface Wall {
  readonly cell: number
  /** the cell behind it; NONE where the wall is the cell's alone, as at the box about everything */
  readonly other: number
  /** x, y, z of its corners, mm */
  readonly corners: readonly number[]
}

export interface Cells {
  readonly count: number
  readonly walls: readonly Wall[]
}

type Box = readonly number[]

/** A convex body while it is cut: a polygon for each face, and the cell that it is turned to. */
interface Face {
  readonly other: number
  readonly corners: number[]
}

/**
 * The cells of sites within a box (a Voronoi diagram: each cell is cut out of the box by the planes halfway to its neighbours, nearest first, until none can reach it any
 * more). Without a gap neighbours have one wall in common, listed for the one of the lower number; with one every cell has walls of its own, half of it further in.
 */
export function cellsOfSites({ at, space }: Sites, box: Box, gap: number): Cells {
  const count = at.length / 3
  const inSpace = mapped(at, space)
  const between = (i: number, j: number) =>
    (inSpace[3 * j] - inSpace[3 * i]) ** 2 + (inSpace[3 * j + 1] - inSpace[3 * i + 1]) ** 2 + (inSpace[3 * j + 2] - inSpace[3 * i + 2]) ** 2
  const walls: Wall[] = []
  for (let i = 0; i < count; i++) {
    const far = Float64Array.from({ length: count }, (_, j) => between(i, j))
    const order = Uint32Array.from(far.keys()).sort((a, b) => far[a] - far[b] || a - b)
    let faces = boxFaces(box)
    let reach = reachOf(faces, inSpace, i, space)
    for (const j of order) {
      if (j === i || far[j] === 0) continue
      if (far[j] > 4 * reach) break
      const less = cut(faces, halfway(at, inSpace, space, i, j, gap / 2), j)
      if (less === faces) continue
      faces = less
      reach = reachOf(faces, inSpace, i, space)
    }
    for (const { other, corners } of faces) {
      const shared = gap === 0 && other >= 0
      if (!shared || other > i) walls.push({ cell: i, other: shared ? other : NONE, corners })
    }
  }
  return { count, walls }
}

/** How far the corners lie from the site at most, squared, in the stretched space. */
function reachOf(faces: readonly Face[], inSpace: Float64Array, site: number, space: readonly number[]): number {
  let most = 0
  for (const { corners } of faces) {
    const at = mapped(corners, space)
    for (let o = 0; o < at.length; o += 3)
      most = Math.max(most, (at[o] - inSpace[3 * site]) ** 2 + (at[o + 1] - inSpace[3 * site + 1]) ** 2 + (at[o + 2] - inSpace[3 * site + 2]) ** 2)
  }
  return most
}

/** [nx, ny, nz, most]: what is nearer to one site than to the other has n·x below most; moved towards the first. */
function halfway(at: Float64Array, inSpace: Float64Array, m: readonly number[], i: number, j: number, inwards: number): [number, number, number, number] {
  const d = [0, 1, 2].map((k) => inSpace[3 * j + k] - inSpace[3 * i + k])
  // the stretched space's distance seen from outside: its matrix's transpose upon the difference
  const n = [0, 1, 2].map((k) => m[k] * d[0] + m[3 + k] * d[1] + m[6 + k] * d[2])
  const size = Math.hypot(n[0], n[1], n[2])
  const [x, y, z] = n.map((v) => v / size)
  const middle = [0, 1, 2].map((k) => (at[3 * i + k] + at[3 * j + k]) / 2)
  return [x, y, z, x * middle[0] + y * middle[1] + z * middle[2] - inwards]
}

/** A convex body cut by a plane, what lies beyond it taken away; the same one where the plane passes by. */
function cut(faces: readonly Face[], [nx, ny, nz, most]: readonly number[], other: number): Face[] {
  const over = (corners: readonly number[], o: number) => nx * corners[o] + ny * corners[o + 1] + nz * corners[o + 2] - most
  const passes = faces.some(({ corners }) => {
    for (let o = 0; o < corners.length; o += 3) if (over(corners, o) > 0) return true
    return false
  })
  if (!passes) return faces as Face[]
  const out: Face[] = []
  /** sides of the new face, from where one begins to where it ends */
  const sides: number[][] = []
  for (const face of faces) {
    const { corners } = face
    const kept: number[] = []
    const ends: number[][] = []
    for (let o = 0; o < corners.length; o += 3) {
      const p = (o + 3) % corners.length
      const [a, b] = [over(corners, o), over(corners, p)]
      if (a <= 0) kept.push(corners[o], corners[o + 1], corners[o + 2])
      if (a <= 0 === b <= 0) continue
      // from the lower corner to the higher one, so that the neighbouring face finds the same place
      const [low, high, la, ha] = a <= 0 ? [o, p, a, b] : [p, o, b, a]
      const t = la / (la - ha)
      const place = [0, 1, 2].map((k) => corners[low + k] + t * (corners[high + k] - corners[low + k]))
      kept.push(...place)
      // where it goes out and where it comes in again
      ends[a <= 0 ? 0 : 1] = place
    }
    if (kept.length >= 9) out.push({ other: face.other, corners: kept })
    if (ends[0] && ends[1]) sides.push([...ends[1], ...ends[0]])
  }
  // the sides in order: each is its face's, turned over
  if (sides.length >= 3) {
    const corners = [...sides[0].slice(0, 3)]
    const left = new Set(sides.keys())
    left.delete(0)
    let end = sides[0].slice(3)
    while (left.size > 0) {
      let [best, found] = [Infinity, -1]
      for (const i of left) {
        const far = Math.abs(sides[i][0] - end[0]) + Math.abs(sides[i][1] - end[1]) + Math.abs(sides[i][2] - end[2])
        if (far < best) [best, found] = [far, i]
      }
      left.delete(found)
      corners.push(...sides[found].slice(0, 3))
      end = sides[found].slice(3)
    }
    out.push({ other, corners })
  }
  return out
}

function boxFaces([x0, y0, z0, x1, y1, z1]: Box): Face[] {
  const quads = [
    [x0, y0, z0, x0, y1, z0, x1, y1, z0, x1, y0, z0],
    [x0, y0, z1, x1, y0, z1, x1, y1, z1, x0, y1, z1],
    [x0, y0, z0, x1, y0, z0, x1, y0, z1, x0, y0, z1],
    [x1, y1, z0, x0, y1, z0, x0, y1, z1, x1, y1, z1],
    [x0, y1, z0, x0, y0, z0, x0, y0, z1, x0, y1, z1],
    [x1, y0, z0, x1, y1, z0, x1, y1, z1, x1, y0, z1],
  ]
  return quads.map((corners) => ({ other: NONE, corners }))
}

/** The bricks of courses that meet a box, each through its whole depth. Walls run from joint to joint, so that every corner is one of all that meet there. */
export function cellsOfCourses(courses: Courses, box: Box, gap: number): Cells {
  const { high, wide, x: x0, y: y0 } = courses
  const [firstCourse] = brickAt(courses, box[0], box[1])
  const [lastCourse] = brickAt(courses, box[0], box[4])
  const numbers = new Map<string, number>()
  const bricks: { readonly course: number; readonly brick: number }[] = []
  for (let course = firstCourse; course <= lastCourse; course++) {
    const row = y0 + (course + 0.5) * high
    const [, first] = brickAt(courses, box[0], row)
    const [, last] = brickAt(courses, box[3], row)
    for (let brick = first; brick <= last; brick++) {
      numbers.set(`${course} ${brick}`, bricks.length)
      bricks.push({ course, brick })
    }
  }
  const [z0, z1] = [box[2], box[5]]
  const walls: Wall[] = []
  bricks.forEach(({ course, brick }, cell) => {
    const left = x0 + (brick - (course & 1) / 2) * wide
    const [a, b] = [left + gap / 2, left + wide - gap / 2]
    const [c, d] = [y0 + course * high + gap / 2, y0 + (course + 1) * high - gap / 2]
    const half = left + wide / 2
    if (gap > 0) {
      for (const { corners } of boxFaces([a, c, z0, b, d, z1])) walls.push({ cell, other: NONE, corners })
      return
    }
    const mate = (up: number, right: number) => numbers.get(`${course + up} ${brick + right}`) ?? NONE
    const add = (other: number, corners: readonly number[]) => {
      if (other === NONE || other > cell) walls.push({ cell, other, corners })
    }
    add(mate(0, -1), [a, d, z0, a, c, z0, a, c, z1, a, d, z1])
    add(mate(0, 1), [b, c, z0, b, d, z0, b, d, z1, b, c, z1])
    // odd courses lie half a brick to the left
    const [under, over] = course & 1 ? [-1, 0] : [0, 1]
    for (const [from, to, right] of [
      [a, half, under],
      [half, b, over],
    ]) {
      add(mate(-1, right), [from, c, z0, to, c, z0, to, c, z1, from, c, z1])
      add(mate(1, right), [to, d, z0, from, d, z0, from, d, z1, to, d, z1])
    }
    // front and back have the joints of the courses above and below among their corners
    walls.push({ cell, other: NONE, corners: [a, c, z0, a, d, z0, half, d, z0, b, d, z0, b, c, z0, half, c, z0] })
    walls.push({ cell, other: NONE, corners: [a, c, z1, half, c, z1, b, c, z1, b, d, z1, half, d, z1, a, d, z1] })
  })
  return { count: bricks.length, walls }
}
