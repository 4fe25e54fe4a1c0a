import FlatQueue from 'flatqueue'
import { type Flat, flatAxes, layFlat, type Line } from './geodesic'
import { neighboursOf, nextOf, previousOf, type Surface } from './surface'

/**
 * Gives the vertices near a line places in the plane: u along the line, v across it to its left, mm; two numbers a vertex, NaN beyond `reach`
 * of it. From the line outwards, every vertex from those beside it that have theirs, each by its own frame (stroke parametrization: Schmidt,
 * "Stroke parameterization", 2013; upwind averages: Schmidt, Grimm & Wyvill, "Interactive decal compositing with discrete exponential maps",
 * 2006). `normals`: unit vectors of the vertices.
 */
export function strokeMap(surface: Surface, normals: Float64Array, line: Line, reach: number): Float64Array {
  const { positions: p, indices } = surface
  const n = p.length / 3
  const uv = new Float64Array(2 * n).fill(NaN)
  const far = new Float64Array(n).fill(Infinity)
  const frame = new Float64Array(3 * n)
  const seeded = new Uint8Array(n)
  const done = new Uint8Array(n)
  const queue = new FlatQueue<number>()
  const flat: Flat = { length: 0, x: 0, y: 0 }
  for (const { h, x, y, dx, dy, u0, u1 } of line.stretches) {
    const { length, x: cx, y: cy } = layFlat(surface, h, flat)
    const [ex, ey] = flatAxes(surface, h)
    const corners = [
      [h, 0, 0],
      [nextOf(h), length, 0],
      [previousOf(h), cx, cy],
    ]
    for (const [corner, px, py] of corners) {
      const v = indices[corner]
      const [rx, ry] = [px - x, py - y]
      const along = dx * rx + dy * ry
      const beside = dx * ry - dy * rx
      // what lies before or behind the stretch is better told by the next one
      const off = Math.hypot(beside, Math.max(0, -along, along - (u1 - u0)))
      if (off >= far[v]) continue
      far[v] = off
      seeded[v] = 1
      uv[2 * v] = u0 + along
      uv[2 * v + 1] = beside
      tangent(frame, v, dx * ex[0] + dy * ey[0], dx * ex[1] + dy * ey[1], dx * ex[2] + dy * ey[2], normals)
    }
  }
  for (let v = 0; v < n; v++) if (seeded[v]) queue.push(v, far[v])
  const { start, list } = neighboursOf(surface)
  while (queue.length > 0) {
    const q = queue.pop() as number
    if (done[q]) continue
    if (!seeded[q]) spread(surface, normals, uv, frame, done, q, start, list)
    done[q] = 1
    for (let i = start[q]; i < start[q + 1]; i++) {
      const r = list[i]
      if (done[r] || seeded[r]) continue
      const d = far[q] + Math.hypot(p[3 * r] - p[3 * q], p[3 * r + 1] - p[3 * q + 1], p[3 * r + 2] - p[3 * q + 2])
      if (d >= far[r] || d > reach) continue
      far[r] = d
      queue.push(r, d)
    }
  }
  return uv
}

/** A vertex's place and frame from those beside it that have theirs. */
function spread(
  { positions: p }: Surface,
  normals: Float64Array,
  uv: Float64Array,
  frame: Float64Array,
  done: Uint8Array,
  q: number,
  start: Uint32Array,
  list: Uint32Array,
) {
  let [su, sv, sw, fx, fy, fz] = [0, 0, 0, 0, 0, 0]
  const [qx, qy, qz] = [normals[3 * q], normals[3 * q + 1], normals[3 * q + 2]]
  for (let i = start[q]; i < start[q + 1]; i++) {
    const r = list[i]
    if (!done[r]) continue
    const [nx, ny, nz] = [normals[3 * r], normals[3 * r + 1], normals[3 * r + 2]]
    const [ex, ey, ez] = [frame[3 * r], frame[3 * r + 1], frame[3 * r + 2]]
    let [dx, dy, dz] = [p[3 * q] - p[3 * r], p[3 * q + 1] - p[3 * r + 1], p[3 * q + 2] - p[3 * r + 2]]
    const length = Math.sqrt(dx * dx + dy * dy + dz * dz) || 1e-12
    const up = dx * nx + dy * ny + dz * nz
    dx -= up * nx
    dy -= up * ny
    dz -= up * nz
    const level = Math.sqrt(dx * dx + dy * dy + dz * dz) || 1e-12
    const weight = 1 / length
    const scale = length / level
    su += weight * (uv[2 * r] + scale * (dx * ex + dy * ey + dz * ez))
    sv += weight * (uv[2 * r + 1] + scale * (dx * (ny * ez - nz * ey) + dy * (nz * ex - nx * ez) + dz * (nx * ey - ny * ex)))
    sw += weight
    // the frame turned with the normal, the least way
    const c = nx * qx + ny * qy + nz * qz
    if (c < -0.999999) {
      fx += weight * ex
      fy += weight * ey
      fz += weight * ez
      continue
    }
    const [kx, ky, kz] = [ny * qz - nz * qy, nz * qx - nx * qz, nx * qy - ny * qx]
    const k = (kx * ex + ky * ey + kz * ez) / (1 + c)
    fx += weight * (c * ex + (ky * ez - kz * ey) + k * kx)
    fy += weight * (c * ey + (kz * ex - kx * ez) + k * ky)
    fz += weight * (c * ez + (kx * ey - ky * ex) + k * kz)
  }
  uv[2 * q] = su / sw
  uv[2 * q + 1] = sv / sw
  tangent(frame, q, fx, fy, fz, normals)
}

/** Sets a vertex's frame: a direction without what it has of the normal, one long. */
function tangent(frame: Float64Array, v: number, x: number, y: number, z: number, normals: Float64Array): void {
  const [nx, ny, nz] = [normals[3 * v], normals[3 * v + 1], normals[3 * v + 2]]
  const d = x * nx + y * ny + z * nz
  const l = Math.hypot(x - d * nx, y - d * ny, z - d * nz) || 1
  frame[3 * v] = (x - d * nx) / l
  frame[3 * v + 1] = (y - d * ny) / l
  frame[3 * v + 2] = (z - d * nz) / l
}
