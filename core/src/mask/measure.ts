import { fractalNoise } from '../solid/noise'
import { type CurvePoint, throughPoints } from '../outline/through-points'
import { GROUPS, type Label } from '../solid/labels'
import { labelAt, type Solid, solidBounds, triangleCount, vertexCount } from '../solid/solid'
import { longer } from '../solid/vertex-table'
import { NearestTriangle } from '../volume/nearest-triangle'
import { alongStrokes } from './along-strokes'
import { curvatures } from './curvature'
import { distanceTo, seenOutline } from './outline-distance'
import { paintedOn } from './painted'
import { type GreyPicture, lightAt, pictureAtHand } from './pictures'
import type { Mask, MaskEntry } from './schema'

/** What one entry is at a place of the surface: by the place itself, or by values at vertices. */
interface Source {
  readonly entry: MaskEntry
  readonly at?: (p: Float64Array, o: number, letter: number) => number
  values?: Float32Array
  /** of each vertex its letter, where that counts */
  letterOf?: Int32Array
  /** what of it has lost its letter */
  readonly aside?: number
  /** over longer sides than this, mm, it may do anything unseen */
  readonly grain?: number
  readonly remap: (t: number) => number
}

/**
 * A mask measured on a solid: 0 to 1 anywhere on its surface. What goes by place is exact between vertices, too; what goes by surfaces is linear
 * there, whole on their borders.
 */
export class MeasuredMask {
  private readonly sources: Source[]

  constructor(
    solid: Solid,
    readonly mask: Mask,
  ) {
    this.sources = mask.list.map((entry) => ({
      entry,
      ...sourceOf(solid, entry),
      remap: entry.curve.length > 0 ? percent(throughPoints(entry.curve as readonly CurvePoint[], 0)) : (t) => t,
    }))
  }

  /** How many dabs of the brush are on letters that are gone. */
  get aside(): number {
    return this.sources.reduce((sum, { aside = 0 }) => sum + aside, 0)
  }

  /** Longer sides than this, mm, are to be parted whatever the mask is at places on them: something that comes again and again may be the same at all of these. */
  get grain(): number {
    return this.sources.reduce((least, { grain = Infinity }) => Math.min(least, grain), Infinity)
  }

  /** The surface got a vertex midway between two others. */
  addMiddle(n: number, a: number, b: number): void {
    for (const source of this.sources) {
      if (source.letterOf) {
        if (n >= source.letterOf.length) source.letterOf = longer(source.letterOf, 2 * n + 16)
        source.letterOf[n] = source.letterOf[a]
      }
      if (!source.values) continue
      if (n >= source.values.length) source.values = longer(source.values, 2 * n + 16)
      source.values[n] = (source.values[a] + source.values[b]) / 2
    }
  }

  /** Its value at the place that stands at `o`, a share `f` of the way from vertex a to vertex b; without the blur. */
  at(p: Float64Array, o: number, a: number, b: number, f: number): number {
    let sum = 1
    this.sources.forEach(({ entry, at, values, letterOf, remap }, i) => {
      let t = at ? at(p, o, letterOf ? letterOf[a] : -1) : values ? values[a] + f * (values[b] - values[a]) : 1
      if (entry.turned) t = 1 - t
      t = Math.min(1, Math.max(0, remap(t)))
      const met = i === 0 ? t : meet(entry.way, sum, t)
      sum += (entry.strength / 100) * (met - sum)
    })
    return sum
  }
}

function meet(way: MaskEntry['way'], before: number, t: number): number {
  switch (way) {
    case 'multiply':
      return before * t
    case 'add':
      return Math.min(1, before + t)
    case 'subtract':
      return Math.max(0, before - t)
    case 'higher':
      return Math.max(before, t)
    case 'lower':
      return Math.min(before, t)
  }
}

const percent = (curve: (t: number) => number) => (t: number) => curve(t) / 100

/** 0 before one end, 1 behind the other, evenly between; the ends may stand either way round. */
const ramp = (from: number, to: number) => (at: number) => (from === to ? (at >= from ? 1 : 0) : Math.min(1, Math.max(0, (at - from) / (to - from))))

function sourceOf(solid: Solid, entry: MaskEntry): Pick<Source, 'at' | 'values' | 'letterOf' | 'aside' | 'grain'> {
  const { by, from, to } = entry
  switch (by) {
    case 'distance': {
      const distance = distanceTo(seenOutline(solid), Math.max(from, to) + 1e-6)
      const t = ramp(from, to)
      return { at: (p, o) => t(distance(p[o], p[o + 1])) }
    }
    case 'along':
    case 'height':
    case 'depth': {
      const k = by === 'along' ? 0 : by === 'height' ? 1 : 2
      const box = solidBounds(solid.positions)
      const [low, size] = [box[k], box[k + 3] - box[k]]
      const t = ramp(low + (size * from) / 100, low + (size * to) / 100)
      return { at: (p, o) => t(p[o + k]) }
    }
    case 'stroke': {
      const { letterOf, at } = alongStrokes(solid)
      const t = ramp(from / 100, to / 100)
      return { letterOf, at: (p, o, letter) => t(at(p, o, letter)) }
    }
    case 'curvature': {
      const { curved, radius } = entry
      return {
        values: Float32Array.from(curvatures(solid), (k) => {
          const way = curved === 'both' ? Math.abs(k) : curved === 'convex' ? k : -k
          return Math.min(1, Math.max(0, way * radius))
        }),
      }
    }
    case 'group': {
      const wanted = new Set(entry.groups.map((group) => GROUPS.indexOf(group)))
      return { values: touching(solid, 'group', (group) => wanted.has(group)) }
    }
    case 'letters': {
      const wanted = entry.letters
      return { values: touching(solid, 'letter', (letter) => letter >= 0 && solid.letters[letter] !== '' && wanted.includes(solid.letters[letter])) }
    }
    case 'layers': {
      const wanted = new Set(entry.layers)
      return { values: touching(solid, 'layer', (layer) => wanted.has(solid.layers[layer]?.name ?? '')) }
    }
    case 'ball': {
      const { centre, radius, soft } = entry
      const fades = ramp(radius + soft, radius)
      const t = (far: number) => (soft === 0 ? (far <= radius ? 1 : 0) : fades(far))
      return { at: (p, o) => t(Math.hypot(p[o] - centre[0], p[o + 1] - centre[1], p[o + 2] - centre[2])) }
    }
    case 'box': {
      const { centre, size, soft } = entry
      const t = ramp(soft, 0)
      return {
        at: (p, o) => {
          let sum = 0
          for (let k = 0; k < 3; k++) sum += Math.max(0, Math.abs(p[o + k] - centre[k]) - size[k] / 2) ** 2
          return soft === 0 ? (sum === 0 ? 1 : 0) : t(Math.sqrt(sum))
        },
      }
    }
    case 'plane': {
      const { centre, facing, soft } = entry
      const k = facing === 'right' ? 0 : facing === 'up' ? 1 : 2
      const t = ramp(centre[k] - soft / 2, centre[k] + soft / 2)
      return { at: (p, o) => t(p[o + k]) }
    }
    case 'picture': {
      const picture = pictureAtHand(entry.picture.sha256)
      // whoever measures brings it to hand first
      if (!picture) return { at: () => 1 }
      const shape = picture.width / picture.height
      const box = solidBounds(solid.positions)
      const sides = entry.cast === 'sides' ? CAST_FROM : [entry.cast]
      // one width for all, so that its grain is as coarse from each
      const wide = entry.wide > 0 ? entry.wide : Math.max(...sides.map((cast) => widest(box, cast, shape)), 1e-9)
      const cast = sides.map((from) => castOf(picture, box, from, wide, entry.wide > 0))
      const across = Math.max(...sides.flatMap(acrossOf).map((axis) => box[axis + 3] - box[axis]))
      const grain = Math.max(wide / picture.width / 2, wide / 16, across / 64)
      if (cast.length === 1) return { grain, at: cast[0] }
      const facing = facingOf(solid)
      return {
        grain,
        at: (p, o) => {
          // from where it is seen straight on it counts by far the most
          const shares = facing(p, o)
          let [sum, whole] = [0, 0]
          cast.forEach((light, i) => {
            const share = shares[CAST_ALONG[i]] ** 4
            if (share === 0) return
            sum += share * light(p, o)
            whole += share
          })
          return whole > 0 ? sum / whole : 0
        },
      }
    }
    case 'painted':
      return paintedOn(solid, entry.painted)
    case 'noise': {
      const { scale, seed } = entry
      const value = fractalNoise(seed, 3)
      return { at: (p, o) => Math.min(1, Math.max(0, 0.5 + value(p[o] / scale, p[o + 1] / scale, p[o + 2] / scale))) }
    }
  }
}

/** The places from which a picture is cast, and the axis each looks along. */
const CAST_FROM = ['front', 'above', 'side'] as const
const CAST_ALONG = [2, 1, 0] as const

/** Which way is to the right and which upwards as one looks from there. */
const acrossOf = (cast: MaskEntry['cast']) => (cast === 'front' ? [0, 1] : cast === 'above' ? [0, 2] : [2, 1])

/** How wide a picture of that shape is that covers all of a box, seen from there, mm. */
function widest(box: ArrayLike<number>, cast: MaskEntry['cast'], shape: number): number {
  const [k, l] = acrossOf(cast)
  return Math.max(box[k + 3] - box[k], (box[l + 3] - box[l]) * shape)
}

/** How light a picture is at a place, cast from one side over the middle of a box. */
function castOf(picture: GreyPicture, box: ArrayLike<number>, cast: MaskEntry['cast'], wide: number, again: boolean): (p: Float64Array, o: number) => number {
  const [k, l] = acrossOf(cast)
  const high = (wide * picture.height) / picture.width
  const [middle, level] = [(box[k] + box[k + 3]) / 2, (box[l] + box[l + 3]) / 2]
  // seen from above what is further away is higher in the picture, seen from the right what is nearer is on the left
  const [right, up] = [cast === 'side' ? -1 : 1, cast === 'above' ? -1 : 1]
  return (p, o) => lightAt(picture, 0.5 + (right * (p[o + k] - middle)) / wide, 0.5 + (up * (p[o + l] - level)) / high, again)
}

/** How much a surface looks along x, y and z at a place on it, each 0 to 1: by the triangle it lies on. */
function facingOf({ positions: q, indices }: Solid): (p: Float64Array, o: number) => readonly number[] {
  const near = new NearestTriangle({ positions: q, indices })
  const shares = [0, 0, 0]
  return (p, o) => {
    near.from(p[o], p[o + 1], p[o + 2], Infinity, -1)
    const t = 3 * near.triangle
    const [a, b, c] = [3 * indices[t], 3 * indices[t + 1], 3 * indices[t + 2]]
    const [ux, uy, uz] = [q[b] - q[a], q[b + 1] - q[a + 1], q[b + 2] - q[a + 2]]
    const [vx, vy, vz] = [q[c] - q[a], q[c + 1] - q[a + 1], q[c + 2] - q[a + 2]]
    shares[0] = Math.abs(uy * vz - uz * vy)
    shares[1] = Math.abs(uz * vx - ux * vz)
    shares[2] = Math.abs(ux * vy - uy * vx)
    const size = Math.hypot(shares[0], shares[1], shares[2]) || 1
    for (let k = 0; k < 3; k++) shares[k] /= size
    return shares
  }
}

/** 1 at the vertices of triangles with the label wanted, 0 at all others. */
function touching(solid: Solid, label: Label, wanted: (value: number) => boolean): Float32Array {
  const out = new Float32Array(vertexCount(solid))
  for (let t = 0; t < triangleCount(solid); t++) if (wanted(labelAt(solid, t, label))) for (let k = 0; k < 3; k++) out[solid.indices[3 * t + k]] = 1
  return out
}
