import { snap } from '../outline/lattice'
import { SolidBuilder } from './builder'
import { constrainedTriangles } from './delaunay'
import { earClip } from './ear-clip'
import { FACE, NONE } from './labels'
import type { Solid } from './solid'

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
export function sweepSkin(section: Section, stations: readonly Station[], closed: boolean, lattice: number, letter = NONE): Solid {
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
