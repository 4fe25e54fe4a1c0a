import { lookingForward, type NearestOf, nearestOf, seenOutline } from '../mask/outline-distance'
import { stoutTriangles } from '../solid/flip'
import { INSIDE } from '../solid/labels'
import { cutProfile, heightAt, type Profile, type ProfileCut } from '../solid/profile'
import { normalsOf, uvsOf } from '../solid/shading'
import { labelAt, type Solid, triangleCount } from '../solid/solid'
import { splitAtLevels } from '../solid/split-at-levels'
import { splitSides } from '../solid/split-sides'
import { longer } from '../solid/vertex-table'
import { trianglesNear } from './side-lengths'

export interface ChiselFront {
  /** height in mm over the distance from the outline in mm; begins at nought */
  readonly profile: Profile
  /** how far heights may be off the curve along a side, mm */
  readonly within: number
  /** sides are not parted nearer than this to other sides, mm: then no ridge makes slivers, but heights next to one may be off by more; 0 when left out */
  readonly clear?: number
  /** triangles that come this near to one of some places, as they are seen from the front, are left as they are, mm */
  readonly leave?: { readonly places: readonly (readonly number[])[]; readonly reach: number }
}

/** What is nearer than this to a place where a side would be parted is taken for it, mm. */
const SNAP = 0.01

/** Levels are no nearer to each other than this, mm: the wall of a terrace leans so far. */
const LEVELS_APART = 0.03

/** Sides are not parted at ridges nearer than this to their ends, mm. */
const LEAST = 0.02

/** A side is looked at in places no further apart than this, mm, and this many of them at the least and at the most. */
const APART = 0.3
const FEWEST = 6
const MOST_PLACES = 80

/** How often a kink's place on a side is narrowed down: to a millionth of the stretch between two places. */
const NARROWINGS = 28
const GOLDEN = (Math.sqrt(5) - 1) / 2

/** More triangles than this are not made of one body. */
export const MOST_TRIANGLES = 600_000

/**
 * A body with everything of it that looks forward (+Z) raised or sunk by a curve over the exact distance to its outline as it is seen from the front, whatever
 * shape it has: sides are parted at ridges and steps and as the curve bends. What looks elsewhere stays, and so does the outline. On the lattice; not checked.
 * Undefined where it takes more than MOST_TRIANGLES.
 */
export function chiselledFront(body: Solid, { profile, within, clear = 0, leave }: ChiselFront): Solid | undefined {
  const { lattice } = body
  const cut = cutProfile(profile, 0.5 * within, lattice, { byHeight: true })
  const reach = cut.levels.at(-1) ?? 0
  const levels = levelsOf(cut)
  let fine = stoutTriangles({ ...body, attributes: { ...body.attributes, normal: normalsOf(body), uv: uvsOf(body), weight: undefined } })
  const nearest = nearestOf(seenOutline(fine))
  const at = nearest.distance
  // behind the last level all is one plateau, whatever ridges the distance has there
  const behind = reach + 2 * LEVELS_APART
  let acting = lookingForward(fine).map((forward, t) => (labelAt(fine, t, 'group') === INSIDE ? 0 : forward))
  if (leave) {
    const seen = { indices: fine.indices, positions: fine.positions.map((v, i) => (i % 3 === 2 ? 0 : v)) }
    const places = leave.places.map(([x, y]) => [x, y, 0])
    trianglesNear(seen, places, leave.reach).forEach((near, t) => near && (acting[t] = 0))
  }
  let known = new Float64Array(0)
  const ofVertex = (p: Float64Array, o: number): number => {
    const v = o / 3
    if (v >= known.length) {
      const shorter = known.length
      known = longer(known, 2 * v + 1024).fill(NaN, shorter)
    }
    if (Number.isNaN(known[v])) known[v] = at(p[o], p[o + 1])
    return known[v]
  }
  // first where the distance itself has ridges and bends, so that it is as good as even along every side
  const even = Math.max(0.01, Math.min(0.05, 2 * within))
  const ridges = splitSides(fine, {
    acts: (t) => acting[t] === 1,
    most: MOST_TRIANGLES,
    clear,
    at(p, a, b) {
      const [dx, dy] = [p[b] - p[a], p[b + 1] - p[a + 1]]
      const length = Math.hypot(dx, dy)
      if (length < 2 * LEAST) return 0
      const [from, to] = [ofVertex(p, a), ofVertex(p, b)]
      // no distance is further off an even one than its growing by a mm a mm lets it
      if (length * length - (from - to) ** 2 <= 2 * length * even) return 0
      // no place on a side is nearer to the outline than this
      if ((from + to - length) / 2 > behind) return 0
      const off = (f: number): number => Math.abs(at(p[a] + f * dx, p[a + 1] + f * dy) - from - f * (to - from))
      const places = Math.max(FEWEST, Math.min(MOST_PLACES, Math.ceil(length / APART)))
      let [best, most] = [0, even]
      for (let i = 1; i < places; i++) {
        const here = off(i / places)
        if (here > most) [best, most] = [i, here]
      }
      if (best === 0) return 0
      const f = highest(off, (best - 1) / places, (best + 1) / places)
      // a ridge next to a corner is taken to pass through it: parted there, slivers come of it that rounding folds over
      return f * length < LEAST || (1 - f) * length < LEAST ? 0 : f
    },
    inside(p, a, b, c) {
      const middle = (k: number) => (p[a + k] + p[b + k] + p[c + k]) / 3
      const meant = (ofVertex(p, a) + ofVertex(p, b) + ofVertex(p, c)) / 3
      const size = Math.max(Math.abs(p[a] - p[b]) + Math.abs(p[a + 1] - p[b + 1]), Math.abs(p[a] - p[c]) + Math.abs(p[a + 1] - p[c + 1]))
      return size > 4 * LEAST && meant < behind && Math.abs(at(middle(0), middle(1)) - meant) > even
    },
  })
  if (!ridges) return undefined
  fine = ridges.solid
  acting = Uint8Array.from(ridges.from, (t) => acting[t])
  // then along each level, which becomes sides
  const { positions: p } = fine
  const levelled = new Float64Array(p.length / 3)
  for (let i = 0; i < fine.indices.length; i++) {
    const v = fine.indices[i]
    if (!acting[(i / 3) | 0] || levelled[v] > 0) continue
    const distance = ofVertex(p, 3 * v)
    const near = levels[indexFrom(levels, distance - SNAP)]
    levelled[v] = near <= distance + SNAP && distance > 1e-9 ? near : distance
  }
  const parted = splitAtLevels(fine, {
    acts: (t) => acting[t] === 1,
    values: levelled,
    levels,
    meets: (a, b, level, after) =>
      crossing((f) => at(p[a] + f * (p[b] - p[a]), p[a + 1] + f * (p[b + 1] - p[a + 1])) - level, after, levelled[a / 3] - level, levelled[b / 3] - level),
  })
  if (triangleCount(parted.solid) > MOST_TRIANGLES) return undefined
  fine = parted.solid
  acting = Uint8Array.from(parted.from, (t) => acting[t])
  const raised = new Uint8Array(fine.positions.length / 3)
  for (let i = 0; i < fine.indices.length; i++) if (acting[(i / 3) | 0]) raised[fine.indices[i]] = 1
  const positions = fine.positions.map((v, i) => {
    const rise = i % 3 === 2 && raised[(i / 3) | 0] ? heightAtDistance(cut, parted.values[(i / 3) | 0]) : 0
    return Math.round((v + rise) / lattice) * lattice + 0
  })
  const normal = tilted(fine, acting, parted.values, nearest, (here, towards) => slopeOf(cut, levels, here, towards))
  return { ...fine, positions, attributes: { ...fine.attributes, normal } }
}

/** How far from a corner, of the way to the middle of its triangle, the distance's own slope is measured: at a ridge it has several. */
const ASIDE = 1e-3

/**
 * Shading of a front raised by heights over a distance: a surface with the normal n whose height grows by the slope s along the way g has one along
 * (nx − nz·s·gx, ny − nz·s·gy, nz). From the curve and the distance themselves, since thin triangles tell little of how they lie.
 */
function tilted(
  { positions: p, indices, attributes }: Solid,
  acting: Uint8Array,
  distances: Float64Array,
  { distance, way }: NearestOf,
  slope: (here: number, towards: number) => readonly [number, number],
): Float32Array {
  const out = (attributes.normal as Float32Array).slice()
  for (let i = 0; i < indices.length; i++) {
    const t = i - (i % 3)
    if (!acting[t / 3]) continue
    const [a, b, c] = [indices[t], indices[t + 1], indices[t + 2]]
    const middle = (distances[a] + distances[b] + distances[c]) / 3
    const [rise, run] = slope(distances[indices[i]], middle)
    if (rise === 0) continue
    const o = 3 * indices[i]
    const x = p[o] + ASIDE * ((p[3 * a] + p[3 * b] + p[3 * c]) / 3 - p[o])
    const y = p[o + 1] + ASIDE * ((p[3 * a + 1] + p[3 * b + 1] + p[3 * c + 1]) / 3 - p[o + 1])
    // it grows straight away from the nearest place of the outline
    const d = distance(x, y)
    if (d === 0) continue
    const [gx, gy] = [-way[0] / d, -way[1] / d]
    const [nx, ny, nz] = [out[3 * i], out[3 * i + 1], Math.max(0, out[3 * i + 2])]
    const [ux, uy, uz] = [run * nx - nz * rise * gx, run * ny - nz * rise * gy, run * nz]
    const size = Math.hypot(ux, uy, uz)
    if (size < 1e-9) continue
    out[3 * i] = ux / size
    out[3 * i + 1] = uy / size
    out[3 * i + 2] = uz / size
  }
  return out
}

/** How steep the curve is at a distance, as rise and run, on the side of it that another one lies on. */
function slopeOf(cut: ProfileCut, levels: readonly number[], here: number, towards: number): readonly [number, number] {
  const j = indexFrom(levels, towards)
  const [foot, head] = [levels[j - 1] ?? 0, levels[j]]
  if (head !== undefined && stepsAt(cut, foot)) return [heightAtDistance(cut, head) - heightAtDistance(cut, foot), head - foot]
  const strip = cut.strips[indexFrom(cut.levels, towards)]
  if (!strip) return [0, 1]
  const { inset0, inset1, n0, n1 } = strip
  const f = Math.max(0, Math.min(1, (here - inset0) / (inset1 - inset0)))
  return [n0[0] + f * (n1[0] - n0[0]), n0[1] + f * (n1[1] - n0[1])]
}

function stepsAt({ levels, risers }: ProfileCut, inset: number): boolean {
  const k = inset === 0 ? 0 : levels.indexOf(inset) + 1
  return (inset === 0 || k > 0) && risers[k].length > 0
}

/** The distances at which sides are parted, mm, rising: where the curve bends, and just behind each step. */
function levelsOf({ levels, risers }: ProfileCut): number[] {
  const out: number[] = []
  if (risers[0].length > 0) out.push(LEVELS_APART)
  levels.forEach((level, k) => {
    const step = risers[k + 1].length > 0
    // one that a step begins at goes before what is next to it
    while (step && out.length > 0 && out[out.length - 1] > level - LEVELS_APART) out.pop()
    if (step || k === levels.length - 1 || level >= (out.at(-1) ?? 0) + LEVELS_APART) out.push(level)
    if (step) out.push(level + LEVELS_APART)
  })
  return out
}

/** The height at a distance, mm: nought at the outline itself, and below a step at the step. */
function heightAtDistance(cut: ProfileCut, distance: number): number {
  if (distance <= 1e-9) return 0
  const k = indexFrom(cut.levels, distance)
  return k === cut.levels.length ? cut.faceHeight : heightAt(cut, k, distance)
}

/** The first place in a rising list that is not below a value. */
function indexFrom(list: readonly number[], value: number): number {
  let [low, high] = [0, list.length]
  while (low < high) {
    const middle = (low + high) >> 1
    if (list[middle] < value) low = middle + 1
    else high = middle
  }
  return low
}

/** Where behind a place something that has another sign at 0 than at 1 is nought: by false position (Illinois), halved where that is slow. */
function crossing(of: (f: number) => number, after: number, from: number, to: number): number {
  let [a, b, u, v] = [after, 1, after === 0 ? from : of(after), to]
  // between levels it may not be quite even
  if (u < 0 === v < 0) return (a + b) / 2
  for (let i = 0; i < 40 && b - a > 1e-12; i++) {
    const f = i % 4 === 3 ? (a + b) / 2 : a + ((b - a) * u) / (u - v)
    const w = of(f)
    if (Math.abs(w) < 1e-9) return f
    if (w < 0 === u < 0) [a, u, v] = [f, w, v / 2]
    else [b, v, u] = [f, w, u / 2]
  }
  return (a + b) / 2
}

/** Where something is highest between two places, by golden sections; the place of a kink where it has one. */
function highest(of: (f: number) => number, from: number, to: number): number {
  let [a, b] = [from, to]
  let [x, y] = [b - GOLDEN * (b - a), a + GOLDEN * (b - a)]
  let [u, v] = [of(x), of(y)]
  for (let i = 0; i < NARROWINGS; i++)
    if (u > v) {
      b = y
      y = x
      v = u
      x = b - GOLDEN * (b - a)
      u = of(x)
    } else {
      a = x
      x = y
      u = v
      y = a + GOLDEN * (b - a)
      v = of(y)
    }
  return (a + b) / 2
}
