import { type CheckReport, checkMesh } from '../check/check'
import type { MeshData } from '../format/mesh-data'
import { mendedSolid } from '../join/placed'
import { loadManifold } from '../kernel/manifold'
import { solidFromTriangles } from '../solid/from-triangles'
import { type Solid, withParts } from '../solid/solid'
import { pictureUvAfter } from './picture-uv'
import { type Repaired, repairTriangles } from './repair'
import { uniteShells } from './unite-shells'

/** More pairs of triangles than this do not cross because a file's numbers were rounded. */
const MOST_ROUNDED = 40

export interface RepairedModel {
  readonly solid: Solid
  readonly check: CheckReport
  readonly repaired: Repaired
  /** so many bodies that passed through each other were made one, and where they did, mm */
  readonly united: number
  readonly crossings: readonly (readonly [number, number, number])[]
}

/**
 * A solid of a model's triangles, mended as far as that goes exactly (see repairTriangles); bodies that pass through each other are made
 * one. Parts and materials stay. The check says whether it is sound. Breathes between its parts.
 */
export async function repairedModel(
  mesh: MeshData,
  lattice: number,
  repaired: Repaired = repairTriangles(mesh, lattice),
  breathe: () => Promise<void> = async () => {},
): Promise<RepairedModel> {
  const { surface } = mesh
  const surfaces = surface ? { surface: repaired.source.map((t) => surface[t]), surfaces: mesh.surfaces } : {}
  const uv = mesh.pictureUv ? { pictureUv: pictureUvAfter(mesh, mesh.pictureUv, repaired) } : {}
  const made = solidFromTriangles({ positions: repaired.positions, indices: repaired.indices, ...surfaces, ...uv }, lattice)
  const solid: Solid = made.layers.length > 0 ? made : { ...withParts(made), layers: [{ name: 'Model' }] }
  await breathe()
  const check = checkMesh(solid)
  const whole = { solid, check, repaired, united: 0, crossings: [] }
  if (check.sound || check.findings.some(({ code }) => code !== 'crossing')) return whole
  const [{ places }] = check.findings
  await loadManifold()
  const united = uniteShells(solid)
  if (united.ok) {
    const report = checkMesh(united.solid)
    if (report.sound) return { solid: united.solid, check: report, repaired, united: united.bodies, crossings: places }
  }
  await breathe()
  if (check.crossings > MOST_ROUNDED) return whole
  const { solid: mended, mended: did } = mendedSolid(solid)
  return did.sound ? { ...whole, solid: mended, check: checkMesh(mended) } : whole
}
