import { GROUPS } from '../src/solid/labels'
import { normalsOf, uvsOf } from '../src/solid/shading'
import { labelAt, type Solid, triangleCount } from '../src/solid/solid'

/** Areas by group, band, letter and layer, mm², and the sums of texture coordinates and normals over them: the same however a surface is divided into triangles. */
export function surfaceMeasures(solid: Solid): Record<string, number> {
  const out: Record<string, number> = {}
  const [uv, normal] = [uvsOf(solid), normalsOf(solid)]
  for (let t = 0; t < triangleCount(solid); t++) {
    const [a, b, c] = [0, 1, 2].map((k) => [0, 1, 2].map((j) => solid.positions[3 * solid.indices[3 * t + k] + j]))
    const [u, v] = [b.map((x, j) => x - a[j]), c.map((x, j) => x - a[j])]
    const area = Math.hypot(u[1] * v[2] - u[2] * v[1], u[2] * v[0] - u[0] * v[2], u[0] * v[1] - u[1] * v[0]) / 2
    const letter = labelAt(solid, t, 'letter')
    const key = [
      GROUPS[labelAt(solid, t, 'group')],
      solid.bands[labelAt(solid, t, 'band')] ?? '',
      letter < 0 ? '' : `${letter}${solid.letters[letter]}`,
      solid.layers[labelAt(solid, t, 'layer')]?.name ?? '',
    ].join(' ')
    const add = (name: string, value: number) => {
      out[`${key} ${name}`] = (out[`${key} ${name}`] ?? 0) + value
    }
    add('area', area)
    for (let k = 0; k < 3; k++) {
      add('across', (area * uv[6 * t + 2 * k]) / 3)
      add('up', (area * uv[6 * t + 2 * k + 1]) / 3)
      for (let j = 0; j < 3; j++) add(`normal ${j}`, (area * normal[9 * t + 3 * k + j]) / 3)
    }
  }
  return out
}
