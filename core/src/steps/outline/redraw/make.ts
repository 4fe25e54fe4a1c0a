import { loadManifold } from '../../../kernel/manifold'
import { keyOf, nestPaths } from '../../../outline/areas'
import type { Affine } from '../../../outline/affine'
import { fromPath, type NodePath, toPath } from '../../../outline/nodes'
import type { Member, Outline, Region } from '../../../outline/outline'
import { type EditableShape, editableShapes, textOf } from '../../../outline/letter-shapes'
import { transformPath } from '../../../outline/path'
import { unitedWhereChanged } from '../../../outline/unite'
import { lettersKept } from '../../../document/letters'
import { mapBetween } from './map-between'
import { type Evaluate, failed, type StepIssue } from '../../step'
import type { RedrawnLetter, RedrawParams, redrawParams } from './schema'

export const evaluate: Evaluate<typeof redrawParams> = async (input, { edits }) => {
  if (input?.kind !== 'outline') return failed('no-outline', 'Redraw needs an outline to work on.', 'Put a source such as Lettering before it.')
  if (edits.list.length === 0) return { ok: true, value: input, issues: [] }
  await loadManifold()
  const { value, aside } = applyEdits(input, edits)
  const issues: StepIssue[] = []
  if (aside.length > 0)
    issues.push({
      code: 'set-aside',
      severity: 'warning',
      message: `Set aside: ${aside.map(({ edit, why }) => `${edit.text ? `“${edit.text}”` : 'a shape'} (${why})`).join(', ')}.`,
      remedy: 'They are kept: they come back with their letter, or can be used for another one on the board.',
      field: 'edits',
    })
  return { ok: true, value, issues, told: `${edits.list.length - aside.length} of ${edits.list.length} in use` }
}

/** The outline with its letters drawn anew, and the edits that found no letter, with the reason. */
function applyEdits(outline: Outline, { of, list }: RedrawParams['edits']): { value: Outline; aside: { edit: RedrawnLetter; why: string }[] } {
  const shapes = editableShapes(outline)
  const kept = lettersKept(of, textOf(outline))
  const aside: { edit: RedrawnLetter; why: string }[] = []
  const used = new Map<EditableShape, NodePath[]>()
  for (const edit of list) {
    const isLetter = edit.text !== ''
    const at = edit.at < 0 ? undefined : kept.get(edit.at)
    const found = isLetter ? shapes.filter((s) => !used.has(s) && s.text === edit.text && s.at === at) : shapes.filter((s) => !used.has(s) && s.at < 0)
    let best: { shape: EditableShape; map: Affine; moved: number } | undefined
    for (const shape of found) {
      const map = mapBetween(edit.base, shape.paths)
      const moved = map ? Math.hypot(map[4], map[5]) : Infinity
      if (map && (!best || moved < best.moved)) best = { shape, map, moved }
    }
    if (!best) aside.push({ edit, why: found.length === 0 ? (isLetter ? 'the letter is gone' : 'the shape is gone') : 'it has another shape now' })
    else {
      const { map } = best
      used.set(
        best.shape,
        edit.paths.map((drawn) => fromPath(transformPath(toPath(drawn), map))),
      )
    }
  }
  if (used.size === 0) return { value: outline, aside }
  const replaced = new Map<string, NodePath[] | null>()
  for (const [shape, paths] of used) shape.parts.forEach(([r, m], i) => replaced.set(`${r}/${m}`, i === 0 ? paths : null))
  const before: Region[] = []
  const after = outline.regions.flatMap((region, r): Region[] => {
    before.push(region)
    if (!region.members.some((_, m) => replaced.has(`${r}/${m}`))) return [region]
    const members = region.members.flatMap((member, m): Member[] => {
      const paths = replaced.get(`${r}/${m}`)
      if (paths === undefined) return [member]
      if (paths === null || paths.length === 0) return []
      const back: Affine = [1, 0, 0, 1, -region.dx, -region.dy]
      return [{ letter: member.letter, paths: nestPaths(paths.map((drawn) => transformPath(toPath({ ...drawn, closed: true }), back))) }]
    })
    if (members.length === 0) {
      before.pop()
      return []
    }
    return [
      {
        ...region,
        members,
        key: `${keyOf(
          'redraw',
          members.flatMap((m) => m.paths),
        )}/${region.key}`,
      },
    ]
  })
  return { value: { ...outline, regions: unitedWhereChanged(before, after) }, aside }
}
