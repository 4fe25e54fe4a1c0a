import { readFile } from 'node:fs/promises'
import { createRequire } from 'node:module'

let ready: Promise<void> | undefined

/** Loads the WebP reader's WASM from disk: on Node.js it cannot fetch it for itself. */
export function prepareWebp(): Promise<void> {
  ready ??= (async () => {
    const wasm = await readFile(createRequire(import.meta.url).resolve('@jsquash/webp/codec/dec/webp_dec.wasm'))
    const { init } = await import('@jsquash/webp/decode.js')
    // core is compiled without the browser's types, and Node.js's have none for this
    const { WebAssembly: engine } = globalThis as unknown as { WebAssembly: { compile(bytes: Uint8Array): Promise<never> } }
    await init(await engine.compile(wasm))
  })()
  return ready
}
