import { hashBytes } from '../cache/hash'
import { colourOf, colourOfLinear, linearColour, type Look, type MaterialPicture, type PictureBeyond } from '../look/material'
import { FormatError } from './mesh-data'
import { type Picture, pictureKind, readPicture } from './picture'

/** A picture that came with a model: its pixels, and its mean colour, linear. */
export interface ModelPicture extends Omit<MaterialPicture, 'tint'> {
  readonly seen: Picture
  readonly mean: readonly number[]
}

/** What lies beyond a picture, by the numbers that glTF has from OpenGL. */
export const WRAPS = { again: 10497, mirrored: 33648, border: 33071 } as const satisfies Record<PictureBeyond, number>

/** A picture out of a model's file; undefined when it is none that can be read, which takes nothing from the model. */
export async function modelPicture(bytes: Uint8Array): Promise<ModelPicture | undefined> {
  const kind = pictureKind(bytes)
  if (!kind) return undefined
  const seen = await readPicture(bytes, () => Promise.reject(new FormatError('not read here'))).catch(() => undefined)
  return seen && { seen, mean: meanOf(seen), key: hashBytes(bytes), type: `image/${kind}`, bytes: bytes.slice() }
}

/** A look with its picture, which its colour is multiplied with; its colour is then what that comes to on the whole. */
export function pictured({ name, material }: Look, { key, type, bytes, mean, beyond }: ModelPicture): Look {
  const factor = linearColour(material.colour)
  const colour = colourOfLinear(mean.map((c, k) => c * factor[k]))
  return { name, material: { ...material, colour, picture: { key, type, bytes, tint: material.colour, ...(beyond ? { beyond } : {}) } } }
}

/** Of more pixels some are looked at. */
const MOST_LOOKED_AT = 65_536

/** The mean colour of a picture, linear, by how far each pixel covers. */
function meanOf({ width, height, rgba }: Picture): number[] {
  const sum = [0, 0, 0]
  let weight = 0
  const step = Math.max(1, Math.floor((width * height) / MOST_LOOKED_AT))
  for (let i = 0; i < width * height; i += step) {
    const seen = linearColour(colourOf([rgba[4 * i], rgba[4 * i + 1], rgba[4 * i + 2]]))
    for (let k = 0; k < 3; k++) sum[k] += seen[k] * rgba[4 * i + 3]
    weight += rgba[4 * i + 3]
  }
  return weight > 0 ? sum.map((s) => s / weight) : [1, 1, 1]
}
