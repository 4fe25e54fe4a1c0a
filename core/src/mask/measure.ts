import { fractalNoise } from '../solid/noise'
import { type CurvePoint, throughPoints } from '../outline/through-points'
import { GROUPS, type Label } from '../solid/labels'
import { labelAt, type Solid, solidBounds, triangleCount, vertexCount } from '../solid/solid'
import { longer } from '../solid/vertex-table'
import { alongStrokes } from './along-strokes'
import { castPicture } from './cast-picture'
import { curvatures } from './curvature'
import { distanceTo, seenOutline } from './outline-distance'
import { paintedOn } from './painted'
import { pictureAtHand } from './pictures'
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
      return picture ? castPicture(picture, entry, solid) : { at: () => 1 }
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

/** 1 at the vertices of triangles with the label wanted, 0 at all others. */
function touching(solid: Solid, label: Label, wanted: (value: number) => boolean): Float32Array {
  const out = new Float32Array(vertexCount(solid))
  for (let t = 0; t < triangleCount(solid); t++) if (wanted(labelAt(solid, t, label))) for (let k = 0; k < 3; k++) out[solid.indices[3 * t + k]] = 1
  return out
}
