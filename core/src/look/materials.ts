import type { Material } from './material'

/** A material to start from. */
export interface Starter {
  /** its name in the library, and what the command line calls it */
  readonly name: string
  readonly kind: 'Metal' | 'Paint' | 'Wood and stone' | 'Plastic and glass' | 'Light'
  readonly material: Material
}

const starter = (kind: Starter['kind'], name: string, colour: string, roughness: number, metalness: number, glow?: number, clear?: number): Starter => ({
  name,
  kind,
  material: { colour, roughness, metalness, ...(glow ? { glow } : {}), ...(clear ? { clear } : {}) },
})

/**
 * The library of materials. Colours of metals are their reflectance at normal incidence (sRGB; measured values as collected in
 * Lagarde, "Feeding a physically based shading model", 2011), a little dulled where they are not fresh.
 */
export const STARTERS: readonly Starter[] = [
  starter('Metal', 'Gilt', '#e8b64c', 0.24, 1),
  starter('Metal', 'Old gold', '#b98a3a', 0.42, 0.9),
  starter('Metal', 'Brushed brass', '#c9a35a', 0.38, 0.95),
  starter('Metal', 'Copper', '#d98a66', 0.28, 1),
  starter('Metal', 'Dark bronze', '#5d4630', 0.4, 0.85),
  starter('Metal', 'Polished steel', '#c8ccd0', 0.14, 1),
  starter('Metal', 'Pewter', '#8f9496', 0.5, 0.85),
  starter('Metal', 'Cast iron', '#3a3d40', 0.62, 0.7),
  starter('Paint', 'Signal red', '#c2382b', 0.32, 0),
  starter('Paint', 'Harbour blue', '#23507a', 0.34, 0),
  starter('Paint', 'Bottle green', '#1f5a44', 0.34, 0),
  starter('Paint', 'Cream', '#efe3c6', 0.4, 0),
  starter('Paint', 'Lamp black', '#23272a', 0.5, 0),
  starter('Paint', 'Chalk white', '#f2efe8', 0.85, 0),
  starter('Wood and stone', 'Oak', '#b08a58', 0.62, 0),
  starter('Wood and stone', 'Walnut', '#5f422c', 0.55, 0),
  starter('Wood and stone', 'Limestone', '#cfc5b0', 0.9, 0),
  starter('Wood and stone', 'Slate', '#47525a', 0.78, 0),
  starter('Wood and stone', 'Terracotta', '#b5654a', 0.82, 0),
  starter('Plastic and glass', 'Balloon rubber', '#e0527a', 0.22, 0),
  starter('Plastic and glass', 'Blue acrylic', '#2f86c4', 0.1, 0),
  starter('Plastic and glass', 'Clear glass', '#dfe9ea', 0.06, 0, 0, 0.7),
  starter('Plastic and glass', 'Porcelain', '#f4f3ef', 0.12, 0),
  starter('Light', 'Opal acrylic, lit', '#fff1d6', 0.4, 0, 0.85),
  starter('Light', 'Warm neon', '#ff6a26', 0.3, 0, 0.7),
  starter('Light', 'Cold neon', '#38b6f0', 0.3, 0, 0.7),
]

/** Rows of colours for letters, words or layers in turn. */
export const PALETTES: readonly { readonly name: string; readonly colours: readonly string[] }[] = [
  { name: 'Lanterns', colours: ['#d9482b', '#e8932e', '#f0c84a', '#3f8f6b', '#2f6f9f'] },
  { name: 'Tide', colours: ['#0f3d4c', '#1f6f7a', '#4fa3a0', '#a9d3c6'] },
  { name: 'Kiosk', colours: ['#c2382b', '#f2efe8', '#23507a'] },
  { name: 'Harvest', colours: ['#8a3b1f', '#c4742a', '#e3b04b', '#6f7a2c'] },
  { name: 'Sugar', colours: ['#f49ab5', '#f7d08a', '#9ad4c8', '#b3a6e0'] },
]
