import { isWorthSharing, shareOut, type Task, type Threads } from '../parallel/share-out'
import type { Triangles } from '../solid/from-triangles'
import { fillBeyond } from './beyond'
import { type Box, SIDE, SparseField, TILE } from './field'

/** Triangles after which `splat` asks whether to go on. */
const TURN = 4096
/** Voxels about the surface within which triangles are offered to samples whatever their number. */
const NEAR = 3
/** What it costs to look for the nearest triangle of a sample, in triangles offered to samples. */
const LOOKED_FOR = 170

interface SplatOptions {
  readonly reach?: number
  readonly only?: Uint8Array
  readonly breathe?: (done: number) => Promise<void>
  /** other threads that may do some of it, to the very same; not where `only` some tiles are written, or some are there already */
  readonly threads?: Threads
  readonly signal?: AbortSignal
}

/**
 * Lowers the squared distance of every sample within `reach` voxels of a triangle, exactly, and of no other: each row of samples is clipped
 * by the slab about the triangle's plane and by its three sides moved out, and the distance is taken in the triangle's own frame, where it
 * is one of the plane. Ties go to the lower triangle. Where it is cheaper, samples farther than 3 voxels look for their triangles instead (see fillBeyond). `only` says by the directory which tiles may be written (1). Finish with `signByWinding`.
 */
export async function splat(
  field: SparseField,
  { positions: pos, indices: idx }: Triangles,
  { reach = field.band, only, breathe = async () => {}, threads, signal }: SplatOptions = {},
): Promise<void> {
  const triangles = idx.length / 3
  const near = splatReach({ positions: pos, indices: idx }, field.voxel, reach)
  const slabs = threads && threads.count > 0 && !only && field.count === 0 ? slabsOf(field, pos, idx, near, threads.count + 1) : []
  const takes = slabs.map((slab) => slab.takes)
  if (threads && isWorthSharing(takes, threads))
    await splatSlabs(field, { positions: pos, indices: idx }, near, slabs, { threads, signal, breathe: () => breathe(0) })
  else
    for (let from = 0; from < triangles; from += TURN) {
      splatSome(field, pos, idx, from, Math.min(triangles, from + TURN), near, only)
      await breathe(Math.min(1, (from + TURN) / triangles))
    }
  if (near < reach) await fillBeyond(field, { positions: pos, indices: idx }, reach, { only, breathe })
}

/** How many of the `reach` voxels triangles are best offered to samples in, where those farther off on one side or both can look for their own. */
export function splatReach({ positions, indices }: Triangles, voxel: number, reach: number, sides: 1 | 2 = 2): number {
  if (reach <= NEAR) return reach
  const { offered, lookedFor } = farWork(positions, indices, reach, voxel)
  return offered > (lookedFor * sides) / 2 ? NEAR : reach
}

/**
 * What a layer of samples costs that is farther from the surface than usual, in triangles offered to samples: when each triangle is offered to all within `reach` voxels, and when each sample
 * looks for its own. Triangles may be so many, and so small, that the former is more.
 */
export function farWork(
  pos: ArrayLike<number>,
  idx: ArrayLike<number>,
  reach: number,
  voxel: number,
): { readonly offered: number; readonly lookedFor: number } {
  let [offered, area] = [0, 0]
  for (let t = 0; t < idx.length; t += 3) {
    const [a, b, c] = [3 * idx[t], 3 * idx[t + 1], 3 * idx[t + 2]]
    const [ux, uy, uz] = [pos[b] - pos[a], pos[b + 1] - pos[a + 1], pos[b + 2] - pos[a + 2]]
    const [vx, vy, vz] = [pos[c] - pos[a], pos[c + 1] - pos[a + 1], pos[c + 2] - pos[a + 2]]
    const twice = Math.sqrt((uy * vz - uz * vy) ** 2 + (uz * vx - ux * vz) ** 2 + (ux * vy - uy * vx) ** 2) / voxel ** 2
    area += twice / 2
    offered += (Math.sqrt(twice) + 2 * reach) ** 2
  }
  return { offered, lookedFor: LOOKED_FOR * area }
}

function splatSome(
  field: SparseField,
  pos: ArrayLike<number>,
  idx: ArrayLike<number>,
  from: number,
  to: number,
  reach: number,
  only: Uint8Array | undefined,
  slab: { readonly from: number; readonly to: number; readonly born: number[] } | undefined = undefined,
): void {
  const h = field.voxel
  const [ox, oy, oz] = field.origin
  const [tx, ty, tz] = field.tiles
  const B = reach * h
  const B2 = B * B
  const far = (field.band * h) ** 2
  // samples along x that are written
  const [first, last] = slab ? [SIDE * slab.from, SIDE * slab.to - 1] : [0, SIDE * tx - 1]
  for (let t = from; t < to; t++) {
    let ia = 3 * idx[3 * t]
    let ib = 3 * idx[3 * t + 1]
    let ic = 3 * idx[3 * t + 2]
    const apart = (p: number, q: number) => (pos[p] - pos[q]) ** 2 + (pos[p + 1] - pos[q + 1]) ** 2 + (pos[p + 2] - pos[q + 2]) ** 2
    const lab = apart(ia, ib)
    const lbc = apart(ib, ic)
    const lca = apart(ic, ia)
    // the longest side first: slivers keep a good frame
    if (lbc > lab && lbc >= lca) [ia, ib, ic] = [ib, ic, ia]
    else if (lca > lab) [ia, ib, ic] = [ic, ia, ib]
    const ax = pos[ia]
    const ay = pos[ia + 1]
    const az = pos[ia + 2]
    const ex = pos[ib] - ax
    const ey = pos[ib + 1] - ay
    const ez = pos[ib + 2] - az
    const fx = pos[ic] - ax
    const fy = pos[ic + 1] - ay
    const fz = pos[ic + 2] - az
    let nx = ey * fz - ez * fy
    let ny = ez * fx - ex * fz
    let nz = ex * fy - ey * fx
    const L = Math.sqrt(ex * ex + ey * ey + ez * ez)
    if (L === 0) continue
    const A = Math.sqrt(nx * nx + ny * ny + nz * nz)
    const ux = ex / L
    const uy = ey / L
    const uz = ez / L
    if (A > 1e-12 * L * L) {
      nx /= A
      ny /= A
      nz /= A
    } else {
      // no area: any frame about its longest side will do
      if (Math.abs(ux) < 0.6) [nx, ny, nz] = [0, uz, -uy]
      else [nx, ny, nz] = [-uz, 0, ux]
      const q = Math.sqrt(nx * nx + ny * ny + nz * nz)
      nx /= q
      ny /= q
      nz /= q
    }
    const vx = ny * uz - nz * uy
    const vy = nz * ux - nx * uz
    const vz = nx * uy - ny * ux
    const cu = fx * ux + fy * uy + fz * uz
    const cv = Math.max(0, fx * vx + fy * vy + fz * vz)
    // lengths and directions of the second and third side; the first runs along u
    const l1 = Math.sqrt((cu - L) * (cu - L) + cv * cv)
    const l2 = Math.sqrt(cu * cu + cv * cv)
    const d1u = l1 > 0 ? (cu - L) / l1 : 0
    const d1v = l1 > 0 ? cv / l1 : 1
    const d2u = l2 > 0 ? -cu / l2 : 0
    const d2v = l2 > 0 ? -cv / l2 : -1
    const low = (k: number, o: number) => Math.max(0, Math.ceil((Math.min(pos[ia + k], pos[ib + k], pos[ic + k]) - B - o) / h))
    const high = (k: number, o: number, n: number) => Math.min(8 * n - 1, Math.floor((Math.max(pos[ia + k], pos[ib + k], pos[ic + k]) + B - o) / h))
    const x0 = low(0, ox)
    const x1 = high(0, ox, tx)
    if (x0 > last || x1 < first) continue
    const y0 = low(1, oy)
    const y1 = high(1, oy, ty)
    const z0 = low(2, oz)
    const z1 = high(2, oz, tz)
    const du = ux * h
    const dv = vx * h
    const dw = nx * h
    // how the distances beyond the three sides grow along x
    const g0 = -dv
    const g1 = d1v * du - d1u * dv
    const g2 = d2v * du - d2u * dv
    for (let z = z0; z <= z1; z++)
      for (let y = y0; y <= y1; y++) {
        const px = ox + x0 * h - ax
        const py = oy + y * h - ay
        const pz = oz + z * h - az
        const u0 = px * ux + py * uy + pz * uz
        const v0 = px * vx + py * vy + pz * vz
        const w0 = px * nx + py * ny + pz * nz
        const a0 = -v0
        const a1 = (u0 - L) * d1v - v0 * d1u
        const a2 = (u0 - cu) * d2v - (v0 - cv) * d2u
        let s = 0
        let e = x1 - x0
        if (dw > 1e-12) {
          s = Math.max(s, (-B - w0) / dw)
          e = Math.min(e, (B - w0) / dw)
        } else if (dw < -1e-12) {
          s = Math.max(s, (B - w0) / dw)
          e = Math.min(e, (-B - w0) / dw)
        } else if (w0 > B || w0 < -B) continue
        if (g0 > 1e-12) e = Math.min(e, (B - a0) / g0)
        else if (g0 < -1e-12) s = Math.max(s, (B - a0) / g0)
        else if (a0 > B) continue
        if (g1 > 1e-12) e = Math.min(e, (B - a1) / g1)
        else if (g1 < -1e-12) s = Math.max(s, (B - a1) / g1)
        else if (a1 > B) continue
        if (g2 > 1e-12) e = Math.min(e, (B - a2) / g2)
        else if (g2 < -1e-12) s = Math.max(s, (B - a2) / g2)
        else if (a2 > B) continue
        // counted from where they are for all slabs: what comes out is the same to the last bit
        s = Math.max(Math.ceil(s), first - x0)
        e = Math.min(Math.floor(e), last - x0)
        if (s > e) continue
        const row = tx * ((y >> 3) + ty * (z >> 3))
        const rowAt = ((y & 7) << 3) | ((z & 7) << 6)
        let tile = -1
        let base = -1
        let open = true
        let distance = field.distance
        for (let i = s; i <= e; i++) {
          const w = w0 + dw * i
          const x = x0 + i
          if (x >> 3 !== tile) {
            tile = x >> 3
            open = !only || only[row + tile] === 1
            const slot = field.directory[row + tile]
            base = slot >= 0 ? slot * TILE + rowAt : -1
          }
          if (!open) continue
          let q = w * w
          // most end here once a nearer triangle came by
          if (q >= (base >= 0 ? distance[base + (x & 7)] : B2)) continue
          const s0 = a0 + g0 * i
          const s1 = a1 + g1 * i
          const s2 = a2 + g2 * i
          if (s0 > 0 || s1 > 0 || s2 > 0) {
            // off the prism: the nearest point lies on a side it is beyond
            const u = u0 + du * i
            const v = v0 + dv * i
            let best = Infinity
            if (s0 > 0) {
              const r = u < 0 ? u : u > L ? u - L : 0
              best = s0 * s0 + r * r
            }
            if (s1 > 0) {
              let r = (u - L) * d1u + v * d1v
              r = r < 0 ? r : r > l1 ? r - l1 : 0
              const m = s1 * s1 + r * r
              if (m < best) best = m
            }
            if (s2 > 0) {
              let r = (u - cu) * d2u + (v - cv) * d2v
              r = r < 0 ? r : r > l2 ? r - l2 : 0
              const m = s2 * s2 + r * r
              if (m < best) best = m
            }
            q += best
          }
          if (q >= B2) continue
          if (base < 0) {
            slab?.born.push(t, z, y)
            base = field.slot(row + tile, far) * TILE + rowAt
            distance = field.distance
          }
          const k = base + (x & 7)
          if (q < distance[k]) {
            distance[k] = q
            field.triangle[k] = t
          }
        }
      }
  }
}

/** Tiles along x: some of a field. */
interface Slab {
  readonly from: number
  readonly to: number
  /** about how long it takes, ms */
  readonly takes: number
}

/** About how long a triangle takes, and each sample that it is offered to, ms. */
const PER_TRIANGLE = 5e-4
const PER_OFFERED = 2.2e-5

/** A field's tiles in so many slabs, with about as much to do in each. */
function slabsOf(field: SparseField, pos: ArrayLike<number>, idx: ArrayLike<number>, reach: number, count: number): Slab[] {
  const [tx] = field.tiles
  const work = new Float64Array(tx)
  const h = field.voxel
  for (let t = 0; t < idx.length; t += 3) {
    let [low, high] = [Infinity, -Infinity]
    let samples = 1
    for (let k = 0; k < 3; k++) {
      const [a, b, c] = [pos[3 * idx[t] + k], pos[3 * idx[t + 1] + k], pos[3 * idx[t + 2] + k]]
      const [least, most] = [Math.min(a, b, c), Math.max(a, b, c)]
      samples *= (most - least) / h + 2 * reach
      if (k === 0) [low, high] = [least, most]
    }
    const at = (x: number) => Math.min(tx - 1, Math.max(0, Math.floor((x - field.origin[0]) / (SIDE * h))))
    const [first, last] = [at(low), at(high)]
    const share = (PER_TRIANGLE + PER_OFFERED * samples) / (last - first + 1)
    for (let i = first; i <= last; i++) work[i] += share
  }
  const all = work.reduce((sum, w) => sum + w, 0)
  const slabs: Slab[] = []
  let [from, takes, before] = [0, 0, 0]
  for (let i = 0; i < tx; i++) {
    takes += work[i]
    // the last one takes all that is left
    if (i < tx - 1 && (slabs.length === count - 1 || before + takes < ((slabs.length + 1) / count) * all)) continue
    slabs.push({ from, to: i + 1, takes })
    before += takes
    from = i + 1
    takes = 0
  }
  return slabs
}

interface SlabToSplat extends Triangles {
  readonly box: Box
  readonly voxel: number
  readonly band: number
  readonly reach: number
  readonly from: number
  readonly to: number
}

interface SplatSlab {
  readonly home: Int32Array
  readonly distance: Float32Array
  readonly triangle: Int32Array
  /** of each tile the triangle, and the row of samples (z, y), that it was made for */
  readonly born: Int32Array
}

/** One slab of a field, for other threads. */
export const splatSlab: Task<SlabToSplat, SplatSlab> = {
  name: 'splat',
  run: async ({ positions, indices, box, voxel, band, reach, from, to }, breathe) => {
    const field = new SparseField(box, voxel, band)
    const born: number[] = []
    for (let t = 0; t < indices.length / 3; t += TURN) {
      splatSome(field, positions, indices, t, Math.min(indices.length / 3, t + TURN), reach, undefined, { from, to, born })
      await breathe()
    }
    const { count, home, distance, triangle } = field
    return { home: home.slice(0, count), distance: distance.slice(0, TILE * count), triangle: triangle.slice(0, TILE * count), born: Int32Array.from(born) }
  },
}

/** Splats slab by slab, and puts their tiles together in the order in which they would have been made in one go. */
async function splatSlabs(
  field: SparseField,
  { positions, indices }: Triangles,
  reach: number,
  slabs: readonly Slab[],
  { threads, signal, breathe }: { readonly threads: Threads | undefined; readonly signal: AbortSignal | undefined; readonly breathe: () => Promise<void> },
): Promise<void> {
  const { voxel, band } = field
  const list = slabs.map(({ from, to }): SlabToSplat => ({ positions, indices, box: field.box, voxel, band, reach, from, to }))
  const made = await shareOut(splatSlab, list, { threads, signal, breathe, takes: (_, i) => slabs[i].takes })
  // slabs that follow each other along x, as rows of samples go
  const order = made.flatMap(({ home }, s) => Array.from(home, (_, tile) => [s, tile] as const))
  const key = ([s, tile]: readonly [number, number], k: number) => made[s].born[3 * tile + k]
  order.sort((a, b) => key(a, 0) - key(b, 0) || key(a, 1) - key(b, 1) || key(a, 2) - key(b, 2) || a[0] - b[0] || a[1] - b[1])
  field.reserve(order.length)
  for (const [s, tile] of order) {
    const { home, distance, triangle } = made[s]
    const to = field.slot(home[tile], 0) * TILE
    field.distance.set(distance.subarray(TILE * tile, TILE * (tile + 1)), to)
    field.triangle.set(triangle.subarray(TILE * tile, TILE * (tile + 1)), to)
  }
}
