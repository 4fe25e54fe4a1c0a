import { createGlobalStyle } from 'styled-components'

/** The design's colours and measures, as custom properties so that a theme is one block of values. */
export const GlobalStyle = createGlobalStyle`
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
    --action-over: #195a54;
    --board: #f6f3ec;
    --type-line: #7f8fa6;
    --type-name: #5b6a80;
    --guide: #a86b12;
    --shadow: 32 38 43;
    --stage-near: #f7f4ed;
    --stage: #ece5d9;
    --stage-far: #ded4c3;
    --display: 'Bricolage Grotesque Variable', sans-serif;
    --text: 'Instrument Sans Variable', sans-serif, 'Kelvar Scripts';
    color-scheme: light;
  }
  [data-theme='night'] {
    --ground: #171b1e;
    --paper: #1f2428;
    --ink: #ece6da;
    --soft: #a9a69d;
    --rule: #3a4046;
    --action: #63b9ad;
    --action-ink: #10211f;
    --tint: #253432;
    --caution: #dca449;
    --failure: #ec8b7c;
    --action-over: #7fcabf;
    --board: #1b2023;
    --type-line: #66758c;
    --type-name: #93a3ba;
    --guide: #dca449;
    --shadow: 0 0 0;
    --stage-near: #4a4e50;
    --stage: #34393c;
    --stage-far: #23272a;
    color-scheme: dark;
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
  @media (prefers-reduced-motion: reduce) {
    *, *::before, *::after { transition: none !important; animation: none !important; }
  }
  @media (prefers-reduced-motion: no-preference) {
    [data-pulse] { animation: pulse 1.2s ease-in-out infinite; }
  }
  @keyframes pulse { 50% { opacity: 0.35; } }
`
