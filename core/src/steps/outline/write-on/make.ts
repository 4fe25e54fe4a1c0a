import { covered, lengthOfLines, type PenLine, penLines } from '../../../centre/pen'
import { loadManifold } from '../../../kernel/manifold'
import { ArcLength } from '../../../outline/arc-length'
import { fitRings, keyOf, letterOf, regionArea } from '../../../outline/areas'
import { Area, clipAreas } from '../../../outline/clip'
import { flattenPath } from '../../../outline/flatten'
import type { Region } from '../../../outline/outline'
import type { Path } from '../../../outline/path'
import { regionStrokes } from '../../shared/centre'
import { type Evaluate, failed, type StepContext, type StepIssue } from '../../step'
import type { writeOnParams } from './schema'

export const evaluate: Evaluate<typeof writeOnParams> = async (input, { written, by, backwards }, { memo, breathe, progress }) => {
  if (input?.kind !== 'outline') return failed('no-outline', 'Write on needs an outline to work on.', 'Put a source such as Lettering before it.')
  if (written >= 100) return { ok: true, value: input, issues: [] }
  await loadManifold()
  const pens: (readonly PenLine[])[] = []
  for (const [i, region] of input.regions.entries()) {
    await breathe()
    pens.push(pensOf(memo, region, input.lattice))
    progress((0.6 * (i + 1)) / input.regions.length)
  }
  const lines = input.strokes.map((path) => new ArcLength(path))
  const lengths = [...pens.map(lengthOfLines), ...lines.map(({ length }) => length)]
  const parts = partsWritten(lengths, written / 100, by === 'letter', backwards)
  const regions: Region[] = []
  for (const [i, region] of input.regions.entries()) {
    await breathe()
    const now = regionSoFar(region, pens[i], parts[i])
    if (now) regions.push(now)
    progress(0.6 + (0.4 * (i + 1)) / input.regions.length)
  }
  const strokes = input.strokes.flatMap((path, i): Path[] => {
    const part = parts[pens.length + i]
    const now = part >= lengths[pens.length + i] ? path : lines[i].firstPart(part)
    return now ? [now] : []
  })
  const nothing = regions.length === 0 && strokes.length === 0
  return { ok: true, value: { ...input, regions, strokes, ...(nothing ? { nothingYet: true } : {}) }, issues: nothing ? [NOTHING_YET] : [] }
}

/** How near curves are followed, mm, and how far apart points of a border are looked at, as a share of its letter's size. */
const FOLLOWED = 0.05

const LOOKED_AT = 0.01

const NOTHING_YET: StepIssue = {
  code: 'nothing-yet',
  severity: 'note',
  message: 'Nothing is written yet.',
  remedy: 'Raise “Written so far”, or go to a later frame.',
  field: 'written',
}

/** Of each thing how much is written, mm, when a share of all is. */
function partsWritten(lengths: readonly number[], share: number, atOnce: boolean, backwards: boolean): number[] {
  if (atOnce) return lengths.map((length) => share * length)
  const order = lengths.map((_, i) => (backwards ? lengths.length - 1 - i : i))
  let left = share * lengths.reduce((sum, length) => sum + length, 0)
  const parts = lengths.map(() => 0)
  for (const i of order) {
    parts[i] = Math.min(lengths[i], Math.max(0, left))
    left -= lengths[i]
  }
  return parts
}

/** The pen's ways through a region, in its own coordinates, kept for its shape. */
const pensOf = (memo: StepContext['memo'], region: Region, lattice: number): readonly PenLine[] =>
  memo.get(`pen-lines:${region.key}:${lattice}`, () => {
    const paths = region.members.flatMap((member) => member.paths.filter(({ closed }) => closed))
    const borders = paths.map((path) => flattenPath(path, { tolerance: FOLLOWED, maxTurn: 10 }).xy)
    const size = borders.reduce((most, xy) => xy.reduce((m, v) => Math.max(m, Math.abs(v)), most), 0)
    return penLines(
      regionStrokes(memo, region, lattice),
      borders.flatMap((xy) => [...closely(xy, Math.max(0.05, LOOKED_AT * size))]),
    )
  })

/** The corners of a ring with points between them, none further apart than `step`; x, y pairs. */
function closely(ring: ArrayLike<number>, step: number): number[] {
  const out: number[] = []
  const n = ring.length / 2
  for (let i = 0; i < n; i++) {
    const j = (i + 1) % n
    const [x0, y0, dx, dy] = [ring[2 * i], ring[2 * i + 1], ring[2 * j] - ring[2 * i], ring[2 * j + 1] - ring[2 * i + 1]]
    const count = Math.max(1, Math.ceil(Math.hypot(dx, dy) / step))
    for (let k = 0; k < count; k++) out.push(x0 + (dx * k) / count, y0 + (dy * k) / count)
  }
  return out
}

/** What is written of a region after so many millimetres: itself when that is all of it, which its form is kept for. */
function regionSoFar(region: Region, pens: readonly PenLine[], length: number): Region | undefined {
  const whole = lengthOfLines(pens)
  // what has no strokes is there or not
  if (whole === 0 || length >= whole) return length >= whole ? region : undefined
  if (!(length > 0)) return undefined
  const own = { ...region, dx: 0, dy: 0 }
  const paths = clipAreas(regionArea(own), new Area(fitRings(covered(pens, length))), 'intersect')
  return paths.length > 0 ? { ...own, key: keyOf('written', paths), members: [{ letter: letterOf(region), paths }], dx: region.dx, dy: region.dy } : undefined
}
