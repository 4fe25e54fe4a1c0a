export const UNITS = ['bulb', 'rivet', 'stud', 'pearl', 'bead', 'bolt'] as const

export type UnitName = (typeof UNITS)[number]
