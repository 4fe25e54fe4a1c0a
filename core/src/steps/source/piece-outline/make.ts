import { loadManifold } from '../../../kernel/manifold'
import { sizedOutline } from '../../../outline/sized'
import { cutToVisible } from '../../../outline/visible'
import { UNMOVED } from '../../../solid/operations'
import { layersTold } from '../../shared/joining'
import { unsized } from '../../shared/laying'
import { type Evaluate, failed, type StepIssue } from '../../step'
import type { pieceOutlineParams } from './schema'

export const evaluate: Evaluate<typeof pieceOutlineParams> = async (_input, { layers, visible, gap }, context) => {
  const [given] = context.inputs.of ?? []
  if (given?.kind !== 'outline') return failed('no-piece', 'No piece has been chosen to take the outline of.', 'Choose one.', 'of')
  const outline = sizedOutline(given, unsized(context.placed?.of?.[0]?.matrix ?? UNMOVED).size)
  const marks = { layers: layersTold(outline) }
  if (visible) await loadManifold()
  await context.breathe()
  // of one layer without a gap nothing lies over anything else that is to be told apart
  const shown = visible && outline.layers.length > 1 ? cutToVisible(outline, gap) : outline
  const taken = new Set(layers.length === 0 ? outline.layers.map(({ id }) => id) : layers)
  const kept = outline.layers.flatMap(({ id }, i) => (taken.has(id) ? [i] : []))
  const number = new Map(kept.map((layer, i) => [layer, i]))
  const regions = shown.regions.flatMap((region) => {
    const layer = number.get(region.layer)
    return layer === undefined ? [] : [{ ...region, layer }]
  })
  const lost = layers.filter((id) => !outline.layers.some((layer) => layer.id === id))
  const issues: StepIssue[] = lost.length === 0 ? [] : [
      {
        code: 'layers-gone',
        severity: 'warning',
        message: `The piece has no layer ${lost.slice(0, 6).map((id) => `“${id}”`).join(', ')} any more.`,
        remedy: 'It is taken again when such a layer comes back; or pick others.',
        field: 'layers',
      },
    ] // biome-ignore format: short
  if (regions.length === 0 && !outline.nothingYet) {
    const outcome = failed(
      'nothing-taken',
      lost.length === layers.length && lost.length > 0
        ? 'The piece has none of the layers picked any more.'
        : 'Nothing of the layers picked shows: others lie over them.',
      'Pick other layers, or take what lies under others as well.',
      'layers',
    )
    return { ...outcome, marks }
  }
  // strokes belong to no layer
  const strokes = layers.length === 0 ? outline.strokes : []
  return { ok: true, value: { ...outline, layers: kept.map((i) => outline.layers[i]), regions, strokes }, issues, marks }
}
