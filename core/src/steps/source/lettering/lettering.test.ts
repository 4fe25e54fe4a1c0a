import fc from 'fast-check'
import * as hb from 'harfbuzzjs'
import { describe, expect, it } from 'vitest'
import { SHIPPED_FACES } from '../../../../fonts/catalogue'
import { assets, FULL, fontBytes, openFace, shippedFace, wordRoute } from '../../../../test/helpers'
import { checkMesh } from '../../../check/check'
import { evaluateRoute } from '../../../evaluate/route'
import type { Outline } from '../../../outline/outline'
import { outlineBounds } from '../../../outline/outline'
import { letteringParams } from './schema'
import { setText } from './set-text'

const params = (p: Record<string, unknown>) => letteringParams.parse(p)

async function outlineOf(text: string, font: string, more: Record<string, unknown> = {}): Promise<Outline> {
  const report = await evaluateRoute(wordRoute(text, font, more).slice(0, 1), { assets })
  expect(report.steps[0].issues.filter((i) => i.severity === 'failed')).toEqual([])
  return report.value as Outline
}

describe('setText', () => {
  it.each([
    ['AVATAR office', 'abril-fatface'],
    ['Tern Quay fjord', 'pacifico'],
    ['سلام', 'lalezar'],
  ])("gives HarfBuzz's own glyphs and positions for “%s”", async (text, id) => {
    const face = await openFace(id)
    const set = setText(face, params({ text, size: face.capHeight / 10, align: 'left' }))
    const font = new hb.Font(new hb.Face(new hb.Blob(fontBytes(shippedFace(id))), 0))
    const buffer = new hb.Buffer()
    buffer.addText(text)
    buffer.guessSegmentProperties()
    hb.shape(font, buffer)
    let pen = 0
    const wanted = buffer.getGlyphInfos().map((info, i) => {
      const p = buffer.getGlyphPositions()[i]
      const at = { glyph: info.codepoint, x: (pen + p.xOffset) / 10, y: p.yOffset / 10 }
      pen += p.xAdvance
      return at
    })
    expect(set.glyphs.length).toBe(wanted.length)
    set.glyphs.forEach((g, i) => {
      expect(g.glyph).toBe(wanted[i].glyph)
      expect(g.x).toBeCloseTo(wanted[i].x, 6)
      expect(g.y).toBeCloseTo(wanted[i].y, 6)
    })
  })

  it('lays a line that mixes Arabic and Latin out in the order of the Unicode algorithm', async () => {
    const face = await openFace('lalezar')
    const set = setText(face, params({ text: 'Pier سلام 7' }))
    const first = (character: string) => set.glyphs.filter((g) => set.letters[g.letter].text === character).map((g) => g.x)
    const [p, seen, mim, seven] = [first('P')[0], first('س')[0], first('م')[0], first('7')[0]]
    expect(p).toBeLessThan(mim)
    expect(mim).toBeLessThan(seen)
    // a number after Arabic belongs to the right-to-left run and stands to its left
    expect(seven).toBeLessThan(mim)
  })

  it('spaces, leads and aligns as asked', async () => {
    const face = await openFace('archivo-bold')
    const plainSet = setText(face, params({ text: 'HHH', align: 'left' }))
    const tracked = setText(face, params({ text: 'HHH', align: 'left', tracking: 100 }))
    const em = face.unitsPerEm * plainSet.scale
    expect(tracked.glyphs[2].x - plainSet.glyphs[2].x).toBeCloseTo(0.2 * em, 6)
    const lines = setText(face, params({ text: 'HHHH\nH', leading: 150 }))
    const [top, bottom] = [lines.glyphs[0], lines.glyphs[4]]
    expect(top.y - bottom.y).toBeCloseTo(1.5 * face.lineHeight * lines.scale, 6)
    const middle = (list: typeof lines.glyphs) => (list[0].x + (list.at(-1) as (typeof list)[0]).x) / 2
    expect(middle(lines.glyphs.slice(0, 4))).toBeCloseTo(middle(lines.glyphs.slice(4)), 6)
    const right = setText(face, params({ text: 'HHHH\nH', align: 'right' }))
    expect(right.glyphs[3].x).toBeCloseTo(right.glyphs[4].x, 6)
  })

  it('kerns and ligates unless told not to', async () => {
    const face = await openFace('abril-fatface')
    const at = (p: Record<string, unknown>) => setText(face, params({ text: 'AVfi', align: 'left', ...p })).glyphs
    expect(at({})[1].x).toBeLessThan(at({ kerning: 'none' })[1].x)
    expect(at({ features: { liga: 0 } }).length).toBeGreaterThanOrEqual(at({}).length)
  })

  it('never loses a letter: every visible character is set or named as missing', async () => {
    const face = await openFace('archivo-bold')
    fc.assert(
      fc.property(fc.string({ unit: 'grapheme', minLength: 1, maxLength: 30 }), (text) => {
        const set = setText(face, params({ text }))
        for (const { text: letter, at } of set.letters) {
          if (/^[\p{White_Space}\p{Control}\p{Format}\p{Default_Ignorable_Code_Point}]*$/u.test(letter)) continue
          if (set.missing.includes(letter)) continue
          expect(
            set.glyphs.some((g) => set.letters[g.letter].at <= at),
            `“${letter}” of “${text}”`,
          ).toBe(true)
        }
      }),
      { numRuns: 150 },
    )
  })
})

describe('the Lettering step', () => {
  it('sets capitals at the height asked for, in mm', async () => {
    for (const size of [1, 12.5, 40, 700]) {
      const [, y0, , y1] = outlineBounds(await outlineOf('H', 'archivo-bold', { size }))
      expect(y1 - y0).toBeCloseTo(size, 2)
    }
  })

  it('unites letters that overlap and leaves those that only come close', async () => {
    expect((await outlineOf('Lantern', 'pacifico')).regions.length).toBeLessThan(4)
    expect((await outlineOf('AVAVA', 'abril-fatface')).regions.length).toBe(5)
    const apart = await outlineOf('Lantern', 'pacifico', { overlaps: 'apart' })
    expect(apart.regions.length).toBe(7)
  })

  it('letters that only just touch do not pass through each other, in any text, at any size, however near they are set', async () => {
    const solidOf = async (text: string, face: string, params: Record<string, unknown>) => {
      const { value } = await evaluateRoute(wordRoute(text, face, params, { depth: 3 }), { assets })
      if (value?.kind !== 'solid') throw new Error(`${face} ${text}`)
      return value
    }
    for (const size of [12, 40]) expect(checkMesh(await solidOf('VB', 'kaushan-script', { size })).findings, `VB ${size}`).toEqual([])
    const near = [{}, { tracking: -40 }, { tracking: -15 }, { touch: 'each', overlap: 0.2 }]
    await fc.assert(
      fc.asyncProperty(
        fc.constantFrom(...SHIPPED_FACES),
        fc.array(fc.constantFrom(...'ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789&!?.,-ÄÅÇÑéøœß'), { minLength: 12, maxLength: 12 }),
        fc.constantFrom(8, 40, 300),
        fc.constantFrom(...near),
        async ({ id }, letters, size, how) => {
          expect(checkMesh(await solidOf(letters.join(''), id, { size, ...how })).findings).toEqual([])
        },
      ),
      { numRuns: FULL ? 400 : 24 },
    )
  })

  it('warns when letters kept apart overlap, and says which and where', async () => {
    const report = await evaluateRoute(wordRoute('Lantern', 'pacifico', { overlaps: 'apart' }), { assets })
    expect(report.steps[0]).toMatchObject({ state: 'warning' })
    expect(report.steps[0].issues[0]).toMatchObject({ code: 'letters-overlap', message: expect.stringContaining('an'), places: expect.any(Array) })
  })

  it('follows the axes of a variable face', async () => {
    const width = async (wght: number) => {
      const [x0, , x1] = outlineBounds(await outlineOf('HH', 'fraunces', { axes: { wght } }))
      return x1 - x0
    }
    expect(await width(900)).toBeGreaterThan((await width(100)) * 1.05)
    // beyond the axis is its end
    expect(await width(5000)).toBe(await width(900))
  })

  const bad: [string, Record<string, unknown>, string, string | undefined][] = [
    ['empty text', { text: '' }, 'empty-text', 'text'],
    ['only spaces', { text: '  \n ' }, 'empty-text', 'text'],
    ['10,000 characters', { text: 'x'.repeat(10_000) }, 'bad-value', 'text'],
    ['only emoji', { text: '🏮🏮' }, 'nothing-to-show', 'text'],
    ['a circle of radius 0', { layout: 'circle', radius: 0 }, 'bad-value', 'radius'],
    ['an arc of no angle', { layout: 'arc', sweep: 0 }, 'bad-value', 'sweep'],
    ['a stroke of one point', { layout: 'stroke', stroke: { points: [[0, 0]] } }, 'bad-value', 'stroke.points'],
    [
      'a stroke of no length',
      {
        layout: 'stroke',
        stroke: {
          points: [
            [1, 1],
            [1, 1],
          ],
        },
      },
      'empty-stroke',
      'stroke',
    ],
    [
      'a stroke through NaN',
      {
        layout: 'stroke',
        stroke: {
          points: [
            [0, 0],
            [Number.NaN, 1],
          ],
        },
      },
      'bad-value',
      'stroke.points.1.0',
    ],
    ['more lines than a circle has room for', { text: 'a\nb\nc\nd', layout: 'circle', radius: 40 }, 'radius-too-small', 'radius'],
    ['a feature of five letters', { features: { swash: 1 } }, 'bad-value', 'features.swash'],
    ['a width of 0', { fit: 'wrap', width: 0 }, 'bad-value', 'width'],
    ['size 0', { size: 0 }, 'bad-value', 'size'],
    ['size −1', { size: -1 }, 'bad-value', 'size'],
    ['size 10⁹', { size: 1e9 }, 'bad-value', 'size'],
    ['size NaN', { size: Number.NaN }, 'bad-value', 'size'],
    ['a size in words', { size: 'large' }, 'bad-value', 'size'],
    ['a face the project lacks', { font: { sha256: '0'.repeat(64), name: 'Lost' } }, 'font-missing', 'font'],
  ]
  it.each(bad)('answers %s with a plain message at the field', async (_what, more, code, field) => {
    const report = await evaluateRoute(wordRoute('Kelvar', 'archivo-bold', more), { assets })
    expect(report.complete).toBe(false)
    expect(report.steps[0]).toMatchObject({ state: 'failed' })
    expect(report.steps[0].issues[0]).toMatchObject({ code, field })
    expect(report.steps[0].issues[0].message.length).toBeGreaterThan(12)
    expect(report.steps[0].issues[0].remedy.length).toBeGreaterThan(5)
    expect(report.steps[1].state).toBe('waiting')
  })

  it('leaves out what the face lacks and names it', async () => {
    const report = await evaluateRoute(wordRoute('Ab🏮س', 'archivo-bold'), { assets })
    expect(report.complete).toBe(true)
    expect(report.steps[0].issues[0]).toMatchObject({
      code: 'missing-characters',
      message: expect.stringContaining('🏮'),
      remedy: expect.stringContaining('Lalezar'),
    })
  })

  it('warns of features and axes the face lacks, and of axis values beyond its range, and sets the words all the same', async () => {
    const issues = async (font: string, more: Record<string, unknown>) => {
      const report = await evaluateRoute(wordRoute('Quay', font, more).slice(0, 1), { assets })
      expect(report.complete).toBe(true)
      return report.steps[0].issues
    }
    expect(await issues('archivo-bold', { features: { swsh: 1, zz99: 1 } })).toMatchObject([
      { code: 'unknown-feature', message: expect.stringContaining('“Swashes” (swsh), “zz99”'), field: 'features' },
    ])
    expect(await issues('anybody', { axes: { wght: 5000 } })).toMatchObject([
      { code: 'axis-range-wght', message: expect.stringContaining('900 is used'), remedy: expect.stringContaining('100 to 900'), field: 'axes' },
    ])
    expect(await issues('archivo-bold', { axes: { wght: 500 } })).toMatchObject([{ code: 'unknown-axis-wght' }])
  })

  it('offers a radius that takes the words', async () => {
    const route = (radius: number) => wordRoute('Lantern Fair at Tern Quay', 'archivo-bold', { layout: 'circle', radius })
    const [issue] = (await evaluateRoute(route(30), { assets })).steps[0].issues
    expect(issue).toMatchObject({ code: 'line-too-long', fixes: [{ label: expect.stringContaining('radius') }] })
    const { radius } = issue.fixes?.[0].params as { radius: number }
    expect((await evaluateRoute(route(radius), { assets })).steps[0].issues).toEqual([])
  })
})
