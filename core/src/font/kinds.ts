/** The kinds that the type case is sorted by, in its order. */
export const FACE_KINDS = [
  'grotesque',
  'geometric',
  'rounded',
  'slab serif',
  'old-style serif',
  'didone serif',
  'variable',
  'script',
  'brush',
  'blackletter',
  'stencil',
  'multi-line',
  'typewriter',
  'decorative',
  'sans',
  'serif',
  'other',
] as const
export type FaceKind = (typeof FACE_KINDS)[number]
