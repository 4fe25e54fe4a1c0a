import type { PolygonSet } from '../outline/polygon'
import { OutlineFrame, SolidBuilder } from './builder'
import { CAP, type EdgeSurface } from './edge-surface'
import { BACK, FACE, NONE, RETURN } from './labels'
import type { Solid } from './solid'

/** A surface over the plane of the outline: a height and a normal for every vertex of a triangulation. */
export interface Graph {
  readonly surface: EdgeSurface
  /** mm, on the lattice */
  readonly z: ArrayLike<number>
  /** unit normals as the front would have them, x, y, z per vertex */
  readonly normals: ArrayLike<number>
  /**
   * At the outline the normal is that of the outline itself, level: the surface meets its wall, or its other side, without a crease.
   * False where it meets them at an angle.
   */
  readonly roundRim: boolean
  /** strips up to this one lie flat, with a crease at their inner border; −1 for none */
  readonly flatStrips: number
}

/**
 * A solid between two graphs over one polygon set: the front not below the back anywhere. Where they are apart at the outline, walls
 * join them. Closed and two-manifold; it crosses itself nowhere where the front lies above the back inside.
 */
export function graphSolid(set: PolygonSet, front: Graph, back: Graph, letterAt?: (x: number, y: number) => number): Solid {
  const mesh = new SolidBuilder(set.lattice)
  const frame = new OutlineFrame(set.rings, letterAt)
  addSide(mesh, frame, front, 1, letterAt)
  addSide(mesh, frame, back, -1, letterAt)
  const { next, x, y, tangents, along, length, letter } = frame
  for (let i = 0; i < next.length; i++) {
    const j = next[i]
    const [a0, b0, a1, b1] = [back.z[i], back.z[j], front.z[i], front.z[j]]
    if (a1 <= a0 && b1 <= b0) continue
    const a = mesh.vertex(x[i], y[i], a0)
    const b = mesh.vertex(x[j], y[j], b0)
    const c = mesh.inColumn(b, x[j], y[j], b1)
    const d = mesh.inColumn(a, x[i], y[i], a1)
    const [nx0, ny0, nx1, ny1] = [tangents[4 * i + 3], -tangents[4 * i + 2], tangents[4 * j + 1], -tangents[4 * j]]
    const [u0, u1] = [along[i], along[i] + length[i]]
    mesh.setNormal(0, nx0, ny0, 0)
    mesh.setNormal(1, nx1, ny1, 0)
    mesh.setNormal(2, nx1, ny1, 0)
    mesh.setUv(0, u0, a0)
    mesh.setUv(1, u1, b0)
    mesh.setUv(2, u1, b1)
    mesh.triangle(a, b, c, RETURN, letter[i])
    mesh.setNormal(2, nx0, ny0, 0)
    mesh.setUv(1, u1, b1)
    mesh.setUv(2, u0, a1)
    mesh.triangle(a, c, d, RETURN, letter[i])
  }
  return mesh.finish()
}

function addSide(mesh: SolidBuilder, frame: OutlineFrame, graph: Graph, up: 1 | -1, letterAt?: (x: number, y: number) => number): void {
  const { surface, z, normals, roundRim, flatStrips } = graph
  const { x, y, triangles, strip, edge, frames } = surface
  const points = frame.next.length
  const column = new Int32Array(x.length).fill(-1)
  const corner = [0, 0, 0]
  for (let i = 0; i < triangles.length; i += 3) {
    const k = strip[i / 3]
    const e = edge[i / 3]
    const [a, b, c] = [triangles[i], triangles[i + 1], triangles[i + 2]]
    const letter = e >= 0 ? frame.letter[frames.point[e]] : letterAt ? letterAt((x[a] + x[b] + x[c]) / 3, (y[a] + y[b] + y[c]) / 3) : NONE
    const flat = k !== CAP && k <= flatStrips
    for (let j = 0; j < 3; j++) {
      const v = triangles[i + j]
      if (column[v] < 0) column[v] = mesh.vertex(x[v], y[v], z[v])
      corner[j] = column[v]
      if (flat) mesh.setNormal(j, 0, 0, up)
      else if (roundRim && v < points && e >= 0) {
        // the outline's own direction there, arriving or leaving
        const at = frames.point[e] === v ? 4 * v + 2 : 4 * v
        mesh.setNormal(j, frame.tangents[at + 1], -frame.tangents[at], 0)
      } else mesh.setNormal(j, normals[3 * v], normals[3 * v + 1], up * normals[3 * v + 2])
      mesh.setUv(j, x[v], y[v])
    }
    mesh.triangle(corner[0], corner[1], corner[2], up === 1 ? FACE : BACK, letter, up)
  }
}

/** A level surface at one height over a polygon set cut into triangles. */
export function flatGraph(surface: EdgeSurface, z: number): Graph {
  const normals = new Float64Array(3 * surface.x.length)
  for (let i = 2; i < normals.length; i += 3) normals[i] = 1
  return { surface, z: new Float64Array(surface.x.length).fill(z), normals, roundRim: false, flatStrips: -1 }
}

/** Unit normals of a graph: those of its triangles, weighted by area. */
export function graphNormals({ x, y, triangles }: Pick<EdgeSurface, 'x' | 'y' | 'triangles'>, z: ArrayLike<number>): Float64Array {
  const normals = new Float64Array(3 * x.length)
  for (let i = 0; i < triangles.length; i += 3) {
    const [a, b, c] = [triangles[i], triangles[i + 1], triangles[i + 2]]
    const [abx, aby, abz] = [x[b] - x[a], y[b] - y[a], z[b] - z[a]]
    const [acx, acy, acz] = [x[c] - x[a], y[c] - y[a], z[c] - z[a]]
    const n = [aby * acz - abz * acy, abz * acx - abx * acz, abx * acy - aby * acx]
    for (const v of [a, b, c]) for (let k = 0; k < 3; k++) normals[3 * v + k] += n[k]
  }
  for (let i = 0; i < normals.length; i += 3) {
    const l = Math.hypot(normals[i], normals[i + 1], normals[i + 2])
    if (l > 0) for (let k = 0; k < 3; k++) normals[i + k] /= l
    else normals[i + 2] = 1
  }
  return normals
}
