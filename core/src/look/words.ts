import { STARTERS } from './materials'
import { type Material, sameMaterial } from './material'

/** A material in words: its name where it is one of the library's, else what it looks like. */
export function named(material: Material): string {
  const known = STARTERS.find((starter) => sameMaterial(starter.material, material))
  if (known) return known.name.toLowerCase()
  if ((material.glow ?? 0) > 0.3) return 'glowing'
  if (material.metalness > 0.4) return material.roughness < 0.35 ? 'polished metal' : 'brushed metal'
  return material.roughness < 0.35 ? 'gloss' : 'matt'
}
