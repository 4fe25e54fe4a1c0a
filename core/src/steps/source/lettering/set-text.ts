import { Rules } from '@cto.af/linebreak'
import { Memo } from '../../../cache/memo'
import type { FeatureRange, FontFace } from '../../../font/face'
import { type Paragraph, readParagraph, visualRuns } from '../../../font/runs'
import { JOINING_SCRIPTS, scriptOf } from '../../../font/scripts'
import { type Affine, compose, translation } from '../../../outline/affine'
import type { StepIssue } from '../../step'
import { type Baseline, baselineFor } from './baseline'
import { advanceOf, type Cell, scaleOf } from './cell'
import { carryOver, graphemes, type TextLetter } from '../../../document/letters'
import type { LetterChange, LetteringParams } from './schema'
import { changeMap, opticalSpace, spaceToTouch, usualWhite } from './spacing'

/** A glyph where it stands. */
export interface SetGlyph {
  readonly glyph: number
  /** index into SetText.letters */
  readonly letter: number
  /** mm per font unit, turned: [a, b, c, d] as in Affine */
  readonly linear: readonly [number, number, number, number]
  /** the glyph's origin, mm */
  readonly x: number
  readonly y: number
  readonly line: number
}

/** Something to know about a text that was set. */
export type SettingNote = Omit<StepIssue, 'severity'>

export interface SetText {
  readonly glyphs: readonly SetGlyph[]
  /** graphemes of the text with their UTF-16 offsets; SetGlyph.letter indexes them */
  readonly letters: readonly TextLetter[]
  /** characters the face has no glyph for, each once */
  readonly missing: readonly string[]
  /** mm per font unit, before any fitting to a width */
  readonly scale: number
  readonly notes: readonly SettingNote[]
}

const LINE_ENDS = /\r\n|[\n\r\v\f\u0085\u2028\u2029]/
const lineRules = new Rules()
/** Scripts whose letters stand apart, so that the white between them can be judged by eye. */
const SEPARATE = new Set(['Latn', 'Grek', 'Cyrl', 'Armn', 'Geor', 'Hebr', 'Zyyy'])
const IDEOGRAPHIC = new Set(['Hani', 'Hira', 'Kana', 'Hang', 'Bopo'])

interface OpenCell {
  readonly letter: number
  readonly glyphs: { glyph: number; x: number; y: number }[]
  advance: number
}

interface Line {
  readonly cells: readonly Cell[]
  readonly rightToLeft: boolean
  /** the last of its paragraph */
  readonly last: boolean
}

/** A line with its letters' beginnings, mm along it. */
interface SpacedLine {
  readonly cells: readonly Cell[]
  readonly scale: number
  readonly at: Float64Array
  readonly width: number
}

/**
 * Sets text: direction (Unicode UAX #9), line breaks (UAX #14), shaping by HarfBuzz with the letters' own features,
 * kerning, tracking, fitting to a width, and laying along a baseline. The first baseline is at y = 0 (a circle's middle
 * at the origin). Throws a BaselineError when the lines cannot lie on the baseline asked for.
 */
export function setText(face: FontFace, params: LetteringParams, memo: Memo = new Memo()): SetText {
  const scale = params.size / face.capHeight
  const letters = graphemes(params.text)
  const changes = new Map(carryOver(params.letters, params.text).list.map((change) => [change.at, change]))
  const setter = new Setter(face, params, letters, changes, memo)
  const stacked = params.layout === 'stack'
  const lines = stacked ? setter.stackLines() : setter.lines(scale)
  const spaced = setter.space(lines, scale)
  const glyphs: SetGlyph[] = []
  if (stacked) setter.placeStacks(spaced, glyphs)
  else if (params.layout === 'straight') setter.placeStraight(spaced, glyphs)
  else setter.placeAlong(lines, spaced, scale, glyphs)
  return { glyphs, letters, missing: [...setter.missing], scale, notes: setter.notes }
}

class Setter {
  readonly missing = new Set<string>()
  readonly notes: SettingNote[] = []
  private readonly features: Record<string, number>
  private readonly ranges: FeatureRange[] = []
  private readonly lastRange = new Map<string, { tag: string; value: number; start: number; end: number }>()
  /** letter index by UTF-16 offset */
  private readonly letterOf: Uint16Array
  private readonly tracking: number

  constructor(
    private readonly face: FontFace,
    private readonly params: LetteringParams,
    private readonly letters: readonly TextLetter[],
    private readonly changes: ReadonlyMap<number, LetterChange>,
    private readonly memo: Memo,
  ) {
    this.features = { ...params.features }
    if (params.kerning !== 'face') this.features.kern = 0
    this.letterOf = new Uint16Array(params.text.length + 1)
    letters.forEach((letter, i) => this.letterOf.fill(i, letter.at, letters[i + 1]?.at ?? params.text.length + 1))
    const known = new Set(face.substitutions)
    // what joins letters and is on: a letter that is to be its own may not hide in a ligature
    const joining = ['liga', 'clig', 'dlig', 'hlig'].filter((tag) => known.has(tag) && (params.features[tag] ?? (tag === 'liga' || tag === 'clig' ? 1 : 0)) > 0)
    for (const at of [...changes.keys()].sort((a, b) => a - b)) {
      const end = letters[this.letterOf[at] + 1]?.at ?? params.text.length
      const own = changes.get(at)?.features ?? {}
      for (const tag of joining) if (own[tag] === undefined) this.addRange({ tag, value: 0, start: at, end })
      for (const [tag, value] of Object.entries(own)) if (known.has(tag)) this.addRange({ tag, value, start: at, end })
    }
    this.tracking = (params.tracking / 1000) * face.unitsPerEm
  }

  /** Adds a feature for one letter; neighbours that want the same share one range. */
  private addRange(range: FeatureRange): void {
    const last = this.lastRange.get(range.tag)
    const grown = last !== undefined && last.end === range.start && last.value === range.value
    if (grown) last.end = range.end
    else {
      const added = { ...range }
      this.lastRange.set(range.tag, added)
      this.ranges.push(added)
    }
  }

  /** The text's lines, shaped; broken at the width where the parameters ask for it. */
  lines(scale: number): Line[] {
    const lines: Line[] = []
    for (const { paragraph, offset } of this.paragraphs()) {
      const breaks = this.params.fit === 'wrap' ? this.breakLines(paragraph, offset, this.params.width / scale) : [paragraph.text.length]
      let start = 0
      breaks.forEach((end, i) => {
        // round a circle the space at the end stands before the beginning
        const round = this.params.layout === 'circle'
        lines.push({ cells: this.shapeLine(paragraph, offset, start, end, round), rightToLeft: paragraph.base % 2 === 1, last: i === breaks.length - 1 })
        start = end
      })
    }
    return lines
  }

  private *paragraphs(): Generator<{ paragraph: Paragraph; offset: number }> {
    let offset = 0
    for (let rest = this.params.text; ; ) {
      const end = LINE_ENDS.exec(rest)
      yield { paragraph: readParagraph(end ? rest.slice(0, end.index) : rest, this.params.direction), offset }
      if (!end) return
      const used = end.index + end[0].length
      rest = rest.slice(used)
      offset += used
    }
  }

  /** Offsets at which lines end. Greedy: each line takes as many words as the width holds; a word alone may stick out. */
  private breakLines(paragraph: Paragraph, offset: number, width: number): number[] {
    const { text } = paragraph
    const cells = this.shapeLine(paragraph, offset, 0, text.length, true)
    const widths = new Float64Array(text.length + 1)
    for (const cell of cells) widths[this.letters[cell.letter].at - offset] += advanceOf(cell) + this.tracking + this.extra(cell)
    for (let i = 1; i <= text.length; i++) widths[i] += widths[i - 1]
    const upTo = (end: number) => (end === 0 ? 0 : widths[end - 1])
    const inked = (start: number, end: number) => start + text.slice(start, end).trimEnd().length
    const ends: number[] = []
    let start = 0
    let fits = 0
    for (const { position } of lineRules.breaks(text)) {
      if (upTo(inked(start, position)) - upTo(start) - this.tracking <= width + 1e-6) {
        fits = position
        continue
      }
      if (fits > start) {
        ends.push(fits)
        start = fits
      }
      if (upTo(inked(start, position)) - upTo(start) - this.tracking > width + 1e-6) {
        this.noteWideWord(text.slice(start, position).trim())
        ends.push(position)
        start = position
      }
      fits = position
    }
    if (start < text.length || ends.length === 0) ends.push(text.length)
    return ends
  }

  private noteWideWord(word: string): void {
    if (word === '' || this.notes.some((n) => n.code === 'word-too-wide')) return
    this.notes.push({
      code: 'word-too-wide',
      message: `“${word.slice(0, 40)}” is wider than the lines are to be and stands out.`,
      remedy: 'Make the width larger or the capitals smaller, or size the text to the width.',
      field: 'width',
    })
  }

  /** Cells of a line in the order they stand from left to right; white space at its end is left out unless kept. */
  private shapeLine(paragraph: Paragraph, offset: number, start: number, end: number, keepEnd = false): Cell[] {
    const { text } = paragraph
    const stop = keepEnd ? end : start + text.slice(start, end).trimEnd().length
    const ranges = this.ranges
      .filter((r) => r.end > offset + start && r.start < offset + stop)
      .map((r) => ({ ...r, start: r.start - offset, end: r.end - offset }))
    const cells: Cell[] = []
    for (const run of visualRuns(paragraph, start, stop)) {
      const shaped = this.face.shape(text, {
        rightToLeft: run.level % 2 === 1,
        script: run.script,
        features: this.features,
        ranges,
        start: run.start,
        end: run.end,
      })
      this.collect(shaped, offset, run.script, cells)
    }
    return cells
  }

  /** Gathers a run's glyphs into cells, one for each letter. */
  private collect(shaped: ReturnType<FontFace['shape']>, offset: number, script: string | undefined, cells: Cell[]): void {
    let open: OpenCell | undefined
    for (const g of shaped) {
      const letter = this.letterOf[offset + g.cluster]
      if (g.glyph === 0) {
        const { text } = this.letters[letter]
        if (text.trim() !== '') this.missing.add(text)
        continue
      }
      if (open?.letter !== letter) {
        if (open) cells.push(this.closed(open, script))
        open = { letter, glyphs: [], advance: 0 }
      }
      open.glyphs.push({ glyph: g.glyph, x: open.advance + g.xOffset, y: g.yOffset })
      open.advance += g.xAdvance
    }
    if (open) cells.push(this.closed(open, script))
  }

  private closed({ letter, glyphs, advance }: OpenCell, script: string | undefined): Cell {
    const { text, at } = this.letters[letter]
    return {
      letter,
      glyphs,
      advance,
      middle: advance / 2,
      blank: text.trim() === '',
      joins: script !== undefined && JOINING_SCRIPTS.has(script),
      separate: SEPARATE.has(scriptOf(text.codePointAt(0) as number)),
      change: this.changes.get(at),
    }
  }

  /** One letter under the other: every letter shaped by itself; a cell's advance is its share of the stack. */
  stackLines(): Line[] {
    const { face } = this
    const lines: Line[] = []
    for (const { paragraph, offset } of this.paragraphs()) {
      const cells: Cell[] = []
      for (const { text, at } of graphemes(paragraph.text)) {
        const script = scriptOf(text.codePointAt(0) as number)
        const ideographic = IDEOGRAPHIC.has(script)
        const ranges = this.ranges.filter((r) => r.start <= offset + at && r.end > offset + at).map((r) => ({ ...r, start: 0, end: text.length }))
        const shaped = face.shape(text, { rightToLeft: false, features: { ...this.features, ...(ideographic ? { vert: 1 } : {}) }, ranges })
        const own: Cell[] = []
        this.collect(
          shaped.map((g) => ({ ...g, cluster: 0 })),
          offset + at,
          script,
          own,
        )
        const pitch = ideographic ? face.unitsPerEm : face.capHeight * (text.trim() === '' ? 0.6 : 1.3)
        for (const cell of own) cells.push({ ...cell, advance: pitch, joins: false })
      }
      lines.push({ cells, rightToLeft: [...paragraph.text].some((c) => IDEOGRAPHIC.has(scriptOf(c.codePointAt(0) as number))), last: true })
    }
    return lines
  }

  /** Space after a cell beyond tracking: word space and its own, font units. */
  private extra(cell: Cell): number {
    const word = cell.blank ? (this.params.wordSpace / 100 - 1) * cell.advance : 0
    return word + ((cell.change?.space ?? 0) / 1000) * this.face.unitsPerEm
  }

  /** Space after every cell of a line but the last, font units at the given scale. */
  private gaps(cells: readonly Cell[], scale: number, even: number | undefined): Float64Array {
    const { face, params, memo } = this
    const gaps = new Float64Array(cells.length)
    const optical = params.kerning === 'optical' && params.layout !== 'stack'
    const white = optical ? usualWhite(face, memo) : 0
    for (let i = 0; i < cells.length; i++) {
      const [a, b] = [cells[i], cells[i + 1]]
      const tied = b !== undefined && a.joins && b.joins && !a.blank && !b.blank
      // marks without an advance of their own take no tracking
      gaps[i] = (a.advance === 0 || tied ? 0 : this.tracking) + this.extra(a)
      if (!b || a.blank || b.blank) continue
      if (params.touch !== 'off' && params.layout !== 'stack') {
        const own = this.extra(a)
        if (even !== undefined) gaps[i] = (tied ? 0 : even) + own
        else gaps[i] = (spaceToTouch(face, a, b, params.overlap / scale, memo) ?? 0) + own
      }
      if (optical && params.touch === 'off' && a.separate && b.separate) gaps[i] += opticalSpace(face, a, b, white, memo)
    }
    return gaps
  }

  /** The one tracking at which every two neighbours overlap at least as far as asked, font units. */
  private evenTouch(lines: readonly Line[], scale: number): number {
    const { face, params, memo } = this
    let least = Infinity
    const apart = new Set<string>()
    for (const { cells } of lines) {
      for (let i = 0; i + 1 < cells.length; i++) {
        const [a, b] = [cells[i], cells[i + 1]]
        if (a.blank || b.blank) continue
        const space = spaceToTouch(face, a, b, params.overlap / scale, memo)
        if (space === undefined) apart.add(this.letters[a.letter].text + this.letters[b.letter].text)
        else least = Math.min(least, space)
      }
    }
    if (apart.size > 0)
      this.notes.push({
        code: 'cannot-touch',
        message: `These neighbours have no height in common and cannot touch: ${[...apart].slice(0, 8).join(', ')}.`,
        remedy: 'Nudge one of the two letters up or down, or choose another alternate.',
        field: 'touch',
      })
    return least === Infinity ? 0 : least
  }

  /** Spaces lines out: kerning, tracking, word space, touching, then the width asked for. */
  space(lines: readonly Line[], scale: number): SpacedLine[] {
    const { params } = this
    const touching = params.touch !== 'off' && params.layout !== 'stack'
    const even = touching ? this.evenTouch(lines, scale) : 0
    const common = params.touch === 'even' && touching ? even : undefined
    const natural = lines.map((line) => this.spacedAt(line.cells, this.gaps(line.cells, scale, common), scale))
    const widest = Math.max(0, ...natural.map((l) => l.width))
    if (params.fit === 'size' && widest > 0) return natural.map((l) => resized(l, params.width / widest))
    if (params.fit === 'lines') return natural.map((l) => (l.width > 0 ? resized(l, params.width / l.width) : l))
    if (params.fit === 'spacing' && !touching) return natural.map((l) => stretched(l, params.width, () => true))
    if (params.align === 'justified' && params.layout !== 'circle' && params.layout !== 'stroke' && params.layout !== 'arc') {
      const measure = params.fit === 'wrap' ? params.width : widest
      return natural.map((l, i) => (lines[i].last && lines.length > 1 ? l : stretched(l, measure, (cell) => cell.blank)))
    }
    return natural
  }

  private spacedAt(cells: readonly Cell[], gaps: Float64Array, scale: number): SpacedLine {
    const at = new Float64Array(cells.length)
    let pen = 0
    let width = 0
    for (let i = 0; i < cells.length; i++) {
      at[i] = pen * scale
      pen += advanceOf(cells[i])
      width = pen
      pen += gaps[i]
    }
    return { cells, scale, at, width: Math.max(0, width * scale) }
  }

  /** How far each line's baseline lies under the first, mm. */
  private drops(lines: readonly SpacedLine[]): number[] {
    const pitch = (this.params.leading / 100) * this.face.lineHeight
    let below = 0
    return lines.map((line, i) => {
      if (i > 0) below += pitch * line.scale
      return below
    })
  }

  placeStraight(lines: readonly SpacedLine[], glyphs: SetGlyph[]): void {
    const { params } = this
    const drops = this.drops(lines)
    const measure = params.fit === 'wrap' ? params.width : Math.max(0, ...lines.map((l) => l.width))
    lines.forEach((line, number) => {
      const shift =
        params.align === 'left'
          ? 0
          : params.align === 'centre'
            ? -line.width / 2
            : params.align === 'right'
              ? -line.width
              : // the last line of justified text begins where reading begins
                this.startsRight(line)
                ? measure / 2 - line.width
                : -measure / 2
      line.cells.forEach((cell, i) => this.put(cell, line.scale, [1, 0, 0, 1, line.at[i] + shift, -drops[number]], number, glyphs))
    })
  }

  private startsRight(line: SpacedLine): boolean {
    return this.params.direction === 'rtl' || (this.params.direction === 'auto' && (line.cells.at(-1)?.letter ?? 0) < (line.cells[0]?.letter ?? 0))
  }

  placeStacks(columns: readonly SpacedLine[], glyphs: SetGlyph[]): void {
    const { params, face } = this
    const pitch = ((params.leading / 100) * 1.25 * face.unitsPerEm * params.size) / face.capHeight
    const longest = Math.max(0, ...columns.map((c) => c.width))
    const leftwards = columns.some((c) => c.cells.some((cell) => IDEOGRAPHIC.has(scriptOf(this.letters[cell.letter].text.codePointAt(0) as number))))
    columns.forEach((column, number) => {
      const spare = longest - column.width
      const top = params.align === 'right' ? spare : params.align === 'centre' ? spare / 2 : 0
      const x = (number - (columns.length - 1) / 2) * pitch * (leftwards ? -1 : 1)
      column.cells.forEach((cell, i) => {
        // the letter hangs in the middle of its share of the stack
        const room = advanceOf(cell) * column.scale
        const middle = -top - column.at[i] - room / 2
        const k = column.scale * scaleOf(cell)
        this.put(cell, column.scale, [1, 0, 0, 1, x - cell.middle * k, middle - (face.capHeight * k) / 2], number, glyphs)
      })
    })
  }

  placeAlong(lines: readonly Line[], spaced: readonly SpacedLine[], scale: number, glyphs: SetGlyph[]): void {
    const { params, face } = this
    const cap = face.capHeight * scale
    const drops = this.drops(spaced)
    const extents = (list: readonly SpacedLine[]) => list.map((l, i) => ({ width: l.width, below: drops[i] }))
    let baseline: Baseline = baselineFor(params, extents(spaced), cap)
    let set = spaced
    if (params.align === 'justified') {
      const first = baseline
      set = spaced.map((line, i) => {
        const room = first.room(i)
        if (!Number.isFinite(room) || room <= line.width || line.cells.length === 0) return line
        // round a whole circle the last letter keeps its distance from the first
        if (first.round) return stretched(line, room - (room - line.width) / line.cells.length, () => true)
        return stretched(line, room, lines[i].cells.some((c) => c.blank) ? (cell) => cell.blank : () => true)
      })
      baseline = baselineFor(params, extents(set), cap)
    }
    set.forEach((line, number) => {
      const over = line.width - baseline.room(number)
      if (over > 0.01) this.noteTooLong(line.width, over)
      const begin = baseline.begin(number)
      line.cells.forEach((cell, i) => {
        const advance = advanceOf(cell) * line.scale
        const { x, y, tx, ty } = baseline.place(number, begin + line.at[i] + advance / 2)
        const frame: Affine =
          params.stand === 'turn'
            ? compose([tx, ty, -ty, tx, x, y], translation(-advance / 2, 0))
            : // upright letters keep their middle where a turned one would have it
              [1, 0, 0, 1, x - (ty * cap) / 2 - advance / 2, y + (tx * cap) / 2 - cap / 2]
        this.put(cell, line.scale, frame, number, glyphs)
      })
    })
  }

  private noteTooLong(width: number, over: number): void {
    if (this.notes.some((n) => n.code === 'line-too-long')) return
    const { layout, stroke } = this.params
    const circle = layout === 'circle'
    // a little air between the end and the beginning
    const radius = Math.ceil((width * 1.03) / (2 * Math.PI))
    // the same stroke, larger about its middle
    const grow = (width * 1.02) / (width - over)
    const [cx, cy] = [0, 1].map((k) => stroke.points.reduce((sum, p) => sum + p[k], 0) / stroke.points.length)
    const points = stroke.points.map(([x, y]) => [cx + (x - cx) * grow, cy + (y - cy) * grow].map((v) => Number(v.toFixed(2))))
    this.notes.push({
      code: 'line-too-long',
      message: circle
        ? `The words are ${over.toFixed(1)} mm longer than the way round; their end runs over their beginning.`
        : `The words are ${over.toFixed(1)} mm longer than the stroke; what is over goes straight on.`,
      remedy: circle ? `Give a radius of ${radius} mm or more, or smaller capitals.` : 'Draw a longer stroke, or make the capitals smaller.',
      field: circle ? 'radius' : 'stroke',
      fixes: [
        circle
          ? { label: `Set the radius to ${radius} mm`, params: { radius } }
          : { label: 'Enlarge the stroke to take the words', params: { stroke: { ...stroke, points } } },
      ],
    })
  }

  /** Puts a cell's glyphs into a frame (mm, the cell's origin at its own origin), with the cell's own change. */
  private put(cell: Cell, scale: number, frame: Affine, line: number, glyphs: SetGlyph[]): void {
    const { change } = cell
    const plain = change === undefined && frame[0] === 1 && frame[1] === 0
    if (plain) {
      for (const g of cell.glyphs)
        glyphs.push({ glyph: g.glyph, letter: cell.letter, linear: [scale, 0, 0, scale], x: frame[4] + g.x * scale, y: frame[5] + g.y * scale, line })
      return
    }
    const own = change ? changeMap(this.face, cell) : ([1, 0, 0, 1, 0, 0] as const)
    const map = compose(frame, compose(translation(change?.dx ?? 0, change?.dy ?? 0), compose([scale, 0, 0, scale, 0, 0], own)))
    for (const g of cell.glyphs) {
      const [a, b, c, d, x, y] = compose(map, translation(g.x, g.y))
      glyphs.push({ glyph: g.glyph, letter: cell.letter, linear: [a, b, c, d], x, y, line })
    }
  }
}

const resized = (line: SpacedLine, k: number): SpacedLine => ({
  cells: line.cells,
  scale: line.scale * k,
  at: line.at.map((x) => x * k),
  width: line.width * k,
})

/** The line at another width, the difference shared out after the cells that `takes` allows (not the last, not between joined letters). */
function stretched(line: SpacedLine, width: number, takes: (cell: Cell) => boolean): SpacedLine {
  const { cells } = line
  const open = cells.map((cell, i) => {
    const next = cells[i + 1]
    return next !== undefined && cell.advance > 0 && takes(cell) && !(cell.joins && next.joins && !cell.blank && !next.blank)
  })
  const places = open.filter(Boolean).length
  if (places === 0) return line
  const share = (width - line.width) / places
  let pushed = 0
  const at = line.at.map((x, i) => {
    const here = x + pushed
    if (open[i]) pushed += share
    return here
  })
  return { cells, scale: line.scale, at, width }
}
