import { FACE, NO_LETTER, type Solid } from './solid'

export interface Arrangement {
  /** factor on all sizes */
  readonly scale: number
  /** 'z' stands the piece up for programs whose Z points upwards; 'y' leaves it as it is, on its back in such programs */
  readonly up: 'y' | 'z'
}

/**
 * The solid scaled and turned for another program. A turn is exact; scaled positions are rounded to the solid's lattice, so a
 * solid that was scaled should be checked again. Returns the solid itself when nothing changes.
 */
export function arranged(solid: Solid, { scale, up }: Arrangement): Solid {
  if (scale === 1 && up === 'y') return solid
  const positions = new Float64Array(solid.positions.length)
  for (let i = 0; i < positions.length; i += 3) {
    for (let k = 0; k < 3; k++) {
      const v = solid.positions[i + k] * scale
      positions[i + k] = scale === 1 ? v : Math.round(v / solid.lattice) * solid.lattice
    }
    if (up === 'z') stand(positions, i)
  }
  const normals = solid.normals.slice()
  if (up === 'z') for (let i = 0; i < normals.length; i += 3) stand(normals, i)
  return { ...solid, positions, normals, uvs: scale === 1 ? solid.uvs : solid.uvs.map((v) => v * scale) }
}

/** A quarter turn about X: Y becomes Z. */
function stand(xyz: Float64Array | Float32Array, i: number): void {
  const y = xyz[i + 1]
  // without a negative nought, which some readers print
  xyz[i + 1] = 0 - xyz[i + 2]
  xyz[i + 2] = y
}

/** The solid as one surface in the material of its face. */
export function merged(solid: Solid): Solid {
  const { band: _band, bands: _bands, rules: _rules, palette: _palette, ...rest } = solid
  return {
    ...rest,
    group: new Uint8Array(solid.group.length).fill(FACE),
    layer: new Uint16Array(solid.layer.length),
    layers: [{ name: 'all' }],
    layerColours: 'none',
  }
}

/**
 * The solid taken apart by its letters, each with what it is called: whole connected parts, so that each is closed. Letters
 * that are joined stay together. A part that belongs to no letter, such as a plate, is a solid of its own.
 */
export function lettersApart(solid: Solid): { name: string; solid: Solid }[] {
  const parts = 1 + solid.part.reduce((most, p) => Math.max(most, p), -1)
  // the letters of each part, in their order
  const letters = Array.from({ length: parts }, () => new Set<number>())
  for (let t = 0; t < solid.part.length; t++) letters[solid.part[t]].add(solid.letter[t])
  // parts that share a letter, such as the dot of an i, go together
  const group = Int32Array.from({ length: parts }, (_, i) => i)
  const root = (i: number): number => (group[i] === i ? i : root(group[i]))
  const first = new Map<number, number>()
  letters.forEach((list, part) => {
    for (const letter of list) {
      if (letter === NO_LETTER) continue
      const other = first.get(letter)
      if (other === undefined) first.set(letter, part)
      else group[root(part)] = root(other)
    }
  })
  const triangles = new Map<number, number[]>()
  for (let t = 0; t < solid.part.length; t++) {
    const of = root(solid.part[t])
    const known = triangles.get(of)
    if (known) known.push(t)
    else triangles.set(of, [t])
  }
  const named = [...triangles].map(([of, kept]) => {
    const members = letters.filter((_, part) => root(part) === of)
    const own = [...new Set(members.flatMap((list) => [...list]))].filter((l) => l !== NO_LETTER).sort((a, b) => a - b)
    return { order: own[0] ?? Infinity, name: own.map((l) => solid.letters[l] ?? '').join('') || 'rest', solid: only(solid, kept) }
  })
  return named.sort((a, b) => a.order - b.order).map(({ name, solid: part }) => ({ name, solid: part }))
}

/** Some of the triangles with the vertices they use. */
function only(solid: Solid, kept: readonly number[]): Solid {
  const numbers = new Map<number, number>()
  const indices = new Uint32Array(3 * kept.length)
  kept.forEach((t, i) => {
    for (let k = 0; k < 3; k++) {
      const v = solid.indices[3 * t + k]
      let n = numbers.get(v)
      if (n === undefined) numbers.set(v, (n = numbers.size))
      indices[3 * i + k] = n
    }
  })
  const positions = new Float64Array(3 * numbers.size)
  for (const [v, n] of numbers) positions.set(solid.positions.subarray(3 * v, 3 * v + 3), 3 * n)
  const pick = <A extends Float32Array | Uint16Array | Uint8Array>(from: A, each: number): A => {
    const out = new (from.constructor as new (length: number) => A)(each * kept.length)
    kept.forEach((t, i) => out.set(from.subarray(each * t, each * t + each), each * i))
    return out
  }
  return {
    ...solid,
    positions,
    indices,
    group: pick(solid.group, 1),
    letter: pick(solid.letter, 1),
    layer: pick(solid.layer, 1),
    part: pick(solid.part, 1),
    ...(solid.band ? { band: pick(solid.band, 1) } : {}),
    normals: pick(solid.normals, 9),
    uvs: pick(solid.uvs, 6),
  }
}
