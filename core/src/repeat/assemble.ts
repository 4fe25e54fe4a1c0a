import { latticeFor } from '../outline/lattice'
import { type Assembly, assemblyBounds } from '../solid/assembly'
import { NONE, withLabel } from '../solid/labels'
import { compose, type Matrix, UNMOVED } from '../solid/operations'
import type { Solid } from '../solid/solid'
import type { Spots } from './spots'

/** A value to be repeated, as an assembly. */
export function asAssembly(value: Solid | Assembly): Assembly {
  if (value.kind === 'assembly') return value
  return {
    kind: 'assembly',
    units: [value],
    placements: {
      unit: new Uint32Array(1),
      matrix: Float64Array.from(UNMOVED),
      letter: Int32Array.of(NONE),
      copy: Int32Array.of(NONE),
      shard: Int32Array.of(NONE),
    },
    letters: value.letters,
    lattice: value.lattice,
  }
}

/**
 * Something repeated at places: each place gets all of it, and everything there has the place's number. Letters that places name are of `letters`; where a place
 * names none, what stands there keeps those it has. `body` stands with it, once, and is no copy.
 */
export function repeated(
  unit: Assembly,
  { count, matrix: at, letter, spot }: Spots,
  numbers: Int32Array,
  { letters = unit.letters, body }: { readonly letters?: readonly string[]; readonly body?: Assembly } = {},
): Assembly {
  const inner = unit.placements
  const per = inner.unit.length
  const own = body?.placements.unit.length ?? 0
  const total = own + per * count
  const units = [...(body?.units ?? []), ...unit.units]
  const out = {
    unit: new Uint32Array(total),
    matrix: new Float64Array(12 * total),
    letter: new Int32Array(total).fill(NONE),
    copy: new Int32Array(total).fill(NONE),
    shard: new Int32Array(total).fill(NONE),
    spot: new Float64Array(3 * total),
  }
  const colours = inner.colour || body?.placements.colour ? new Int32Array(total).fill(NONE) : undefined
  if (body) {
    for (const name of ['unit', 'matrix', 'letter', 'copy', 'shard'] as const) out[name].set(body.placements[name] as never)
    if (body.placements.spot) out.spot.set(body.placements.spot)
    if (body.placements.colour) colours?.set(body.placements.colour)
  }
  const before = body?.units.length ?? 0
  for (let i = 0; i < count; i++) {
    const place = at.subarray(12 * i, 12 * i + 12) as unknown as Matrix
    for (let k = 0; k < per; k++) {
      const o = own + i * per + k
      out.unit[o] = before + inner.unit[k]
      out.matrix.set(compose(place, inner.matrix.subarray(12 * k, 12 * k + 12) as unknown as Matrix), 12 * o)
      out.letter[o] = letter[i] === NONE ? inner.letter[k] : letter[i]
      out.copy[o] = numbers[i]
      out.shard[o] = inner.shard[k]
      out.spot.set(spot.subarray(3 * i, 3 * i + 3), 3 * o)
      if (inner.colour && colours) colours[o] = inner.colour[k]
    }
  }
  const whole = { units, placements: { ...out, ...(colours ? { colour: colours } : {}) } }
  const far = assemblyBounds(whole).reduce((most, v) => (Number.isFinite(v) ? Math.max(most, Math.abs(v)) : most), 0)
  const lattice = Math.max(unit.lattice, body?.lattice ?? 0, latticeFor(far))
  return { kind: 'assembly', ...whole, letters, lattice }
}

/** A thing that stands for no letters of its own, so that places may give it theirs. */
export const withoutLetters = (unit: Assembly): Assembly => ({
  ...unit,
  units: unit.units.map((solid) => ({ ...solid, labels: withLabel(solid.labels, 'letter', () => NONE), letters: [] })),
  placements: { ...unit.placements, letter: new Int32Array(unit.placements.letter.length).fill(NONE) },
  letters: [],
})
