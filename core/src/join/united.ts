import { manifold } from '../kernel/manifold'
import { NONE, withLabel } from '../solid/labels'
import type { Solid } from '../solid/solid'
import { withKernelSolids } from './bridge'

export type United = { readonly ok: true; readonly solid: Solid } | { readonly ok: false; readonly places: readonly (readonly [number, number, number])[] }

const EVERYWHERE = [-Infinity, -Infinity, -Infinity, Infinity, Infinity, Infinity] as const

/**
 * All of them as one sound solid, in one go; they have the same list of letters. Mended where rounding to the lattice has spoilt it, or else not `ok`, with
 * the places. Undefined for none. Needs the kernel loaded.
 */
export function united(parts: readonly Solid[]): United | undefined {
  if (parts.length === 0) return undefined
  if (parts.length === 1) return { ok: true, solid: parts[0] }
  return withKernelSolids(['normal', 'uv'], (kernel): United => {
    const whole = kernel.own(manifold().Manifold.union(parts.map((part) => kernel.put(part))))
    const { solid, mended } = kernel.takeMended(whole, Math.max(...parts.map(({ lattice }) => lattice)), EVERYWHERE)
    if (!mended.sound) return { ok: false, places: mended.places }
    // the kernel lists the letters of all parts one after another
    const { letters } = parts[0]
    const labels = withLabel(solid.labels, 'letter', (row) => (solid.labels.letter[row] < 0 ? NONE : solid.labels.letter[row] % letters.length))
    return { ok: true, solid: { ...solid, letters, labels } }
  })
}
