import { nodePath } from '@kelvar/core/outline/node-path'
import { z } from 'zod'
import { useKept } from '../kept'

const keptProfile = z.object({ id: z.string(), name: z.string(), drawn: nodePath })
export type KeptProfile = z.infer<typeof keptProfile>

/** The profiles kept in the cabinet. */
export const useKeptProfiles = () => useKept('profiles', keptProfile)
