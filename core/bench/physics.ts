import { assetSource, findFont } from '../cli/io'
import { packBake } from '../src/format/bake'
import { evaluateRoute } from '../src/evaluate/route'
import { loadManifold } from '../src/kernel/manifold'
import { maskSchema } from '../src/mask/schema'
import { drop, dropCodec, type Dropping } from '../src/physics/drop'
import { makeJelly, wobble, jellyAt } from '../src/physics/jelly'
import { pointCodec } from '../src/physics/recording'
import { takenApart } from '../src/repeat/apart'
import type { Assembly } from '../src/solid/assembly'
import type { Solid } from '../src/solid/solid'

const quiet = { breathe: async () => {}, progress: () => {} }
const still = { speed: [0, 0, 0] as const, gusts: 0, turbulence: 0, seed: 1 }
const calm = { spot: [0, 0, 0] as const, pull: 0, whirl: 0, shake: 0, reach: 0, seed: 1 }
const falls = { gravity: 9.81, metre: 50, friction: 0.5, bounce: 0.2, obstacles: [], air: still, forces: calm }

/** Jelly in the wind, shards that fall, and what bakes of them take. */
export async function benchPhysics(): Promise<void> {
  await loadManifold()
  const font = findFont('archivo-bold')
  const word = async (text: string, ...more: { kind: string; params: Record<string, unknown> }[]): Promise<Solid | Assembly> => {
    const { value } = await evaluateRoute(
      [
        { id: 'lettering-1', kind: 'lettering', on: true, params: { text, size: 50, font: { sha256: font.sha256, name: font.name } } },
        { id: 'extrude-1', kind: 'extrude', on: true, params: { depth: 12 } },
        ...more.map((step) => ({ ...step, id: `${step.kind}-1`, on: true })),
      ],
      { assets: assetSource() },
    )
    if (!value || value.kind === 'outline') throw new Error('no word')
    return value
  }
  const pins = maskSchema.parse({ list: [{ by: 'height', from: 12, to: 11.9 }] })
  for (const [text, cell] of [
    ['Qua', 5],
    ['TERNQUAY', 5],
  ] as const) {
    const made = await makeJelly(takenApart(await word(text), 'letter'), cell, pins, maskSchema.parse({ list: [] }), quiet.breathe)
    if (!made.ok) throw new Error(made.why)
    const { jelly } = made
    const skin = jelly.bodies.reduce((sum, { skin: own }) => sum + own.positions.length / 3, 0)
    const begun = performance.now()
    const recording = await wobble(
      jelly,
      { ...falls, stiffness: 0.5, damping: 0.6, swell: 1, density: 0.2, air: { speed: [10, 0, 0], gusts: 0.6, turbulence: 0.4, seed: 1 }, seconds: 5 },
      quiet,
    )
    if (!recording) throw new Error('blown up')
    const took = (performance.now() - begun) / 1000
    const shown = performance.now()
    for (let i = 0; i < 10; i++) jelly.bodies.forEach((_, n) => jellyAt(jelly, n, recording, 1 + i / 10))
    const frame = (performance.now() - shown) / 10
    const bytes = packBake(pointCodec.pack(recording)).length
    console.log(
      `jelly of ${skin} vertices on ${jelly.points} points, wind and pins: ${(recording.frames / took).toFixed(0)} moments a second (asked 60), a frame's skin ${frame.toFixed(1)} ms, bake of ${recording.frames} moments ${(bytes / 1e6).toFixed(2)} MB (asked 2)`,
    )
  }
  const shards = takenApart(await word('TERNQUAY', { kind: 'shatter', params: { pieces: 50 } }), 'copy')
  const how: Dropping = { ...falls, stuff: 'toffee', push: [0, 0, 0], spin: 60, tethers: [], pushApart: false, floor: -60, seed: 1, seconds: 5 }
  const begun = performance.now()
  const recording = await drop(shards, how, quiet)
  const took = (performance.now() - begun) / 1000
  const packed = performance.now()
  const bytes = packBake(dropCodec.pack(recording)).length
  console.log(
    `${recording.things} shards fall for ${recording.frames} frames: ${took.toFixed(2)} s, 120 frames ${((took * 120) / recording.frames).toFixed(2)} s (asked 3), bake ${(bytes / 1e3).toFixed(0)} kB in ${(performance.now() - packed).toFixed(0)} ms`,
  )
}
