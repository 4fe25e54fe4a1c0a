/** What is moved each for itself. */
export const APART_BY = ['letter', 'word', 'line', 'copy', 'part'] as const
