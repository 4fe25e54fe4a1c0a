/** What a reader calls while it reads something long: between pieces of work, and with 0 to 1 of what is done. */
export interface ReadingWork {
  breathe(): Promise<void>
  progress(done: number): void
}

/** For files that are read in one go. */
export const AT_ONCE: ReadingWork = { breathe: async () => {}, progress: () => {} }
