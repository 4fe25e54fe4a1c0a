/** Words with a number in place of their #: whole, in as many digits as there are # in a row at least, with noughts before it. */
export const counted = (text: string, number: number): string => text.replace(/#+/g, (row) => String(Math.floor(number + 1e-9)).padStart(row.length, '0'))

/** The last number in some words, and the words with # for its digits; undefined where there is none. */
export function toCount(text: string): { readonly text: string; readonly number: number } | undefined {
  const found = /\d{1,9}(?!.*\d)/s.exec(text)
  if (!found) return undefined
  // a number without noughts before it has as many digits as it needs
  const row = found[0].startsWith('0') ? '#'.repeat(found[0].length) : '#'
  return { text: text.slice(0, found.index) + row + text.slice(found.index + found[0].length), number: Number(found[0]) }
}
