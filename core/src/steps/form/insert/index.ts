import { z } from 'zod'
import { pieceReference } from '../../../document/piece-reference'
import { placedSolid } from '../../../join/placed'
import { snap } from '../../../outline/lattice'
import type { Outline } from '../../../outline/outline'
import { sizedOutline } from '../../../outline/sized'
import { type Matrix, UNMOVED } from '../../../solid/operations'
import { inlayParams, layingOf, pocketArea, pocketReach } from '../../join/inlay'
import { meta, plain } from '../../meta'
import { edgeParams } from '../../shared/edge'
import { layInStep, NOT_LAID, unsized } from '../../shared/laying'
import { defineStep, failed, type StepKind, type Value } from '../../step'
import { extrude } from '../extrude'

const insertParams = z.object({
  pocket: pieceReference
    .default({ piece: '' })
    .meta(meta({ title: 'Goes into', settingsOf: 'inlay', description: 'The piece with the Inlay step: depth, lead-in and height are set there.' })),
  front: edgeParams.prefault({ profile: 'square' }).meta(meta({ title: 'Edge', holds: 'edge profile', pull: 'edge' })),
})

export const insert = defineStep({
  kind: 'insert',
  version: 1,
  family: 'Form',
  title: 'Insert',
  summary: 'The words as they fit into the pocket of another piece’s Inlay step.',
  takes: ['outline'],
  gives: 'solid',
  params: insertParams,
  // what lies on a surface is made on the surface that the pocket was cut into, and by all of its words
  follows: ({ pocket }, settings) => {
    const of = inlayParams.safeParse(settings.pocket).data
    if (!of || of.lay === 'place') return []
    return [
      { name: 'body', accepts: ['solid'], piece: pocket.piece, before: 'inlay' },
      ...(of.words.piece ? [{ name: 'words', accepts: ['outline'] as const, piece: of.words.piece, unlessWaiting: true }] : []),
    ]
  },
  describe: ({ front }) => `Fits the pocket${front.profile === 'square' ? '' : `, ${front.profile.replaceAll('-', ' ')} ${plain(front.inset)} mm`}`,

  async evaluate(input, { front }, context) {
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
  },
})
