import { existsSync } from 'node:fs'
import { readFile } from 'node:fs/promises'
import { dirname, join } from 'node:path'
import { fileURLToPath } from 'node:url'
import type { Picture } from '../src/format/picture'

let ready: Promise<void> | undefined

/** Unpacks a WebP picture on Node.js; its WASM is loaded from disk, where the package would fetch it. Throws when it is damaged. */
export async function readWebp(bytes: Uint8Array): Promise<Picture> {
  const { default: decode, init } = await import(/* turbopackIgnore: true */ '@jsquash/webp/decode.js')
  ready ??= (async () => {
    const wasm = await readFile(wasmFile())
    // core is compiled without the browser's types, and Node.js's have none for this
    const { WebAssembly: engine } = globalThis as unknown as { WebAssembly: { compile(bytes: Uint8Array): Promise<never> } }
    await init(await engine.compile(wasm))
  })()
  await ready
  const { width, height, data } = await decode(bytes.slice().buffer)
  return { width, height, rgba: data }
}

/** The package's WASM, looked for upwards as Node.js does; a bundler would take a plain reference to it for a module of its own. */
function wasmFile(): string {
  for (const start of [dirname(fileURLToPath(import.meta.url)), process.cwd()]) {
    for (let folder = start; ; folder = dirname(folder)) {
      const file = join(folder, 'node_modules', '@jsquash', 'webp', 'codec', 'dec', 'webp_dec.wasm')
      if (existsSync(file)) return file
      if (folder === dirname(folder)) break
    }
  }
  throw new Error('the package @jsquash/webp is not installed')
}
