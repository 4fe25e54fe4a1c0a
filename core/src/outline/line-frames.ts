/** How a frame goes along a line in space: turned about it as little as can be, or with its left kept in the plane below. */
export const FRAMES = ['least-twist', 'level'] as const
export type Frames = (typeof FRAMES)[number]
