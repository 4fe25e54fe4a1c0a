import { flattenPath } from '../outline/flatten'
import { type Path, PathBuilder } from '../outline/path'

/**
 * A profile shapes the edge: a curve of inset from the outline (mm, never decreasing) against height (mm) over the wall's
 * rim. It is kept as a Path in (inset, height); a list of points is a Path of lines.
 */
export type Profile = Path

/** Kelvar's own profiles on the unit square; width and height are applied by `scaledProfile`. */
export const PROFILE_NAMES = ['square', 'chamfer', 'round', 'cove', 'ogee', 'stepped'] as const
export type ProfileName = (typeof PROFILE_NAMES)[number]

/** Distance of a cubic's handles that draws a quarter circle within 0.03 % (the usual 4/3·(√2 − 1)). */
const QUARTER = 0.5522847498

const unitProfiles: Record<Exclude<ProfileName, 'square'>, () => Path> = {
  chamfer: () => lines([0, 0, 1, 1]),
  round: () => curve(0, 0, [0, QUARTER, 1 - QUARTER, 1, 1, 1]),
  cove: () => curve(0, 0, [QUARTER, 0, 1, 1 - QUARTER, 1, 1]),
  ogee: () => curve(0, 0, [0.29, 0, 0.5, 0.21, 0.5, 0.5], [0.5, 0.79, 0.71, 1, 1, 1]),
  stepped: () => lines([0, 0, 0, 0.5, 0.5, 0.5, 0.5, 1, 1, 1]),
}

function lines(points: number[]): Path {
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
  /** the highest and lowest the profile reaches */
  readonly maxHeight: number
  readonly minHeight: number
}

/** Flattens a profile to `tolerance` and rounds it to the lattice; levels differ by at least four lattice steps. */
export function cutProfile(profile: Profile | undefined, tolerance: number, lattice: number, heightScale = 1): ProfileCut {
  const levels: number[] = []
  const strips: ProfileSegment[] = []
  const risers: ProfileSegment[][] = [[]]
  if (!profile) return { levels, strips, risers, faceHeight: 0, maxHeight: 0, minHeight: 0 }
  const flat = flattenPath(scaledProfile(profile, 1, heightScale), { tolerance, maxTurn: 12 })
  const coarse = 4 * lattice
  const n = flat.xy.length / 2
  const inset = (i: number) => Math.round(flat.xy[2 * i] / coarse) * coarse
  const height = (i: number) => Math.round(flat.xy[2 * i + 1] / lattice) * lattice
  let run = 0
  let maxHeight = height(0)
  let minHeight = height(0)
  for (let i = 0; i + 1 < n; i++) {
    const [i0, i1, h0, h1] = [inset(i), inset(i + 1), height(i), height(i + 1)]
    const length = Math.hypot(i1 - i0, h1 - h0)
    if (length === 0) continue
    const t = flat.tangents
    const segment: ProfileSegment = {
      inset0: i0,
      inset1: i1,
      height0: h0,
      height1: h1,
      n0: [t[4 * i + 3], t[4 * i + 2]],
      n1: [t[4 * i + 5], t[4 * i + 4]],
      run0: run,
      run1: run + length,
    }
    run += length
    maxHeight = Math.max(maxHeight, h1)
    minHeight = Math.min(minHeight, h1)
    if (i1 > i0) {
      strips.push(segment)
      levels.push(i1)
      risers.push([])
    } else risers[risers.length - 1].push(segment)
  }
  return { levels, strips, risers, faceHeight: height(n - 1), maxHeight, minHeight }
}

/** Height at an inset within strip k. */
export function heightAt(cut: ProfileCut, strip: number, inset: number): number {
  const s = cut.strips[strip]
  if (inset <= s.inset0) return s.height0
  if (inset >= s.inset1) return s.height1
  return s.height0 + ((s.height1 - s.height0) * (inset - s.inset0)) / (s.inset1 - s.inset0)
}
