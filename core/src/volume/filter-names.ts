export const FILTERS = ['gaussian', 'mean', 'median', 'flow'] as const

export type Filter = (typeof FILTERS)[number]
