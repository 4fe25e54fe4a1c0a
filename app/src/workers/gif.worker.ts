import { expose } from 'comlink'
import { applyPalette, GIFEncoder, quantize } from 'gifenc'

/** Puts pictures together to a GIF, beside the page. */
export interface GifApi {
  /** Adds a picture, RGBA, that stands for so many hundredths of a second. */
  add(pixels: Uint8ClampedArray, width: number, height: number, hundredths: number): void
  /** The file. */
  finish(): Uint8Array
}

const gif = GIFEncoder()

const api: GifApi = {
  add(pixels, width, height, hundredths) {
    const palette = quantize(pixels, 256)
    gif.writeFrame(applyPalette(pixels, palette), width, height, { palette, delay: hundredths * 10 })
  },
  finish() {
    gif.finish()
    return gif.bytes()
  },
}

expose(api)
postMessage('ready')
