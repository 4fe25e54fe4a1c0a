import { cornersAbout } from '../check/corners'
import { type AttributeArray, attributeArray, type AttributeName } from './attributes'
import { type Solid, vertexCount } from './solid'

/** Faces that meet at less than this are shaded as one surface, degrees. */
const CREASE = 35

const made = new WeakMap<Solid, { normal?: Float32Array; uv?: Float32Array }>()

function keptWith(solid: Solid) {
  let kept = made.get(solid)
  if (!kept) made.set(solid, (kept = {}))
  return kept
}

/** Unit normals at the corners: the solid's own, or made from its shape and kept as long as it is. */
export function normalsOf(solid: Solid): Float32Array {
  return solid.attributes.normal ?? (keptWith(solid).normal ??= creasedNormals(solid.positions, solid.indices))
}

/** Texture coordinates at the corners in mm: the solid's own, or those of the axis plane that each triangle faces most. */
export function uvsOf(solid: Solid): Float32Array {
  return solid.attributes.uv ?? (keptWith(solid).uv ??= planeCoordinates(solid.positions, solid.indices))
}

/** An attribute as the solid has it, or made from its shape, or else as it reads where it is missing. */
export function attributeOf(solid: Solid, name: AttributeName): AttributeArray {
  if (name === 'normal') return normalsOf(solid)
  if (name === 'uv') return uvsOf(solid)
  return solid.attributes[name] ?? attributeArray(name, vertexCount(solid), solid.indices.length)
}

/**
 * Unit normals per corner, nine numbers a triangle, of a mesh whose surface is not known otherwise: those of the faces about each corner
 * that turn little against its own, weighted by their angle there (Thürmer & Wüthrich, "Computing vertex normals from polygonal facets", 1998).
 */
function creasedNormals(positions: ArrayLike<number>, indices: ArrayLike<number>): Float32Array {
  const count = indices.length / 3
  const flat = new Float64Array(3 * count)
  const angle = new Float64Array(3 * count)
  for (let t = 0; t < count; t++) {
    const [a, b, c] = [3 * indices[3 * t], 3 * indices[3 * t + 1], 3 * indices[3 * t + 2]]
    const [ux, uy, uz] = [positions[b] - positions[a], positions[b + 1] - positions[a + 1], positions[b + 2] - positions[a + 2]]
    const [vx, vy, vz] = [positions[c] - positions[b], positions[c + 1] - positions[b + 1], positions[c + 2] - positions[b + 2]]
    const [wx, wy, wz] = [positions[a] - positions[c], positions[a + 1] - positions[c + 1], positions[a + 2] - positions[c + 2]]
    const [nx, ny, nz] = [uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx]
    const size = Math.sqrt(nx * nx + ny * ny + nz * nz) || 1
    flat[3 * t] = nx / size
    flat[3 * t + 1] = ny / size
    flat[3 * t + 2] = nz / size
    const [lu, lv, lw] = [Math.sqrt(ux * ux + uy * uy + uz * uz), Math.sqrt(vx * vx + vy * vy + vz * vz), Math.sqrt(wx * wx + wy * wy + wz * wz)]
    angle[3 * t] = between(ux * wx + uy * wy + uz * wz, lu * lw)
    angle[3 * t + 1] = between(vx * ux + vy * uy + vz * uz, lv * lu)
    angle[3 * t + 2] = between(wx * vx + wy * vy + wz * vz, lw * lv)
  }
  const { first: from, corners } = cornersAbout(indices, positions.length / 3)
  const out = new Float32Array(9 * count)
  const limit = Math.cos((CREASE * Math.PI) / 180)
  for (let i = 0; i < indices.length; i++) {
    const t = 3 * Math.floor(i / 3)
    const v = indices[i]
    let [x, y, z] = [0, 0, 0]
    for (let j = from[v]; j < from[v + 1]; j++) {
      const u = 3 * Math.floor(corners[j] / 3)
      if (flat[u] * flat[t] + flat[u + 1] * flat[t + 1] + flat[u + 2] * flat[t + 2] < limit) continue
      const w = angle[corners[j]]
      x += w * flat[u]
      y += w * flat[u + 1]
      z += w * flat[u + 2]
    }
    const size = Math.sqrt(x * x + y * y + z * z)
    out[3 * i] = size > 0 ? x / size : flat[t]
    out[3 * i + 1] = size > 0 ? y / size : flat[t + 1]
    out[3 * i + 2] = size > 0 ? z / size : flat[t + 2]
  }
  return out
}

/** The angle between two sides that leave a corner, of which one is given as it arrives: from their product and their lengths. */
const between = (product: number, lengths: number): number => Math.acos(Math.max(-1, Math.min(1, -product / (lengths || 1))))

function planeCoordinates(positions: ArrayLike<number>, indices: ArrayLike<number>): Float32Array {
  const out = new Float32Array(2 * indices.length)
  for (let i = 0; i < indices.length; i += 3) {
    const [a, b, c] = [3 * indices[i], 3 * indices[i + 1], 3 * indices[i + 2]]
    const [ux, uy, uz] = [positions[b] - positions[a], positions[b + 1] - positions[a + 1], positions[b + 2] - positions[a + 2]]
    const [vx, vy, vz] = [positions[c] - positions[a], positions[c + 1] - positions[a + 1], positions[c + 2] - positions[a + 2]]
    const [nx, ny, nz] = [Math.abs(uy * vz - uz * vy), Math.abs(uz * vx - ux * vz), Math.abs(ux * vy - uy * vx)]
    const [s, t] = nz >= nx && nz >= ny ? [0, 1] : nx >= ny ? [2, 1] : [0, 2]
    for (let k = 0; k < 3; k++) {
      out[2 * (i + k)] = positions[3 * indices[i + k] + s]
      out[2 * (i + k) + 1] = positions[3 * indices[i + k] + t]
    }
  }
  return out
}
