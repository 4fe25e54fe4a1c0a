import { NONE } from './labels'

/** Where letters stand: counted without spaces from 0, −1 for a space; and their words. */
export function letterTurns(letters: readonly string[]): { place: Int32Array; word: Int32Array } {
  const place = new Int32Array(letters.length)
  const word = new Int32Array(letters.length)
  let [count, words, open] = [0, -1, false]
  letters.forEach((text, i) => {
    const space = text.trim() === ''
    if (!space && !open) words++
    open = !space
    place[i] = space ? NONE : count++
    word[i] = Math.max(0, words)
  })
  return { place, word }
}
