/** The surface groups of lettering, by their number in `Solid.group`. */
export const GROUPS = ['face', 'edge', 'return', 'back', 'inside'] as const
export type Group = (typeof GROUPS)[number]
export const FACE = 0
export const EDGE = 1
export const RETURN = 2
export const BACK = 3
export const INSIDE = 4

/** A surface's look. Colour is sRGB "#rrggbb"; roughness and metalness are 0 to 1, as in glTF. */
export interface Material {
  readonly colour: string
  readonly roughness: number
  readonly metalness: number
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
  const keyOf = (t: number) => solid.layer[t] + 65536 * solid.group[t]
  const keys = new Set<number>()
  for (let t = 0; t < solid.group.length; t++) keys.add(keyOf(t))
  const surfaces: Surface[] = []
  const numbers = new Map<number, number>()
  for (const key of [...keys].sort((a, b) => a - b)) {
    const group = GROUPS[Math.floor(key / 65536)]
    const layer = solid.layers[key % 65536]
    const base = solid.materials?.[group] ?? UNDRESSED
    const everywhere = solid.layerColours === undefined || solid.layerColours === 'all'
    const shows = layer?.colour !== undefined && (everywhere || (solid.layerColours === 'face' && group === 'face'))
    const material = shows ? { ...base, colour: layer.colour as string } : base
    // layers of one look are one surface
    let number = surfaces.findIndex((s) => s.group === group && sameMaterial(s.material, material))
    if (number < 0) number = surfaces.push({ group, name: solid.layers.length > 1 && shows ? `${group} ${layer.name}` : group, material }) - 1
    numbers.set(key, number)
  }
  return { surfaces, of: Uint16Array.from(solid.group, (_, t) => numbers.get(keyOf(t)) as number) }
}

const sameMaterial = (a: Material, b: Material) => a.colour === b.colour && a.roughness === b.roughness && a.metalness === b.metalness

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
  const parent = Int32Array.from({ length: vertices }, (_, i) => i)
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
    parent[b] = a
    parent[find(indices[i + 2])] = find(a)
  }
  const numbers = new Map<number, number>()
  const part = new Uint16Array(indices.length / 3)
  for (let i = 0; i < part.length; i++) {
    const root = find(indices[3 * i])
    let number = numbers.get(root)
    if (number === undefined) {
      number = numbers.size
      numbers.set(root, number)
    }
    part[i] = Math.min(number, 65535)
  }
  return { part, count: numbers.size }
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
