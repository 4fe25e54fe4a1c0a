/** How much Kelvar's setting of text costs over HarfBuzz's shaping of the same text alone. */
import { assetSource, findFont } from '../cli/io'
import { Memo } from '../src/cache/memo'
import { letteringParams } from '../src/steps/source/lettering/schema'
import { setText } from '../src/steps/source/lettering/set-text'
import { graphemes } from '../src/document/letters'
import { evaluateRoute } from '../src/evaluate/route'
import { median, timed } from './timing'

export async function benchSetting(): Promise<void> {
  const font = findFont('bodoni-moda-italic')
  const assets = assetSource()
  const face = await assets.font(font.sha256)
  const text = 'RIVER LANTERN FAIR tern quay 4 '.repeat(17).slice(0, 500)
  const letters = graphemes(text)
  const list = letters
    .filter((l) => l.text !== ' ')
    .map((l, i) => ({ at: l.at, turn: (i % 7) - 3, dy: i % 3, scale: 90 + (i % 5) * 5, ...(l.text === 'R' ? { features: { ss02: 1 } } : {}) }))
  const params = letteringParams.parse({
    text,
    font: { sha256: font.sha256, name: font.name },
    size: 10,
    fit: 'wrap',
    width: 400,
    align: 'justified',
    letters: { of: text, list },
  })
  const memo = new Memo()
  const route = (changed: string) => [{ id: 'lettering-1', kind: 'lettering', on: true, params: { ...params, text: changed } }]
  await evaluateRoute(route(text), { assets, memo })
  const shape: number[] = []
  const set: number[] = []
  const step: number[] = []
  for (let i = 0; i < 30; i++) {
    shape.push(timed(() => void face.shape(text, { rightToLeft: false, features: {} })))
    set.push(timed(() => void setText(face, params, memo)))
    // one letter changed each time, so that nothing is kept as a whole
    const at = 40 + i * 7
    step.push((await evaluateRoute(route(`${text.slice(0, at)}n${text.slice(at + 1)}`), { assets, memo })).ms)
  }
  console.log(`\n500 letters, ${list.length} of them changed, broken and justified (median)`)
  console.log(`set: ${(median(set) / median(shape)).toFixed(1)} × HarfBuzz's shaping alone (${median(set).toFixed(1)} ms)`)
  console.log(`the whole Lettering step after one letter is typed: ${(median(step) / median(shape)).toFixed(1)} × (${median(step).toFixed(1)} ms)`)
}
