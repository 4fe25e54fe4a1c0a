import { FACE, labelTable, PLAIN_ROW } from '../src/solid/labels'
import type { Solid } from '../src/solid/solid'

const LATTICE = 2 ** -14

/** A solid of plain triangles, rounded to the lattice. */
export function plainSolid(positions: ArrayLike<number>, indices: ArrayLike<number>): Solid {
  return {
    kind: 'solid',
    positions: Float64Array.from(positions, (v) => Math.round(v / LATTICE) * LATTICE + 0),
    indices: Uint32Array.from(indices),
    surface: new Uint32Array(indices.length / 3),
    labels: labelTable([{ ...PLAIN_ROW, group: FACE }]),
    attributes: {},
    letters: [],
    layers: [{ name: 'Body' }],
    bands: [],
    looks: [],
    lattice: LATTICE,
  }
}

/** Turned about the upright axis: radii at so many heights from 0, the ends closed; `off` moves every point out by so much. */
export function turnedBody(
  height: number,
  radiusAt: (y: number) => number,
  sides: number,
  rows: number,
  off: (x: number, y: number, z: number) => number = () => 0,
): Solid {
  const positions: number[] = []
  for (let j = 0; j <= rows; j++)
    for (let i = 0; i < sides; i++) {
      const turn = (2 * Math.PI * i) / sides
      const y = (height * j) / rows
      const r = radiusAt(y)
      const [x, z] = [r * Math.sin(turn), r * Math.cos(turn)]
      const d = off(x, y, z) / Math.max(r, 1e-9)
      positions.push(x * (1 + d), y, z * (1 + d))
    }
  const [foot, head] = [positions.length / 3, positions.length / 3 + 1]
  positions.push(0, 0, 0, 0, height, 0)
  const indices: number[] = []
  for (let i = 0; i < sides; i++) {
    const next = (i + 1) % sides
    for (let j = 0; j < rows; j++) {
      const [a, b, c, d] = [j * sides + i, j * sides + next, (j + 1) * sides + next, (j + 1) * sides + i]
      // the way of cutting alternates, as in meshes of others
      if ((i + j) % 2) indices.push(a, b, c, a, c, d)
      else indices.push(a, b, d, b, c, d)
    }
    indices.push(foot, next, i, head, rows * sides + i, rows * sides + next)
  }
  return plainSolid(positions, indices)
}

/** A ball about (0, 0, 0) from a cube's sides, `off` moving every point out by so much, mm. */
export function ballBody(radius: number, parts: number, off: (x: number, y: number, z: number) => number = () => 0): Solid {
  const positions: number[] = []
  const indices: number[] = []
  const numbers = new Map<string, number>()
  const vertex = (x: number, y: number, z: number) => {
    const key = `${x},${y},${z}`
    let number = numbers.get(key)
    if (number === undefined) {
      number = numbers.size
      numbers.set(key, number)
      // even angles rather than even places
      const [u, v, w] = [x, y, z].map((c) => Math.tan(((c / parts) * Math.PI) / 4))
      const l = Math.hypot(u, v, w)
      const [nx, ny, nz] = [u / l, v / l, w / l]
      const r = radius + off(nx, ny, nz)
      positions.push(r * nx, r * ny, r * nz)
    }
    return number
  }
  for (let axis = 0; axis < 3; axis++)
    for (const side of [-1, 1])
      for (let i = -parts; i < parts; i += 2)
        for (let j = -parts; j < parts; j += 2) {
          const at = (a: number, b: number) => {
            const p = [0, 0, 0]
            p[axis] = side * parts
            p[(axis + 1) % 3] = a
            p[(axis + 2) % 3] = b
            return vertex(p[0], p[1], p[2])
          }
          const [a, b, c, d] = [at(i, j), at(i + 2, j), at(i + 2, j + 2), at(i, j + 2)]
          if (side > 0) indices.push(a, b, c, a, c, d)
          else indices.push(a, c, b, a, d, c)
        }
  return plainSolid(positions, indices)
}

/** A bottle 120 mm high: a straight body, a shoulder, a neck. */
export const bottleBody = (sides = 300, rows = 160): Solid =>
  turnedBody(120, (y) => (y < 70 ? 30 : y < 100 ? 30 - 19 * (0.5 - 0.5 * Math.cos((Math.PI * (y - 70)) / 30)) : 11), sides, rows)

/** Bumps as on a stone that was hewn: waves of several lengths, mm high; of unit vectors. */
export function bumps(height: number): (x: number, y: number, z: number) => number {
  return (x, y, z) =>
    height *
    (0.5 * Math.sin(3.1 * x + 1.7 * y) * Math.cos(2.3 * z - 0.4) +
      0.3 * Math.sin(7.3 * y - 2.2 * z + 1) * Math.cos(5.9 * x) +
      0.2 * Math.sin(13.1 * z + 11.7 * x - 3 * y))
}

/** A fixed series of numbers between −1 and 1. */
export function noise(seed: number): () => number {
  let state = seed
  return () => {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0
    return state / 2 ** 31 - 1
  }
}
