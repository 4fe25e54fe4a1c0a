declare module 'bidi-js' {
  interface EmbeddingLevels {
    readonly levels: Uint8Array
    readonly paragraphs: readonly { start: number; end: number; level: number }[]
  }
  interface Bidi {
    getEmbeddingLevels(text: string, direction?: 'ltr' | 'rtl' | 'auto'): EmbeddingLevels
  }
  export default function bidiFactory(): Bidi
}
