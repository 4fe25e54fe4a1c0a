import type { Point } from '../check/rays'
import type { Solid } from '../solid/solid'
import { type Bent, bendOver, standOn } from './bend'
import { type Frame, type GroundFailure, groundFor, type LayOptions, smoothings } from './ground'
import type { RoundBody } from './round-body'

export type { Frame, LayOptions } from './ground'

export interface Laid extends Pick<Bent, 'solid' | 'stretch' | 'creases'> {
  readonly ok: true
  readonly frame: Frame
  /** what they are wrapped round */
  readonly round?: RoundBody
  /** over what length the surface was smoothed beneath them, mm */
  readonly smoothed: number
}

export type NotLaid =
  | { readonly ok: false; readonly why: GroundFailure }
  /** letters without a surface beneath them, by their number */
  | { readonly ok: false; readonly why: 'runs-off'; readonly letters: readonly number[]; readonly frame: Frame }
  /** the surface curves more than the words are deep */
  | { readonly ok: false; readonly why: 'folds'; readonly places: readonly Point[]; readonly frame: Frame }

/**
 * Lays a flat solid on a body's surface: x along the line, y across it, z off the surface, all in mm from the place that was picked. Bent to the
 * surface, or letter by letter as they are. Where `smooth` is 0, the surface is smoothed beneath the words over longer and longer lengths
 * until nothing folds, starting from none where it is smooth. What comes back is sound and on the lattice.
 */
export function layOn(body: Solid, flat: Solid, options: LayOptions & { readonly letters: 'bent' | 'whole' }): Laid | NotLaid {
  const { smooth, letters, depth } = options
  let failure: NotLaid | undefined
  const { lengths, rough } = options.how === 'round' ? { lengths: [0], rough: false } : smoothings(body, options)
  const tried = smooth > 0 ? [smooth] : lengths
  for (const smoothed of tried) {
    const last = smoothed === tried[tried.length - 1]
    const ground = groundFor(body, { ...options, smooth: smoothed, rough })
    if ('why' in ground) return { ok: false, why: ground.why }
    let bent = letters === 'whole' ? standOn(ground, flat, body.lattice) : bendOver(ground, flat, depth, body.lattice)
    // triangles of another size cross elsewhere, if at all
    for (let finer = 2; finer <= 4 && last && letters === 'bent' && !bent.sound && bent.folds.length === 0 && bent.off.length === 0; finer *= 2)
      bent = bendOver(ground, flat, depth, body.lattice, finer)
    const { frame, round } = ground
    if (bent.off.length > 0) return { ok: false, why: 'runs-off', letters: bent.off, frame }
    const { solid, stretch, creases } = bent
    if (bent.sound && bent.folds.length === 0) return { ok: true, solid, stretch, creases, frame, round, smoothed }
    failure = { ok: false, why: 'folds', places: bent.folds.length > 0 ? bent.folds : [frame.point], frame }
  }
  return failure as NotLaid
}
