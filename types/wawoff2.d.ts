declare module 'wawoff2/decompress.js' {
  /** A TrueType, OpenType or collection file from a WOFF 2.0 file; rejects when it is damaged. */
  export default function decompress(bytes: Uint8Array): Promise<Uint8Array>
}

declare module 'wawoff2/compress.js' {
  export default function compress(bytes: Uint8Array): Promise<Uint8Array>
}
