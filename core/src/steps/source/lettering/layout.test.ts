import fc from 'fast-check'
import * as hb from 'harfbuzzjs'
import { describe, expect, it } from 'vitest'
import { fontBytes, openFace, shippedFace } from '../../../../test/helpers'
import { Memo } from '../../../cache/memo'
import type { FontFace } from '../../../font/face'
import { ArcLength } from '../../../outline/arc-length'
import { controlBounds, transformPath } from '../../../outline/path'
import { smoothPath } from '../../../outline/spline'
import { alternatesOf } from './alternates'
import { BaselineError } from './baseline'
import { featurePreviews } from './previews'
import { letteringParams } from './schema'
import { letterShapes } from './specimen'
import { type SetText, setText } from './set-text'

const params = (p: Record<string, unknown>) => letteringParams.parse(p)

const boxOf = (face: FontFace, set: SetText, k: number) => {
  const g = set.glyphs[k]
  return controlBounds(face.outline(g.glyph).map((path) => transformPath(path, [...g.linear, g.x, g.y])))
}

/** HarfBuzz's own answer for one run, glyph ids and positions in font units. */
function harfBuzzRun(id: string, text: string, script: string, rightToLeft: boolean) {
  const font = new hb.Font(new hb.Face(new hb.Blob(fontBytes(shippedFace(id))), 0))
  const buffer = new hb.Buffer()
  buffer.addText(text)
  buffer.setScript(script)
  buffer.setDirection(rightToLeft ? hb.Direction.RTL : hb.Direction.LTR)
  hb.shape(font, buffer)
  const positions = buffer.getGlyphPositions()
  return buffer.getGlyphInfos().map((info, i) => ({ glyph: info.codepoint, ...positions[i] }))
}

describe('shaping', () => {
  // runs in the order they stand from left to right
  const cases: [string, string, [string, string, boolean][]][] = [
    ['jost-bold', 'AVATAR To Wäldchen', [['AVATAR To Wäldchen', 'Latn', false]]],
    ['lalezar', 'ميناء الفوانيس', [['ميناء الفوانيس', 'Arab', true]]],
    ['suez-one', 'יריד הפנסים', [['יריד הפנסים', 'Hebr', true]]],
    ['yatra-one', 'लालटेन मेला क्षेत्र र्कि', [['लालटेन मेला क्षेत्र र्कि', 'Deva', false]]],
    ['dela-gothic', 'みなと', [['みなと', 'Hira', false]]],
    ['dela-gothic', '港の祭り', [['港', 'Hani', false], ['の', 'Hira', false], ['祭', 'Hani', false], ['り', 'Hira', false]]],
    ['lalezar', 'Quay ميناء 7', [['Quay ', 'Latn', false], ['7', 'Arab', false], ['ميناء ', 'Arab', true]]],
    ['yatra-one', 'Fair मेला', [['Fair ', 'Latn', false], ['मेला', 'Deva', false]]],
  ] // biome-ignore format: one case a line
  it.each(cases)("gives HarfBuzz's own glyphs and positions: %s, “%s”", async (id, text, runs) => {
    const face = await openFace(id)
    const set = setText(face, params({ text, size: face.capHeight / 10, align: 'left' }))
    let pen = 0
    const wanted = runs.flatMap(([part, script, rightToLeft]) =>
      harfBuzzRun(id, part, script, rightToLeft).map((g) => {
        const at = { glyph: g.glyph, x: (pen + g.xOffset) / 10, y: g.yOffset / 10 }
        pen += g.xAdvance
        return at
      }),
    )
    expect(set.glyphs.map((g) => g.glyph)).toEqual(wanted.map((g) => g.glyph))
    set.glyphs.forEach((g, i) => {
      expect(g.x).toBeCloseTo(wanted[i].x, 6)
      expect(g.y).toBeCloseTo(wanted[i].y, 6)
    })
  })

  it('sets features by name, and one letter’s alternate by itself', async () => {
    const face = await openFace('bodoni-moda-italic')
    const glyphs = (p: Record<string, unknown>) => setText(face, params({ text: 'RARER', ...p })).glyphs.map((g) => g.glyph)
    const plain = glyphs({})
    const all = glyphs({ features: { ss02: 1 } })
    expect(plain.map((g, i) => g !== all[i])).toEqual([true, false, true, false, true])
    const one = glyphs({ letters: { of: 'RARER', list: [{ at: 2, features: { ss02: 1 } }] } })
    expect(one).toEqual([plain[0], plain[1], all[2], plain[3], plain[4]])
    // the same list read in a text that has changed around the letter
    const later = setText(face, params({ text: 'THE RARER', letters: { of: 'RARER', list: [{ at: 2, features: { ss02: 1 } }] } }))
    expect(later.glyphs.filter((g) => g.glyph === all[2]).map((g) => g.letter)).toEqual([6])
  })

  it('takes a changed letter out of its ligature', async () => {
    const face = await openFace('jost-bold')
    const id = ['abril-fatface', 'im-fell-italic', 'pacifico'] as const
    for (const name of id) {
      const other = await openFace(name)
      const joined = setText(other, params({ text: 'fi' })).glyphs.length
      const parted = setText(other, params({ text: 'fi', letters: { of: 'fi', list: [{ at: 1, dy: 2 }] } })).glyphs
      expect(parted.length, name).toBe(2)
      expect(joined, name).toBeLessThanOrEqual(2)
    }
    expect(setText(face, params({ text: 'fi' })).glyphs.length).toBeGreaterThan(0)
  })

  it('offers the shapes a letter can take, each once, and sets the one that is picked', async () => {
    const face = await openFace('bodoni-moda-italic')
    const p = params({ text: 'River' })
    const offered = alternatesOf(face, p, 0)
    expect(offered[0].features).toEqual({})
    expect(offered.length).toBeGreaterThanOrEqual(3)
    expect(new Set(offered.map((a) => a.path)).size).toBe(offered.length)
    for (const { features, path } of offered.slice(1)) {
      const set = setText(face, { ...p, letters: { of: 'River', list: [{ at: 0, features }] } })
      const bare = setText(face, p)
      expect(set.glyphs[0].glyph).not.toBe(bare.glyphs[0].glyph)
      expect(path).toMatch(/^M/)
    }
    expect(alternatesOf(face, p, 77)).toEqual([])
  })
})

describe('changes of single letters', () => {
  const changed = async (change: Record<string, unknown>) => {
    const face = await openFace('archivo-bold')
    const plain = setText(face, params({ text: 'HHH', align: 'left' }))
    const set = setText(face, params({ text: 'HHH', align: 'left', letters: { of: 'HHH', list: [{ at: 1, ...change }] } }))
    return { face, plain, set }
  }

  it('nudges without moving the neighbours', async () => {
    const { plain, set } = await changed({ dx: 3, dy: -2 })
    expect(set.glyphs[1].x - plain.glyphs[1].x).toBeCloseTo(3, 9)
    expect(set.glyphs[1].y).toBeCloseTo(-2, 9)
    expect([set.glyphs[0].x, set.glyphs[2].x]).toEqual([plain.glyphs[0].x, plain.glyphs[2].x])
  })

  it('scales from the baseline and makes room', async () => {
    const { face, plain, set } = await changed({ scale: 150 })
    const [, y0, , y1] = boxOf(face, set, 1)
    expect(y0).toBeCloseTo(0, 6)
    expect(y1).toBeCloseTo(60, 2)
    expect(set.glyphs[2].x - plain.glyphs[2].x).toBeCloseTo(0.5 * (plain.glyphs[2].x - plain.glyphs[1].x), 6)
  })

  it('turns about the middle', async () => {
    const { face, plain, set } = await changed({ turn: 180 })
    const [before, after] = [boxOf(face, plain, 1), boxOf(face, set, 1)]
    after.forEach((v, i) => expect(v).toBeCloseTo(before[i], 1))
    const { set: quarter } = await changed({ turn: 90 })
    expect(quarter.glyphs[1].linear[1]).toBeGreaterThan(0)
  })

  it('spaces after the letter', async () => {
    const { face, plain, set } = await changed({ space: 250 })
    expect(set.glyphs[1].x).toBe(plain.glyphs[1].x)
    expect(set.glyphs[2].x - plain.glyphs[2].x).toBeCloseTo(0.25 * face.unitsPerEm * plain.scale, 6)
  })
})

/** Middles of the letters' advances along the first line, from the glyphs' frames (mm). */
function middles(face: FontFace, set: SetText): { x: number; y: number }[] {
  return set.glyphs.map((g) => {
    const half = face.advance(g.glyph) / 2
    return { x: g.x + g.linear[0] * half, y: g.y + g.linear[1] * half }
  })
}

describe('baselines', () => {
  it('keeps the advances as arc lengths round a circle, within 0.01 mm', async () => {
    const face = await openFace('jost-bold')
    await fc.assert(
      fc.asyncProperty(
        fc.constantFrom('LANTERN', 'Quay', 'ooWATo'),
        fc.double({ min: 60, max: 900, noNaN: true }),
        fc.constantFrom('outside', 'inside'),
        fc.integer({ min: -180, max: 180 }),
        async (text, radius, side, startAngle) => {
          const straight = setText(face, params({ text, align: 'left', kerning: 'none' }))
          const round = setText(face, params({ text, layout: 'circle', radius, side, startAngle, kerning: 'none' }))
          const [flat, bent] = [middles(face, straight), middles(face, round)]
          const angle = ({ x, y }: { x: number; y: number }) => Math.atan2(x, y)
          for (const { x, y } of bent) expect(Math.hypot(x, y)).toBeCloseTo(radius, 6)
          for (let i = 1; i < bent.length; i++) {
            const turned = ((angle(bent[i]) - angle(bent[i - 1])) * (side === 'outside' ? 1 : -1) + 4 * Math.PI) % (2 * Math.PI)
            expect(Math.abs(turned * radius - (flat[i].x - flat[i - 1].x))).toBeLessThan(0.01)
          }
          // the middle of the words is where the start says
          const whole = setText(face, params({ text: 'O', layout: 'circle', radius, side, startAngle }))
          const [o] = middles(face, whole)
          const wanted = ((startAngle + (side === 'inside' ? 180 : 0)) * Math.PI) / 180
          expect(Math.hypot(o.x - radius * Math.sin(wanted), o.y - radius * Math.cos(wanted))).toBeLessThan(1e-6)
        },
      ),
      { numRuns: 60 },
    )
  })

  it('keeps them along a drawn stroke, measured by a fine polyline', async () => {
    const face = await openFace('jost-bold')
    const points: [number, number][] = [
      [-150, 0],
      [-60, 40],
      [20, -30],
      [160, 25],
    ]
    const straight = middles(face, setText(face, params({ text: 'Lanterns', align: 'left', size: 20 })))
    const bent = middles(face, setText(face, params({ text: 'Lanterns', align: 'left', size: 20, layout: 'stroke', stroke: { points } })))
    const path = smoothPath(points, false)
    // an independent measure: 200,000 chords
    const dense: { x: number; y: number; s: number }[] = []
    let s = 0
    let o = 0
    for (let k = 0; k < path.verbs.length; k++, o += 6) {
      for (let i = k === 0 ? 0 : 1; i <= 60_000; i++) {
        const t = i / 60_000
        const u = 1 - t
        const w = [u * u * u, 3 * u * u * t, 3 * u * t * t, t * t * t]
        const at = (d: number) => w[0] * path.coords[o + d] + w[1] * path.coords[o + 2 + d] + w[2] * path.coords[o + 4 + d] + w[3] * path.coords[o + 6 + d]
        const [x, y] = [at(0), at(1)]
        const last = dense.at(-1)
        if (last) s += Math.hypot(x - last.x, y - last.y)
        dense.push({ x, y, s })
      }
    }
    const along = bent.map(({ x, y }) => {
      let best = dense[0]
      for (const d of dense) if ((d.x - x) ** 2 + (d.y - y) ** 2 < (best.x - x) ** 2 + (best.y - y) ** 2) best = d
      expect(Math.hypot(best.x - x, best.y - y)).toBeLessThan(0.005)
      return best.s
    })
    for (let i = 1; i < along.length; i++) expect(Math.abs(along[i] - along[i - 1] - (straight[i].x - straight[i - 1].x))).toBeLessThan(0.01)
    expect(new ArcLength(path).length).toBeCloseTo(s, 4)
  })

  it('bends the longest line by the angle asked for, either way', async () => {
    const face = await openFace('jost-bold')
    for (const sweep of [40, 180, -90]) {
      const bent = setText(face, params({ text: 'HHHHHHHH', layout: 'arc', sweep }))
      const turn = (g: (typeof bent.glyphs)[0]) => Math.atan2(g.linear[1], g.linear[0])
      const [first, last] = [turn(bent.glyphs[0]), turn(bent.glyphs[7])]
      // eight equal letters: from the middle of the first to that of the last is seven eighths
      expect((((first - last) * 180) / Math.PI) * (8 / 7)).toBeCloseTo(sweep, 4)
    }
  })

  it('shares the way round out among all letters when justified', async () => {
    const face = await openFace('jost-bold')
    const round = middles(face, setText(face, params({ text: 'OOOOOO', layout: 'circle', radius: 70, align: 'justified' })))
    const angles = round.map(({ x, y }) => Math.atan2(x, y))
    for (let i = 1; i < 6; i++) expect((angles[i] - angles[i - 1] + 2 * Math.PI) % (2 * Math.PI)).toBeCloseTo(Math.PI / 3, 6)
  })

  it('keeps letters upright when told to, and stands them inside the way round', async () => {
    const face = await openFace('jost-bold')
    const upright = setText(face, params({ text: 'QUAY', layout: 'circle', radius: 90, stand: 'upright' }))
    for (const g of upright.glyphs) expect(g.linear.slice(1, 3)).toEqual([0, 0])
    const inside = setText(face, params({ text: 'H', layout: 'circle', radius: 90, side: 'inside' }))
    const [x0, y0, x1, y1] = boxOf(face, inside, 0)
    // at the foot of the circle, its top towards the middle
    expect([y0, (x0 + x1) / 2]).toEqual([expect.closeTo(-90, 4), expect.closeTo(0, 1)])
    expect(y1).toBeGreaterThan(-60)
  })

  it('refuses circles whose inner lines have no room, and says which radius would do', async () => {
    const face = await openFace('jost-bold')
    const set = () => setText(face, params({ text: 'a\nb\nc\nd', layout: 'circle', radius: 60 }))
    expect(set).toThrow(BaselineError)
    expect(set).toThrow(/Line \d would lie/)
    const nothing = { points: [[5, 5], [5, 5]] } // biome-ignore format: one line
    expect(() => setText(face, params({ text: 'ab', layout: 'stroke', stroke: nothing }))).toThrow(/no length/)
  })

  it('stacks letters under each other, in columns', async () => {
    const face = await openFace('archivo-bold')
    const set = setText(face, params({ text: 'PIER\nQUAY', layout: 'stack' }))
    const boxes = set.glyphs.map((_, i) => boxOf(face, set, i))
    for (let i = 1; i < 4; i++) {
      expect(boxes[i][3]).toBeLessThan(boxes[i - 1][1])
      expect((boxes[i][0] + boxes[i][2]) / 2).toBeCloseTo((boxes[0][0] + boxes[0][2]) / 2, -0.7)
    }
    expect(boxes[4][0]).toBeGreaterThan(boxes[0][2])
    // Japanese columns run from right to left
    const japanese = await openFace('dela-gothic')
    const columns = setText(japanese, params({ text: '港祭\n夏夜', layout: 'stack' }))
    expect(columns.glyphs[2].x).toBeLessThan(columns.glyphs[0].x)
  })
})

describe('fitting to a width', () => {
  const extent = (face: FontFace, set: SetText, line = 0) => {
    const row = set.glyphs.filter((g) => g.line === line)
    const last = row[row.length - 1]
    return last.x + face.advance(last.glyph) * last.linear[0] - row[0].x
  }

  it.each([
    ['size', 'LANTERN'],
    ['lines', 'LANTERN'],
    ['spacing', 'LANTERN'],
  ])('fills the width exactly by %s', async (fit, text) => {
    const face = await openFace('archivo-bold')
    for (const width of [120, 300]) expect(extent(face, setText(face, params({ text, fit, width })))).toBeCloseTo(width, 6)
  })

  it('sizes each line by itself, or all by the widest', async () => {
    const face = await openFace('archivo-bold')
    const text = 'TERN\nQUAY LANTERN'
    const lines = setText(face, params({ text, fit: 'lines', width: 200 }))
    expect([extent(face, lines, 0), extent(face, lines, 1)]).toEqual([expect.closeTo(200, 6), expect.closeTo(200, 6)])
    const whole = setText(face, params({ text, fit: 'size', width: 200 }))
    expect(extent(face, whole, 1)).toBeCloseTo(200, 6)
    expect(extent(face, whole, 0)).toBeLessThan(120)
  })

  it('breaks lines where Unicode allows, never wider than asked, and loses no letter', async () => {
    const face = await openFace('jost-bold')
    const words = 'the lantern fair opens at dusk on the old ferry pier'
    await fc.assert(
      fc.asyncProperty(fc.integer({ min: 110, max: 700 }), fc.integer({ min: 0, max: 40 }), async (width, from) => {
        const text = words.slice(from)
        const set = setText(face, params({ text, fit: 'wrap', width, size: 20, align: 'left' }))
        const rows = new Map<number, typeof set.glyphs>()
        for (const g of set.glyphs) rows.set(g.line, [...(rows.get(g.line) ?? []), g])
        const letters = set.glyphs.map((g) => set.letters[g.letter].text).join('')
        expect(letters.replace(/ /g, '')).toBe(text.replace(/ /g, ''))
        for (const line of rows.keys()) expect(extent(face, set, line)).toBeLessThanOrEqual(width + 1e-6)
        expect(set.notes).toEqual([])
      }),
      { numRuns: 60 },
    )
    const tooNarrow = setText(face, params({ text: words, fit: 'wrap', width: 10 }))
    expect(tooNarrow.notes).toMatchObject([{ code: 'word-too-wide', message: expect.stringContaining('“') }])
  })

  it('justifies all lines but the last, from right to left as well', async () => {
    for (const [id, text] of [
      ['jost-bold', 'the lantern fair opens at dusk on the old ferry pier'],
      ['suez-one', 'יריד הפנסים נפתח בשקיעה על הרציף הישן של המעבורת'],
    ]) {
      const face = await openFace(id)
      const set = setText(face, params({ text, fit: 'wrap', width: 300, size: 20, align: 'justified' }))
      const last = Math.max(...set.glyphs.map((g) => g.line))
      expect(last).toBeGreaterThan(0)
      for (let line = 0; line < last; line++) expect(extent(face, set, line)).toBeCloseTo(300, 4)
      const ends = set.glyphs.filter((g) => g.line === last)
      if (id === 'suez-one') expect(ends[ends.length - 1].x + face.advance(ends[ends.length - 1].glyph) * set.scale).toBeCloseTo(150, 4)
      else expect(ends[0].x).toBeCloseTo(-150, 6)
    }
  })

  it('never tears Arabic letters apart to space them', async () => {
    const face = await openFace('lalezar')
    const natural = setText(face, params({ text: 'ميناء', align: 'left' }))
    const tracked = setText(face, params({ text: 'ميناء', align: 'left', tracking: 400 }))
    expect(tracked.glyphs.map((g) => g.x)).toEqual(natural.glyphs.map((g) => g.x))
  })
})

describe('spacing by eye', () => {
  /** Horizontal overlap of two glyphs' inks by brute force on scan lines; negative when they are apart. */
  const overlapOf = (face: FontFace, set: SetText, i: number) => {
    const rows = (k: number) => {
      const g = set.glyphs[k]
      const out = new Map<number, [number, number]>()
      for (const path of face.outline(g.glyph)) {
        const p = transformPath(path, [...g.linear, g.x, g.y])
        let o = 0
        const points: [number, number][] = [[p.coords[0], p.coords[1]]]
        for (const verb of p.verbs) {
          for (let s = 1; s <= 60; s++) {
            const t = s / 60
            const u = 1 - t
            const c = (d: number, k2: number) => p.coords[o + 2 * k2 + d]
            points.push(
              [0, 1].map((d) =>
                verb === 1
                  ? u * c(d, 0) + t * c(d, 1)
                  : verb === 2
                    ? u * u * c(d, 0) + 2 * u * t * c(d, 1) + t * t * c(d, 2)
                    : u * u * u * c(d, 0) + 3 * u * u * t * c(d, 1) + 3 * u * t * t * c(d, 2) + t * t * t * c(d, 3),
              ) as [number, number],
            )
          }
          o += 2 * verb
        }
        points.push(points[0])
        for (let n = 1; n < points.length; n++) {
          const [[x0, y0], [x1, y1]] = [points[n - 1], points[n]]
          for (let y = Math.ceil(Math.min(y0, y1) / 0.05); y <= Math.max(y0, y1) / 0.05; y++) {
            const x = y1 === y0 ? x0 : x0 + ((y * 0.05 - y0) / (y1 - y0)) * (x1 - x0)
            const row = out.get(y) ?? [Infinity, -Infinity]
            out.set(y, [Math.min(row[0], x), Math.max(row[1], x)])
          }
        }
      }
      return out
    }
    const [a, b] = [rows(i), rows(i + 1)]
    let most = -Infinity
    for (const [y, [, right]] of a) if (b.has(y)) most = Math.max(most, right - (b.get(y) as [number, number])[0])
    return most
  }

  it('draws every pair together until it overlaps by the amount chosen', async () => {
    for (const [id, text] of [
      ['jost-bold', 'LAnToW'],
      ['fredoka', 'Jelly'],
    ]) {
      const face = await openFace(id)
      for (const overlap of [0.5, 2]) {
        const set = setText(face, params({ text, touch: 'each', overlap }))
        for (let i = 0; i + 1 < set.glyphs.length; i++) expect(Math.abs(overlapOf(face, set, i) - overlap), `${text} ${i}`).toBeLessThan(0.08)
        const even = setText(face, params({ text, touch: 'even', overlap }))
        const overlaps = even.glyphs.slice(1).map((_, i) => overlapOf(face, even, i))
        expect(Math.min(...overlaps)).toBeGreaterThan(overlap - 0.08)
        expect(Math.min(...overlaps)).toBeLessThan(overlap + 0.08)
      }
    }
  })

  it('follows a letter that was scaled, and names pairs that cannot meet', async () => {
    const face = await openFace('jost-bold')
    const letters = { of: 'oOo', list: [{ at: 1, scale: 60 }] }
    const set = setText(face, params({ text: 'oOo', touch: 'each', overlap: 1, letters }))
    expect(Math.abs(overlapOf(face, set, 0) - 1)).toBeLessThan(0.08)
    expect(setText(face, params({ text: "'_", touch: 'even' })).notes).toMatchObject([{ code: 'cannot-touch', message: expect.stringContaining("'_") }])
  })

  it('kerns by eye: open pairs close up, straight ones stay', async () => {
    const face = await openFace('jost-bold')
    const gap = (text: string, kerning: string) => {
      const set = setText(face, params({ text, kerning, align: 'left' }), new Memo())
      return set.glyphs[1].x - set.glyphs[0].x
    }
    for (const pair of ['AV', 'To', 'LT', 'VA', 'Ty']) expect(gap(pair, 'optical'), pair).toBeLessThan(gap(pair, 'none') - 0.5)
    expect(Math.abs(gap('HH', 'optical') - gap('HH', 'none'))).toBeLessThan(2.5)
    // letters that join by design stay joined
    const script = await openFace('pacifico')
    const joined = (kerning: string) => setText(script, params({ text: 'ane', kerning, align: 'left' })).glyphs.map((g) => g.x)
    expect(joined('optical')).toEqual(joined('none'))
  })
})

describe('what the screen shows of letters', () => {
  it('draws every letter by itself, on every line, and those within a ligature as they would stand alone', async () => {
    const face = await openFace('fredoka')
    const letters = letterShapes(face, params({ text: 'Jell\nQuay', letters: { of: 'Jell\nQuay', list: [{ at: 5, scale: 150 }] } }))
    expect(letters.map((l) => l.text).join('')).toBe('Jell\nQuay')
    const level = letters.filter((l) => l.text !== '\n')
    for (const l of level) {
      expect(l.path).toMatch(/^M/)
      expect(l.box[1]).toBeGreaterThan(-25)
      expect(l.box[1] + l.box[3]).toBeLessThan(6)
    }
    // Q is half as large again
    expect(letters[5].box[3]).toBeGreaterThan(14)
    const joined = letters.filter((l) => l.joined).map((l) => l.at)
    expect(joined).toEqual(setText(face, params({ text: 'Jell' })).glyphs.length === 3 ? [3] : [])
  })

  it('shows what every feature does, in the words where it does it', async () => {
    const face = await openFace('bodoni-moda-italic')
    const previews = featurePreviews(face, params({ text: 'River' }))
    const of = (tag: string) => previews.find((p) => p.tag === tag)
    expect(of('smcp')).toMatchObject({ inWords: true, usual: false, group: 'Letters' })
    expect(of('ss02')?.inWords).toBe(true)
    expect(of('onum')).toMatchObject({ inWords: false, with: { path: expect.stringMatching(/^M/) } })
    expect(of('liga')?.usual).toBe(true)
    for (const { without, with: on } of previews) if (on) expect(on.path).not.toBe(without?.path)
  })
})
