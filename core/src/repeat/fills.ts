export const FILLS = ['middle', 'rows', 'hexagons', 'dots'] as const
