import type Jolt from 'jolt-physics/wasm-compat'
import type { Engine } from './engine'

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

/** A world of rigid bodies in metres and seconds, y up. Everything of it is freed with it. */
export class World {
  private readonly jolt: Jolt.JoltInterface
  private readonly system: Jolt.PhysicsSystem
  private readonly bodies: Jolt.BodyInterface
  private readonly moving: Jolt.Body[] = []
  private readonly shapes: Jolt.Shape[] = []

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
    const down = new J.Vec3(0, -gravity, 0)
    this.system.SetGravity(down)
    J.destroy(down)
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

  /** Adds a box that stands still: its middle and half its sides, m. */
  addBox(at: readonly [number, number, number], half: readonly [number, number, number], friction: number, bounce: number): void {
    const { J } = this
    const size = new J.Vec3(...half)
    const shape = new J.BoxShape(size, 0.02)
    J.destroy(size)
    this.addStill(shape, at, friction, bounce)
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

  private addStill(shape: Jolt.Shape, at: readonly [number, number, number], friction: number, bounce: number): void {
    const settings = this.settings(shape, at, STILL, friction, bounce)
    const body = this.bodies.CreateBody(settings)
    this.J.destroy(settings)
    this.bodies.AddBody(body.GetID(), this.J.EActivation_DontActivate)
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
    for (let i = 0; i < points.length; i += 3) {
      v.Set(points[i], points[i + 1], points[i + 2])
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
