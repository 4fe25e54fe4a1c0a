/** Requests that are being answered just now. */
let answering = 0

/** More than these at once are a crowd, in which those with little to ask go before those with much. */
const CROWD = 5

export const isCrowded = (): boolean => answering > CROWD

/** Counts a request while it is answered. */
export async function counted<T>(answer: () => Promise<T>): Promise<T> {
  answering++
  try {
    return await answer()
  } finally {
    answering--
  }
}
