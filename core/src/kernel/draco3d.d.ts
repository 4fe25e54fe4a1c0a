declare module 'draco3d/draco_decoder_nodejs.js' {
  import type { DecoderModule } from 'draco3d'
  const open: (options: { wasmBinary: Uint8Array }) => Promise<DecoderModule>
  export default open
}
