import { LRUCache } from 'lru-cache'
import { averaged, type Picture } from '../format/picture'

/** How light a picture is, 0 to 255, rows from the top down; what is clear counts as black. */
export interface GreyPicture {
  readonly width: number
  readonly height: number
  readonly grey: Uint8Array
}

/** More pixels say nothing that a surface could follow. */
export const MOST_PIXELS = 1_000_000
/** All that are kept at hand together, bytes: enough for every entry of a mask. */
const AT_HAND = 64 * MOST_PIXELS

/** Pictures that masks go by, by SHA-256: masks are measured in one go, so that they must be there before. */
const atHand = new LRUCache<string, GreyPicture>({ maxSize: AT_HAND, sizeCalculation: ({ grey }) => grey.length })

/** A picture that was brought to hand. */
export const pictureAtHand = (sha256: string): GreyPicture | undefined => atHand.get(sha256)

/** Whether it is at hand; it stays so for as long as other work takes no room. */
export const isAtHand = (sha256: string): boolean => atHand.has(sha256)

/** Keeps at hand how light a picture is. */
export const holdPicture = (sha256: string, picture: Picture): void => void atHand.set(sha256, greyOf(picture))

/** How light a picture is, made smaller where it has more than a million pixels. */
export function greyOf(picture: Picture): GreyPicture {
  const { width, height, rgba } = averaged(picture, MOST_PIXELS)
  const grey = new Uint8Array(width * height)
  // luma by ITU-R BT.709, of the colours as they are written
  for (let i = 0; i < grey.length; i++)
    grey[i] = Math.round(((0.2126 * rgba[4 * i] + 0.7152 * rgba[4 * i + 1] + 0.0722 * rgba[4 * i + 2]) * rgba[4 * i + 3]) / 255)
  return { width, height, grey }
}

/**
 * How light a picture is at a place of a surface it lies over, 0 to 1, linear between the middles of pixels. `u` goes from 0 to 1 over it to the right, `v` from 0 to 1
 * upwards; beyond it goes on over and over, or (`again` false) as its border is.
 */
export function lightAt({ width, height, grey }: GreyPicture, u: number, v: number, again = true): number {
  const within = (i: number, n: number) => (again ? ((i % n) + n) % n : Math.min(n - 1, Math.max(0, i)))
  const [x, y] = [u * width - 0.5, (1 - v) * height - 0.5]
  const [i, j] = [Math.floor(x), Math.floor(y)]
  const [f, g] = [x - i, y - j]
  const at = (a: number, b: number) => grey[within(a, width) + width * within(b, height)]
  return ((1 - g) * ((1 - f) * at(i, j) + f * at(i + 1, j)) + g * ((1 - f) * at(i, j + 1) + f * at(i + 1, j + 1))) / 255
}
