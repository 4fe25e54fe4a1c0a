import type { Solid } from '../solid/solid'
import type { CellLattice } from './cell-lattice'
import { fastestIn, forEachNear } from './near-places'
import { NoStand } from './recording'

/** A body's lattice and skin, and where the engine has it now. */
export interface ContactBody {
  readonly lattice: CellLattice
  readonly skin: Pick<Solid, 'positions' | 'indices'>
  /** corners of the lattice, m */
  readonly places: Float32Array
  readonly speeds: Float32Array
  /** 1/kg of each */
  readonly inverse: Float64Array
}

/** Places on the skin stand about so far from each other, shares of a cell. */
const APART = 0.55
/** What comes nearer than this is held off, shares of a cell; what is further in than that is not held any more. */
const OFF = 0.16
const DEEPEST = 0.8
/** How much of what is missing is made good in one step. */
const SHARE = 0.6
/** Places that are so near, shares of a cell, are looked for when they may have come this much nearer, but only every so many steps. */
const REACH = 1
const ROOM = 0.4
const LOOKED = 3
/** Surfaces meet that look at each other: the cosine between their normals. */
const FACING = -0.3

/**
 * Keeps jelly out of jelly: the engine has soft bodies meet rigid ones only. Places spread over all skins are compared with those near them whose surface looks the other way, and pushed apart
 * along it, each through the corners of its cell. Two places of one body that looked at each other through it at rest, as the two sides of a stroke do, never meet.
 */
export class SkinContacts {
  private readonly body: number[] = []
  /** eight corners a place, and their weights */
  private readonly corners: number[] = []
  private readonly weights: number[] = []
  private readonly rest: Float64Array
  private readonly restNormal: Float64Array
  private readonly now: Float64Array
  private readonly normal: Float64Array
  private readonly cell: number
  private pairs: number[] = []
  /** the places among them */
  private met: number[] = []
  /** how much nearer to each other places may have come since they were looked for, m */
  private gone = Infinity
  private age = LOOKED

  /** `size`: m to a mm. */
  constructor(
    private readonly bodies: readonly ContactBody[],
    size: number,
  ) {
    const rest: number[] = []
    const normals: number[] = []
    this.cell = Math.min(...bodies.map(({ lattice }) => Math.min(...lattice.size))) * size
    bodies.forEach(({ lattice, skin }, number) => this.spread(number, lattice, skin, size, rest, normals))
    this.rest = Float64Array.from(rest)
    this.restNormal = Float64Array.from(normals)
    this.now = this.rest.slice()
    this.normal = this.restNormal.slice()
  }

  /** Changes the speeds of what would come into each other within a step of time, s. True where anything touched. */
  apply(step: number): boolean {
    // both may have come nearer since
    this.gone += 2 * fastestIn(this.bodies) * step
    if (++this.age >= LOOKED && this.gone > ROOM * this.cell) {
      this.gone = this.age = 0
      for (let a = 0; a < this.body.length; a++) this.locate(a)
      this.look()
    } else for (const a of this.met) this.locate(a)
    const { now, normal, cell, pairs } = this
    const aside = (APART * cell) ** 2
    let touched = false
    for (let i = 0; i < pairs.length; i += 2) {
      const [a, b] = [3 * pairs[i], 3 * pairs[i + 1]]
      // along the mean of both normals, and how far beside it
      const nx = normal[a] - normal[b]
      const ny = normal[a + 1] - normal[b + 1]
      const nz = normal[a + 2] - normal[b + 2]
      const size = Math.sqrt(nx * nx + ny * ny + nz * nz)
      if (size < 1) continue
      const dx = now[b] - now[a]
      const dy = now[b + 1] - now[a + 1]
      const dz = now[b + 2] - now[a + 2]
      const gap = (dx * nx + dy * ny + dz * nz) / size
      if (gap > OFF * cell || gap < -DEEPEST * cell || dx * dx + dy * dy + dz * dz - gap * gap > aside) continue
      this.part(pairs[i], pairs[i + 1], [nx / size, ny / size, nz / size], (OFF * cell - gap) * SHARE, step)
      touched = true
    }
    return touched
  }

  /** What it has to know from one step to the next, to go on from there. */
  state(): number[] {
    return [this.gone, this.age, ...this.pairs]
  }

  /** Goes on from there. Throws NoStand where that was of other skins. */
  restore([gone, age, ...pairs]: readonly number[]): void {
    if (pairs.some((place) => !(place >= 0 && place < this.body.length))) throw new NoStand('contacts are of another skin')
    this.gone = gone
    this.age = age
    this.pairs = pairs
    this.met = [...new Set(pairs)]
  }

  /** Looks for places that may meet in the next few steps: near each other, facing each other, and not back to back at rest. */
  private look(): void {
    const { now, normal, rest, restNormal, body, cell } = this
    const pairs: number[] = []
    forEachNear(now, REACH * cell, (a, b) => {
      const [o, q] = [3 * a, 3 * b]
      if (normal[o] * normal[q] + normal[o + 1] * normal[q + 1] + normal[o + 2] * normal[q + 2] > FACING) return
      if (body[a] === body[b] && ahead(rest, restNormal, a, b) <= 0) return
      pairs.push(a, b)
    })
    this.pairs = pairs
    this.met = [...new Set(pairs)]
  }

  /** Makes two places go apart so fast, along n, that they are so much further apart after a step; never slower than they do already. */
  private part(a: number, b: number, n: readonly number[], by: number, step: number): void {
    const [va, vb] = [this.speedAlong(a, n), this.speedAlong(b, n)]
    const missing = by / step - (vb - va)
    const ease = this.easeOf(a) + this.easeOf(b)
    // one impulse for both, so that their momentum stays
    if (missing <= 0 || ease === 0) return
    this.push(a, n, -missing / ease)
    this.push(b, n, missing / ease)
  }

  /** How much faster a place becomes by an impulse there, 1/kg. */
  private easeOf(place: number): number {
    const { inverse } = this.bodies[this.body[place]]
    let ease = 0
    for (let c = 8 * place; c < 8 * place + 8; c++) ease += this.weights[c] ** 2 * inverse[this.corners[c]]
    return ease
  }

  private speedAlong(place: number, n: readonly number[]): number {
    const { speeds } = this.bodies[this.body[place]]
    let v = 0
    for (let c = 8 * place; c < 8 * place + 8; c++) {
      const o = 3 * this.corners[c]
      v += this.weights[c] * (speeds[o] * n[0] + speeds[o + 1] * n[1] + speeds[o + 2] * n[2])
    }
    return v
  }

  /** Gives a place an impulse along n, kg·m/s, through the corners of its cell; what is held stays. */
  private push(place: number, n: readonly number[], impulse: number): void {
    const { speeds, inverse } = this.bodies[this.body[place]]
    for (let c = 8 * place; c < 8 * place + 8; c++) {
      const corner = this.corners[c]
      const share = impulse * this.weights[c] * inverse[corner]
      for (let k = 0; k < 3; k++) speeds[3 * corner + k] += share * n[k]
    }
  }

  /** Where a place is now, and how its surface looks: by how its cell is turned and sheared. */
  private locate(a: number): void {
    const { corners, weights, now, normal, restNormal } = this
    const { places } = this.bodies[this.body[a]]
    const [hx, hy, hz] = this.bodies[this.body[a]].lattice.size
    let [x, y, z] = [0, 0, 0]
    // columns of the cell's map: along x, y and z
    let [ax, ay, az, bx, by, bz, cx, cy, cz] = [0, 0, 0, 0, 0, 0, 0, 0, 0]
    for (let c = 0; c < 8; c++) {
      const o = 3 * corners[8 * a + c]
      const w = weights[8 * a + c]
      const px = places[o]
      const py = places[o + 1]
      const pz = places[o + 2]
      x += w * px
      y += w * py
      z += w * pz
      const i = c & 1 ? 1 : -1
      const j = c & 2 ? 1 : -1
      const k = c & 4 ? 1 : -1
      ax += i * px
      ay += i * py
      az += i * pz
      bx += j * px
      by += j * py
      bz += j * pz
      cx += k * px
      cy += k * py
      cz += k * pz
    }
    now[3 * a] = x
    now[3 * a + 1] = y
    now[3 * a + 2] = z
    // normals go by the cofactors
    const nx = restNormal[3 * a] * hx
    const ny = restNormal[3 * a + 1] * hy
    const nz = restNormal[3 * a + 2] * hz
    const mx = (by * cz - bz * cy) * nx + (cy * az - cz * ay) * ny + (ay * bz - az * by) * nz
    const my = (bz * cx - bx * cz) * nx + (cz * ax - cx * az) * ny + (az * bx - ax * bz) * nz
    const mz = (bx * cy - by * cx) * nx + (cx * ay - cy * ax) * ny + (ax * by - ay * bx) * nz
    const size = Math.sqrt(mx * mx + my * my + mz * mz) || 1
    normal[3 * a] = mx / size
    normal[3 * a + 1] = my / size
    normal[3 * a + 2] = mz / size
  }

  /** Chooses triangles' middles so that they stand about evenly: one for each box of a grid and way its surface looks. */
  private spread(
    number: number,
    lattice: CellLattice,
    { positions: p, indices }: Pick<Solid, 'positions' | 'indices'>,
    size: number,
    rest: number[],
    normals: number[],
  ): void {
    const step = APART * Math.min(...lattice.size)
    const taken = new Set<string>()
    for (let i = 0; i < indices.length; i += 3) {
      const [a, b, c] = [3 * indices[i], 3 * indices[i + 1], 3 * indices[i + 2]]
      const at = [0, 1, 2].map((k) => (p[a + k] + p[b + k] + p[c + k]) / 3)
      const [ux, uy, uz] = [p[b] - p[a], p[b + 1] - p[a + 1], p[b + 2] - p[a + 2]]
      const [vx, vy, vz] = [p[c] - p[a], p[c + 1] - p[a + 1], p[c + 2] - p[a + 2]]
      const n = [uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx]
      const length = Math.sqrt(n[0] ** 2 + n[1] ** 2 + n[2] ** 2)
      if (length === 0) continue
      const key = [...at.map((v) => Math.floor(v / step)), ...n.map((v) => Math.round(v / length))].join(' ')
      if (taken.has(key)) continue
      taken.add(key)
      const carrier = lattice.carrier[indices[i]]
      this.body.push(number)
      const t = [0, 1, 2].map((k) => Math.min(1, Math.max(0, (at[k] - lattice.low[k]) / lattice.size[k] - lattice.places[3 * carrier + k])))
      for (let corner = 0; corner < 8; corner++) {
        this.corners.push(lattice.cells[8 * carrier + corner])
        this.weights.push([0, 1, 2].reduce((w, k) => w * ((corner >> k) & 1 ? t[k] : 1 - t[k]), 1))
      }
      for (let k = 0; k < 3; k++) {
        rest.push(at[k] * size)
        normals.push(n[k] / length)
      }
    }
  }
}

/** How far b lies before a's surface, and a before b's: below 0 where they are back to back. */
function ahead(p: Float64Array, n: Float64Array, a: number, b: number): number {
  let [one, other] = [0, 0]
  for (let k = 0; k < 3; k++) {
    const d = p[3 * b + k] - p[3 * a + k]
    one += d * n[3 * a + k]
    other -= d * n[3 * b + k]
  }
  return Math.min(one, other)
}
