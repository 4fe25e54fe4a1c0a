/**
 * What a solid carries besides its shape and its labels, each at its triangles' corners or at its vertices. An attribute is one line
 * here; gathering, joining, transforming and the solid kernel's bridge go by this table and treat all alike.
 */
export const ATTRIBUTES = {
  /** unit shading normal, creased where the surface is; made from the shape when it is absent */
  normal: { at: 'corner', size: 3, array: Float32Array, turns: true, missing: 0 },
  /** texture coordinates in mm: plane x, y on faces, along and up the outline elsewhere; made from the shape when absent */
  uv: { at: 'corner', size: 2, array: Float32Array, turns: false, missing: 0 },
  /** place in the picture of the corner's material, across and down, 1 for all of it; absent where no material has one */
  pictureUv: { at: 'corner', size: 2, array: Float32Array, turns: false, missing: 0 },
  /** where and how strongly a later step acts, 0 to 1; everywhere when absent */
  weight: { at: 'vertex', size: 1, array: Float32Array, turns: false, missing: 1 },
} as const satisfies Record<string, AttributeKind>

export interface AttributeKind {
  readonly at: 'corner' | 'vertex'
  /** numbers at each place */
  readonly size: number
  readonly array: new (length: number) => AttributeArray
  /** directions, which turn with the solid and are mirrored with it */
  readonly turns: boolean
  /** what is put in for solids without it when one with it is joined to them */
  readonly missing: number
}

export type AttributeArray = Float32Array | Uint8Array
export type AttributeName = keyof typeof ATTRIBUTES
export const ATTRIBUTE_NAMES = Object.keys(ATTRIBUTES) as AttributeName[]

/** The arrays of those that are there: `size` numbers at every vertex, or at every corner in the order of `Solid.indices`. */
export type Attributes = { readonly [A in AttributeName]?: ArrayOf<A> }

type ArrayOf<A extends AttributeName> = InstanceType<(typeof ATTRIBUTES)[A]['array']> extends Float32Array ? Float32Array : Uint8Array

/** A new array for so many vertices and corners. */
export function attributeArray<A extends AttributeName>(name: A, vertices: number, corners: number): ArrayOf<A> {
  const { at, size, array, missing } = ATTRIBUTES[name] as AttributeKind
  const made = new array(size * (at === 'vertex' ? vertices : corners))
  if (missing !== 0) made.fill(missing)
  return made as ArrayOf<A>
}

/** Every attribute that is there, through `change`; one that gives undefined is left out. */
export function mapAttributes(
  attributes: Attributes,
  change: (name: AttributeName, array: AttributeArray, kind: AttributeKind) => AttributeArray | undefined,
): Attributes {
  const out: Partial<Record<AttributeName, AttributeArray>> = {}
  for (const name of ATTRIBUTE_NAMES) {
    const array = attributes[name]
    const made = array && change(name, array, ATTRIBUTES[name])
    if (made) out[name] = made
  }
  return out as Attributes
}

/** `size` numbers from each of the places `from`, one after another, into a new array. */
export function pickPlaces(array: AttributeArray, size: number, from: ArrayLike<number>): AttributeArray {
  const out = new (array.constructor as new (length: number) => AttributeArray)(size * from.length)
  for (let i = 0; i < from.length; i++) for (let k = 0; k < size; k++) out[size * i + k] = array[size * from[i] + k]
  return out
}
