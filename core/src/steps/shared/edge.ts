import { z } from 'zod'
import { toPath } from '../../outline/nodes'
import type { Path } from '../../outline/path'
import { monotoneProfile, type Profile, type ProfileProblem, profileFromPoints, profileUpTo, scaledProfile, shippedProfile } from '../../solid/profile'
import { edgeParams } from './edge-fields'

export type EdgeParams = z.infer<typeof edgeParams>

/** The profile an edge's values describe, in mm; undefined for a plain edge; what is wrong with it when it cannot be used. */
export function edgeProfile(edge: EdgeParams): Profile | ProfileProblem | undefined {
  if (edge.profile === 'points') {
    const points = edge.points ?? []
    const last = points[points.length - 1]
    if (!last) return { message: 'The profile has no points.', remedy: 'Choose a shipped profile or give points.' }
    const sx = last[0] > 0 ? edge.inset / last[0] : 1
    const sy = last[1] > 0 ? edge.height / last[1] : 1
    return profileFromPoints(points.map(([i, h]) => [i * sx, h * sy] as const))
  }
  if (edge.profile === 'drawn') {
    if (!edge.drawn) return { message: 'The profile has not been drawn yet.', remedy: 'Draw it in the profile editor, or choose a shipped one.' }
    return drawnProfile(toPath(edge.drawn), edge.inset, edge.height)
  }
  return shippedProfile(edge.profile, edge.inset, edge.height)
}

/**
 * A profile from an open curve: moved so that it starts at inset 0 and height 0, and scaled to reach `inset` and `height` mm. A
 * curve drawn the other way round is turned; what runs backwards is a problem.
 */
export function drawnProfile(path: Path, inset: number, height: number): Profile | ProfileProblem {
  const { coords } = path
  const [x0, y0, x1] = [coords[0], coords[1], coords[coords.length - 2]]
  const moved: Path = { ...path, closed: false, coords: coords.map((v, i) => v - (i % 2 === 0 ? x0 : y0)) }
  const whole = Math.abs(x1 - x0)
  const rise = moved.coords.reduce((most, v, i) => (i % 2 === 1 ? Math.max(most, Math.abs(v)) : most), 0)
  if (whole < 1e-6) return { message: 'The profile goes straight up and takes nothing off.', remedy: 'Draw it from the wall inwards, over some width.' }
  return monotoneProfile(scaledProfile(moved, (x1 > x0 ? inset : -inset) / whole, rise > 0 ? height / rise : 1))
}

/** The profile cut off where a flat of `flat` mm is left of strokes that close at `ridge` mm; the profile itself when it does not reach there. */
export function stoppedProfile(profile: Profile | undefined, flat: number, ridge: number): Profile | undefined {
  if (!profile || flat <= 0) return profile
  const stop = ridge - flat / 2
  return stop > 0.01 ? profileUpTo(profile, stop) : undefined
}
