export const PATTERNS = ['even', 'cluster', 'line', 'impact', 'grain', 'glass', 'bricks', 'letter'] as const
