import { side } from '../check/triangles'

/** What rounding can do to an orientation, as a share of the sum of its terms (Shewchuk's bound A for three dimensions). */
const ROUNDING = (7 + 56 * 2 ** -53) * 2 ** -53

/**
 * The convex hull of points (x, y, z each) as triangles of their numbers, outwards: no point lies in front of any of them, by exact signs. Points come in one after
 * the other; the triangles that each is in front of give way to a fan about it (Clarkson & Shor, "Applications of random sampling in computational geometry, II", 1989, without
 * its bookkeeping, which does not pay for some hundred points). The first of them is found by walking to where the way from the hull's inside to the point comes out, the others lie
 * about it; all are asked only where that one does not see the point. Those within, or in the plane of one triangle and in front of none, are no corners. Undefined where all points lie
 * in a plane, or where three in a line would be a triangle.
 */
export function convexHull(p: Float64Array): Int32Array | undefined {
  const count = p.length / 3
  const four = firstFour(p)
  if (!four) return undefined
  // a hull of n corners has 2n − 4 triangles
  const room = Math.max(4, 2 * count)
  const { corners, beyond, planes, live, asked, about, border, beside, from, free } = workingRoom(room, count)
  const [a, b, c, d] = four
  // within all that comes
  const [mx, my, mz] = [0, 1, 2].map((k) => (p[3 * a + k] + p[3 * b + k] + p[3 * c + k] + p[3 * d + k]) / 4)
  let wide = 0
  for (let v = 0; v < count; v++) wide = Math.max(wide, Math.abs(p[3 * v] - mx), Math.abs(p[3 * v + 1] - my), Math.abs(p[3 * v + 2] - mz))
  // no two points are farther apart than twice that, so that each of the six terms of an orientation is at most eight times its cube
  const doubt = 48 * ROUNDING * wide ** 3
  let spare = room
  for (let f = 0; f < room; f++) free[f] = room - 1 - f
  let faces = 0

  /** Whether it is a triangle at all. */
  const put = (f: number, a: number, b: number, c: number): boolean => {
    corners[3 * f] = a
    corners[3 * f + 1] = b
    corners[3 * f + 2] = c
    live[f] = 1
    faces++
    const ux = p[3 * b] - p[3 * a]
    const uy = p[3 * b + 1] - p[3 * a + 1]
    const uz = p[3 * b + 2] - p[3 * a + 2]
    const vx = p[3 * c] - p[3 * a]
    const vy = p[3 * c + 1] - p[3 * a + 1]
    const vz = p[3 * c + 2] - p[3 * a + 2]
    const o = 3 * f
    planes[o] = uy * vz - uz * vy
    planes[o + 1] = uz * vx - ux * vz
    planes[o + 2] = ux * vy - uy * vx
    return planes[o] !== 0 || planes[o + 1] !== 0 || planes[o + 2] !== 0
  }
  const sees = (v: number, f: number): boolean => {
    const a = 3 * corners[3 * f]
    const o = 3 * f
    const far = planes[o] * (p[3 * v] - p[a]) + planes[o + 1] * (p[3 * v + 1] - p[a + 1]) + planes[o + 2] * (p[3 * v + 2] - p[a + 2])
    if (far > doubt || far < -doubt) return far > 0
    return side(p, [corners[3 * f], corners[3 * f + 1], corners[3 * f + 2]], v) < 0
  }

  const [f0, f1, f2, f3] = [free[--spare], free[--spare], free[--spare], free[--spare]]
  put(f0, a, b, c)
  put(f1, a, d, b)
  put(f2, b, d, c)
  put(f3, c, d, a)
  beyond.set([f1, f2, f3], 3 * f0)
  beyond.set([f3, f2, f0], 3 * f1)
  beyond.set([f1, f3, f0], 3 * f2)
  beyond.set([f2, f1, f0], 3 * f3)
  /** More than rounding can do to a turn, whose terms are products of three. */
  const unsure = 1e-12 * wide ** 3
  /** How the side from u to w turns about the way from the middle to v: below nought where that comes out beyond it. */
  const turns = (u: number, w: number, v: number): number => {
    const ux = p[3 * u] - mx
    const uy = p[3 * u + 1] - my
    const uz = p[3 * u + 2] - mz
    const wx = p[3 * w] - mx
    const wy = p[3 * w + 1] - my
    const wz = p[3 * w + 2] - mz
    return (uy * wz - uz * wy) * (p[3 * v] - mx) + (uz * wx - ux * wz) * (p[3 * v + 1] - my) + (ux * wy - uy * wx) * (p[3 * v + 2] - mz)
  }
  /** Whether the way to a point comes out of a triangle surely, and not beside it. */
  const through = (v: number, f: number): boolean => {
    const [x, y, z] = [corners[3 * f], corners[3 * f + 1], corners[3 * f + 2]]
    return turns(x, y, v) > unsure && turns(y, z, v) > unsure && turns(z, x, v) > unsure
  }
  /** About where the way from the middle to a point comes out, from a triangle on. */
  const walk = (v: number, start: number): number => {
    let f = start
    for (let left = faces; left > 0; left--) {
      const [x, y, z] = [corners[3 * f], corners[3 * f + 1], corners[3 * f + 2]]
      if (turns(x, y, v) < 0) f = beyond[3 * f]
      else if (turns(y, z, v) < 0) f = beyond[3 * f + 1]
      else if (turns(z, x, v) < 0) f = beyond[3 * f + 2]
      else break
    }
    return f
  }
  let last = f0
  for (let v = 0; v < count; v++) {
    if (v === a || v === b || v === c || v === d) continue
    let first = walk(v, last)
    if (!sees(v, first)) {
      // the way comes out behind the point: it lies within. Rounded, it may come out beside the one that sees the point
      if (through(v, first)) continue
      first = 0
      while (first < room && !(live[first] && sees(v, first))) first++
      if (first === room) continue
    }
    let [known, gone] = [1, 0]
    about[0] = first
    asked[first] = 1
    // from a corner to the next, and what lies across
    let sides = 0
    let unseen = 0
    while (gone < known) {
      const f = about[gone++]
      for (let k = 0; k < 3; k++) {
        const across = beyond[3 * f + k]
        if (asked[across] === 0) {
          asked[across] = sees(v, across) ? 1 : 2
          if (asked[across] === 1) about[known++] = across
          else beside[unseen++] = across
        }
        if (asked[across] === 2) {
          border[sides++] = corners[3 * f + k]
          border[sides++] = corners[3 * f + (k === 2 ? 0 : k + 1)]
          border[sides++] = across
        }
      }
    }
    for (let i = 0; i < unseen; i++) asked[beside[i]] = 0
    for (let i = 0; i < gone; i++) {
      const f = about[i]
      asked[f] = 0
      live[f] = 0
      free[spare++] = f
    }
    faces -= gone
    for (let i = 0; i < sides; i += 3) {
      const u = border[i]
      const w = border[i + 1]
      const across = border[i + 2]
      const f = free[--spare]
      // a border that comes by a corner twice is none
      if (from[u] >= 0 || !put(f, u, w, v)) return undefined
      from[u] = f
      beyond[3 * f] = across
      for (let k = 0; k < 3; k++) if (corners[3 * across + k] === w && corners[3 * across + (k === 2 ? 0 : k + 1)] === u) beyond[3 * across + k] = f
      last = f
    }
    for (let i = 0; i < sides; i += 3) {
      const [f, after] = [from[border[i]], from[border[i + 1]]]
      if (after < 0) return undefined
      beyond[3 * f + 1] = after
      beyond[3 * after + 2] = f
    }
    for (let i = 0; i < sides; i += 3) from[border[i]] = -1
  }
  const out = new Int32Array(3 * faces)
  let at = 0
  for (let f = 0; f < room; f++) if (live[f]) for (let k = 3 * f; k < 3 * f + 3; k++) out[at++] = corners[k]
  return out
}

/** What a hull is made in, kept for the next: hulls are made by the thousand. */
interface Room {
  readonly corners: Int32Array
  /** the triangle across each side, from a corner to the next */
  readonly beyond: Int32Array
  /** the normal of each */
  readonly planes: Float64Array
  readonly live: Uint8Array
  /** of the point that is looked at: 1 seen, 2 not */
  readonly asked: Uint8Array
  /** triangles that are seen, and those beside them that are not */
  readonly about: Int32Array
  readonly beside: Int32Array
  readonly border: Int32Array
  /** the new triangle whose side on the border of what is seen begins at a corner */
  readonly from: Int32Array
  readonly free: Int32Array
}

let kept: Room | undefined
/** So many points and no more are kept room for. */
const KEPT = 4096

function workingRoom(room: number, points: number): Room {
  if (kept && kept.live.length >= room) {
    kept.live.fill(0, 0, room)
    kept.asked.fill(0, 0, room)
    kept.from.fill(-1, 0, points)
    return kept
  }
  const made: Room = {
    corners: new Int32Array(3 * room),
    beyond: new Int32Array(3 * room),
    planes: new Float64Array(3 * room),
    live: new Uint8Array(room),
    asked: new Uint8Array(room),
    about: new Int32Array(room),
    beside: new Int32Array(room),
    border: new Int32Array(9 * room),
    from: new Int32Array(room).fill(-1),
    free: new Int32Array(room),
  }
  if (room <= 2 * KEPT) kept = made
  return made
}

/** Four points far from each other that are in no plane, the last behind the first three; undefined where all are in one. */
function firstFour(p: Float64Array): readonly [number, number, number, number] | undefined {
  const count = p.length / 3
  const a = 0
  let [b, c, d] = [0, 0, 0]
  // each the one farthest from what there is
  for (let v = 0, most = -1; v < count; v++) {
    const size = (p[3 * v] - p[0]) ** 2 + (p[3 * v + 1] - p[1]) ** 2 + (p[3 * v + 2] - p[2]) ** 2
    if (size > most) [b, most] = [v, size]
  }
  const [x, y, z] = [p[3 * b] - p[0], p[3 * b + 1] - p[1], p[3 * b + 2] - p[2]]
  let [nx, ny, nz] = [0, 0, 0]
  for (let v = 0, most = -1; v < count; v++) {
    const [u, w, t] = [p[3 * v] - p[0], p[3 * v + 1] - p[1], p[3 * v + 2] - p[2]]
    const [i, j, k] = [y * t - z * w, z * u - x * t, x * w - y * u]
    const size = i * i + j * j + k * k
    if (size > most) [c, most, nx, ny, nz] = [v, size, i, j, k]
  }
  for (let v = 0, most = -1; v < count; v++) {
    const size = Math.abs(nx * (p[3 * v] - p[0]) + ny * (p[3 * v + 1] - p[1]) + nz * (p[3 * v + 2] - p[2]))
    if (size > most) [d, most] = [v, size]
  }
  const behind = count > 3 ? side(p, [a, b, c], d) : 0
  return behind === 0 ? undefined : behind > 0 ? [a, b, c, d] : [a, c, b, d]
}
