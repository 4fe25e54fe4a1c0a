import { z } from 'zod'
import { partnersParam } from '../../shared/join-fields'

export const overlapParams = z.object({ others: partnersParam })
