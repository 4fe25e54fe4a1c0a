import type { Assembly } from '../solid/assembly'
import { NONE } from '../solid/labels'
import { letterParts } from '../solid/letter-parts'
import { split, UNMOVED } from '../solid/operations'
import { labelAt, type Solid, solidBounds } from '../solid/solid'
import { volumeOf } from '../solid/volume'
import { type Shattered, shatterSolid } from './shatter'
import type { Cracks, Pattern } from './sites'

/** How a solid is broken, as it is asked for. */
export interface BreakHow extends Omit<Cracks, 'pattern'> {
  readonly pattern: Pattern
  readonly gap: number
  /** 0 to 1, and mm */
  readonly rough: number
  readonly grain: number
  /** the largest chips, mm; 0 for none */
  readonly chips: number
  /** so many pieces for each letter, by lots of its own */
  readonly eachLetter: boolean
}

export type Broken =
  | {
      readonly ok: true
      /** a unit for every piece, in place, numbered as shards */
      readonly assembly: Assembly
      /** letters, or what hangs together of them */
      readonly letters: number
      /** how much of the roughness that was asked could be kept, 0 to 1 */
      readonly rough: number
      /** break faces whose two sides are not the same triangles */
      readonly unfit: number
      /** the share of the volume that chips and gaps take */
      readonly lost: number
    }
  | Extract<Shattered, { ok: false }>

interface Work {
  breathe(): Promise<void>
  progress(done: number): void
}

/**
 * A solid as an assembly of its pieces, by letter and from left to right. Letter by letter means what hangs together of letters; counted for each letter, a
 * letter's lots are its own by its place in the text. Needs the kernel loaded.
 */
export async function brokenToPieces(solid: Solid, how: BreakHow, { breathe, progress }: Work): Promise<Broken> {
  const { of, groups } = letterParts(solid)
  const apart = how.eachLetter && groups.length > 1 ? [...split(solid, (t) => of[t])].sort(([a], [b]) => a - b).map(([, piece]) => piece) : [solid]
  const shards: Solid[] = []
  let [unfit, rough] = [0, 1]
  for (const [i, piece] of apart.entries()) {
    if (how.pattern === 'letter') {
      shards.push(piece)
      continue
    }
    const box = solidBounds(piece.positions)
    // what is broken for itself breaks about its own middle
    const spot = how.eachLetter ? ([0, 1, 2].map((k) => (box[k] + box[k + 3]) / 2) as [number, number, number]) : how.spot
    const own = how.eachLetter ? Math.imul(how.seed, 31) + Math.imul((groups[i]?.[0] ?? i) + 1, 7919) : how.seed
    const broken = await shatterSolid(
      piece,
      {
        cracks: { pattern: how.pattern, pieces: how.pieces, seed: own, spot, reach: how.reach, angle: how.angle, long: how.long },
        gap: how.gap,
        chips: how.chips,
        ...(how.rough > 0 ? { roughness: { grain: how.grain, rough: how.rough, seed: how.seed } } : {}),
      },
      breathe,
    )
    if (!broken.ok) return broken
    shards.push(...broken.shards)
    unfit += broken.walls - broken.fitting
    rough = Math.min(rough, broken.rough)
    progress((i + 1) / apart.length)
  }
  const sorted = how.pattern === 'letter' ? shards : inOrder(shards)
  const before = Math.abs(volumeOf(solid))
  const after = sorted.reduce((sum, shard) => sum + volumeOf(shard), 0)
  return { ok: true, assembly: asShards(sorted, solid), letters: groups.length, unfit, rough, lost: before > 0 ? 1 - after / before : 0 }
}

function inOrder(shards: readonly Solid[]): Solid[] {
  const keys = shards.map((shard) => {
    const [x0, y0, , x1, y1] = solidBounds(shard.positions)
    const letter = shard.surface.reduce((least, _, t) => {
      const own = labelAt(shard, t, 'letter')
      return own === NONE ? least : Math.min(least, own)
    }, Infinity)
    return { shard, key: [letter, x0 + x1, y0 + y1] }
  })
  const before = (a: readonly number[], b: readonly number[]) => a.map((v, k) => v - b[k]).find((d) => d !== 0) ?? 0
  return keys.sort((a, b) => before(a.key, b.key)).map(({ shard }) => shard)
}

/** Pieces in place as an assembly, numbered as shards. */
export function asShards(shards: readonly Solid[], { letters, lattice }: Pick<Solid, 'letters' | 'lattice'>): Assembly {
  const count = shards.length
  const matrix = new Float64Array(12 * count)
  for (let i = 0; i < count; i++) matrix.set(UNMOVED, 12 * i)
  return {
    kind: 'assembly',
    units: shards,
    placements: {
      unit: Uint32Array.from(shards.keys()),
      matrix,
      letter: new Int32Array(count).fill(NONE),
      copy: new Int32Array(count).fill(NONE),
      shard: Int32Array.from(shards.keys()),
    },
    letters,
    lattice,
  }
}
