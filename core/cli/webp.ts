import { readFile } from 'node:fs/promises'
import { createRequire } from 'node:module'
import type { Picture } from '../src/format/picture'

let ready: Promise<void> | undefined

/** Unpacks a WebP picture on Node.js; its WASM is loaded from disk, where the package would fetch it. Throws when it is damaged. */
export async function readWebp(bytes: Uint8Array): Promise<Picture> {
  const { default: decode, init } = await import(/* turbopackIgnore: true */ '@jsquash/webp/decode.js')
  ready ??= (async () => {
    // put together, so that no bundler takes the file for a module of its own
    const file = ['@jsquash/webp/codec/dec', 'webp_dec.wasm'].join('/')
    const wasm = await readFile(createRequire(import.meta.url).resolve(file))
    // core is compiled without the browser's types, and Node.js's have none for this
    const { WebAssembly: engine } = globalThis as unknown as { WebAssembly: { compile(bytes: Uint8Array): Promise<never> } }
    await init(await engine.compile(wasm))
  })()
  await ready
  const { width, height, data } = await decode(bytes.slice().buffer)
  return { width, height, rgba: data }
}
