import { placedSolid } from '../../../join/placed'
import { snap } from '../../../outline/lattice'
import type { Outline } from '../../../outline/outline'
import { sizedOutline } from '../../../outline/sized'
import { type Matrix, UNMOVED } from '../../../solid/operations'
import { layingOf, pocketArea } from '../../join/inlay/make'
import { inlayParams, pocketReach } from '../../join/inlay/schema'
import { plain } from '../../meta'
import { layInStep, NOT_LAID, unsized } from '../../shared/laying'
import { type Evaluate, failed, type StepKind, type Value } from '../../step'
import { extrude } from '../extrude'
import type { insertParams } from './schema'

export const evaluate: Evaluate<typeof insertParams> = async (input, { front }, context) => {
  const found = context.settings?.pocket
  if (!found) return failed('no-pocket', 'No piece with a pocket has been chosen.', 'Choose the piece that has the Inlay step.', 'pocket')
  const pocket = inlayParams.parse(found.params)
  const { depth, lead, proud } = pocket
  const laying = layingOf(pocket)
  // the pocket's mm in this piece's own; what is laid is made in the pocket's, and sized then
  const scale = laying === NOT_LAID ? found.size : 1
  const height = (depth + proud) * scale
  if (height < 0.1)
    return failed('no-height', `The insert would be ${plain(height)} mm high.`, 'Let it stand out further, or make the pocket deeper.', 'pocket')
  const chamfer = Math.min(lead * scale, 0.45 * height)
  const form = (outline: Value | undefined) =>
    (extrude as StepKind).evaluate(
      outline,
      extrude.params.parse({
        depth: height,
        front,
        back: chamfer > 0 ? { profile: 'chamfer', inset: chamfer, height: chamfer } : { profile: 'square' },
      }),
      context,
    )
  if (laying === NOT_LAID || input?.kind !== 'outline') return form(input)
  const [body] = context.inputs.body ?? []
  if (body?.kind !== 'solid')
    return failed('no-body', 'Nothing stands before the Inlay step that a pocket could be cut into.', 'Put a body before it.', 'pocket')
  const [words = input] = context.inputs.words ?? []
  // taken from another piece the words are as large as they stand there
  const size = laying.size / 100
  const formed = await form(sizedOutline(input, size / unsized(context.placed?.words?.[0]?.matrix ?? UNMOVED).size))
  if (!formed.ok || formed.value.kind !== 'solid') return formed
  const flat = formed.value
  const risen = { ...flat, positions: Float64Array.from(flat.positions, (v, i) => (i % 3 === 2 ? snap(v - depth, flat.lattice) : v)) }
  await context.breathe()
  const laid = layInStep(body, risen, UNMOVED, laying, Math.max(pocketReach(pocket), proud), pocketArea(words as Outline, size, pocket.clearance))
  if ('failure' in laid) return laid.failure
  const { matrix } = laid
  const s = found.size
  const { solid, mended } = placedSolid(laid.solid, matrix.map((v) => v * s) as unknown as Matrix, laid.solid.lattice)
  if (!mended.sound)
    return failed('unsound', 'The insert would pass through itself on this surface.', 'Choose a flatter spot for the pocket, or make it less deep.', 'pocket')
  return { ok: true, value: solid, issues: [...formed.issues, ...laid.issues], told: laid.told }
}
