import type { Vec3 } from 'manifold-3d'
import { MeshoptSimplifier } from 'meshoptimizer/simplifier'
import { BufferAttribute, BufferGeometry, DoubleSide, Ray, Vector3 } from 'three'
import { MeshBVH } from 'three-mesh-bvh'
import { assetSource } from '../cli/io'
import { nodeThreads } from '../cli/threads'
import { SHIPPED_FACES } from '../fonts/catalogue'
import { breather } from '../src/cache/breathing'
import { Memo } from '../src/cache/memo'
import { evaluateRoute } from '../src/evaluate/route'
import { manifold, withScope } from '../src/kernel/manifold'
import type { Threads } from '../src/parallel/share-out'
import { type Solid, solidBounds, triangleCount } from '../src/solid/solid'
import { stepKind } from '../src/steps/registry'
import type { StepKind } from '../src/steps/step'
import { dualMesh } from '../src/volume/dual-mesh'
import { MESHED } from '../src/volume/estimate'
import { evenlyRemeshed } from '../src/volume/even-remesh'
import type { SparseField } from '../src/volume/field'
import { labelled } from '../src/volume/labelled'
import { reduced } from '../src/volume/reduce'
import { fieldOf, solidOfField } from '../src/volume/remesh'
import { median, timed } from './timing'
import { benchWord } from './word'

/** A field's own values between its samples, for a mesher that asks at points. */
function between(field: SparseField): (at: readonly number[]) => number {
  const far = field.band * field.voxel
  const value = (x: number, y: number, z: number) => {
    const [tx, ty, tz] = field.tiles
    if (x < 0 || y < 0 || z < 0 || x >= 8 * tx || y >= 8 * ty || z >= 8 * tz) return far
    const p = field.indexOf(x, y, z)
    return p >= 0 ? field.distance[p] : field.directory[(x >> 3) + tx * ((y >> 3) + ty * (z >> 3))] === -2 ? -far : far
  }
  return (at) => {
    const [x, y, z] = at.map((v, k) => (v - field.origin[k]) / field.voxel)
    const [i, j, k] = [Math.floor(x), Math.floor(y), Math.floor(z)]
    const mix = (a: number, b: number, s: number) => a + s * (b - a)
    const plane = (c: number) => mix(mix(value(i, j, c), value(i + 1, j, c), x - i), mix(value(i, j + 1, c), value(i + 1, j + 1, c), x - i), y - j)
    return mix(plane(k), plane(k + 1), z - k)
  }
}

/** The least time of nine runs, ms: the first ones are still being compiled, while the kernel asks its millions of times within one. */
async function leastOf(run: () => Promise<unknown>): Promise<number> {
  let least = Infinity
  for (let i = 0; i < 9; i++) least = Math.min(least, await timedAsync(run))
  return least
}

/** Signed distances of a solid by its tree of triangles: the nearest point, and inside by one ray. Negative inside, mm. */
function byTree({ positions, indices }: Solid): (at: readonly number[]) => number {
  const geometry = new BufferGeometry()
  geometry.setAttribute('position', new BufferAttribute(Float32Array.from(positions), 3))
  geometry.setIndex(new BufferAttribute(indices.slice(), 1))
  const tree = new MeshBVH(geometry)
  const ray = new Ray(new Vector3(), new Vector3(0.3, 0.5, 0.81).normalize())
  return ([x, y, z]) => {
    ray.origin.set(x, y, z)
    const distance = tree.closestPointToPoint(ray.origin)?.distance ?? Infinity
    const hit = tree.raycastFirst(ray, DoubleSide)
    return hit?.face && hit.face.normal.dot(ray.direction) > 0 ? -distance : distance
  }
}

/** Remeshing a word against the solid kernel's own mesher over the same field, growth with resolution, even triangles, and reducing. */
export async function benchVolume(): Promise<void> {
  const solid = await benchWord()
  const source = labelled(solid)
  const box = solidBounds(solid.positions)
  const long = box[3] - box[0]
  const { lattice } = solid
  console.log(`volume: a word of 8 letters, ${triangleCount(solid).toLocaleString('en')} triangles, ${long.toFixed(0)} mm`)
  let before = 0
  for (const along of [200, 400, 800]) {
    const voxel = Math.round(long / along / lattice) * lattice
    let field: SparseField | undefined
    const splatting = await leastOf(async () => {
      field = (await fieldOf(source, voxel, { band: MESHED })).field
    })
    const of = field as unknown as SparseField
    const whole = await leastOf(() => solidOfField(of, source, solid, { way: 'smooth', lattice }))
    const bare = await leastOf(() => dualMesh(of))
    const all = splatting + whole
    let words = ''
    // the other takes minutes beyond
    if (along <= 400) {
      const levelSet = (ask: (at: readonly number[]) => number) =>
        timed(() =>
          withScope((own) => {
            const min: Vec3 = [box[0] - voxel, box[1] - voxel, box[2] - voxel]
            const max: Vec3 = [box[3] + voxel, box[4] + voxel, box[5] + voxel]
            own(manifold().Manifold.levelSet((p) => -ask(p), { min, max }, voxel)).getMesh()
          }),
        )
      const [exact, known] = [levelSet(byTree(solid)), levelSet(between(of))]
      const ratio = (a: number, b: number) => `${(a / b).toFixed(1)} ×`
      words = `; the kernel’s levelSet over the word’s distance takes ${ratio(exact, all)} all of it, ${ratio(exact, splatting + bare)} field and meshing without labels; over the finished field ${ratio(known, all)} all, ${ratio(known, bare)} the meshing alone`
    }
    console.log(
      `  ${along} voxels along: field ${splatting.toFixed(0)} ms, certified with labels ${whole.toFixed(0)} ms (meshing alone ${bare.toFixed(0)})${before > 0 ? `, ${(all / before).toFixed(1)} × the half` : ''}${words}`,
    )
    before = all
  }
  const { field } = await fieldOf(source, Math.round(long / 400 / lattice) * lattice)
  const fine = await solidOfField(field, source, solid, { way: 'smooth', lattice })
  if (!fine.ok) throw new Error('not certified')
  const mesh = labelled(fine.solid)
  const positions = Float32Array.from(mesh.positions)
  await MeshoptSimplifier.ready
  const times = { own: [] as number[], alone: [] as number[] }
  for (let i = 0; i < 5; i++) {
    times.own.push(await timedAsync(() => reduced(mesh, { triangles: 20_000 })))
    times.alone.push(timed(() => MeshoptSimplifier.simplify(mesh.indices.slice(), positions, 3, 60_000, 1e9, ['ErrorAbsolute'])))
  }
  const [own, alone] = [median(times.own), median(times.alone)]
  console.log(`  reduced to 20,000 triangles, borders kept: ${(own / alone).toFixed(2)} × meshoptimizer alone`)
  const speeds: number[] = []
  for (let i = 0; i < 5; i++) {
    let made = 0
    const even = await timedAsync(async () => {
      made = (await evenlyRemeshed(labelled(solid), 1, 25, async () => {})).indices.length / 3
    })
    speeds.push((made / even) * 1000)
  }
  console.log(`  even triangles of 1 mm: ${speeds[0].toFixed(0)} a second of work at first, ${median(speeds).toFixed(0)} once the engine has compiled it`)
  await benchShared(solid)
  await benchRetyped()
}

/** Even remesh as a route has it, certified, letter by letter, by one thread and by as many as there are cores. */
async function benchShared(solid: Solid): Promise<void> {
  const kind = stepKind('even-remesh') as StepKind
  const params = kind.params.parse({ edge: 0.4 })
  const threads = nodeThreads(new URL('../cli/thread.mjs', import.meta.url))
  const speed = async (by?: Threads) => {
    let made = 0
    const ms = await timedAsync(async () => {
      const outcome = await kind.evaluate(solid, params, {
        assets: assetSource(),
        inputs: {},
        memo: new Memo(),
        progress: () => {},
        breathe: breather(undefined),
        threads: by,
      })
      made = outcome.ok && outcome.value.kind === 'solid' ? triangleCount(outcome.value) : 0
    })
    return (made / ms) * 1000
  }
  const speeds = { one: [] as number[], all: [] as number[] }
  // the first of each is for the engine, and for starting threads
  for (let i = 0; i < 5; i++) {
    const [one, all] = [await speed(), await speed(threads)]
    if (i > 0) {
      speeds.one.push(one)
      speeds.all.push(all)
    }
  }
  console.log(
    `  even triangles of 0.4 mm, certified, letter by letter: ${median(speeds.one).toFixed(0)} a second by one thread, ${median(speeds.all).toFixed(0)} by ${threads.count + 1}`,
  )
}

/** A letter typed into a word that is taken through a volume, against all of the word. */
async function benchRetyped(): Promise<void> {
  const face = SHIPPED_FACES.find(({ id }) => id === 'archivo-bold') ?? SHIPPED_FACES[0]
  const assets = assetSource()
  const make = (text: string, memo: Memo) =>
    timedAsync(() =>
      evaluateRoute(
        [
          { id: 'words', kind: 'lettering', on: true, params: { text, font: { sha256: face.sha256, name: face.name }, size: 40 } },
          { id: 'form', kind: 'extrude', on: true, params: { depth: 10 } },
          { id: 'remesh', kind: 'voxel-remesh', on: true, params: { fit: 'given', voxel: 1 } },
        ],
        { assets, memo },
      ),
    )
  const ratios: number[] = []
  for (let i = 0; i < 3; i++) {
    const memo = new Memo()
    const whole = await make('Lantern Fair', memo)
    ratios.push((await make('Lanxern Fair', memo)) / whole)
  }
  console.log(`  one letter of 12 retyped, 1 mm voxels: ${median(ratios).toFixed(2)} of all of it`)
}

async function timedAsync(work: () => Promise<unknown>): Promise<number> {
  const begun = performance.now()
  await work()
  return performance.now() - begun
}
