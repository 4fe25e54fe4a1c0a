import type { FaceKind } from '../src/font/kinds'

/** A file of the type case as a person wrote it down. Where the files come from stands in SOURCES.md. */
export interface FaceFile {
  readonly id: string
  readonly name: string
  readonly file: string
  readonly kind: FaceKind
  /** ISO 15924 codes of the scripts it was drawn for */
  readonly scripts: readonly string[]
  readonly licence: string
}

const OFL = (name: string) => `licences/${name}-OFL.txt`

/** The shipped faces in the order they are shown. All are under the SIL Open Font License 1.1. */
export const FACE_FILES = [
  { id: 'archivo-bold', name: 'Archivo Bold', file: 'Archivo-Bold.ttf', kind: 'grotesque', scripts: ['Latn'], licence: OFL('archivo') },
  { id: 'jost-bold', name: 'Jost Bold', file: 'Jost-Bold.ttf', kind: 'geometric', scripts: ['Latn', 'Cyrl'], licence: OFL('jost') },
  { id: 'fredoka', name: 'Fredoka SemiBold', file: 'Fredoka-SemiBold.ttf', kind: 'rounded', scripts: ['Latn', 'Hebr'], licence: OFL('fredoka') },
  { id: 'alfa-slab', name: 'Alfa Slab One', file: 'AlfaSlabOne-Regular.ttf', kind: 'slab serif', scripts: ['Latn'], licence: OFL('alfa-slab-one') },
  {
    id: 'im-fell-italic',
    name: 'IM Fell DW Pica Italic',
    file: 'IMFellDWPica-Italic.ttf',
    kind: 'old-style serif',
    scripts: ['Latn'],
    licence: OFL('im-fell-dw-pica'),
  },
  { id: 'abril-fatface', name: 'Abril Fatface', file: 'AbrilFatface-Regular.ttf', kind: 'didone serif', scripts: ['Latn'], licence: OFL('abril-fatface') },
  {
    id: 'bodoni-moda-italic',
    name: 'Bodoni Moda Black Italic',
    file: 'BodoniModa-BlackItalic.ttf',
    kind: 'didone serif',
    scripts: ['Latn'],
    licence: OFL('bodoni-moda'),
  },
  { id: 'fraunces', name: 'Fraunces (variable)', file: 'Fraunces-Variable.ttf', kind: 'variable', scripts: ['Latn'], licence: OFL('fraunces') },
  { id: 'anybody', name: 'Anybody (variable)', file: 'Anybody-Variable.ttf', kind: 'variable', scripts: ['Latn'], licence: OFL('anybody') },
  { id: 'pacifico', name: 'Pacifico', file: 'Pacifico-Regular.ttf', kind: 'script', scripts: ['Latn', 'Cyrl'], licence: OFL('pacifico') },
  { id: 'kaushan-script', name: 'Kaushan Script', file: 'KaushanScript-Regular.ttf', kind: 'brush', scripts: ['Latn'], licence: OFL('kaushan-script') },
  { id: 'knewave', name: 'Knewave', file: 'Knewave-Regular.ttf', kind: 'brush', scripts: ['Latn'], licence: OFL('knewave') },
  { id: 'unifraktur-cook', name: 'UnifrakturCook', file: 'UnifrakturCook-Bold.ttf', kind: 'blackletter', scripts: ['Latn'], licence: OFL('unifrakturcook') },
  {
    id: 'saira-stencil',
    name: 'Saira Stencil One',
    file: 'SairaStencilOne-Regular.ttf',
    kind: 'stencil',
    scripts: ['Latn'],
    licence: OFL('saira-stencil-one'),
  },
  { id: 'monoton', name: 'Monoton', file: 'Monoton-Regular.ttf', kind: 'multi-line', scripts: ['Latn'], licence: OFL('monoton') },
  { id: 'courier-prime', name: 'Courier Prime Bold', file: 'CourierPrime-Bold.ttf', kind: 'typewriter', scripts: ['Latn'], licence: OFL('courier-prime') },
  {
    id: 'cinzel-decorative',
    name: 'Cinzel Decorative Black',
    file: 'CinzelDecorative-Black.ttf',
    kind: 'decorative',
    scripts: ['Latn'],
    licence: OFL('cinzel-decorative'),
  },
  { id: 'lalezar', name: 'Lalezar', file: 'Lalezar-Regular.ttf', kind: 'decorative', scripts: ['Arab', 'Latn'], licence: OFL('lalezar') },
  { id: 'suez-one', name: 'Suez One', file: 'SuezOne-Regular.ttf', kind: 'slab serif', scripts: ['Hebr', 'Latn'], licence: OFL('suez-one') },
  { id: 'yatra-one', name: 'Yatra One', file: 'YatraOne-Regular.ttf', kind: 'decorative', scripts: ['Deva', 'Latn'], licence: OFL('yatra-one') },
  {
    id: 'dela-gothic',
    name: 'Dela Gothic One (subset)',
    file: 'DelaGothicOne-Subset.ttf',
    kind: 'grotesque',
    scripts: ['Hira', 'Kana', 'Hani', 'Latn'],
    licence: OFL('dela-gothic-one'),
  },
] as const satisfies readonly FaceFile[]
