/** The surface groups of lettering, by their number in `Solid.group`. */
export const GROUPS = ['face', 'edge', 'return', 'back', 'inside'] as const
export type Group = (typeof GROUPS)[number]
export const FACE = 0
export const EDGE = 1
export const RETURN = 2
export const BACK = 3
export const INSIDE = 4

/** A surface's look. Colour is sRGB "#rrggbb"; roughness and metalness are 0 to 1, as in glTF; so is glow, light of its own colour. */
export interface Material {
  readonly colour: string
  readonly roughness: number
  readonly metalness: number
  readonly glow?: number
}

/** What a rule dresses: everything that fits all it names. */
export interface DressRule {
  /** empty for every group */
  readonly groups: readonly Group[]
  /** characters, each a letter that it is for; empty for all */
  readonly letters: string
  /** only each so many-th letter, counting from `from` (1 for the first); spaces are not counted */
  readonly every: number
  readonly from: number
  /** names; empty for all */
  readonly layer: string
  readonly band: string
  readonly material: Material
}

/** Colours in turn, over letters, words or layers. */
export interface DressPalette {
  readonly by: 'letter' | 'word' | 'layer'
  readonly colours: readonly string[]
  /** the groups that take them; empty for all */
  readonly groups: readonly Group[]
}

export type Materials = Readonly<Record<Group, Material>>

export interface SolidLayer {
  readonly name: string
  /** "#rrggbb" */
  readonly colour?: string
}

export const LAYER_COLOURS = ['face', 'all', 'none'] as const
export type LayerColours = (typeof LAYER_COLOURS)[number]

/**
 * A closed, oriented triangle mesh in mm; outward sides are counter-clockwise. Vertices are shared by position alone,
 * everything that differs between neighbouring triangles is stored per triangle or per corner.
 */
export interface Solid {
  readonly kind: 'solid'
  /** x, y, z per vertex, on the lattice; 3·vertices long */
  readonly positions: Float64Array
  /** vertex numbers, 3·triangles long */
  readonly indices: Uint32Array
  /** surface group per triangle, see GROUPS */
  readonly group: Uint8Array
  /** letter per triangle (index into `letters`), 65535 for none */
  readonly letter: Uint16Array
  /** layer per triangle (index into `layers`) */
  readonly layer: Uint16Array
  /** named band of the edge per triangle, 1 for the first of `bands`, 0 for none; left out where there are no bands */
  readonly band?: Uint8Array
  readonly bands?: readonly string[]
  /** connected part per triangle, numbered from 0 */
  readonly part: Uint16Array
  /** unit shading normal per corner, creased where the surface is; 9·triangles long */
  readonly normals: Float32Array
  /** texture coordinates in mm per corner: plane x, y on faces, along and up the outline elsewhere; 6·triangles long */
  readonly uvs: Float32Array
  readonly letters: readonly string[]
  readonly layers: readonly SolidLayer[]
  readonly materials?: Materials
  /** where a layer's own colour shows over the materials; everywhere when left out */
  readonly layerColours?: LayerColours
  /** dress single letters, layers and bands; later rules cover earlier ones */
  readonly rules?: readonly DressRule[]
  readonly palette?: DressPalette
  readonly lattice: number
}

export const NO_LETTER = 65535

/** Number of triangles. */
export const triangleCount = (solid: Pick<Solid, 'indices'>): number => solid.indices.length / 3

/** A solid placed: shared arrays, moved by (dx, dy, dz) mm. What form kernels cache. */
export interface Placed {
  readonly solid: Solid
  readonly dx: number
  readonly dy: number
  readonly dz: number
  /** added to the solid's letter numbers */
  readonly letters: readonly number[]
  /** the layer all of it belongs to; 0 when left out */
  readonly layer?: number
}

/** Plain clay, for solids that no Dress step has dressed. */
export const UNDRESSED: Material = { colour: '#aaa294', roughness: 0.6, metalness: 0 }

/** Triangles that look alike: one surface group in one material. */
export interface Surface {
  readonly group: Group
  readonly name: string
  readonly material: Material
}

/** The surfaces that occur on a solid, and which of them each triangle belongs to. */
export function surfacesOf(solid: Solid): { surfaces: Surface[]; of: Uint16Array } {
  const surfaces: Surface[] = []
  const numbers = new Map<number, number>()
  const of = new Uint16Array(solid.group.length)
  const byLetter = (solid.rules?.some((rule) => rule.letters !== '' || rule.every > 1) ?? false) || (solid.palette && solid.palette.by !== 'layer')
  const dresser = new Dresser(solid)
  const letterKey = byLetter ? 65536 : 1
  // in the order of groups and layers, so that lists of materials read alike whatever comes first in the mesh
  const keyOf = (t: number) => ((solid.group[t] * 65536 + solid.layer[t]) * 256 + (solid.band?.[t] ?? 0)) * letterKey + (byLetter ? solid.letter[t] : 0)
  const first = new Map<number, number>()
  for (let t = 0; t < of.length; t++) {
    const key = keyOf(t)
    if (!first.has(key)) first.set(key, t)
  }
  for (const [key, t] of [...first].sort(([a], [b]) => a - b)) {
    const group = GROUPS[solid.group[t]]
    const { material, name } = dresser.look(t)
    // what looks alike is one surface
    let number = surfaces.findIndex((s) => s.group === group && sameMaterial(s.material, material))
    if (number < 0) number = surfaces.push({ group, name, material }) - 1
    numbers.set(key, number)
  }
  for (let t = 0; t < of.length; t++) of[t] = numbers.get(keyOf(t)) as number
  return { surfaces, of }
}

/** Finds the material of triangles: the group's, the layer's colour, the palette's, then the rules in turn. */
class Dresser {
  /** counted without spaces, from 0; −1 for a space */
  private readonly place: Int32Array
  private readonly word: Int32Array

  constructor(private readonly solid: Solid) {
    let [letters, words, open] = [0, -1, false]
    const { length } = solid.letters
    this.place = new Int32Array(length)
    this.word = new Int32Array(length)
    solid.letters.forEach((text, i) => {
      const space = text.trim() === ''
      if (!space && !open) words++
      open = !space
      this.place[i] = space ? -1 : letters++
      this.word[i] = Math.max(0, words)
    })
  }

  look(t: number): { material: Material; name: string } {
    const { solid } = this
    const group = GROUPS[solid.group[t]]
    const layer = solid.layers[solid.layer[t]]
    const letter = solid.letter[t] === NO_LETTER ? -1 : solid.letter[t]
    const band = solid.band && solid.bands ? (solid.bands[solid.band[t] - 1] ?? '') : ''
    let material = solid.materials?.[group] ?? UNDRESSED
    let name: string = group
    const everywhere = solid.layerColours === undefined || solid.layerColours === 'all'
    if (layer?.colour !== undefined && (everywhere || (solid.layerColours === 'face' && group === 'face'))) {
      material = { ...material, colour: layer.colour }
      if (solid.layers.length > 1) name = `${group} ${layer.name}`
    }
    const { palette } = solid
    if (palette && palette.colours.length > 0 && (palette.groups.length === 0 || palette.groups.includes(group))) {
      const turn = palette.by === 'layer' ? solid.layer[t] : letter < 0 ? 0 : palette.by === 'word' ? this.word[letter] : Math.max(0, this.place[letter])
      const k = turn % palette.colours.length
      material = { ...material, colour: palette.colours[k] }
      name = `${group} ${palette.by} colour ${k + 1}`
    }
    solid.rules?.forEach((rule, i) => {
      if (rule.groups.length > 0 && !rule.groups.includes(group)) return
      if (rule.layer !== '' && rule.layer !== layer?.name) return
      if (rule.band !== '' && rule.band !== band) return
      if (rule.letters !== '' && (letter < 0 || !rule.letters.includes(solid.letters[letter]))) return
      if (rule.every > 1 && (letter < 0 || this.place[letter] < rule.from - 1 || (this.place[letter] - rule.from + 1) % rule.every !== 0)) return
      material = rule.material
      name = `${group} ${rule.band || `rule ${i + 1}`}`
    })
    return { material, name }
  }
}

const sameMaterial = (a: Material, b: Material) =>
  a.colour === b.colour && a.roughness === b.roughness && a.metalness === b.metalness && (a.glow ?? 0) === (b.glow ?? 0)

/**
 * One solid of several placed ones; arrays are new. `Placed.letters[k]` is the number that letter k of the part gets in
 * `letters`. Nothing is united: parts that overlap go on overlapping.
 */
export function joinPlaced(parts: readonly Placed[], letters: readonly string[], lattice: number, layers: readonly SolidLayer[] = []): Solid {
  let vertices = 0
  let triangles = 0
  for (const { solid } of parts) {
    vertices += solid.positions.length / 3
    triangles += triangleCount(solid)
  }
  const bands = parts.find((p) => p.solid.bands)?.solid.bands
  const out = {
    kind: 'solid' as const,
    ...(bands ? { band: new Uint8Array(triangles), bands } : {}),
    positions: new Float64Array(3 * vertices),
    indices: new Uint32Array(3 * triangles),
    group: new Uint8Array(triangles),
    letter: new Uint16Array(triangles),
    layer: new Uint16Array(triangles),
    part: new Uint16Array(triangles),
    normals: new Float32Array(9 * triangles),
    uvs: new Float32Array(6 * triangles),
    letters,
    layers,
    lattice,
  }
  let v = 0
  let t = 0
  let partBase = 0
  for (const { solid, dx, dy, dz, letters: numbers, layer = 0 } of parts) {
    const p = solid.positions
    for (let i = 0; i < p.length; i += 3) {
      out.positions[3 * v + i] = p[i] + dx
      out.positions[3 * v + i + 1] = p[i + 1] + dy
      out.positions[3 * v + i + 2] = p[i + 2] + dz
    }
    for (let i = 0; i < solid.indices.length; i++) out.indices[3 * t + i] = solid.indices[i] + v
    out.group.set(solid.group, t)
    if (solid.band) out.band?.set(solid.band, t)
    out.layer.fill(layer, t, t + triangleCount(solid))
    let maxPart = -1
    for (let i = 0; i < solid.letter.length; i++) {
      out.letter[t + i] = solid.letter[i] === NO_LETTER ? NO_LETTER : (numbers[solid.letter[i]] ?? NO_LETTER)
      out.part[t + i] = solid.part[i] + partBase
      maxPart = Math.max(maxPart, solid.part[i])
    }
    out.normals.set(solid.normals, 9 * t)
    out.uvs.set(solid.uvs, 6 * t)
    partBase += maxPart + 1
    v += p.length / 3
    t += triangleCount(solid)
  }
  return out
}

/** Numbers the connected parts of a mesh: one number per triangle, and how many there are. */
export function connectedParts(indices: ArrayLike<number>, vertices: number): { part: Uint16Array; count: number } {
  const parent = new Int32Array(vertices)
  for (let i = 0; i < vertices; i++) parent[i] = i
  const find = (start: number) => {
    let v = start
    while (parent[v] !== v) {
      parent[v] = parent[parent[v]]
      v = parent[v]
    }
    return v
  }
  for (let i = 0; i < indices.length; i += 3) {
    const a = find(indices[i])
    const b = find(indices[i + 1])
    if (a !== b) parent[b] = a
    const c = find(indices[i + 2])
    if (a !== c) parent[c] = a
  }
  const numbers = new Int32Array(vertices).fill(-1)
  let count = 0
  const part = new Uint16Array(indices.length / 3)
  for (let i = 0; i < part.length; i++) {
    const root = find(indices[3 * i])
    if (numbers[root] < 0) numbers[root] = count++
    part[i] = Math.min(numbers[root], 65535)
  }
  return { part, count }
}

/** [minX, minY, minZ, maxX, maxY, maxZ] in mm; infinities when empty. */
export function solidBounds(positions: ArrayLike<number>): [number, number, number, number, number, number] {
  const box: [number, number, number, number, number, number] = [Infinity, Infinity, Infinity, -Infinity, -Infinity, -Infinity]
  for (let i = 0; i < positions.length; i++) {
    const k = i % 3
    if (positions[i] < box[k]) box[k] = positions[i]
    if (positions[i] > box[k + 3]) box[k + 3] = positions[i]
  }
  return box
}
