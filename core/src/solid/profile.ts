import { cubicAt, cubicPart } from '../outline/cubic'
import { type Flat, flattenPath } from '../outline/flatten'
import { type Path, PathBuilder, segmentsOf } from '../outline/path'
import { PROFILE_NAMES } from './profile-names'

/**
 * A profile shapes the edge: a curve of inset from the outline (mm, never decreasing) against height (mm) over the wall's
 * rim. It is kept as a Path in (inset, height); a list of points is a Path of lines.
 */
export type Profile = Path

export type ProfileName = (typeof PROFILE_NAMES)[number]

/** Distance of a cubic's handles that draws a quarter circle within 0.03 % (the usual 4/3·(√2 − 1)). */
const QUARTER = 0.5522847498

const unitProfiles: Record<Exclude<ProfileName, 'square'>, () => Path> = {
  chamfer: () => lineProfile([0, 0, 1, 1]),
  round: () => curve(0, 0, [0, QUARTER, 1 - QUARTER, 1, 1, 1]),
  cove: () => curve(0, 0, [QUARTER, 0, 1, 1 - QUARTER, 1, 1]),
  ogee: () => curve(0, 0, [0.29, 0, 0.5, 0.21, 0.5, 0.5], [0.5, 0.79, 0.71, 1, 1, 1]),
  stepped: () => lineProfile([0, 0, 0, 0.5, 0.5, 0.5, 0.5, 1, 1, 1]),
  // a quarter round, or a quarter hollow, between two narrow fillets
  ovolo: () => drawn(0, 0).line(0.16, 0).quarter(0.84, 0.84, 'round').line(0.84, 1).line(1, 1).path(),
  cavetto: () => drawn(0, 0).line(0, 0.16).line(0.1, 0.16).quarter(0.9, 0.9, 'hollow').line(0.9, 1).line(1, 1).path(),
  'reverse-ogee': () => curve(0, 0, [0, 0.29, 0.21, 0.5, 0.5, 0.5], [0.79, 0.5, 1, 0.71, 1, 1]),
  // a hollow deeper below than above
  scotia: () => drawn(0, 0).line(0.08, 0).cubic(0.5, -0.1, 0.86, 0.34, 0.88, 0.86).line(0.88, 1).line(1, 1).path(),
  bead: () => drawn(0, 0).line(0, 0.2).halfRound(1, 0.8).path(),
  astragal: () => drawn(0, 0).line(0, 0.3).line(0.14, 0.3).halfRound(0.86, 0.7).line(1, 0.3).path(),
  reeds: () => drawn(0, 0).line(0, 0.4).halfRound(0.34, 0.6).halfRound(0.67, 0.6).halfRound(1, 0.6).path(),
  flute: () => drawn(0, 0).line(0, 1).line(0.18, 1).halfRound(0.82, -0.6).line(1, 1).path(),
  thumb: () => drawn(0, 0).line(0, 0.3).cubic(0.02, 0.72, 0.4, 1, 0.86, 1).line(1, 1).path(),
  bullnose: () => curve(0, 0, [0, 0.8, 0.2, 1, 1, 1]),
  knife: () => lineProfile([0, 0, 0.3, 0.82, 1, 1]),
  'double-chamfer': () => lineProfile([0, 0, 0.62, 0.34, 1, 1]),
  // a narrow channel that sets the slope off from the wall
  quirk: () => lineProfile([0, 0, 0, 0.62, 0.2, 0.62, 0.2, 0.34, 0.36, 0.34, 1, 1]),
  'two-steps': () => lineProfile([0, 0, 0, 0.34, 0.33, 0.34, 0.33, 0.67, 0.67, 0.67, 0.67, 1, 1, 1]),
  'three-steps': () => lineProfile([0, 0, 0, 0.25, 0.25, 0.25, 0.25, 0.5, 0.5, 0.5, 0.5, 0.75, 0.75, 0.75, 0.75, 1, 1, 1]),
  'two-rounds': () => drawn(0, 0).quarter(0.5, 0.5, 'round').quarter(1, 1, 'round').path(),
  'two-coves': () => drawn(0, 0).quarter(0.5, 0.5, 'hollow').quarter(1, 1, 'hollow').path(),
  'step-and-round': () => drawn(0, 0).line(0, 0.34).line(0.26, 0.34).quarter(1, 1, 'round').path(),
  'step-and-cove': () => drawn(0, 0).line(0, 0.34).line(0.26, 0.34).quarter(1, 1, 'hollow').path(),
  // the face lies lower than its rim
  rim: () => lineProfile([0, 0, 0, 1, 0.6, 1, 0.6, 0.3, 1, 0.3]),
  sunk: () => drawn(0, 0).line(0, 1).line(0.4, 1).cubic(0.4, 0.5, 0.6, 0.2, 1, 0.2).path(),
  keel: () => curve(0, 0, [0.36, 0.04, 0.5, 0.34, 0.5, 0.6], [0.56, 0.6, 0.78, 0.66, 1, 1]),
}

/** Draws a profile piece by piece, each from where the last one ended. */
function drawn(x: number, y: number) {
  const path = new PathBuilder(x, y)
  const pen = {
    line(u: number, v: number) {
      path.lineTo(u, v)
      return pen
    },
    cubic(...c: [number, number, number, number, number, number]) {
      path.cubicTo(...c)
      return pen
    },
    /** a quarter of an ellipse: "round" leaves upright and arrives level, "hollow" the other way */
    quarter(u: number, v: number, way: 'round' | 'hollow') {
      const [dx, dy] = [u - path.x, v - path.y]
      if (way === 'round') path.cubicTo(path.x, path.y + QUARTER * dy, u - QUARTER * dx, v, u, v)
      else path.cubicTo(path.x + QUARTER * dx, path.y, u, v - QUARTER * dy, u, v)
      return pen
    },
    /** half an ellipse that ends at the height it began at; below zero a hollow */
    halfRound(u: number, height: number) {
      const [x0, y0] = [path.x, path.y]
      const r = (u - x0) / 2
      path.cubicTo(x0, y0 + QUARTER * height, x0 + r * (1 - QUARTER), y0 + height, x0 + r, y0 + height)
      path.cubicTo(x0 + r * (1 + QUARTER), y0 + height, u, y0 + QUARTER * height, u, y0)
      return pen
    },
    path: () => path.build(false),
  }
  return pen
}

/** A profile of straight pieces: inset, height, inset, height … */
export function lineProfile(points: readonly number[]): Path {
  const path = new PathBuilder(points[0], points[1])
  for (let i = 2; i < points.length; i += 2) path.lineTo(points[i], points[i + 1])
  return path.build(false)
}

function curve(x: number, y: number, ...cubics: [number, number, number, number, number, number][]): Path {
  const path = new PathBuilder(x, y)
  for (const c of cubics) path.cubicTo(...c)
  return path.build(false)
}

/** A shipped profile at a size in mm; undefined for `square` and for a size of nothing: a plain edge. */
export function shippedProfile(name: ProfileName, inset: number, height: number): Profile | undefined {
  if (name === 'square' || (inset <= 0 && height <= 0)) return undefined
  const unit = unitProfiles[name]()
  return scaledProfile(unit, inset, height)
}

/** The profile with insets multiplied by sx and heights by sy. */
export function scaledProfile(profile: Profile, sx: number, sy: number): Profile {
  return { ...profile, coords: profile.coords.map((v, i) => v * (i % 2 === 0 ? sx : sy)) }
}

export interface ProfileProblem {
  readonly message: string
  readonly remedy: string
}

/** A profile from [inset mm, height mm] points, or what is wrong with them. */
export function profileFromPoints(points: readonly (readonly [number, number])[]): Profile | ProfileProblem {
  if (points.length < 2) return { message: 'A profile needs at least two points.', remedy: 'Give a list such as [[0, 0], [2, 2]].' }
  if (points.length > 200) return { message: `The profile has ${points.length} points; at most 200 are used.`, remedy: 'Draw it with fewer points.' }
  for (let i = 0; i < points.length; i++) {
    const [inset, height] = points[i]
    if (!Number.isFinite(inset) || !Number.isFinite(height))
      return { message: `Point ${i + 1} of the profile is not a number.`, remedy: 'Give every point as [inset mm, height mm].' }
    if (inset < 0 || (i > 0 && inset < points[i - 1][0]))
      return {
        message: `The profile runs backwards at point ${i + 1}: the inset falls to ${inset} mm.`,
        remedy: 'Let the inset stay or grow from point to point, starting at 0 or more.',
      }
  }
  const [first] = points
  const path = new PathBuilder(0, Math.min(0, first[1]))
  if (first[1] > 0) path.lineTo(0, first[1])
  for (const [inset, height] of points) path.lineTo(inset, height)
  return path.build(false)
}

/** The profile itself when its inset never falls, else what is wrong and where. */
export function monotoneProfile(profile: Profile): Profile | ProfileProblem {
  const { xy } = flattenPath(profile, { tolerance: 0.005, maxTurn: 6 })
  for (let i = 2; i < xy.length; i += 2) {
    if (xy[i] < xy[i - 2] - 0.002)
      return {
        message: `The profile runs backwards at ${Number(xy[i - 2].toFixed(2))} mm of inset, ${Number(xy[i - 1].toFixed(2))} mm of height.`,
        remedy: 'Let the inset stay or grow along the curve: an edge has no undercuts.',
      }
  }
  return profile
}

/** One straight piece of a flattened profile. Normals are (outward, upward) unit pairs of the exact curve at both ends. */
export interface ProfileSegment {
  readonly inset0: number
  readonly inset1: number
  readonly height0: number
  readonly height1: number
  readonly n0: readonly [number, number]
  readonly n1: readonly [number, number]
  /** distance along the profile from its start, mm */
  readonly run0: number
  readonly run1: number
  /** number of the band it belongs to; −1 for none */
  readonly band: number
}

/** A part of the edge with a name of its own, by its insets, mm. */
export interface Band {
  readonly name: string
  readonly from: number
  readonly to: number
}

export interface CutOptions {
  /** heights are multiplied by this; 1 when left out */
  readonly heightScale?: number
  /** where the profile is cut besides, so that every piece lies in one band or in none; the first that holds a piece has it */
  readonly bands?: readonly Band[]
  /** no piece is longer than this, mm */
  readonly longest?: number
  /** `tolerance` is of heights, and not of distances from the curve */
  readonly byHeight?: boolean
}

/** A profile cut into pieces on the lattice: `levels[k]` ends strip k, `strips[k]` is its sloping piece. */
export interface ProfileCut {
  /** distinct insets > 0, rising, mm */
  readonly levels: readonly number[]
  /** strips[k] runs from levels[k−1] (0 for k = 0) to levels[k] */
  readonly strips: readonly ProfileSegment[]
  /** vertical pieces at inset 0 (risers[0]) and at levels[k] (risers[k+1]), bottom first */
  readonly risers: readonly (readonly ProfileSegment[])[]
  /** height of the face over the rim of the wall */
  readonly faceHeight: number
  /** the highest the profile reaches */
  readonly maxHeight: number
}

/** Flattens a profile to `tolerance` and rounds it to the lattice; levels differ by at least four lattice steps. */
export function cutProfile(profile: Profile | undefined, tolerance: number, lattice: number, options: CutOptions = {}): ProfileCut {
  const { heightScale = 1, bands = [], longest = Infinity, byHeight = false } = options
  const levels: number[] = []
  const strips: ProfileSegment[] = []
  const risers: ProfileSegment[][] = [[]]
  if (!profile) return { levels, strips, risers, faceHeight: 0, maxHeight: 0 }
  const scaled = scaledProfile(profile, 1, heightScale)
  const flat = byHeight ? flattenByHeight(scaled, tolerance) : flattenPath(scaled, { tolerance, maxTurn: 12 })
  const coarse = 4 * lattice
  const n = flat.xy.length / 2
  const onLevel = (inset: number) => Math.round(inset / coarse) * coarse
  const height = (i: number) => Math.round(flat.xy[2 * i + 1] / lattice) * lattice
  const borders = bands.flatMap(({ from, to }) => [onLevel(from), onLevel(to)])
  const bandAt = (inset: number) => bands.findIndex(({ from, to }) => inset >= onLevel(from) && inset < onLevel(to))
  let run = 0
  let reached = onLevel(flat.xy[0])
  for (let i = 0; i + 1 < n; i++) {
    // a drawn curve may fall back by less than can be seen
    const i0 = reached
    const i1 = Math.max(reached, onLevel(flat.xy[2 * i + 2]))
    reached = i1
    const [h0, h1] = [height(i), height(i + 1)]
    const length = Math.hypot(i1 - i0, h1 - h0)
    if (length === 0) continue
    const t = flat.tangents
    const pieces = Math.min(64, Math.max(1, Math.ceil(length / longest - 1e-9)))
    const cuts = new Set([0, 1])
    for (let k = 1; k < pieces; k++) cuts.add(i1 > i0 ? (onLevel(i0 + ((i1 - i0) * k) / pieces) - i0) / (i1 - i0) : k / pieces)
    for (const border of borders) if (border > i0 && border < i1) cuts.add((border - i0) / (i1 - i0))
    const shares = [...cuts].sort((a, b) => a - b)
    const normalAt = (f: number): [number, number] => [t[4 * i + 3] * (1 - f) + t[4 * i + 5] * f, t[4 * i + 2] * (1 - f) + t[4 * i + 4] * f]
    for (let k = 0; k + 1 < shares.length; k++) {
      const [f0, f1] = [shares[k], shares[k + 1]]
      const segment: ProfileSegment = {
        inset0: f0 === 0 ? i0 : onLevel(i0 + (i1 - i0) * f0),
        inset1: f1 === 1 ? i1 : onLevel(i0 + (i1 - i0) * f1),
        height0: f0 === 0 ? h0 : Math.round((h0 + (h1 - h0) * f0) / lattice) * lattice,
        height1: f1 === 1 ? h1 : Math.round((h0 + (h1 - h0) * f1) / lattice) * lattice,
        n0: normalAt(f0),
        n1: normalAt(f1),
        run0: run + length * f0,
        run1: run + length * f1,
        band: bandAt(i0 + ((i1 - i0) * (f0 + f1)) / 2),
      }
      if (segment.inset1 > segment.inset0) {
        strips.push(segment)
        levels.push(segment.inset1)
        risers.push([])
      } else if (segment.height1 !== segment.height0) rise(risers[risers.length - 1], segment)
    }
    run += length
  }
  const faceHeight = height(n - 1)
  const heights = [height(0), faceHeight, ...[...strips, ...risers.flat()].flatMap(({ height0, height1 }) => [height0, height1])]
  return { levels, strips, risers, faceHeight, maxHeight: Math.max(...heights) }
}

/** Adds a straight-up piece to those at its inset; one that goes back over another leaves what both come to. */
function rise(list: ProfileSegment[], segment: ProfileSegment): void {
  const last = list.at(-1)
  if (!last || last.height1 > last.height0 === segment.height1 > segment.height0) {
    list.push(segment)
    return
  }
  list.pop()
  if (segment.height1 !== last.height0) rise(list, { ...segment, height0: last.height0 })
}

/** Where a curve is steep, its heights are as good as right when it is this near, mm. */
const NEAR = 0.0008

const MOST_HALVINGS = 12

/** A profile as chords whose heights are off by `tolerance` mm at most, where that can be seen. */
function flattenByHeight(profile: Profile, tolerance: number): Pick<Flat, 'xy' | 'tangents'> {
  const xy: number[] = [profile.coords[0], profile.coords[1]]
  const tangents: number[] = [0, 0]
  const unit = (x: number, y: number) => {
    const size = Math.hypot(x, y) || 1
    return [x / size, y / size]
  }
  for (const { cubic, straight } of segmentsOf(profile)) {
    const slope = (t: number) => {
      const h = 1e-4
      const [from, to] = [cubicAt(cubic, Math.max(0, t - h)), cubicAt(cubic, Math.min(1, t + h))]
      return unit(to[0] - from[0], to[1] - from[1])
    }
    const part = (t0: number, t1: number, halvings: number): void => {
      const [a, b] = [cubicAt(cubic, t0), cubicAt(cubic, t1)]
      const [dx, dy] = [b[0] - a[0], b[1] - a[1]]
      const size = Math.hypot(dx, dy)
      const off = [0.25, 0.5, 0.75].some((f) => {
        const [x, y] = cubicAt(cubic, t0 + f * (t1 - t0))
        const across = Math.abs(dx * (y - a[1]) - dy * (x - a[0]))
        return across > NEAR * size && across > tolerance * Math.abs(dx)
      })
      if (off && !straight && halvings < MOST_HALVINGS) {
        part(t0, (t0 + t1) / 2, halvings + 1)
        part((t0 + t1) / 2, t1, halvings + 1)
        return
      }
      tangents.push(...slope(t0), ...slope(t1))
      xy.push(b[0], b[1])
    }
    part(0, 1, 0)
  }
  tangents.push(0, 0)
  return { xy: Float64Array.from(xy), tangents: Float64Array.from(tangents) }
}

/**
 * The part of a profile up to an inset, mm; the whole when it does not reach that far. It ends where the curve first gets there, so
 * that the face lies at the height reached.
 */
export function profileUpTo(profile: Profile, inset: number): Profile {
  const { coords } = profile
  if (coords[coords.length - 2] <= inset) return profile
  const path = new PathBuilder(coords[0], coords[1])
  for (const { cubic, straight } of segmentsOf(profile)) {
    const beyond = cubic[6] > inset
    let piece: ArrayLike<number> = cubic
    if (beyond) {
      let [low, high] = [0, 1]
      for (let i = 0; i < 50; i++) {
        const t = (low + high) / 2
        if (cubicAt(cubic, t)[0] < inset) low = t
        else high = t
      }
      if (high < 1e-12) break
      piece = cubicPart(cubic, 0, high)
    }
    if (straight) path.lineTo(beyond ? inset : piece[6], piece[7])
    else path.cubicTo(piece[2], piece[3], piece[4], piece[5], beyond ? inset : piece[6], piece[7])
    if (beyond) break
  }
  return path.build(false)
}

/** A profile on the wall that it ends: where that ends, and what of the profile is above it. One that begins by falling straight down only makes the wall lower. */
export function overWall(cut: ProfileCut): { readonly cut: ProfileCut; readonly rim: number } {
  const [foot, ...above] = cut.risers
  const falls = foot.length > 0 && foot[0].height1 < foot[0].height0
  const rim = falls ? foot[foot.length - 1].height1 : (foot[0]?.height0 ?? cut.strips[0]?.height0 ?? 0)
  return { rim, cut: falls ? { ...cut, risers: [[], ...above] } : cut }
}

/** Height at an inset within strip k. */
export function heightAt(cut: ProfileCut, strip: number, inset: number): number {
  const s = cut.strips[strip]
  if (inset <= s.inset0) return s.height0
  if (inset >= s.inset1) return s.height1
  return s.height0 + ((s.height1 - s.height0) * (inset - s.inset0)) / (s.inset1 - s.inset0)
}
