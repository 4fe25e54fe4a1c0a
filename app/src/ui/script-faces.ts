import { SHIPPED_FACES } from '@kelvar/core/fonts'

/** Scripts the text face lacks are set in faces of the type case; a browser fetches each only when it is needed. */
export const SCRIPT_FACES = [
  { id: 'lalezar', range: 'U+0600-06FF' },
  { id: 'suez-one', range: 'U+0590-05FF' },
  { id: 'yatra-one', range: 'U+0900-097F' },
  { id: 'dela-gothic', range: 'U+3000-30FF, U+4E00-9FFF, U+FF00-FFEF' },
]
  .flatMap(({ id, range }) =>
    SHIPPED_FACES.filter((f) => f.id === id).map(
      (f) => `@font-face { font-family: 'Kelvar Scripts'; src: url(/api/assets/${f.sha256}); unicode-range: ${range}; }`,
    ),
  )
  .join('\n')
