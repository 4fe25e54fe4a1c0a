import type { Group } from '@kelvar/core/solid/labels'

/** What surface groups are called. */
export const GROUP_WORDS: Readonly<Record<Group, string>> = { face: 'Face', edge: 'Edge', return: 'Return', back: 'Back', inside: 'Inside' }
