import { ArcLength } from '../outline/arc-length'
import { endDirectionOf } from '../outline/cubic'
import { type Path, segmentsOf } from '../outline/path'

export interface AlongPath {
  /** from one unit to the next, mm; fitted evenly */
  readonly pitch: number
  /** whether corners get one, and stretches between them are filled by themselves */
  readonly corners: boolean
  /** free of units before the ends of an open line, mm */
  readonly ends: number
}

/** Turns of a line sharper than this are corners, degrees. */
const CORNER = 25

/** Places along a line: lengths from its start, mm. Closed lines have none twice. */
export function placesAlong(path: Path, { pitch, corners, ends }: AlongPath): { readonly measured: ArcLength; readonly at: readonly number[] } {
  const measured = new ArcLength(path)
  const whole = measured.length
  if (whole === 0) return { measured, at: [] }
  const stops = corners ? cornersOf(path, measured) : []
  const out: number[] = []
  const stretch = (from: number, to: number, first: boolean, last: boolean) => {
    const gaps = Math.max(1, Math.round((to - from) / pitch))
    for (let k = first ? 0 : 1; k <= (last ? gaps : gaps - 1); k++) out.push(from + ((to - from) * k) / gaps)
  }
  if (path.closed) {
    const begin = stops[0] ?? 0
    const round = stops.length > 0 ? [...stops, begin + whole] : [0, whole]
    for (let i = 0; i + 1 < round.length; i++) stretch(round[i], round[i + 1], true, false)
  } else {
    const [from, to] = [Math.min(ends, whole / 2), Math.max(whole - ends, whole / 2)]
    if (to - from < 1e-9) return { measured, at: [whole / 2] }
    const round = [from, ...stops.filter((s) => s > from + 1e-6 && s < to - 1e-6), to]
    for (let i = 0; i + 1 < round.length; i++) stretch(round[i], round[i + 1], i === 0, true)
  }
  return { measured, at: out }
}

/** Lengths at which a line turns sharply. */
function cornersOf(path: Path, measured: ArcLength): number[] {
  const segments = segmentsOf(path)
  const limit = Math.cos((CORNER * Math.PI) / 180)
  const out: number[] = []
  let at = 0
  segments.forEach(({ cubic }, i) => {
    const before = segments[i === 0 ? segments.length - 1 : i - 1].cubic
    if (i > 0 || path.closed) {
      const [a, b] = [endDirectionOf(before, 1), endDirectionOf(cubic, 0)]
      if (a[0] * b[0] + a[1] * b[1] < limit) out.push(at)
    }
    at = measured.endOf(i)
  })
  return out
}
