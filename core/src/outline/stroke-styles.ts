export const CAPS = ['flat', 'round', 'square'] as const

export const JOINS = ['mitre', 'round', 'bevel'] as const
