import type Jolt from 'jolt-physics/wasm-compat'
import type { Engine } from './engine'
import { solidBounds } from '../solid/solid'
import { longer } from '../solid/vertex-table'
import { NoStand } from './recording'
import { SoftBody, type SoftOptions, softSettings } from './soft-body'

/** What stands and what moves. */
const [STILL, MOVING] = [0, 1]
/** Gaps of collision, m: small against letters a metre high. */
const CONVEX_RADIUS = 0.004
/** What rests may sink in so far, m: a tenth of a millimetre where 50 mm seem a metre. */
const SLOP = 0.002

export interface BodyOptions {
  /** the corners of its convex parts about the origin of its own, m */
  readonly parts: readonly Float64Array[]
  /** where that origin is, m */
  readonly at: readonly [number, number, number]
  /** kg */
  readonly mass: number
  readonly friction: number
  readonly bounce: number
  /** m/s and radians/s at the start */
  readonly speed?: readonly [number, number, number]
  readonly spin?: readonly [number, number, number]
  /** does not move until something touches it */
  readonly asleep?: boolean
}

/** Two bodies that are glued. */
export interface Glued {
  readonly one: number
  readonly other: number
  readonly constraint: Jolt.SixDOFConstraint
}

/** A world of rigid and soft bodies in metres and seconds, y up. Everything of it is freed with it. */
export class World {
  private readonly jolt: Jolt.JoltInterface
  private readonly system: Jolt.PhysicsSystem
  private readonly bodies: Jolt.BodyInterface
  private readonly moving: Jolt.Body[] = []
  private readonly shapes: Jolt.Shape[] = []
  private holder: Jolt.Body | undefined
  private unglued: Jolt.GroupFilterTable | undefined

  constructor(
    private readonly J: Engine,
    { gravity, most }: { readonly gravity: number; readonly most: number },
  ) {
    const settings = new J.JoltSettings()
    settings.mMaxBodies = most + 64
    settings.mMaxBodyPairs = 65_536
    settings.mMaxContactConstraints = 20_480
    const pairs = new J.ObjectLayerPairFilterTable(2)
    pairs.EnableCollision(STILL, MOVING)
    pairs.EnableCollision(MOVING, MOVING)
    const layers = new J.BroadPhaseLayerInterfaceTable(2, 2)
    for (const layer of [STILL, MOVING]) {
      const own = new J.BroadPhaseLayer(layer)
      layers.MapObjectToBroadPhaseLayer(layer, own)
      J.destroy(own)
    }
    settings.mObjectLayerPairFilter = pairs
    settings.mBroadPhaseLayerInterface = layers
    settings.mObjectVsBroadPhaseLayerFilter = new J.ObjectVsBroadPhaseLayerFilterTable(layers, 2, pairs, 2)
    this.jolt = new J.JoltInterface(settings)
    J.destroy(settings)
    this.system = this.jolt.GetPhysicsSystem()
    this.setGravity(gravity)
    const physics = this.system.GetPhysicsSettings()
    physics.mPenetrationSlop = SLOP
    this.system.SetPhysicsSettings(physics)
    this.bodies = this.system.GetBodyInterface()
  }

  /** Adds a body that moves; they are numbered as they come. */
  add({ parts, at, mass, friction, bounce, speed = [0, 0, 0], spin = [0, 0, 0], asleep = false }: BodyOptions): void {
    const { J } = this
    const settings = this.settings(this.compound(parts), at, MOVING, friction, bounce)
    settings.mOverrideMassProperties = J.EOverrideMassProperties_CalculateInertia
    settings.mMassPropertiesOverride.mMass = mass
    settings.mLinearDamping = 0
    settings.mAngularDamping = 0.02
    const body = this.bodies.CreateBody(settings)
    J.destroy(settings)
    this.bodies.AddBody(body.GetID(), asleep ? J.EActivation_DontActivate : J.EActivation_Activate)
    if (!asleep) {
      const [v, w] = [new J.Vec3(...speed), new J.Vec3(...spin)]
      this.bodies.SetLinearVelocity(body.GetID(), v)
      this.bodies.SetAngularVelocity(body.GetID(), w)
      J.destroy(v)
      J.destroy(w)
    }
    this.moving.push(body)
  }

  /** Adds a soft body; the world frees it. */
  addSoft(options: SoftOptions): SoftBody {
    const { J } = this
    const settings = softSettings(J, options, MOVING)
    const body = this.bodies.CreateSoftBody(settings)
    J.destroy(settings)
    this.bodies.AddBody(body.GetID(), J.EActivation_Activate)
    return new SoftBody(J, body, options.points.length / 3, options.at)
  }

  /** Adds a box that stands still, or goes on evenly whatever lies on it: its middle and half its sides, m, and its speed, m/s. */
  addBox(
    at: readonly [number, number, number],
    half: readonly [number, number, number],
    friction: number,
    bounce: number,
    speed?: readonly [number, number, number],
  ): void {
    const { J } = this
    const size = new J.Vec3(...half)
    const shape = new J.BoxShape(size, 0.02)
    J.destroy(size)
    this.addStill(shape, at, friction, bounce, speed)
  }

  /** Adds convex parts that stand still, by their corners, m. */
  addParts(parts: readonly Float64Array[], friction: number, bounce: number): void {
    this.addStill(this.compound(parts), [0, 0, 0], friction, bounce)
  }

  /** Adds triangles that stand still, m. */
  addMesh(positions: ArrayLike<number>, indices: ArrayLike<number>, friction: number, bounce: number): void {
    const { J } = this
    const [vertices, triangles, materials] = [new J.VertexList(), new J.IndexedTriangleList(), new J.PhysicsMaterialList()]
    vertices.resize(positions.length / 3)
    triangles.resize(indices.length / 3)
    for (let v = 0; v < positions.length / 3; v++) {
      const own = vertices.at(v)
      own.x = positions[3 * v]
      own.y = positions[3 * v + 1]
      own.z = positions[3 * v + 2]
    }
    for (let t = 0; t < indices.length / 3; t++) for (let k = 0; k < 3; k++) triangles.at(t).set_mIdx(k, indices[3 * t + k])
    const settings = new J.MeshShapeSettings(vertices, triangles, materials)
    for (const list of [vertices, triangles, materials]) J.destroy(list)
    this.addStill(this.created(settings), [0, 0, 0], friction, bounce)
  }

  /**
   * Ties two bodies, or one to where it is, by a rope that may be slack: the points (m, as all stands now) come no further apart than `length`.
   * One constraint each: chains of small bodies under a heavy one stretch without bound (shared/physics-notes.md §6).
   */
  tie(
    one: number | undefined,
    from: readonly [number, number, number],
    other: number | undefined,
    to: readonly [number, number, number],
    length: number,
  ): void {
    const { J } = this
    const settings = new J.DistanceConstraintSettings()
    settings.mSpace = J.EConstraintSpace_WorldSpace
    const [p, q] = [new J.RVec3(...from), new J.RVec3(...to)]
    settings.mPoint1 = p
    settings.mPoint2 = q
    J.destroy(p)
    J.destroy(q)
    settings.mMinDistance = 0
    settings.mMaxDistance = length
    this.constrain(settings, one, other)
  }

  /** Hangs a body on a hinge that stands fast: a place of its axis, m, and the axis' direction. */
  hinge(body: number, at: readonly [number, number, number], axis: readonly [number, number, number]): void {
    const { J } = this
    const settings = new J.HingeConstraintSettings()
    settings.mSpace = J.EConstraintSpace_WorldSpace
    const normal: readonly [number, number, number] = axis[1] === 0 ? [0, 1, 0] : [1, 0, 0]
    const [p, a, n] = [new J.RVec3(...at), new J.Vec3(...axis), new J.Vec3(...normal)]
    settings.mPoint1 = p
    settings.mPoint2 = p
    settings.mHingeAxis1 = a
    settings.mHingeAxis2 = a
    settings.mNormalAxis1 = n
    settings.mNormalAxis2 = n
    for (const own of [p, a, n]) J.destroy(own)
    this.constrain(settings, undefined, body)
  }

  /** Glues two bodies at a place, m; what they then have to hold is asked for by `strain`. They do not push each other while they are glued. Everything that moves must be there by then. */
  glue(one: number, other: number, at: readonly [number, number, number]): Glued {
    const { J } = this
    if (!this.unglued) {
      this.unglued = new J.GroupFilterTable(this.moving.length)
      for (const [i, body] of this.moving.entries()) {
        const group = new J.CollisionGroup(this.unglued, 0, i)
        this.bodies.SetCollisionGroup(body.GetID(), group)
        J.destroy(group)
      }
    }
    this.unglued.DisableCollision(one, other)
    const settings = new J.SixDOFConstraintSettings()
    settings.mSpace = J.EConstraintSpace_WorldSpace
    const p = new J.RVec3(...at)
    settings.mPosition1 = p
    settings.mPosition2 = p
    J.destroy(p)
    for (const axis of [
      J.SixDOFConstraintSettings_EAxis_TranslationX,
      J.SixDOFConstraintSettings_EAxis_TranslationY,
      J.SixDOFConstraintSettings_EAxis_TranslationZ,
      J.SixDOFConstraintSettings_EAxis_RotationX,
      J.SixDOFConstraintSettings_EAxis_RotationY,
      J.SixDOFConstraintSettings_EAxis_RotationZ,
    ])
      settings.MakeFixedAxis(axis)
    return { one, other, constraint: J.castObject(this.constrain(settings, one, other), J.SixDOFConstraint) }
  }

  /** Glue gives way: both go their own ways and push each other again. */
  part({ one, other, constraint }: Glued): void {
    constraint.SetEnabled(false)
    this.unglued?.EnableCollision(one, other)
    for (const body of [one, other]) this.bodies.ActivateBody(this.moving[body].GetID())
  }

  /** The force a glued place had to hold in the last step of so many seconds, N. */
  strain({ constraint }: Glued, seconds: number): number {
    const v = constraint.GetTotalLambdaPosition()
    const [x, y, z] = [v.GetX(), v.GetY(), v.GetZ()]
    return Math.sqrt(x * x + y * y + z * z) / seconds
  }

  /** The acceleration on the i-th body for the next step beside gravity, m/s². */
  accelerate(i: number, by: ArrayLike<number>): void {
    const mass = 1 / this.moving[i].GetMotionProperties().GetInverseMass()
    this.push(i, [by[0] * mass, by[1] * mass, by[2] * mass])
  }

  /** Everything that moves stops. */
  halt(): void {
    const zero = new this.J.Vec3(0, 0, 0)
    for (const body of this.moving) {
      this.bodies.SetLinearVelocity(body.GetID(), zero)
      this.bodies.SetAngularVelocity(body.GetID(), zero)
    }
    this.J.destroy(zero)
  }

  /** Gravity from now on, m/s² downwards. */
  setGravity(amount: number): void {
    const down = new this.J.Vec3(0, -amount, 0)
    this.system.SetGravity(down)
    this.J.destroy(down)
  }

  /** How fast the i-th body goes, m/s. */
  speedOf(i: number): [number, number, number] {
    const v = this.moving[i].GetLinearVelocity()
    return [v.GetX(), v.GetY(), v.GetZ()]
  }

  /** Pushes the i-th body at its balance point for the next step, N. What sleeps is woken only by more than a hundredth of its weight. */
  push(i: number, force: readonly [number, number, number]): void {
    const body = this.moving[i]
    const [fx, fy, fz] = force
    if (!body.IsActive() && Math.sqrt(fx * fx + fy * fy + fz * fz) * body.GetMotionProperties().GetInverseMass() < 0.1) return
    const push = new this.J.Vec3(fx, fy, fz)
    this.bodies.AddForce(body.GetID(), push, this.J.EActivation_Activate)
    this.J.destroy(push)
  }

  /** Where everything stands and goes, and what touches what. */
  state(): Uint8Array {
    let [bytes, size] = [new Uint8Array(1 << 16), 0]
    this.recorded(
      {
        write: (from) => {
          if (size + from.length > bytes.length) bytes = longer(bytes, 2 * (size + from.length))
          bytes.set(from, size)
          size += from.length
        },
      },
      (recorder) => this.system.SaveState(recorder),
    )
    return bytes.slice(0, size)
  }

  /** Brings all to where it stood, in a world that was built the same way: what follows is the same bit by bit. Throws NoStand where it was none of such a world. */
  restore(bytes: Uint8Array): void {
    let at = 0
    const whole = this.recorded(
      {
        read: (into) => {
          // more than there is: nought, and it is told afterwards
          into.fill(0)
          into.set(bytes.subarray(at, at + into.length))
          at += into.length
        },
        failed: () => at > bytes.length,
      },
      (recorder) => this.system.RestoreState(recorder),
    )
    if (!whole || at !== bytes.length) throw new NoStand('the state is of another world')
  }

  private recorded<T>(
    {
      write = () => {},
      read = () => {},
      failed = () => false,
    }: { write?: (from: Uint8Array) => void; read?: (into: Uint8Array) => void; failed?: () => boolean },
    run: (recorder: Jolt.StateRecorder) => T,
  ): T {
    const { J } = this
    const recorder = new J.StateRecorderJS()
    const at = (pointer: number, count: number) => J.HEAPU8.subarray(pointer, pointer + count)
    recorder.WriteBytes = (pointer, count) => write(at(pointer, count))
    recorder.ReadBytes = (pointer, count) => read(at(pointer, count))
    recorder.IsEOF = failed
    recorder.IsFailed = failed
    try {
      return run(recorder)
    } finally {
      J.destroy(recorder)
    }
  }

  /** One step of time, seconds, in so many collision steps. */
  step(seconds: number, collisions: number): void {
    this.jolt.Step(seconds, collisions)
  }

  /** Whether anything moves. */
  get awake(): boolean {
    return this.moving.some((body) => body.IsActive())
  }

  /** Where each body's own origin is and how it is turned: x, y, z, m, and the quaternion x, y, z, w; 7 numbers each. */
  poses(into: Float32Array, from: number): void {
    this.moving.forEach((body, i) => {
      const [p, q] = [body.GetPosition(), body.GetRotation()]
      into.set([p.GetX(), p.GetY(), p.GetZ(), q.GetX(), q.GetY(), q.GetZ(), q.GetW()], from + 7 * i)
    })
  }

  [Symbol.dispose](): void {
    const { J } = this
    for (const shape of this.shapes) shape.Release()
    J.destroy(this.jolt)
  }

  private constrain(settings: Jolt.TwoBodyConstraintSettings, one: number | undefined, other: number | undefined): Jolt.Constraint {
    const own = (body: number | undefined) => (body === undefined ? this.fast() : this.moving[body])
    const made = settings.Create(own(one), own(other))
    this.J.destroy(settings)
    this.system.AddConstraint(made)
    return made
  }

  /** A body that stands fast, out of everything's way, for constraints to hold on to. */
  private fast(): Jolt.Body {
    return (this.holder ??= this.addStill(new this.J.SphereShape(0.1), [0, 1e4, 0], 0, 0))
  }

  private addStill(
    shape: Jolt.Shape,
    at: readonly [number, number, number],
    friction: number,
    bounce: number,
    speed?: readonly [number, number, number],
  ): Jolt.Body {
    const settings = this.settings(shape, at, STILL, friction, bounce)
    if (speed) settings.mMotionType = this.J.EMotionType_Kinematic
    const body = this.bodies.CreateBody(settings)
    this.J.destroy(settings)
    this.bodies.AddBody(body.GetID(), speed ? this.J.EActivation_Activate : this.J.EActivation_DontActivate)
    if (speed) {
      const v = new this.J.Vec3(...speed)
      this.bodies.SetLinearVelocity(body.GetID(), v)
      this.J.destroy(v)
    }
    return body
  }

  private settings(shape: Jolt.Shape, at: readonly [number, number, number], layer: number, friction: number, bounce: number): Jolt.BodyCreationSettings {
    const { J } = this
    const [p, q] = [new J.RVec3(...at), new J.Quat(0, 0, 0, 1)]
    const settings = new J.BodyCreationSettings(shape, p, q, layer === STILL ? J.EMotionType_Static : J.EMotionType_Dynamic, layer)
    settings.mFriction = friction
    settings.mRestitution = bounce
    // contacts of several parts would be thrown together, and what stands on a curve sink in
    settings.mUseManifoldReduction = false
    J.destroy(p)
    J.destroy(q)
    return settings
  }

  private compound(parts: readonly Float64Array[]): Jolt.Shape {
    const { J } = this
    if (parts.length === 1) return this.created(this.hull(parts[0]))
    const settings = new J.StaticCompoundShapeSettings()
    const [zero, still] = [new J.Vec3(0, 0, 0), new J.Quat(0, 0, 0, 1)]
    for (const part of parts) settings.AddShapeShapeSettings(zero, still, this.hull(part), 0)
    J.destroy(zero)
    J.destroy(still)
    return this.created(settings)
  }

  private hull(points: Float64Array): Jolt.ConvexHullShapeSettings {
    const { J } = this
    const settings = new J.ConvexHullShapeSettings()
    const v = new J.Vec3(0, 0, 0)
    const all = isSpeck(points) ? boxAbout(points) : points
    for (let i = 0; i < all.length; i += 3) {
      v.Set(all[i], all[i + 1], all[i + 2])
      settings.mPoints.push_back(v)
    }
    J.destroy(v)
    settings.mMaxConvexRadius = CONVEX_RADIUS
    return settings
  }

  private created(settings: Jolt.ShapeSettings): Jolt.Shape {
    const result = settings.Create()
    if (result.HasError()) throw new Error(`the physics engine refuses a shape: ${result.GetError().c_str()}`)
    const shape = result.Get()
    // settings keep what they have made; it is to outlive them
    shape.AddRef()
    this.shapes.push(shape)
    this.J.destroy(settings)
    return shape
  }
}

/** Whether a body is nothing but a speck or a hair, of which the engine makes no hull. */
function isSpeck(points: Float64Array): boolean {
  const box = solidBounds(points)
  return [0, 1, 2].filter((k) => box[k + 3] - box[k] >= 2 * CONVEX_RADIUS).length < 2
}

/** The corners of a box about it that is no smaller than things are rounded. */
function boxAbout(points: Float64Array): Float64Array {
  const box = solidBounds(points)
  const at = (k: number, far: boolean) => {
    const half = Math.max((box[k + 3] - box[k]) / 2, CONVEX_RADIUS)
    return (box[k] + box[k + 3]) / 2 + (far ? half : -half)
  }
  return Float64Array.from([0, 1, 2, 3, 4, 5, 6, 7].flatMap((c) => [at(0, (c & 1) > 0), at(1, (c & 2) > 0), at(2, (c & 4) > 0)]))
}
