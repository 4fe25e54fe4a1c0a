/** What things are made of, g/cm³ (usual values of tables; of timber and foam they differ). */
export const DENSITIES = {
  acrylic: 1.19,
  print: 1.24,
  birch: 0.67,
  foam: 0.03,
  plaster: 1.2,
  glass: 2.5,
  stone: 2.65,
  aluminium: 2.7,
  brass: 8.5,
  steel: 7.85,
  toffee: 1.4,
  rubber: 1.1,
} as const

export type Stuff = keyof typeof DENSITIES
export const STUFFS = Object.keys(DENSITIES) as [Stuff, ...Stuff[]]
export const STUFF_LABELS = STUFFS.map((name) => (name === 'print' ? 'Printed plastic' : name[0].toUpperCase() + name.slice(1)))

/** Grams of so many mm³. */
export const massOf = (mm3: number, stuff: Stuff): number => (mm3 * DENSITIES[stuff]) / 1000
