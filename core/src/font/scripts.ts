/** Scripts that runs are told apart by: Unicode's name, ISO 15924 code, and how it is called on screen. */
const SCRIPTS: readonly (readonly [unicode: string, code: string, name?: string])[] = [
  ['Latin', 'Latn'],
  ['Arabic', 'Arab'],
  ['Hebrew', 'Hebr'],
  ['Devanagari', 'Deva'],
  ['Han', 'Hani', 'Han'],
  ['Hiragana', 'Hira', 'Kana'],
  ['Katakana', 'Kana', 'Kana'],
  ['Hangul', 'Hang'],
  ['Greek', 'Grek'],
  ['Cyrillic', 'Cyrl'],
  ['Armenian', 'Armn'],
  ['Georgian', 'Geor'],
  ['Thai', 'Thai'],
  ['Lao', 'Laoo'],
  ['Khmer', 'Khmr'],
  ['Myanmar', 'Mymr'],
  ['Tibetan', 'Tibt'],
  ['Bengali', 'Beng'],
  ['Gurmukhi', 'Guru'],
  ['Gujarati', 'Gujr'],
  ['Oriya', 'Orya'],
  ['Tamil', 'Taml'],
  ['Telugu', 'Telu'],
  ['Kannada', 'Knda'],
  ['Malayalam', 'Mlym'],
  ['Sinhala', 'Sinh'],
  ['Ethiopic', 'Ethi'],
  ['Mongolian', 'Mong'],
  ['Syriac', 'Syrc'],
  ['Thaana', 'Thaa'],
  ['Nko', 'Nkoo'],
  ['Cherokee', 'Cher'],
  ['Canadian_Aboriginal', 'Cans'],
  ['Tifinagh', 'Tfng'],
  ['Runic', 'Runr'],
  ['Ogham', 'Ogam'],
  ['Bopomofo', 'Bopo'],
  ['Javanese', 'Java'],
]

const tests = SCRIPTS.map(([unicode, code, name]) => ({ code, name: name ?? unicode.replace('_', ' '), test: new RegExp(`\\p{Script=${unicode}}`, 'u') }))
const shared = /[\p{Script=Common}\p{Script=Inherited}]/u
const known = new Map<number, string>()

/** ISO 15924 code of a character's script: "Zyyy" for what scripts share, "Zzzz" for those not told apart. */
export function scriptOf(codePoint: number): string {
  let code = known.get(codePoint)
  if (code === undefined) {
    const character = String.fromCodePoint(codePoint)
    code = shared.test(character) ? 'Zyyy' : (tests.find((s) => s.test.test(character))?.code ?? 'Zzzz')
    known.set(codePoint, code)
  }
  return code
}

/** The name of a script on screen, e.g. "Devanagari". */
export const scriptName = (code: string): string => tests.find((s) => s.code === code)?.name ?? 'other'

/** Scripts whose letters join: space put between them would tear the word (CSS Text 3, §"cursive scripts"). */
export const JOINING_SCRIPTS: ReadonlySet<string> = new Set(['Arab', 'Syrc', 'Mong', 'Nkoo'])
