/** A surface's look. Colour is sRGB "#rrggbb"; roughness and metalness are 0 to 1, as in glTF; so are glow, light of its own colour, and clear, the share of light that goes through. */
export interface Material {
  readonly colour: string
  readonly roughness: number
  readonly metalness: number
  readonly glow?: number
  readonly clear?: number
  /** a picture that lies on it, where a solid tells its corners' places in one; elsewhere it is in its colour, which is the picture's on the whole */
  readonly picture?: MaterialPicture
}

/** A picture that came with a model, packed as it came. */
export interface MaterialPicture {
  /** equal for equal pictures */
  readonly key: string
  readonly type: 'image/png' | 'image/jpeg' | 'image/webp'
  readonly bytes: Uint8Array
  /** what each of its colours is multiplied by, "#rrggbb" */
  readonly tint: string
  /** what lies beyond it, across and down: it again when left out, it mirrored, or its border on and on */
  readonly beyond?: readonly [PictureBeyond, PictureBeyond]
}

export type PictureBeyond = 'again' | 'mirrored' | 'border'

/** A material in its colour alone. */
export function withoutPicture(material: Material): Material {
  if (!material.picture) return material
  const { picture: _, ...plain } = material
  return plain
}

/** A material in another colour, which a picture would hide. */
export const recoloured = (material: Material, colour: string): Material => ({ ...withoutPicture(material), colour })

/** A material, and what the surfaces that wear it are called in files. */
export interface Look {
  readonly name: string
  readonly material: Material
}

/** Plain clay, for solids that no Dress step has dressed. */
export const UNDRESSED: Material = { colour: '#aaa294', roughness: 0.6, metalness: 0 }

/** Equal keys mean pictures that are drawn alike, but for their tint. */
export const pictureKey = ({ key, beyond }: MaterialPicture): string => [key, ...(beyond ?? [])].join(' ')

/** Equal keys mean equal materials. */
export const materialKey = ({ colour, roughness, metalness, glow = 0, clear = 0, picture }: Material): string =>
  `${colour}/${roughness}/${metalness}/${glow}${clear > 0 ? `/${clear}` : ''}${picture ? `/${pictureKey(picture)}/${picture.tint}` : ''}`

export const sameMaterial = (a: Material, b: Material): boolean => a === b || materialKey(a) === materialKey(b)

/** Red, green and blue of "#rrggbb", 0 to 255. */
export function rgbOf(colour: string): [number, number, number] {
  const value = Number.parseInt(colour.slice(1, 7), 16)
  return [value >> 16, (value >> 8) & 255, value & 255]
}

/** "#rrggbb" of red, green and blue, 0 to 255. */
export const colourOf = (rgb: readonly [number, number, number]): string => `#${rgb.map((c) => c.toString(16).padStart(2, '0')).join('')}`

/** sRGB "#rrggbb" to linear 0…1 (IEC 61966-2-1). */
export function linearColour(colour: string): [number, number, number] {
  return rgbOf(colour).map((value) => {
    const c = value / 255
    return c <= 0.04045 ? c / 12.92 : ((c + 0.055) / 1.055) ** 2.4
  }) as [number, number, number]
}

/** Linear 0…1 to sRGB "#rrggbb"; what lies outside is held to it. */
export const colourOfLinear = (linear: readonly number[]): string =>
  colourOf(
    [0, 1, 2].map((k) => {
      const c = Math.min(1, Math.max(0, linear[k] || 0))
      return Math.round(255 * (c <= 0.0031308 ? 12.92 * c : 1.055 * c ** (1 / 2.4) - 0.055))
    }) as [number, number, number],
  )
