import { z } from 'zod'
import { pieceReference } from '../../document/piece-reference'
import { meta } from '../meta'

/** How many other pieces a step may join with. */
const MOST_PARTNERS = 24

/** The pieces that a body is joined with, at their places. */
export const partnersParam = z
  .array(pieceReference)
  .max(MOST_PARTNERS, `At most ${MOST_PARTNERS} pieces can be joined in one step.`)
  .default([])
  .meta(meta({ title: 'Piece', input: ['solid'], placed: true }))

/** What a cutter reaches beyond the face, mm: faces that lie in one plane would leave a skin. */
export const BEYOND = 1

export const leaveParam = z
  .number('What is to be left must be a number.')
  .min(0)
  .max(1000)
  .default(0.8)
  .meta(meta({ title: 'Leave at least', unit: 'mm', step: 0.1, description: 'Thinner floors are pointed out.', advanced: true }))

/** The words that a step carves or raises: another piece's outline, at its place. */
export const wordsParam = pieceReference
  .default({ piece: '' })
  .meta(meta({ title: 'Words', input: ['outline'], placed: true, description: 'A piece whose outline is used; its own form stays as it is.' }))
