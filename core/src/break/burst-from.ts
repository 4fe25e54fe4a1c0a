export const BURST_FROM = ['spot', 'line', 'way', 'lot'] as const
