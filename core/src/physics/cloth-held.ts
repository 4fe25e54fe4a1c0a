export const CLOTH_HELD = ['free', 'corners', 'far', 'sides'] as const
