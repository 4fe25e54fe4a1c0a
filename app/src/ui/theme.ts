import { SHIPPED_FACES } from '@kelvar/core/fonts'
import { createGlobalStyle } from 'styled-components'

/** Scripts the text face lacks are set in faces of the type case; a browser fetches each only when it is needed. */
const SCRIPT_FACES = [
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

/** The design's colours and measures, as custom properties so that a theme is one block of values. */
export const GlobalStyle = createGlobalStyle`
  ${SCRIPT_FACES}
  :root {
    --ground: #f4f0e8;
    --paper: #fbf9f4;
    --ink: #20262b;
    --soft: #5c6166;
    --rule: #d8d0c2;
    --action: #1f6f68;
    --action-ink: #fbf9f4;
    --tint: #e3ece7;
    --caution: #8a5709;
    --failure: #a63d2f;
    --display: 'Bricolage Grotesque Variable', sans-serif;
    --text: 'Instrument Sans Variable', sans-serif, 'Kelvar Scripts';
    color-scheme: light;
  }
  *, *::before, *::after { box-sizing: border-box; }
  html, body { height: 100%; margin: 0; }
  body {
    background: var(--ground);
    color: var(--ink);
    font: 400 13px/1.4 var(--text);
    font-variant-numeric: tabular-nums;
    -webkit-font-smoothing: antialiased;
  }
  button, input, textarea { font: inherit; color: inherit; font-variant-numeric: inherit; }
  :focus-visible { outline: 2px solid var(--action); outline-offset: 2px; }
  h1, h2, h3 { font-family: var(--display); margin: 0; }
  @media (prefers-reduced-motion: no-preference) {
    [data-pulse] { animation: pulse 1.2s ease-in-out infinite; }
  }
  @keyframes pulse { 50% { opacity: 0.35; } }
`
