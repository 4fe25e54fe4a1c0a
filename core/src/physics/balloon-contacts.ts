import { fastestIn, forEachNear } from './near-places'
import { pointNormals } from './point-normals'

/** A balloon's skin, and where the engine has it now. */
export interface BalloonSkin {
  /** x, y, z of its points, m; there may be more that are no part of it */
  readonly places: Float32Array
  readonly speeds: Float32Array
  /** 1/kg of each */
  readonly inverse: Float64Array
  /** three points a triangle, seen from outside anticlockwise */
  readonly triangles: Uint32Array
  readonly count: number
}

/** Points that face each other: near, no further beside each other than this as seen along their normals, and not too deep in each other, sides of triangles; and the cosine between their normals. */
const BESIDE = 0.75
const DEEPEST = 1
const FACING = -0.3
/** Points further from each other than this are never looked at, sides of triangles. */
const FARTHEST = 3
/**
 * Keeps balloons out of each other: the engine has soft bodies meet rigid ones only. Points of skins that face each other are held `off` m apart along the mean of their normals, and those that
 * come near too fast are slowed down, so that no step takes one into the other. Nothing has to be known from one step to the next.
 */
export class BalloonContacts {
  /** of each point that may meet another its skin and its number there */
  private skin: number[] = []
  private point: number[] = []

  /** `side`: about how long sides of triangles are, m. */
  constructor(
    private readonly skins: readonly BalloonSkin[],
    private readonly side: number,
    private readonly off: number,
  ) {}

  /** Changes the speeds of what would come into each other within a step of time, s. True where anything touched. */
  apply(step: number): boolean {
    const { skins, side, off } = this
    const reach = Math.min(FARTHEST * side, Math.max(off, side) + 2 * fastestIn(skins) * step)
    this.choose(reach)
    const { skin, point } = this
    const count = skin.length
    if (count === 0) return false
    const meeting = new Set(skin)
    const normals = skins.map(({ places, triangles, count: own }, i) => (meeting.has(i) ? pointNormals(places, triangles, own) : undefined))
    const now = new Float64Array(3 * count)
    for (let a = 0; a < count; a++) for (let k = 0; k < 3; k++) now[3 * a + k] = skins[skin[a]].places[3 * point[a] + k]
    const aside = (BESIDE * side) ** 2
    let touched = false
    forEachNear(now, reach, (a, b) => {
      const [m, o] = [normals[skin[a]], normals[skin[b]]]
      if (skin[a] === skin[b] || !m || !o) return
      const [p, q] = [3 * point[a], 3 * point[b]]
      if (m[p] * o[q] + m[p + 1] * o[q + 1] + m[p + 2] * o[q + 2] > FACING) return
      const x = m[p] - o[q]
      const y = m[p + 1] - o[q + 1]
      const z = m[p + 2] - o[q + 2]
      const size = Math.sqrt(x * x + y * y + z * z)
      const dx = now[3 * b] - now[3 * a]
      const dy = now[3 * b + 1] - now[3 * a + 1]
      const dz = now[3 * b + 2] - now[3 * a + 2]
      const gap = (dx * x + dy * y + dz * z) / size
      if (gap > reach || gap < -DEEPEST * side || dx * dx + dy * dy + dz * dz - gap * gap > aside) return
      if (part(skins[skin[a]], point[a], skins[skin[b]], point[b], [x / size, y / size, z / size], off - gap, step)) touched = true
    })
    return touched
  }

  /** The points that lie within another skin's box, or as near to it as `reach`. */
  private choose(reach: number): void {
    const { skins } = this
    const boxes = skins.map(({ places, count }) => {
      const box = [Infinity, Infinity, Infinity, -Infinity, -Infinity, -Infinity]
      for (let i = 0; i < 3 * count; i++) {
        box[i % 3] = Math.min(box[i % 3], places[i] - reach / 2)
        box[3 + (i % 3)] = Math.max(box[3 + (i % 3)], places[i] + reach / 2)
      }
      return box
    })
    this.skin = []
    this.point = []
    skins.forEach(({ places, count }, i) => {
      const others = boxes.filter((box, j) => j !== i && [0, 1, 2].every((k) => boxes[i][k] <= box[k + 3] && box[k] <= boxes[i][k + 3]))
      for (let v = 0; others.length > 0 && v < count; v++) {
        const near = (box: readonly number[]) => [0, 1, 2].every((k) => places[3 * v + k] >= box[k] - reach / 2 && places[3 * v + k] <= box[k + 3] + reach / 2)
        if (!others.some(near)) continue
        this.skin.push(i)
        this.point.push(v)
      }
    })
  }
}

/** Makes two points that are to be `by` m further apart along n do so, or, below 0, nearer only so far. One impulse for both, so that their momentum stays. */
function part(one: BalloonSkin, a: number, two: BalloonSkin, b: number, n: readonly [number, number, number], by: number, step: number): boolean {
  const [wa, wb] = [one.inverse[a], two.inverse[b]]
  let coming = 0
  for (let k = 0; k < 3; k++) coming += (one.speeds[3 * a + k] - two.speeds[3 * b + k]) * n[k]
  const missing = by / step + coming
  if (missing <= 0 || wa + wb === 0) return false
  for (let k = 0; k < 3; k++) {
    one.speeds[3 * a + k] -= (missing * wa * n[k]) / (wa + wb)
    two.speeds[3 * b + k] += (missing * wb * n[k]) / (wa + wb)
  }
  return true
}
