export const CORNER_STYLES = ['mitre', 'round', 'flat'] as const
