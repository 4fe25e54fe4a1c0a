import { snap } from '../outline/lattice'
import { SolidBuilder } from './builder'
import { FACE, NONE, RETURN } from './labels'
import type { Solid } from './solid'

/** One corner of a turned profile: radius and height, mm. `smooth` carries the shading over it. */
export interface TurnedPoint {
  readonly r: number
  readonly y: number
  /** number of the surface group of the piece that ends here */
  readonly group: number
  /** outward normals (radial, upright) of the pieces before and after it; equal where it is smooth */
  readonly before: readonly [number, number]
  readonly after: readonly [number, number]
}

/** How many sides a circle gets so that chords stay within `tolerance` mm; a multiple of four. */
export const sidesFor = (radius: number, tolerance: number): number =>
  4 * Math.max(4, Math.min(128, Math.ceil(Math.PI / Math.acos(Math.max(0.9, 1 - tolerance / Math.max(radius, tolerance))) / 4)))

/**
 * A profile turned about the upright axis x = 0: points from the foot to the top on the outside, as one walks with the solid on
 * the left; the first and the last lie on the axis, or the profile is `closed` and never touches it. Outward triangles.
 */
export function turned(points: readonly TurnedPoint[], closed: boolean, sides: number, lattice: number): Solid {
  const mesh = new SolidBuilder(lattice)
  const at = (p: TurnedPoint, k: number) => {
    const angle = (2 * Math.PI * (k % sides)) / sides
    return mesh.vertex(snap(p.r * Math.cos(angle), lattice), snap(p.y, lattice), snap(p.r * Math.sin(angle), lattice))
  }
  const pieces = closed ? points.length : points.length - 1
  for (let i = 0; i < pieces; i++) {
    const [p, q] = [points[i], points[(i + 1) % points.length]]
    for (let k = 0; k < sides; k++) {
      const corners = [at(p, k), at(q, k), at(q, k + 1), at(p, k + 1)]
      const set = (slot: number, [nr, ny]: readonly [number, number], turn: number, v: number) => {
        const angle = (2 * Math.PI * turn) / sides
        mesh.setNormal(slot, nr * Math.cos(angle), ny, nr * Math.sin(angle))
        mesh.setUv(slot, angle * Math.max(p.r, q.r), v)
      }
      set(0, p.after, k, p.y)
      set(1, q.before, k, q.y)
      set(2, q.before, k + 1, q.y)
      mesh.triangle(corners[0], corners[1], corners[2], q.group, NONE)
      set(0, p.after, k, p.y)
      set(1, q.before, k + 1, q.y)
      set(2, p.after, k + 1, p.y)
      mesh.triangle(corners[0], corners[2], corners[3], q.group, NONE)
    }
  }
  return mesh.finish()
}

/** A bar of straight sides from the foot (radius r0) to the top (radius r1): a cylinder or a cone. */
export function turnedBar(r0: number, r1: number, height: number, sides: number, lattice: number): Solid {
  const slope = Math.hypot(height, r0 - r1)
  const side: [number, number] = [height / slope, (r0 - r1) / slope]
  const down: [number, number] = [0, -1]
  const up: [number, number] = [0, 1]
  const points: TurnedPoint[] = [{ r: 0, y: 0, group: RETURN, before: down, after: down }]
  points.push({ r: r0, y: 0, group: RETURN, before: down, after: side })
  points.push({ r: r1, y: height, group: FACE, before: side, after: r1 > 0 ? up : side })
  if (r1 > 0) points.push({ r: 0, y: height, group: RETURN, before: up, after: up })
  return turned(points, false, sides, lattice)
}

/** A ring: a round bar of radius `bar` bent to a circle of radius `radius` (to the bar's middle), standing on y = 0 as it lies flat. */
export function turnedRing(radius: number, bar: number, sides: number, around: number, lattice: number): Solid {
  const points = Array.from({ length: around }, (_, i): TurnedPoint => {
    const angle = (2 * Math.PI * i) / around
    const n: [number, number] = [Math.cos(angle), Math.sin(angle)]
    return { r: radius + bar * n[0], y: bar + bar * n[1], group: FACE, before: n, after: n }
  })
  return turned(points, true, sides, lattice)
}

/**
 * A box with rounded edges and corners: a sphere of radius `r` pulled apart to the box's size (mm), standing on y = 0 with its middle
 * at x = z = 0. A box that is as large as the sphere is a ball; r = 0 gives sharp edges.
 */
export function roundedBox(w: number, h: number, d: number, r: number, steps: number, lattice: number): Solid {
  const mesh = new SolidBuilder(lattice)
  // where along a quarter turn: each border of a quarter stands twice, once for either side
  const quarters = (count: number) =>
    Array.from({ length: count }, (_, q) =>
      Array.from({ length: r > 0 ? steps + 1 : 1 }, (_, k) => ({ q, angle: (q + (r > 0 ? k / steps : 0.5)) * (Math.PI / 2) })),
    ).flat()
  const columns = quarters(4)
  const rows = quarters(2)
  const place = (row: (typeof rows)[number], column: (typeof columns)[number]) => {
    const lift = row.angle - Math.PI / 2
    const n = [Math.cos(lift) * Math.cos(column.angle), Math.sin(lift), Math.cos(lift) * Math.sin(column.angle)]
    const sx = column.q === 0 || column.q === 3 ? 1 : -1
    const sz = column.q < 2 ? 1 : -1
    const sy = row.q === 1 ? 1 : -1
    const at = [sx * (w / 2 - r) + r * n[0], h / 2 + sy * (h / 2 - r) + r * n[1], sz * (d / 2 - r) + r * n[2]]
    return { n, v: mesh.vertex(snap(at[0], lattice), snap(at[1], lattice), snap(at[2], lattice)), at }
  }
  type Corner = ReturnType<typeof place>
  const quad = (a: Corner, b: Corner, c: Corner, e: Corner, flat?: readonly number[]) => {
    const group = flat ? (flat[2] > 0.5 ? FACE : flat[2] < -0.5 ? 3 : RETURN) : 1
    for (const [p, q, s] of [
      [a, b, c],
      [a, c, e],
    ]) {
      ;[p, q, s].forEach((corner, k) => {
        const n = flat ?? corner.n
        mesh.setNormal(k, n[0], n[1], n[2])
        mesh.setUv(k, Math.abs(n[0]) > 0.7 ? corner.at[2] : corner.at[0], Math.abs(n[1]) > 0.7 ? corner.at[2] : corner.at[1])
      })
      mesh.triangle(p.v, q.v, s.v, group, NONE)
    }
  }
  const sides = [
    [1, 0, 0],
    [0, 0, 1],
    [-1, 0, 0],
    [0, 0, -1],
  ]
  for (let i = 0; i + 1 < rows.length; i++) {
    for (let k = 0; k < columns.length; k++) {
      const next = columns[(k + 1) % columns.length]
      const pulled = rows[i].q !== rows[i + 1].q
      const across = columns[k].q !== next.q
      // between two quarters the sphere is pulled apart: there the box is flat
      const flat = r === 0 ? (across && pulled ? sides[(columns[k].q + 1) % 4] : undefined) : pulled && across ? sides[(columns[k].q + 1) % 4] : undefined
      quad(place(rows[i], columns[k]), place(rows[i + 1], columns[k]), place(rows[i + 1], next), place(rows[i], next), flat)
    }
  }
  const top = [0, 1, 2, 3].map((q) => place(rows[rows.length - 1], columns.find((c) => c.q === q) as (typeof columns)[number]))
  const foot = [0, 1, 2, 3].map((q) => place(rows[0], columns.find((c) => c.q === q) as (typeof columns)[number]))
  quad(top[0], top[3], top[2], top[1], [0, 1, 0])
  quad(foot[0], foot[1], foot[2], foot[3], [0, -1, 0])
  return mesh.finish()
}
