import { cutText } from './words'

/** Values nested deeper than this are no project's. */
const MAX_DEPTH = 100

/** NUL, and halves of character pairs: JSON carries both, databases and files take neither. */
const BROKEN = /\0|[\ud800-\udbff](?![\udc00-\udfff])|(?<![\ud800-\udbff])[\udc00-\udfff]/

export interface Malformed {
  /** where: names and numbers from the top */
  readonly path: readonly (string | number)[]
  readonly what: string
}

/**
 * The first place in a JSON value that cannot be kept: a text with NUL or half a character pair in it, or what is nested too deep. Goes through
 * without calling itself, so that no depth stops it.
 */
export function malformed(value: unknown): Malformed | undefined {
  interface Level {
    readonly value: unknown
    readonly key: string | number
    readonly above: Level | undefined
    readonly depth: number
  }
  const pathTo = (level: Level | undefined): (string | number)[] => {
    const path: (string | number)[] = []
    for (let at = level; at?.above; at = at.above) path.unshift(at.key)
    return path
  }
  const open: Level[] = [{ value, key: '', above: undefined, depth: 0 }]
  for (let level = open.pop(); level; level = open.pop()) {
    const { value: own, depth } = level
    if (typeof own === 'string') {
      if (BROKEN.test(own)) return { path: pathTo(level), what: 'a text holds half a character, or an end of text in its middle' }
    } else if (own !== null && typeof own === 'object') {
      if (depth >= MAX_DEPTH) return { path: pathTo(level).slice(0, 6), what: `it is nested more than ${MAX_DEPTH} deep` }
      if (Array.isArray(own)) for (let i = own.length - 1; i >= 0; i--) open.push({ value: own[i], key: i, above: level, depth: depth + 1 })
      else
        for (const key of Object.keys(own).reverse()) {
          if (BROKEN.test(key)) return { path: pathTo(level), what: 'a name holds half a character, or an end of text in its middle' }
          open.push({ value: (own as Record<string, unknown>)[key], key, above: level, depth: depth + 1 })
        }
    }
  }
  return undefined
}

/** A text as it can be kept: halves of character pairs become “\uFFFD”, NUL goes. */
export const wellFormed = (text: string): string =>
  text.replace(/\0/g, '').replace(/[\ud800-\udbff](?![\udc00-\udfff])|(?<![\ud800-\udbff])[\udc00-\udfff]/g, '\uFFFD')

/** A name out of a file as it can be kept and shown: one line without control characters, cut between letters. */
export const plainName = (text: string, most: number): string =>
  cutText(
    wellFormed(text)
      .replace(/\p{Control}/gu, '')
      .trim(),
    most,
  )
