import bidiFactory from 'bidi-js'
import { scriptOf } from './scripts'

const bidi = bidiFactory()

/** A part of a paragraph that is shaped as one: one direction, one script. Offsets are UTF-16, the end not included. */
export interface Run {
  readonly start: number
  readonly end: number
  /** embedding level; odd levels run from right to left */
  readonly level: number
  /** ISO 15924, undefined when the run holds only characters that scripts share */
  readonly script: string | undefined
}

export type BaseDirection = 'auto' | 'ltr' | 'rtl'

/** A paragraph with its embedding levels (Unicode UAX #9). */
export interface Paragraph {
  readonly text: string
  /** one per UTF-16 unit */
  readonly levels: Uint8Array
  /** level of the paragraph itself */
  readonly base: number
  /** in logical order */
  readonly runs: readonly Run[]
}

/** Resolves directions and scripts of one paragraph (text without line ends). */
export function readParagraph(text: string, direction: BaseDirection): Paragraph {
  const { levels, paragraphs } = bidi.getEmbeddingLevels(text, direction)
  const base = paragraphs[0]?.level ?? (direction === 'rtl' ? 1 : 0)
  return { text, levels, base, runs: itemise(text, levels) }
}

function itemise(text: string, levels: Uint8Array): Run[] {
  const runs: { start: number; end: number; level: number; script: string | undefined }[] = []
  for (let i = 0; i < text.length; ) {
    const code = text.codePointAt(i) as number
    const width = code > 0xffff ? 2 : 1
    const own = scriptOf(code)
    const script = own === 'Zyyy' ? undefined : own
    const last = runs.at(-1)
    // what scripts share goes with the letters before it, or else with those after
    if (last && last.level === levels[i] && (script === undefined || last.script === undefined || last.script === script)) {
      last.end = i + width
      last.script ??= script
    } else runs.push({ start: i, end: i + width, level: levels[i], script })
    i += width
  }
  return runs
}

/** The runs of a line [start, end) of a paragraph, in the order they stand from left to right (UAX #9, rules L1 and L2). */
export function visualRuns(paragraph: Paragraph, start: number, end: number): Run[] {
  const { text, base } = paragraph
  // L1: white space at a line's end stands on the side where the paragraph ends
  let trailing = end
  while (trailing > start && /[\s\u2066-\u2069]/u.test(text[trailing - 1])) trailing--
  const cut: Run[] = []
  for (const run of paragraph.runs) {
    const from = Math.max(run.start, start)
    const to = Math.min(run.end, end)
    if (from >= to) continue
    if (from < trailing) cut.push({ ...run, start: from, end: Math.min(to, trailing) })
    if (to > trailing) cut.push({ ...run, start: Math.max(from, trailing), end: to, level: base })
  }
  return reorder(cut)
}

/** Rule L2 on whole runs: reverses every stretch of runs at or above each level, from the highest down to the lowest odd one. */
function reorder(runs: Run[]): Run[] {
  const highest = runs.reduce((most, run) => Math.max(most, run.level), 0)
  for (let level = highest; level > 0; level--) {
    for (let i = 0; i < runs.length; ) {
      if (runs[i].level < level) {
        i++
        continue
      }
      let j = i
      while (j < runs.length && runs[j].level >= level) j++
      runs.splice(i, j - i, ...runs.slice(i, j).reverse())
      i = j
    }
  }
  return runs
}
