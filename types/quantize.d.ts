declare module 'quantize' {
  type Rgb = [number, number, number]
  /** Median cut; false when the pixels cannot be parted into that many colours. */
  export default function quantize(pixels: Rgb[], most: number): false | { palette(): Rgb[] }
}
