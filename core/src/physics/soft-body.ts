import type Jolt from 'jolt-physics/wasm-compat'
import type { Engine } from './engine'

export interface SoftOptions {
  /** x, y, z of its points about `at`, m */
  readonly points: Float64Array
  readonly at: readonly [number, number, number]
  /** 1/kg of each point; 0 for those that are held where they are */
  readonly inverse: Float64Array
  /** points that keep their distance, two each */
  readonly edges: Uint32Array
  /** how much each of them gives, m/N */
  readonly compliance: Float64Array
  /** tetrahedra that keep their volume, four points each */
  readonly tetrahedra?: Uint32Array
  /** how many times as large these are to be */
  readonly swell?: number
  /** triangles that wind and pressure act on and that others hit, three points each */
  readonly triangles?: Uint32Array
  readonly iterations: number
  /** share of the speed that goes in a second */
  readonly damping: number
  readonly friction: number
  readonly bounce: number
  /** how far points keep off what they hit, m */
  readonly radius: number
  /** no point gets faster than this, m/s */
  readonly fastest?: number
  /** goes on however slow it is, until it is let rest */
  readonly restless: boolean
}

/** A soft body in a world: points held together by constraints (Macklin, Müller & Chentanez, "XPBD", 2016). It is freed with its world. */
export class SoftBody {
  readonly count: number
  private readonly motion: Jolt.SoftBodyMotionProperties
  private readonly place: readonly [number, number, number]
  /** where the points stand in the engine's memory, in floats: the first, from one to the next, and the two fields */
  private readonly first: number
  private readonly stride: number
  private readonly position: number
  private readonly velocity: number

  constructor(
    private readonly J: Engine,
    readonly body: Jolt.Body,
    count: number,
    at: readonly [number, number, number],
  ) {
    this.count = count
    this.place = at
    this.motion = J.castObject(body.GetMotionProperties(), J.SoftBodyMotionProperties)
    const vertices = this.motion.GetVertices()
    const base = J.getPointer(vertices.at(0))
    this.first = base / 4
    this.stride = count > 1 ? (J.getPointer(vertices.at(1)) - base) / 4 : 0
    const traits = J.SoftBodyVertexTraits.prototype
    this.position = traits.mPositionOffset / 4
    this.velocity = traits.mVelocityOffset / 4
  }

  /** x, y, z of its points, m. */
  positions(into: Float32Array, from = 0): void {
    const heap = this.J.HEAPF32
    for (let i = 0, o = this.first + this.position; i < this.count; i++, o += this.stride)
      for (let k = 0; k < 3; k++) into[from + 3 * i + k] = heap[o + k] + this.place[k]
  }

  /** x, y, z of its points' speeds, m/s. */
  velocities(into: Float32Array): void {
    const heap = this.J.HEAPF32
    for (let i = 0, o = this.first + this.velocity; i < this.count; i++, o += this.stride) for (let k = 0; k < 3; k++) into[3 * i + k] = heap[o + k]
  }

  setVelocities(from: Float32Array): void {
    const heap = this.J.HEAPF32
    for (let i = 0, o = this.first + this.velocity; i < this.count; i++, o += this.stride) for (let k = 0; k < 3; k++) heap[o + k] = from[3 * i + k]
  }

  /** Puts points where they are to be, m: for those that are held and led. */
  setPositions(from: Float32Array, which: ArrayLike<number>): void {
    const heap = this.J.HEAPF32
    for (let n = 0; n < which.length; n++) {
      const o = this.first + this.position + which[n] * this.stride
      for (let k = 0; k < 3; k++) heap[o + k] = from[3 * which[n] + k] - this.place[k]
    }
  }

  /** The engine's own pressure, p·n·R·T: gauge pressure times the volume that is filled. */
  setPressure(amount: number): void {
    this.motion.SetPressure(amount)
  }

  /** From now on it stands still when it has been slow for long enough. */
  letRest(): void {
    // allowing it again would begin that time anew
    if (this.body.GetAllowSleeping()) return
    this.body.SetAllowSleeping(true)
  }

  get awake(): boolean {
    return this.body.IsActive()
  }
}

/** A soft body's settings; whoever gets them destroys them. */
export function softSettings(J: Engine, options: SoftOptions, layer: number): Jolt.SoftBodyCreationSettings {
  const { points, inverse, edges, compliance, tetrahedra, swell = 1, triangles } = options
  const shared = new J.SoftBodySharedSettings()
  const count = points.length / 3
  shared.mVertices.resize(count)
  const base = J.getPointer(shared.mVertices.at(0)) / 4
  const stride = count > 1 ? J.getPointer(shared.mVertices.at(1)) / 4 - base : 0
  const heap = J.HEAPF32
  for (let i = 0; i < count; i++) {
    const o = base + i * stride
    for (let k = 0; k < 3; k++) {
      heap[o + k] = points[3 * i + k]
      heap[o + 3 + k] = 0
    }
    heap[o + 6] = inverse[i]
  }
  const edge = new J.SoftBodySharedSettingsEdge(0, 0, 0)
  for (let i = 0; i < compliance.length; i++) {
    edge.set_mVertex(0, edges[2 * i])
    edge.set_mVertex(1, edges[2 * i + 1])
    edge.mCompliance = compliance[i]
    shared.mEdgeConstraints.push_back(edge)
  }
  J.destroy(edge)
  shared.CalculateEdgeLengths()
  if (tetrahedra) {
    const body = new J.SoftBodySharedSettingsVolume(0, 0, 0, 0, 0)
    for (let i = 0; i < tetrahedra.length; i += 4) {
      for (let k = 0; k < 4; k++) body.set_mVertex(k, tetrahedra[i + k])
      shared.mVolumeConstraints.push_back(body)
    }
    J.destroy(body)
    shared.CalculateVolumeConstraintVolumes()
    if (swell !== 1)
      for (let i = 0; i < tetrahedra.length / 4; i++) {
        const one = shared.mVolumeConstraints.at(i)
        one.mSixRestVolume *= swell
      }
  }
  if (triangles) {
    const face = new J.SoftBodySharedSettingsFace(0, 0, 0, 0)
    for (let i = 0; i < triangles.length; i += 3) {
      for (let k = 0; k < 3; k++) face.set_mVertex(k, triangles[i + k])
      shared.AddFace(face)
    }
    J.destroy(face)
  }
  shared.Optimize()
  const [p, q] = [new J.RVec3(...options.at), new J.Quat(0, 0, 0, 1)]
  const settings = new J.SoftBodyCreationSettings(shared, p, q, layer)
  J.destroy(p)
  J.destroy(q)
  settings.mVertexRadius = options.radius
  settings.mNumIterations = options.iterations
  settings.mLinearDamping = options.damping
  settings.mFriction = options.friction
  settings.mRestitution = options.bounce
  settings.mUpdatePosition = false
  settings.mAllowSleeping = !options.restless
  settings.mPressure = 0
  if (options.fastest !== undefined) settings.mMaxLinearVelocity = options.fastest
  return settings
}
