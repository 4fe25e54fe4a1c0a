import type { DecoderModule } from 'draco3d'

let loading: Promise<DecoderModule> | undefined

/** The unpacker of Draco meshes of this process; its WASM comes from disk on Node.js and from the application's own address in a browser. */
export function loadDraco(): Promise<DecoderModule> {
  loading ??= (async () => {
    const [{ default: open }, wasmBinary] = await Promise.all([import('./draco-package'), wasm()])
    return await open({ wasmBinary })
  })().catch((error) => {
    loading = undefined
    throw error
  })
  return loading
}

async function wasm(): Promise<Uint8Array> {
  const url = new URL('../../../node_modules/draco3d/draco_decoder.wasm', import.meta.url)
  if (url.protocol === 'file:') return (await import(/* turbopackIgnore: true */ 'node:fs/promises')).readFile(url)
  // core is compiled without the browser's types
  const { fetch } = globalThis as unknown as { fetch(url: URL): Promise<{ arrayBuffer(): Promise<ArrayBuffer> }> }
  return new Uint8Array(await (await fetch(url)).arrayBuffer())
}
