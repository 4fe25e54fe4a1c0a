import { assetSource, findFont } from '../cli/io'
import { SHIPPED_FACES } from '../fonts/catalogue'
import { Memo } from '../src/cache/memo'
import { checkMesh } from '../src/check/check'
import { placeMatrix } from '../src/document/place'
import type { Piece } from '../src/document/schema'
import { evaluateRoute } from '../src/evaluate/route'
import { readStl, writeStl } from '../src/format/stl'
import { JOINS, joinSolid } from '../src/join/join'
import { manifold, withScope } from '../src/kernel/manifold'
import { latticeFor } from '../src/outline/lattice'
import { repairTriangles } from '../src/repair/repair'
import { roundedBox } from '../src/solid/revolve'
import { bottleBody } from '../test/bodies'
import { layOn } from '../src/lay/lay'
import { UNMOVED } from '../src/solid/operations'
import { type Solid, solidBounds, triangleCount } from '../src/solid/solid'
import { median, timed } from './timing'

const face = SHIPPED_FACES.find((f) => f.id === 'archivo-bold') ?? SHIPPED_FACES[0]
const assets = assetSource(new Map([[face.sha256, findFont(face.id).bytes]]))
const step = (kind: string, params: Record<string, unknown>) => ({ id: `${kind}-1`, kind, on: true, params })
const words = (text: string) => [
  step('lettering', { text, font: { sha256: face.sha256, name: face.name }, size: 12 }),
  step('extrude', { depth: 8, front: { profile: 'chamfer', inset: 0.5, height: 0.5 } }),
]

/** The same with the solid kernel alone: bare triangles in, the operation, bare triangles out. */
function bare(body: Solid, other: Solid, how: (typeof JOINS)[number]): void {
  const { Manifold, Mesh } = manifold()
  withScope((own) => {
    const [a, b] = [body, other].map(({ positions, indices }) =>
      own(Manifold.ofMesh(new Mesh({ numProp: 3, vertProperties: Float32Array.from(positions), triVerts: indices.slice() }))),
    )
    own(how === 'fuse' ? a.add(b) : how === 'carve' ? a.subtract(b) : a.intersect(b)).getMesh()
  })
}

/** Joins against the solid kernel alone, a letter retyped in a carved plate, and a large STL brought in. */
export async function benchJoins(): Promise<void> {
  const { value } = await evaluateRoute(words('Tern Quay 26'), { assets })
  if (value?.kind !== 'solid') throw new Error('no solid')
  const matrix = placeMatrix({ position: [-40, 40, 44], turn: [5, 3, 2], size: 1 })
  const body = roundedBox(120, 100, 100, 20, 130, latticeFor(200))
  console.log(`joins: a word of 12 letters and a body of ${triangleCount(body).toLocaleString('en')} triangles, as a multiple of the solid kernel alone`)
  for (const how of JOINS) {
    const own = median(Array.from({ length: 5 }, () => timed(() => joinSolid(body, [{ solid: value, matrix }], how))))
    const alone = median(Array.from({ length: 5 }, () => timed(() => bare(body, value, how))))
    console.log(`  ${how}: ${(own / alone).toFixed(2)}, certified and with labels (${own.toFixed(0)} ms)`)
  }

  const bottle = bottleBody(300, 167)
  const flat = { ...value, positions: value.positions.map((v, i) => (i % 3 === 2 ? v - 0.5 : v)) }
  const [x0, y0, , x1, y1] = solidBounds(flat.positions)
  const centred = { ...flat, positions: flat.positions.map((v, i) => (i % 3 === 0 ? v - (x0 + x1) / 2 : v)) }
  const options = {
    point: [0, 40, 40],
    angle: 8,
    line: 'straight',
    area: [(x0 - x1) / 2, y0, (x1 - x0) / 2, y1],
    depth: 8,
    smooth: 0,
    letters: 'bent',
  } as const
  console.log(`laying: ${value.letters.length} letters on a bottle of ${triangleCount(bottle).toLocaleString('en')} triangles`)
  for (const how of ['round', 'any'] as const) {
    let laid: ReturnType<typeof layOn> | undefined
    const lay = median(Array.from({ length: 5 }, () => timed(() => (laid = layOn(bottle, centred, { ...options, how })))))
    if (!laid?.ok) throw new Error('not laid')
    const { solid } = laid
    const join = median(Array.from({ length: 5 }, () => timed(() => joinSolid(bottle, [{ solid, matrix: UNMOVED }], 'fuse'))))
    console.log(`  ${how}: laid ${lay.toFixed(0)} ms, joined ${join.toFixed(0)} ms`)
  }

  const pieces = (text: string): Piece[] => [
    {
      id: 'plate',
      name: 'Plate',
      route: [step('block', { shape: 'box', width: 320, height: 40, depth: 12 }), step('carve', { others: [{ piece: 'words' }], stand: 'depth', depth: 3 })],
    },
    // in the middle of the plate's front
    { id: 'words', name: 'Words', place: { position: [-75, 14, 0], turn: [0, 0, 0], size: 1 }, route: words(text) },
  ]
  const memo = new Memo()
  const make = async (text: string, kept: Memo) => {
    const of = pieces(text)
    const begun = performance.now()
    await evaluateRoute(of[0].route, { assets, memo: kept, pieces: of, piece: 'plate' })
    return performance.now() - begun
  }
  // one after the other: beside each other each would wait for all
  const all: number[] = []
  for (let i = 0; i < 5; i++) all.push(await make('Lanterns of the Quay', new Memo()))
  const whole = median(all)
  await make('Lanterns of the Quay', memo)
  const letters: number[] = []
  for (const letter of 'ABCDEFGHIJKL') letters.push(await make(`Lantern${letter} of the Quay`, memo))
  console.log(`  one letter of 20 retyped in a carved plate: ${median(letters).toFixed(0)} ms of work, ${(median(letters) / whole).toFixed(2)} of doing all`)

  const ball = roundedBox(100, 100, 100, 50, 250, latticeFor(200))
  const file = writeStl(ball)
  let sound = false
  const ms = timed(() => {
    sound = checkMesh(repairTriangles(readStl(file), latticeFor(200))).sound
  })
  console.log(
    `  an STL of ${triangleCount(ball).toLocaleString('en')} triangles read, welded and checked: ${(ms / 1000).toFixed(1)} s, ${sound ? 'sound' : 'NOT SOUND'}`,
  )
}
