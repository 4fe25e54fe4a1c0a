import { ArcLength, firstReaching, type Place } from './arc-length'
import type { Frames } from './line-frames'
import type { Path } from './path'
import { NODES, WEIGHTS } from './quadrature'
import { type CurvePoint, curveThrough } from './through-points'

type Vector = readonly [number, number, number]

/** A place on a line in space, mm, with unit vectors along the line, to its left and up from it. */
export interface SpacePlace {
  readonly at: Vector
  readonly along: Vector
  readonly left: Vector
  readonly up: Vector
}

/** Cells the whole of a line is measured in. */
const CELLS = 512

/**
 * A line in space: a path in the plane that rises off it by a curve, measured along its own length. It is never upright, so that left in the plane
 * below (*level*) is known everywhere. Frames of least twist (rotation minimizing; Bishop, "There is more than one way to frame a curve", 1975) turn
 * against that by −∫ sin α dφ, α being the slope and φ the heading: begun level at the line's start, and where a closed line comes back to its
 * height, with what is left over spread along it, so that they close.
 *
 * A closed line that does not come back to its height goes on round and round, as a spiral does; an open one goes on straight beyond its ends.
 */
export class SpaceLine {
  /** mm along the line, once round where it is closed */
  readonly length: number
  readonly closed: boolean
  /** how much higher it ends than it began, mm */
  readonly climb: number
  private readonly flat: ArcLength
  private readonly rise: ReturnType<typeof curveThrough>
  /** mm on the plane and along the line, and the turn against level, radians, at the cells' ends, from 0 on */
  private readonly ground: number[] = [0]
  private readonly ends: number[] = [0]
  private readonly turns: number[] = [0]

  /** `rise` gives mm off the plane by the share of the path, 0 to 1. */
  constructor(
    path: Path,
    rise: readonly CurvePoint[],
    private readonly frames: Frames,
  ) {
    this.flat = new ArcLength(path)
    this.rise = curveThrough(rise, 0, path.closed)
    this.climb = this.rise.value(1) - this.rise.value(0)
    const whole = this.flat.length
    // cells end where the curve's pieces do, so that each is smooth
    const marks = [...new Set([0, ...rise.map(([t]) => t), 1])].sort((a, b) => a - b)
    for (let i = 0; i + 1 < marks.length; i++) {
      const count = Math.max(1, Math.ceil((marks[i + 1] - marks[i]) * CELLS))
      for (let k = 1; k <= count; k++) this.addCell(whole * (k === count ? marks[i + 1] : marks[i] + ((marks[i + 1] - marks[i]) * k) / count))
    }
    this.length = this.ends[this.ends.length - 1]
    this.closed = path.closed && Math.abs(this.climb) < 1e-9
  }

  private addCell(to: number): void {
    const from = this.ground[this.ground.length - 1]
    const middle = (from + to) / 2
    // just inside of the cell, since headings may differ on both sides of where two segments meet
    const inside = (to - from) * 1e-6
    const [a, b, c] = [from + inside, middle, to - inside].map((s) => ({ place: this.flat.at(s), sine: this.sine(s) }))
    const before = this.ground.length > 1 ? this.flat.at(from - inside) : a.place
    let turn = this.turns[this.turns.length - 1] - a.sine * headingBetween(before, a.place)
    turn -= ((a.sine + b.sine) / 2) * headingBetween(a.place, b.place) + ((b.sine + c.sine) / 2) * headingBetween(b.place, c.place)
    this.turns.push(turn)
    this.ends.push(this.ends[this.ends.length - 1] + this.lengthBetween(from, to))
    this.ground.push(to)
  }

  private slope(s: number): number {
    const whole = this.flat.length
    return whole > 0 ? this.rise.slope(Math.min(1, Math.max(0, s / whole))) / whole : 0
  }

  private sine(s: number): number {
    const slope = this.slope(s)
    return slope / Math.sqrt(1 + slope * slope)
  }

  private lengthBetween(from: number, to: number): number {
    let sum = 0
    for (let i = 0; i < NODES.length; i++) {
      const slope = this.slope(from + (to - from) * NODES[i])
      sum += WEIGHTS[i] * Math.sqrt(1 + slope * slope)
    }
    return sum * (to - from)
  }

  /** The place `s` mm along the line from its start. */
  at(s: number): SpacePlace {
    const { length, ground, ends, turns } = this
    const round = this.flat.closed && length > 0
    const rounds = round ? Math.floor(s / length) : 0
    const rest = s - rounds * length
    const along = Math.min(length, Math.max(0, rest))
    const lo = firstReaching(ends, along, 1)
    const [g0, g1, e0, e1] = [ground[lo - 1], ground[lo], ends[lo - 1], ends[lo]]
    let g = e1 > e0 ? g0 + ((along - e0) / (e1 - e0)) * (g1 - g0) : g0
    // Newton's method; within a cell the length is all but straight in what lies below
    for (let i = 0; i < 8; i++) {
      const error = this.lengthBetween(g0, g) - (along - e0)
      if (Math.abs(error) < 1e-10) break
      const slope = this.slope(g)
      g = Math.min(g1, Math.max(g0, g - error / Math.sqrt(1 + slope * slope)))
    }
    const place = this.flat.at(this.flat.closed ? Math.min(g, this.flat.length * (1 - 1e-15)) : g)
    const slope = this.slope(g)
    const cosine = 1 / Math.sqrt(1 + slope * slope)
    const sine = slope * cosine
    const { tx, ty } = place
    const t: Vector = [cosine * tx, cosine * ty, sine]
    const beyond = rest - along
    const share = this.flat.length > 0 ? g / this.flat.length : 0
    const at: Vector = [place.x + beyond * t[0], place.y + beyond * t[1], this.rise.value(share) + rounds * this.climb + beyond * t[2]]
    const level: Vector = [-ty, tx, 0]
    const up: Vector = [-sine * tx, -sine * ty, cosine]
    if (this.frames === 'level') return { at, along: t, left: level, up }
    const total = turns[turns.length - 1]
    const part = g1 > g0 ? (g - g0) / (g1 - g0) : 0
    let turn = turns[lo - 1] + part * (turns[lo] - turns[lo - 1])
    turn += this.closed ? (-total * along) / length : rounds * total
    const [c, d] = [Math.cos(turn), Math.sin(turn)]
    return {
      at,
      along: t,
      left: [c * level[0] + d * up[0], c * level[1] + d * up[1], c * level[2] + d * up[2]],
      up: [c * up[0] - d * level[0], c * up[1] - d * level[1], c * up[2] - d * level[2]],
    }
  }
}

/** The turn from one direction of travel to another, radians to the left. */
const headingBetween = (a: Place, b: Place): number => Math.atan2(a.tx * b.ty - a.ty * b.tx, a.tx * b.tx + a.ty * b.ty)
