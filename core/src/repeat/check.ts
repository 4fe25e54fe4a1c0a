import { type CheckReport, checkMesh, type Finding } from '../check/check'
import { apply } from '../solid/operations'
import { type Assembly, assemblyBounds, assemblyTriangles, matrixOf } from '../solid/assembly'
import { vertexCount } from '../solid/solid'

/**
 * Whether every unit of an assembly is sound, and the measures of all that stands in it: each copy counted by itself, as it would be cast or bought. Copies that
 * reach into each other are united only where they become one solid.
 */
export function checkAssembly(assembly: Assembly): CheckReport {
  const reports = assembly.units.map((unit) => checkMesh(unit))
  const { unit, matrix } = assembly.placements
  let [volume, area, parts, vertices] = [0, 0, 0, 0]
  for (let i = 0; i < unit.length; i++) {
    const o = 12 * i
    const size = Math.abs(
      matrix[o] * (matrix[o + 5] * matrix[o + 10] - matrix[o + 6] * matrix[o + 9]) -
        matrix[o + 1] * (matrix[o + 4] * matrix[o + 10] - matrix[o + 6] * matrix[o + 8]) +
        matrix[o + 2] * (matrix[o + 4] * matrix[o + 9] - matrix[o + 5] * matrix[o + 8]),
    )
    const report = reports[unit[i]]
    volume += size * report.volume
    area += Math.cbrt(size) ** 2 * report.area
    parts += report.parts
    vertices += vertexCount(assembly.units[unit[i]])
  }
  const box = assemblyBounds(assembly)
  const used = reports.filter((_, u) => unit.includes(u))
  return {
    sound: used.every(({ sound }) => sound),
    closed: used.every(({ closed }) => closed),
    manifold: used.every(({ manifold }) => manifold),
    crossings: used.reduce((sum, { crossings }) => sum + crossings, 0),
    triangles: assemblyTriangles(assembly),
    vertices,
    parts,
    volume,
    area,
    size: [0, 1, 2].map((k) => (box[k + 3] >= box[k] ? box[k + 3] - box[k] : 0)) as unknown as CheckReport['size'],
    // places are told where a copy of the unit first stands
    findings: reports.flatMap(({ findings }, u): Finding[] => {
      const first = unit.indexOf(u)
      if (first < 0) return []
      const m = matrixOf(assembly.placements, first)
      return findings.map((finding) => ({ ...finding, places: finding.places.map(([x, y, z]) => apply(m, x, y, z)) }))
    }),
  }
}
