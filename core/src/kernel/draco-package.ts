import type { DecoderModule } from 'draco3d'
// @ts-expect-error: the package has types for its whole only, which would load its encoder as well
import open from 'draco3d/draco_decoder_nodejs.js'

export default open as (options: { wasmBinary: Uint8Array }) => Promise<DecoderModule>
