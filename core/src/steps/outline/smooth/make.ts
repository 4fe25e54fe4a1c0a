import { loadManifold } from '../../../kernel/manifold'
import { keyOf } from '../../../outline/areas'
import { smoothPathBy } from '../../../outline/smooth'
import { type Region, regionPaths } from '../../../outline/outline'
import { unitedWhereChanged } from '../../../outline/unite'
import { lettersKept } from '../../../document/letters'
import { FormatError } from '../../../format/mesh-data'
import { type Evaluate, failed, fileMissing, MissingAssetError, type StepIssue } from '../../step'
import { readTouches, type Touch } from './touches'
import { editableShapes, lowerLeft, textOf } from '../../../outline/letter-shapes'
import { isUntouched, type smoothParams } from './schema'

export const evaluate: Evaluate<typeof smoothParams> = async (input, { where, amount, corners, touches }, context) => {
  if (input?.kind !== 'outline') return failed('no-outline', 'Smooth needs an outline to work on.', 'Put a source such as Lettering before it.')
  if (amount === 0 || (where === 'brushed' && isUntouched(touches))) return { ok: true, value: input, issues: [] }
  const all = [...touches.list]
  if (where === 'brushed' && touches.file) {
    const { sha256 } = touches.file
    try {
      const known = context.memo.peek<Touch[]>(`touches:${sha256}`) ?? readTouches(await context.assets.file(sha256))
      context.memo.put(`touches:${sha256}`, known)
      for (const one of known) all.push(one)
    } catch (error) {
      if (error instanceof FormatError) return failed('unreadable', error.message, error.remedy, 'touches')
      if (error instanceof MissingAssetError) return fileMissing('What was brushed', 'touches')
      throw error
    }
  }
  const kept = lettersKept(touches.of, textOf(input))
  const corner = new Map(editableShapes(input).map((shape) => [shape.at, lowerLeft(shape)]))
  let lost = 0
  const discs = all.flatMap(({ at, x, y, r }) => {
    if (at === -1) return [{ x, y, r, letter: -1 }]
    const now = kept.get(at)
    const low = now === undefined ? undefined : corner.get(now)
    if (!low || now === undefined) {
      lost++
      return []
    }
    return [{ x: x + low[0], y: y + low[1], r, letter: now }]
  })
  const regions: Region[] = []
  for (const region of input.regions) {
    let changed = false
    const members = region.members.map((member) => {
      const at = input.letters[member.letter]?.at ?? -1
      const own = discs.filter((disc) => disc.letter === at)
      const placed = regionPaths({ ...region, members: [member] })
      const paths = placed.map((path) => {
        const out = smoothPathBy(path, { amount, corners, discs: where === 'brushed' ? own : undefined })
        if (out !== path) changed = true
        return out
      })
      return { ...member, paths }
    })
    regions.push(
      changed
        ? {
            ...region,
            members,
            dx: 0,
            dy: 0,
            key: keyOf(
              'smooth',
              members.flatMap((m) => m.paths),
            ),
          }
        : region,
    )
    await context.breathe()
  }
  const strokes = input.strokes.map((path) =>
    smoothPathBy(path, { amount, corners, discs: where === 'brushed' ? discs.filter((d) => d.letter < 0) : undefined }),
  )
  const issues: StepIssue[] =
    lost > 0
      ? [
          {
            code: 'set-aside',
            severity: 'warning',
            message: `${lost} touches of the brush were on letters that are gone; they are kept aside.`,
            remedy: 'They are used again when the letters come back.',
            field: 'touches',
          },
        ]
      : []
  await loadManifold()
  return { ok: true, value: { ...input, regions: unitedWhereChanged(input.regions, regions), strokes }, issues }
}
