import { loadManifold } from '../../../kernel/manifold'
import { keyOf, nestPaths } from '../../../outline/areas'
import type { Affine } from '../../../outline/affine'
import { fromPath, type NodePath, pointsOf, toPath } from '../../../outline/nodes'
import type { Member, Outline, Region } from '../../../outline/outline'
import { type EditableShape, editableShapes, textOf } from '../../../outline/letter-shapes'
import { transformPath } from '../../../outline/path'
import { lettersKept } from '../../../document/letters'
import { defineStep, failed, type StepIssue } from '../../step'
import { type RedrawnLetter, type RedrawParams, redrawParams } from './schema'

export const redraw = defineStep({
  kind: 'redraw',
  version: 1,
  family: 'Outline',
  title: 'Redraw',
  summary: 'Changes the outlines of single letters or shapes by hand; the words stay words.',
  takes: ['outline'],
  gives: 'outline',
  params: redrawParams,

  describe({ edits: { list } }) {
    const letters = list.map((e) => e.text).filter(Boolean)
    if (list.length === 0) return 'Nothing redrawn yet'
    return letters.length > 0 ? `Redrawn by hand: ${letters.slice(0, 12).join(' ')}${letters.length > 12 ? ' …' : ''}` : `${list.length} redrawn by hand`
  },

  async evaluate(input, { edits }) {
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
  },
})

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
  const regions = outline.regions.flatMap((region, r): Region[] => {
    if (!region.members.some((_, m) => replaced.has(`${r}/${m}`))) return [region]
    const members = region.members.flatMap((member, m): Member[] => {
      const paths = replaced.get(`${r}/${m}`)
      if (paths === undefined) return [member]
      if (paths === null || paths.length === 0) return []
      const back: Affine = [1, 0, 0, 1, -region.dx, -region.dy]
      return [{ letter: member.letter, paths: nestPaths(paths.map((drawn) => transformPath(toPath({ ...drawn, closed: true }), back))) }]
    })
    if (members.length === 0) return []
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
  return { value: { ...outline, regions }, aside }
}

/** How far, as a share of the size, a letter may differ from the one that was drawn over and still count as the same. */
const SAME = 0.002

/**
 * The affine map that takes outlines to others of the same nodes, by least squares over nodes and handles; undefined when
 * they are not the same letter in another place, size, slant or turn.
 */
export function mapBetween(from: readonly NodePath[], to: readonly NodePath[]): Affine | undefined {
  if (from.length !== to.length) return undefined
  const p = from.flatMap(pointsOf)
  const q = to.flatMap(pointsOf)
  if (p.length !== q.length || from.some((path, i) => path.nodes.length !== to[i].nodes.length)) return undefined
  const n = p.length / 2
  const mean = (v: readonly number[], k: number) => v.reduce((sum, value, i) => (i % 2 === k ? sum + value : sum), 0) / n
  const [px, py, qx, qy] = [mean(p, 0), mean(p, 1), mean(q, 0), mean(q, 1)]
  let [xx, xy, yy, xu, yu, xv, yv] = [0, 0, 0, 0, 0, 0, 0]
  for (let i = 0; i < 2 * n; i += 2) {
    const [x, y, u, v] = [p[i] - px, p[i + 1] - py, q[i] - qx, q[i + 1] - qy]
    xx += x * x
    xy += x * y
    yy += y * y
    xu += x * u
    yu += y * u
    xv += x * v
    yv += y * v
  }
  const determinant = xx * yy - xy * xy
  let [a, b, c, d] = [1, 0, 0, 1]
  if (determinant > 1e-9 * (xx + yy) ** 2) {
    a = (xu * yy - yu * xy) / determinant
    c = (yu * xx - xu * xy) / determinant
    b = (xv * yy - yv * xy) / determinant
    d = (yv * xx - xv * xy) / determinant
  }
  const map: Affine = [a, b, c, d, qx - a * px - c * py, qy - b * px - d * py]
  let worst = 0
  for (let i = 0; i < 2 * n; i += 2) {
    const [x, y] = [p[i], p[i + 1]]
    worst = Math.max(worst, Math.hypot(map[0] * x + map[2] * y + map[4] - q[i], map[1] * x + map[3] * y + map[5] - q[i + 1]))
  }
  const size = Math.sqrt(q.reduce((sum, value, i) => sum + (value - (i % 2 === 0 ? qx : qy)) ** 2, 0) / n || 0)
  return worst <= SAME * size + 1e-5 && a * d - b * c > 0 ? map : undefined
}
