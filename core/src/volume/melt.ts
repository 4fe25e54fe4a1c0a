import type { Triangles } from '../solid/from-triangles'
import { solidBounds } from '../solid/solid'
import { INSIDE, OUTSIDE, SparseField, TILE } from './field'
import type { Breathe } from './remesh'
import { splat } from './splat'
import { signByWinding } from './winding'

/** One of the bodies that melt together, and what number each of its triangles has in the whole. */
export interface Body {
  readonly mesh: Triangles
  readonly numbers: Uint32Array
}

/** How bodies melt: into one, the first without the others, or what they have in common. */
export type MeltHow = 'together' | 'out' | 'overlap'

interface Part {
  readonly near: SparseField
  /** tiles by which its directory is moved in the whole */
  readonly by: readonly [number, number, number]
  readonly numbers: Uint32Array
}

/**
 * Bodies melted together with a fillet of about `radius` mm where they meet: one field for each, of its own exact distances, blended
 * quadratically where two are nearer to each other than the radius (the two least count, so that the order of three or more does not
 * matter). Tiles that only one is near are taken as they are; wide distances are made in the others alone.
 */
export async function melted(bodies: readonly Body[], voxel: number, radius: number, how: MeltHow, breathe: Breathe, band = 3): Promise<SparseField> {
  const reach = Math.ceil(radius / voxel / 8)
  const wide = Math.ceil(radius / voxel) + band
  const fields: SparseField[] = []
  for (const { mesh } of bodies) {
    const field = new SparseField(solidBounds(mesh.positions), voxel, band)
    await splat(field, mesh, { breathe })
    signByWinding(field, mesh)
    fields.push(field)
    await breathe()
  }
  const low = [0, 1, 2].map((k) => Math.min(...fields.map((f) => f.origin[k])) - 8 * reach * voxel)
  const high = [0, 1, 2].map((k) => Math.max(...fields.map((f) => f.origin[k] + 8 * f.tiles[k] * voxel)) + 8 * reach * voxel)
  // the box grows by the band on its own
  const inset = (band + 2) * voxel
  const whole = new SparseField([low[0] + inset, low[1] + inset, low[2] + inset, high[0], high[1], high[2]], voxel, band)
  const parts = fields.map((near, i): Part => {
    const by = [0, 1, 2].map((k) => Math.round((near.origin[k] - whole.origin[k]) / voxel / 8)) as [number, number, number]
    return { near, by, numbers: bodies[i].numbers }
  })
  const count = await nearby(whole, parts, reach, breathe)
  // wide distances, in tiles that two are near
  const wides: SparseField[] = []
  for (const [i, { near, by }] of parts.entries()) {
    const field = new SparseField(solidBounds(bodies[i].mesh.positions), voxel, wide)
    const shift = [0, 1, 2].map((k) => by[k] + Math.round((field.origin[k] - near.origin[k]) / voxel / 8)) as [number, number, number]
    const only = new Uint8Array(field.directory.length)
    let any = false
    for (let d = 0; d < only.length; d++)
      if (count[inWhole(whole, field, shift, d)] > 1) {
        only[d] = 1
        any = true
      }
    if (any) await splat(field, bodies[i].mesh, { only, breathe })
    signByWinding(field, bodies[i].mesh)
    wides.push(field)
    await breathe()
  }
  const far = (band * voxel) ** 2
  // tiles of one alone
  for (const [i, { near, by, numbers }] of parts.entries())
    for (let d = 0; d < near.directory.length; d++) {
      const at = inWhole(whole, near, by, d)
      if (at < 0 || count[at] > 1) continue
      const slot = near.directory[d]
      const other = how !== 'together' && !(how === 'out' && i === 0)
      // of what only takes away, nothing is left where the first is not
      if (other) continue
      if (slot === INSIDE) whole.directory[at] = INSIDE
      if (slot < 0) continue
      const to = whole.slot(at, far) * TILE
      for (let k = 0; k < TILE; k++) {
        whole.distance[to + k] = near.distance[slot * TILE + k]
        const t = near.triangle[slot * TILE + k]
        whole.triangle[to + k] = t < 0 ? -1 : numbers[t]
      }
    }
  // the others
  const shifts = wides.map((f) => [0, 1, 2].map((k) => Math.round((f.origin[k] - whole.origin[k]) / voxel / 8)))
  const most = band * voxel
  const [tx, ty] = whole.tiles
  for (let at = 0, met = 0; at < count.length; at++) {
    if (count[at] < 2) continue
    if (met++ % 64 === 0) await breathe()
    const to = whole.slot(at, far) * TILE
    const [x, y, z] = [at % tx, Math.floor(at / tx) % ty, Math.floor(at / (tx * ty))]
    const slots = wides.map((f, i) => {
      const [a, b, c] = [x - shifts[i][0], y - shifts[i][1], z - shifts[i][2]]
      const within = a >= 0 && b >= 0 && c >= 0 && a < f.tiles[0] && b < f.tiles[1] && c < f.tiles[2]
      return within ? f.directory[a + f.tiles[0] * (b + f.tiles[1] * c)] : OUTSIDE
    })
    for (let k = 0; k < TILE; k++) {
      let [least, second, triangle] = [Infinity, Infinity, -1]
      slots.forEach((slot, i) => {
        let d = slot >= 0 ? wides[i].distance[slot * TILE + k] : slot === INSIDE ? -wide * voxel : wide * voxel
        // cut out and overlap are unions of what lies outside
        if (how === 'overlap' || (how === 'out' && i === 0)) d = -d
        const t = slot >= 0 ? wides[i].triangle[slot * TILE + k] : -1
        if (d < least) {
          second = least
          least = d
          triangle = t < 0 ? -1 : parts[i].numbers[t]
        } else if (d < second) second = d
      })
      const lap = radius > 0 ? Math.max(0, radius - (second - least)) : 0
      const blended = least - (radius > 0 ? (lap * lap) / (4 * radius) : 0)
      whole.distance[to + k] = Math.max(-most, Math.min(most, how === 'together' ? blended : -blended))
      whole.triangle[to + k] = triangle
    }
  }
  return whole
}

/** Where a part's tile stands in the whole, −1 beyond it. */
function inWhole(whole: SparseField, part: SparseField, by: readonly number[], d: number): number {
  const [tx, ty] = part.tiles
  const x = (d % tx) + by[0]
  const y = (Math.floor(d / tx) % ty) + by[1]
  const z = Math.floor(d / (tx * ty)) + by[2]
  if (x < 0 || y < 0 || z < 0 || x >= whole.tiles[0] || y >= whole.tiles[1] || z >= whole.tiles[2]) return -1
  return x + whole.tiles[0] * (y + whole.tiles[1] * z)
}

/** For each tile of the whole: how many bodies have their surface, or themselves, within reach of it. */
async function nearby(whole: SparseField, parts: readonly Part[], reach: number, breathe: Breathe): Promise<Uint16Array> {
  const count = new Uint16Array(whole.directory.length)
  const seen = new Int32Array(whole.directory.length).fill(-1)
  const [tx, ty, tz] = whole.tiles
  for (const [i, { near, by }] of parts.entries()) {
    await breathe()
    for (let d = 0; d < near.directory.length; d++) {
      if (near.directory[d] === OUTSIDE) continue
      const at = inWhole(whole, near, by, d)
      if (at < 0) continue
      const [x, y, z] = [at % tx, Math.floor(at / tx) % ty, Math.floor(at / (tx * ty))]
      // what lies wholly inside reaches no further than its neighbours, which have tiles
      const r = near.directory[d] === INSIDE ? 0 : reach
      for (let c = Math.max(0, z - r); c <= Math.min(tz - 1, z + r); c++)
        for (let b = Math.max(0, y - r); b <= Math.min(ty - 1, y + r); b++)
          for (let a = Math.max(0, x - r); a <= Math.min(tx - 1, x + r); a++) {
            const w = a + tx * (b + ty * c)
            if (seen[w] === i) continue
            seen[w] = i
            count[w]++
          }
    }
  }
  return count
}
