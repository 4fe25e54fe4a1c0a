import type { FontFace } from './face'

export const FEATURE_GROUPS = ['Ligatures', 'Letters', 'Figures', 'Sets', 'Spacing'] as const
export type FeatureGroup = (typeof FEATURE_GROUPS)[number]

/** A feature as it is offered to a person. */
export interface OfferedFeature {
  readonly tag: string
  readonly name: string
  readonly group: FeatureGroup
  /** on unless switched off */
  readonly usual: boolean
}

/** Registered features (OpenType layout tag registry) that are a person's choice, by group, with their registered names. */
const CHOICES: Readonly<Record<string, readonly [name: string, group: FeatureGroup, usual?: true]>> = {
  liga: ['Standard ligatures', 'Ligatures', true],
  clig: ['Contextual ligatures', 'Ligatures', true],
  dlig: ['Discretionary ligatures', 'Ligatures'],
  hlig: ['Historical ligatures', 'Ligatures'],
  calt: ['Contextual alternates', 'Letters', true],
  swsh: ['Swashes', 'Letters'],
  cswh: ['Contextual swashes', 'Letters'],
  salt: ['Stylistic alternates', 'Letters'],
  titl: ['Titling capitals', 'Letters'],
  smcp: ['Small capitals', 'Letters'],
  c2sc: ['Small capitals from capitals', 'Letters'],
  pcap: ['Petite capitals', 'Letters'],
  c2pc: ['Petite capitals from capitals', 'Letters'],
  unic: ['Unicase', 'Letters'],
  case: ['Case-sensitive forms', 'Letters'],
  hist: ['Historical forms', 'Letters'],
  hkna: ['Horizontal kana', 'Letters'],
  ruby: ['Ruby notation forms', 'Letters'],
  ordn: ['Ordinals', 'Figures'],
  onum: ['Oldstyle figures', 'Figures'],
  lnum: ['Lining figures', 'Figures'],
  pnum: ['Proportional figures', 'Figures'],
  tnum: ['Tabular figures', 'Figures'],
  frac: ['Fractions', 'Figures'],
  afrc: ['Alternative fractions', 'Figures'],
  zero: ['Slashed zero', 'Figures'],
  sups: ['Superscript', 'Figures'],
  subs: ['Subscript', 'Figures'],
  sinf: ['Scientific inferiors', 'Figures'],
  ornm: ['Ornaments', 'Sets'],
  palt: ['Proportional alternate widths', 'Spacing'],
  fwid: ['Full widths', 'Spacing'],
  hwid: ['Half widths', 'Spacing'],
  pwid: ['Proportional widths', 'Spacing'],
  twid: ['Third widths', 'Spacing'],
}

/**
 * The features of a face a person can choose, grouped and named. Features that a script needs to be written at all
 * (joining forms, composition, vertical forms) are not among them: shaping sets those itself.
 */
export function offeredFeatures(face: FontFace): OfferedFeature[] {
  const offered: OfferedFeature[] = []
  for (const { tag, name } of face.features()) {
    const choice = CHOICES[tag]
    const set = /^(ss|cv)(\d\d)$/.exec(tag)
    if (choice) offered.push({ tag, name: choice[0], group: choice[1], usual: choice[2] ?? false })
    else if (set) {
      const plain = `${set[1] === 'ss' ? 'Stylistic set' : 'Character variant'} ${Number(set[2])}`
      offered.push({ tag, name: name ? `${name}` : plain, group: 'Sets', usual: false })
    }
  }
  const place = ({ tag, group }: OfferedFeature) =>
    `${FEATURE_GROUPS.indexOf(group)}${group === 'Sets' ? tag : String(Object.keys(CHOICES).indexOf(tag)).padStart(3, '0')}`
  return offered.sort((a, b) => (place(a) < place(b) ? -1 : 1))
}

/** The name of a feature for a message, by its tag. */
export const featureName = (tag: string): string => CHOICES[tag]?.[0] ?? tag
