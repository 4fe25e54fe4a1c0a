import { manifold, type Own, withScope } from '../kernel/manifold'
import { snap } from '../outline/lattice'
import { SolidBuilder } from './builder'
import { constrainedTriangles } from './delaunay'
import { earClip } from './ear-clip'
import { FACE, NO_LETTER, type Solid } from './solid'

/** A closed section: corners sideways (x) and up (y), counter-clockwise, x, y pairs; unit size. `smooth` shades over its corners. */
export interface Section {
  readonly xy: readonly number[]
  readonly smooth: boolean
  /** hollow ones cannot be united where they cross: a hull would fill them */
  readonly hollow?: boolean
}

/** One stop along a sweep: where the middle lies, which way it looks, and how the section stands there. */
export interface Station {
  readonly x: number
  readonly y: number
  readonly z: number
  /** unit direction of the cross line in the plane, to the left of travel */
  readonly nx: number
  readonly ny: number
  /** stretch of the cross line at a mitred corner */
  readonly mitre: number
  /** section width and height, mm, and its turn, radians */
  readonly width: number
  readonly height: number
  readonly turn: number
  /** sideways shift, mm, to the left */
  readonly shift: number
}

/** A lattice so fine that nothing is rounded. */
const EXACT = 2 ** -40

/** Longest stretch of a mitre. */
export const MITRE_LIMIT = 2.5

/** The corners of the section at a station, x, y, z triples on the lattice. */
export function ringAt(section: Section, s: Station, lattice: number): number[] {
  const [c, k] = [Math.cos(s.turn), Math.sin(s.turn)]
  const out: number[] = []
  for (let i = 0; i < section.xy.length; i += 2) {
    const u = section.xy[i] * s.width
    const v = section.xy[i + 1] * s.height
    const side = (u * c - v * k + s.shift) * s.mitre
    out.push(snap(s.x + s.nx * side, lattice), snap(s.y + s.ny * side, lattice), snap(s.z + u * k + v * c, lattice))
  }
  return out
}

/** Triangles that close a ring of the section's shape: corner numbers, counter-clockwise in the section's own plane. */
function capTriangles(section: Section): number[] {
  const n = section.xy.length / 2
  const ids = Array.from({ length: n }, (_, i) => i)
  const x = ids.map((i) => section.xy[2 * i])
  const y = ids.map((i) => section.xy[2 * i + 1])
  const found = constrainedTriangles([ids], ids, x, y)
  if (found) return found
  const clipped: number[] = []
  earClip(ids, x, y, clipped)
  return clipped
}

/**
 * The skin between stations, as one mesh: closed at its ends, or from the last station on to the first. It crosses itself where the
 * line bends more tightly than the section is wide, or crosses itself; the caller checks.
 */
export function sweepSkin(section: Section, stations: readonly Station[], closed: boolean, lattice: number, letter = NO_LETTER): Solid {
  const mesh = new SolidBuilder(lattice)
  const m = section.xy.length / 2
  const rings = stations.map((s) => ringAt(section, s, lattice))
  const ids = rings.map((ring) => Array.from({ length: m }, (_, k) => mesh.vertex(ring[3 * k], ring[3 * k + 1], ring[3 * k + 2])))
  const around = perimeter(section)
  let along = 0
  const spans = closed ? stations.length : stations.length - 1
  for (let i = 0; i < spans; i++) {
    const j = (i + 1) % stations.length
    const length = Math.hypot(stations[j].x - stations[i].x, stations[j].y - stations[i].y, stations[j].z - stations[i].z)
    for (let k = 0; k < m; k++) {
      const l = (k + 1) % m
      const corner = (ring: number, at: number, slot: number, side: number) => {
        const n = skinNormal(section, stations[ring], at, side)
        mesh.setNormal(slot, n[0], n[1], n[2])
        mesh.setUv(slot, ring === i ? along : along + length, (around[at] + (at === 0 && side === m - 1 ? around[m] : 0)) * stations[ring].width)
      }
      corner(i, k, 0, k)
      corner(j, k, 1, k)
      corner(j, l, 2, k)
      mesh.triangle(ids[i][k], ids[j][k], ids[j][l], FACE, letter, -1)
      corner(i, k, 0, k)
      corner(j, l, 1, k)
      corner(i, l, 2, k)
      mesh.triangle(ids[i][k], ids[j][l], ids[i][l], FACE, letter, -1)
    }
    along += length
  }
  if (!closed) {
    const caps = capTriangles(section)
    for (const [end, up] of [
      [0, 1],
      [stations.length - 1, -1],
    ] as const) {
      const s = stations[end]
      for (let t = 0; t < caps.length; t += 3) {
        for (let k = 0; k < 3; k++) {
          mesh.setNormal(k, -up * s.ny, up * s.nx, 0)
          mesh.setUv(k, section.xy[2 * caps[t + k]] * s.width, section.xy[2 * caps[t + k] + 1] * s.height)
        }
        const [a, b, c] = [ids[end][caps[t]], ids[end][caps[t + 1]], ids[end][caps[t + 2]]]
        mesh.triangle(a, b, c, FACE, letter, up === 1 ? -1 : 1)
      }
    }
  }
  return mesh.finish()
}

/** Shares of the section's outline up to each corner, and its whole length last; unit size. */
function perimeter({ xy }: Section): number[] {
  const out = [0]
  for (let i = 0; i < xy.length; i += 2) {
    const j = (i + 2) % xy.length
    out.push(out[out.length - 1] + Math.hypot(xy[j] - xy[i], xy[j + 1] - xy[i + 1]))
  }
  return out
}

/** The way a corner of the section looks, for the side of the section that starts at corner `side`. */
function skinNormal({ xy, smooth }: Section, s: Station, at: number, side: number): [number, number, number] {
  const m = xy.length / 2
  const sideNormal = (k: number): [number, number] => {
    const l = (k + 1) % m
    // outward of a counter-clockwise side, in the section's stretched plane
    const [u, v] = [(xy[2 * l + 1] - xy[2 * k + 1]) * s.height, -(xy[2 * l] - xy[2 * k]) * s.width]
    const size = Math.hypot(u, v) || 1
    return [u / size, v / size]
  }
  let [u, v] = sideNormal(side)
  if (smooth) {
    const [a, b] = [sideNormal((at + m - 1) % m), sideNormal(at)]
    const size = Math.hypot(a[0] + b[0], a[1] + b[1]) || 1
    ;[u, v] = [(a[0] + b[0]) / size, (a[1] + b[1]) / size]
  }
  const [c, k] = [Math.cos(s.turn), Math.sin(s.turn)]
  const sideways = u * c - v * k
  return [s.nx * sideways, s.ny * sideways, u * k + v * c]
}

/**
 * How unions are tried, one after another: how far stretches reach into each other, by what share they are made to differ, and how near
 * vertices are made one, mm. Rounding to the lattice spoils some unions of stretches whose sides lie in one plane.
 */
export const UNITING: readonly { readonly reach: number; readonly apart: number; readonly merge: number }[] = [
  { reach: 0, apart: 0, merge: 0 },
  { reach: 0, apart: 0, merge: 0.004 },
  { reach: 0.02, apart: 0, merge: 0.002 },
  { reach: 0.02, apart: 3e-4, merge: 0.004 },
  { reach: 0.05, apart: 1.5e-3, merge: 0.01 },
]

/**
 * The union of all stretches of sweeps, for lines that cross themselves or bend too tightly: each stretch a solid of its own, or,
 * where its ends overlap, their hull. The result's corners are rounded to the lattice; the caller checks it.
 * Needs the manifold kernel loaded; what it takes is freed.
 */
export function unitedSweeps(
  runs: readonly { section: Section; stations: readonly Station[]; closed: boolean }[],
  lattice: number,
  { reach, apart, merge }: (typeof UNITING)[number] = UNITING[0],
): Solid {
  const { Manifold } = manifold()
  return withScope((own: Own) => {
    const parts = runs.flatMap(({ section, stations, closed }) => {
      const spans = closed ? stations.length : stations.length - 1
      return Array.from({ length: spans }, (_, i) => {
        const [a, b] = [stations[i], stations[(i + 1) % stations.length]]
        // stretches of one height lie in one plane, which leaves slivers: each is made a hair larger than the last
        const hair = 1 + apart * ((i * 7) % 11)
        const l = Math.hypot(b.x - a.x, b.y - a.y) || 1
        const [ex, ey] = [(reach * (b.x - a.x)) / l, (reach * (b.y - a.y)) / l]
        const sized = (s: Station, way: 1 | -1): Station => ({ ...s, x: s.x + way * ex, y: s.y + way * ey, width: s.width * hair, height: s.height * hair })
        // not rounded yet: the ends must stay flat, or slivers of nothing are left between neighbours
        const points = [...ringAt(section, sized(a, -1), EXACT), ...ringAt(section, sized(b, 1), EXACT)]
        const triples: [number, number, number][] = []
        for (let k = 0; k < points.length; k += 3) triples.push([points[k], points[k + 1], points[k + 2]])
        return own(Manifold.hull(triples))
      })
    })
    const whole = own(own(Manifold.union(parts)).simplify(Math.max(merge, lattice * 4)))
    const { vertProperties, triVerts, numProp } = whole.getMesh()
    const mesh = new SolidBuilder(lattice)
    const at = (v: number) => [0, 1, 2].map((k) => snap(vertProperties[v * numProp + k], lattice)) as [number, number, number]
    const normals = creasedNormals(vertProperties, numProp, triVerts)
    for (let t = 0; t < triVerts.length; t += 3) {
      const ids = [0, 1, 2].map((k) => {
        const [x, y, z] = at(triVerts[t + k])
        mesh.setNormal(k, normals[3 * (t + k)], normals[3 * (t + k) + 1], normals[3 * (t + k) + 2])
        mesh.setUv(k, x, y)
        return mesh.vertex(x, y, z)
      })
      mesh.triangle(ids[0], ids[1], ids[2], FACE, NO_LETTER)
    }
    return mesh.finish()
  })
}

/** Faces that meet at less than this are shaded as one surface, degrees. */
const CREASE = 35

/** Normals for meshes whose surface is not known otherwise: those of the faces about each corner that turn little, by their angle. */
function creasedNormals(properties: ArrayLike<number>, stride: number, triangles: ArrayLike<number>): Float64Array {
  const count = triangles.length / 3
  const flat = new Float64Array(3 * count)
  const angle = new Float64Array(3 * count)
  const about = new Map<number, number[]>()
  for (let t = 0; t < count; t++) {
    const p = [0, 1, 2].map((k) => [0, 1, 2].map((i) => properties[triangles[3 * t + k] * stride + i]))
    const e = [0, 1, 2].map((k) => [0, 1, 2].map((i) => p[(k + 1) % 3][i] - p[k][i]))
    const n = [e[0][1] * e[1][2] - e[0][2] * e[1][1], e[0][2] * e[1][0] - e[0][0] * e[1][2], e[0][0] * e[1][1] - e[0][1] * e[1][0]]
    const size = Math.hypot(...n) || 1
    for (let k = 0; k < 3; k++) {
      flat[3 * t + k] = n[k] / size
      const [a, b] = [e[k], e[(k + 2) % 3]]
      angle[3 * t + k] = Math.acos(Math.max(-1, Math.min(1, -(a[0] * b[0] + a[1] * b[1] + a[2] * b[2]) / (Math.hypot(...a) * Math.hypot(...b) || 1))))
      const list = about.get(triangles[3 * t + k])
      if (list) list.push(t)
      else about.set(triangles[3 * t + k], [t])
    }
  }
  const out = new Float64Array(9 * count)
  const limit = Math.cos((CREASE * Math.PI) / 180)
  for (let t = 0; t < count; t++)
    for (let k = 0; k < 3; k++) {
      const v = triangles[3 * t + k]
      let [x, y, z] = [0, 0, 0]
      for (const u of about.get(v) ?? []) {
        if (flat[3 * u] * flat[3 * t] + flat[3 * u + 1] * flat[3 * t + 1] + flat[3 * u + 2] * flat[3 * t + 2] < limit) continue
        const w = angle[3 * u + [0, 1, 2].findIndex((i) => triangles[3 * u + i] === v)]
        x += w * flat[3 * u]
        y += w * flat[3 * u + 1]
        z += w * flat[3 * u + 2]
      }
      const size = Math.hypot(x, y, z) || 1
      out.set([x / size, y / size, z / size], 9 * t + 3 * k)
    }
  return out
}
