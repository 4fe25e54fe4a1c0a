import { z } from 'zod'
import { pieceReference } from '../../../document/piece-reference'
import { meta } from '../../meta'
import { edgeParams } from '../../shared/edge-fields'

export const insertParams = z.object({
  pocket: pieceReference
    .default({ piece: '' })
    .meta(meta({ title: 'Goes into', settingsOf: 'inlay', description: 'The piece with the Inlay step: depth, lead-in and height are set there.' })),
  front: edgeParams.prefault({ profile: 'square' }).meta(meta({ title: 'Edge', holds: 'edge profile', pull: 'edge' })),
})
