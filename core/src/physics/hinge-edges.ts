export const HINGE_EDGES = ['top', 'bottom', 'left', 'right'] as const
