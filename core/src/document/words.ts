const segmenter = new Intl.Segmenter('en', { granularity: 'grapheme' })

/**
 * A text cut to at most `most` UTF-16 units, between letters as a person sees them and never inside one; what was cut off is marked by “…”,
 * which is counted. A text that begins with a longer letter than that is the mark alone.
 */
export function cutText(text: string, most: number): string {
  if (text.length <= most) return text
  let end = 0
  for (const { index, segment } of segmenter.segment(text)) {
    if (index + segment.length > most - 1) break
    end = index + segment.length
  }
  return `${text.slice(0, end)}…`
}
