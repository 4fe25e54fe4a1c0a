import { assetSource, findFont } from '../cli/io'
import { Memo } from '../src/cache/memo'
import { momentOf } from '../src/document/moment'
import type { RouteStep } from '../src/document/schema'
import { evaluateRoute } from '../src/evaluate/route'
import { track } from '../src/motion/track'
import { median } from './timing'

/** Frames of a 12-letter bevelled word against making it: bent anew in each, its letters in turn, its colour alone. */
export async function benchMotion(): Promise<void> {
  const font = findFont('archivo-bold')
  const assets = assetSource()
  const words: RouteStep = {
    id: 'lettering-1',
    kind: 'lettering',
    on: true,
    params: { text: 'LANTERN FAIR', size: 34, font: { sha256: font.sha256, name: font.name } },
  }
  const form: RouteStep = { id: 'extrude-1', kind: 'extrude', on: true, params: { depth: 9, front: { profile: 'round', inset: 0.8, height: 1 } } }
  const from = (a: number | string, b: number | string) =>
    track.parse({
      keys: [
        { at: 0, value: a },
        { at: 48, value: b },
      ],
    })
  const moving: Readonly<Record<string, RouteStep>> = {
    'a bend': { id: 'bend-1', kind: 'bend', on: true, params: {}, tracks: { angle: from(0, 120) } },
    'in turn by letter': { id: 'in-turn-1', kind: 'in-turn', on: true, params: { up: 30, lean: 60 }, tracks: { done: from(0, 100) } },
    'a colour': {
      id: 'dress-1',
      kind: 'dress',
      on: true,
      params: { face: { colour: '#d9482b', roughness: 0.5, metalness: 0 } },
      tracks: { 'face.colour': from('#d9482b', '#2f5f97') },
    },
  }
  for (const [name, step] of Object.entries(moving)) {
    const [memo, frames] = [new Memo(), new Memo(128 * 1024 * 1024)]
    const timed = async (frame: number) => {
      const begun = performance.now()
      await evaluateRoute([words, form, step], { assets, memo, frames, moment: momentOf(frame, 24) })
      return performance.now() - begun
    }
    const first = await timed(1)
    const times: number[] = []
    for (let frame = 2; frame < 26; frame++) times.push(await timed(frame))
    const each = median(times)
    console.log(`motion: a frame of ${name}: ${(each / first).toFixed(3)} of making the word with it; ${(1000 / each).toFixed(0)} frames a second of work`)
  }
}
