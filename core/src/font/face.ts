import { plainName } from '../document/well-formed'
import type * as HarfBuzz from 'harfbuzzjs'
import { type Path, PathBuilder } from '../outline/path'

let loading: Promise<typeof HarfBuzz> | undefined

/** The shaping engine, loaded once. It must be imported dynamically: it uses top-level await (docs/architecture.md). */
export function loadHarfBuzz(): Promise<typeof HarfBuzz> {
  loading ??= import('harfbuzzjs')
  return loading
}

/** A variable font's axis: tag, human name, range. */
export interface FontAxis {
  readonly tag: string
  readonly name: string
  readonly min: number
  readonly default: number
  readonly max: number
}

export interface ShapedGlyph {
  readonly glyph: number
  /** index of the first UTF-16 unit it stands for, in the text given to `shape` */
  readonly cluster: number
  /** font units */
  readonly xAdvance: number
  readonly yAdvance: number
  readonly xOffset: number
  readonly yOffset: number
}

/** A feature for part of a text: UTF-16 offsets, the end not included. */
export interface FeatureRange {
  readonly tag: string
  readonly value: number
  readonly start: number
  readonly end: number
}

export interface ShapeOptions {
  readonly rightToLeft: boolean
  /** four-letter OpenType features and their values, e.g. { liga: 0 } */
  readonly features: Readonly<Record<string, number>>
  /** features for single letters; they win over `features` */
  readonly ranges?: readonly FeatureRange[]
  /** ISO 15924 code; guessed from the text when left out */
  readonly script?: string
  /** the part of the text to shape, UTF-16 offsets; the rest is context for joining letters */
  readonly start?: number
  readonly end?: number
}

/** An OpenType feature a person can choose. */
export interface FontFeature {
  readonly tag: string
  /** what the font's maker calls it, for stylistic sets and character variants that state a name */
  readonly name?: string
}

export class FontError extends Error {
  constructor(
    readonly code: 'unreadable' | 'no-outlines',
    message: string,
    readonly remedy: string,
  ) {
    super(message)
    this.name = 'FontError'
  }
}

/** An unpacked font may be larger than the file it came in. */
const MAX_FONT_BYTES = 96 * 1024 * 1024
/** How many settings of its axes a font keeps ready. */
const MAX_SETTINGS = 24
/** How many glyphs are tried before a font counts as one without outlines. */
const OUTLINE_TRIALS = 400

/** A parsed font at one setting of its axes. Glyph outlines are read once and kept. */
export class FontFace {
  private readonly outlines = new Map<number, readonly Path[]>()
  private readonly settings = new Map<string, FontFace>()

  private constructor(
    private readonly hb: typeof HarfBuzz,
    private readonly face: HarfBuzz.Face,
    private readonly font: HarfBuzz.Font,
    /** SHA-256 of the file, and the axes' settings: equal ids give equal glyphs */
    readonly id: string,
    readonly family: string,
    readonly unitsPerEm: number,
    readonly axes: readonly FontAxis[],
    readonly glyphCount: number,
    private readonly characters: ReadonlySet<number>,
  ) {}

  /**
   * Parses a TrueType or OpenType font. `id` should be its SHA-256. The bytes are copied into the engine.
   * Throws a FontError with a remedy when the file is no font or has no outlines.
   */
  static async open(bytes: Uint8Array, id: string): Promise<FontFace> {
    const hb = await loadHarfBuzz()
    const problem = (message: string) => new FontError('unreadable', message, 'Choose a TrueType or OpenType font file (.ttf or .otf).')
    if (bytes.length === 0) throw problem('The font file is empty.')
    if (bytes.length > MAX_FONT_BYTES) throw problem('The font is larger than 96 MB.')
    const tables = readTableDirectory(bytes)
    if (typeof tables === 'string') throw problem(tables)
    for (const tag of ['head', 'cmap', 'maxp', 'hhea', 'hmtx'])
      if (!tables.has(tag)) throw problem(`The font file lacks its “${tag}” table: it is damaged or incomplete.`)
    if (!tables.has('glyf') && !tables.has('CFF ') && !tables.has('CFF2'))
      throw new FontError(
        'no-outlines',
        'The font holds pictures or bitmaps only, no outlines.',
        'Choose a font with outlines; colour-bitmap and bitmap fonts cannot become solids.',
      )
    const glyphs = tables.get('maxp') as [number, number]
    if (glyphs[1] < 6) throw problem('The font file’s “maxp” table is cut short.')
    const face = new hb.Face(new hb.Blob(bytes.slice()), 0)
    if (!(face.upem >= 16 && face.upem <= 16384)) throw problem('The font file states no usable size of its em square.')
    const font = new hb.Font(face)
    const characters = new Set(face.collectUnicodes())
    if (characters.size === 0) throw problem('The font file maps no characters to glyphs.')
    const glyphCount = (bytes[glyphs[0] + 4] << 8) | bytes[glyphs[0] + 5]
    const axes = Object.values(face.getAxisInfos()).map((axis) => ({
      tag: axis.tag,
      name: face.getName(axis.nameId, 'en') || axis.tag,
      min: axis.min,
      default: axis.default,
      max: axis.max,
    }))
    const family = face.getName(16, 'en') || face.getName(1, 'en') || 'Unnamed font'
    const opened = new FontFace(hb, face, font, id, family, face.upem, axes, glyphCount, characters)
    if (!opened.hasOutlines())
      throw new FontError(
        'no-outlines',
        'The font’s glyphs have no outlines: its letters are colour pictures only, or empty.',
        'Choose a font with outlines; the plain version of a colour font usually has them.',
      )
    return opened
  }

  /** The same font with axes set; values outside an axis's range are moved to its end, unknown tags are ignored. */
  at(settings: Readonly<Record<string, number>>): FontFace {
    const used = this.axes
      .filter((axis) => Number.isFinite(settings[axis.tag]))
      .map((axis) => ({ tag: axis.tag, value: Math.min(axis.max, Math.max(axis.min, settings[axis.tag])) }))
    if (used.length === 0) return this
    const id = `${this.id}?${used.map(({ tag, value }) => `${tag}=${value}`).join('&')}`
    const known = this.settings.get(id)
    if (known) return known
    const font = new this.hb.Font(this.face)
    font.setVariations(used.map(({ tag, value }) => new this.hb.Variation(tag, value)))
    const set = new FontFace(this.hb, this.face, font, id, this.family, this.unitsPerEm, this.axes, this.glyphCount, this.characters)
    if (this.settings.size >= MAX_SETTINGS) this.settings.delete(this.settings.keys().next().value as string)
    this.settings.set(id, set)
    return set
  }

  /** Tags of all features that change which glyphs are shown (GSUB), each once, in the font's order. */
  get substitutions(): readonly string[] {
    return [...new Set(this.face.getTableFeatureTags('GSUB'))]
  }

  /** The features with the names the font's maker gave them. */
  features(): FontFeature[] {
    const found = new Map<string, FontFeature>()
    this.face.getTableFeatureTags('GSUB').forEach((tag, index) => {
      if (found.get(tag)?.name) return
      const label = /^(ss|cv)\d\d$/.test(tag) ? this.face.getFeatureNameIds('GSUB', index)?.uiLabelNameId : undefined
      const name = label !== undefined && label < 0xffff ? plainName(this.face.getName(label, 'en'), 80) : ''
      found.set(tag, name ? { tag, name } : { tag })
    })
    return [...found.values()]
  }

  /** A name of the font's own (OpenType `name` table, e.g. 2 its style, 13 its licence) in English, or ''. */
  name(id: number): string {
    return this.face.getName(id, 'en').trim()
  }

  /** A copy of one of the font's tables; empty when it has none of that tag. */
  table(tag: string): Uint8Array {
    return this.face.referenceTable(tag)?.slice() ?? new Uint8Array()
  }

  /** Whether any of the glyphs its characters map to can be drawn. */
  private hasOutlines(): boolean {
    let tried = 0
    for (const code of this.characters) {
      const glyph = this.font.nominalGlyph(code)
      if (glyph === undefined || glyph === 0) continue
      if (this.font.glyphToPath(glyph) !== '') return true
      if (++tried >= OUTLINE_TRIALS) break
    }
    return false
  }

  has(codePoint: number): boolean {
    return this.characters.has(codePoint)
  }

  /** All code points the font maps to glyphs. */
  codePoints(): ReadonlySet<number> {
    return this.characters
  }

  /** Height of flat capitals in font units; measured on H where the font does not state it. */
  get capHeight(): number {
    const stated = this.font.getMetricPosition(this.hb.MetricsTag.CAP_HEIGHT)
    if (stated !== undefined && stated > 0.2 * this.unitsPerEm) return stated
    const h = this.font.nominalGlyph(72)
    const extents = h === undefined ? undefined : this.font.glyphExtents(h)
    return extents && extents.yBearing > 0 ? extents.yBearing : 0.7 * this.unitsPerEm
  }

  /** Height of small letters without ascenders in font units; 0 for scripts that have none. */
  get xHeight(): number {
    const stated = this.font.getMetricPosition(this.hb.MetricsTag.X_HEIGHT)
    if (stated !== undefined && stated > 0.1 * this.unitsPerEm) return stated
    const x = this.font.nominalGlyph(120)
    return (x === undefined ? undefined : this.font.glyphExtents(x))?.yBearing ?? 0
  }

  /** How far a glyph moves the pen, font units. */
  advance(glyph: number): number {
    return this.font.glyphHAdvance(glyph)
  }

  /** Distance between baselines as the font wishes it, font units. */
  get lineHeight(): number {
    const { ascender, descender, lineGap } = this.font.hExtents()
    const height = ascender - descender + lineGap
    return height > 0 ? height : 1.2 * this.unitsPerEm
  }

  /**
   * Shapes one run of one direction and script. Glyphs come in visual order, left to right; clusters are UTF-16 offsets
   * in `text`, whatever part of it is shaped.
   */
  shape(text: string, options: ShapeOptions): ShapedGlyph[] {
    const { hb } = this
    const buffer = new hb.Buffer()
    const start = options.start ?? 0
    buffer.addText(text, start, (options.end ?? text.length) - start)
    buffer.guessSegmentProperties()
    if (options.script) buffer.setScript(options.script)
    buffer.setDirection(options.rightToLeft ? hb.Direction.RTL : hb.Direction.LTR)
    buffer.setClusterLevel(hb.ClusterLevel.MONOTONE_CHARACTERS)
    const features = Object.entries(options.features).map(([tag, value]) => new hb.Feature(tag, value))
    for (const { tag, value, start: from, end } of options.ranges ?? []) features.push(new hb.Feature(tag, value, from, end))
    hb.shape(this.font, buffer, features)
    const positions = buffer.getGlyphPositions()
    return buffer.getGlyphInfos().map((info, i) => ({ glyph: info.codepoint, cluster: info.cluster, ...positions[i] }))
  }

  /** Closed contours of a glyph in font units, Y up; empty for a space. Kept and shared: do not change them. */
  outline(glyph: number): readonly Path[] {
    let paths = this.outlines.get(glyph)
    if (!paths) {
      paths = readOutline(this.font, glyph)
      this.outlines.set(glyph, paths)
    }
    return paths
  }
}

function readOutline(font: HarfBuzz.Font, glyph: number): Path[] {
  const paths: Path[] = []
  let path: PathBuilder | undefined
  const end = () => {
    if (path && path.segments > 0) paths.push(path.build(true))
    path = undefined
  }
  for (const { type, values: v } of font.glyphToJson(glyph)) {
    if (type === 'M') {
      end()
      path = new PathBuilder(v[0], v[1])
    } else if (type === 'L') path?.lineTo(v[0], v[1])
    else if (type === 'Q') path?.quadraticTo(v[0], v[1], v[2], v[3])
    else if (type === 'C') path?.cubicTo(v[0], v[1], v[2], v[3], v[4], v[5])
    else end()
  }
  end()
  return paths
}

/** Offsets and lengths of a font file's tables, or what is wrong with its directory in plain words. */
function readTableDirectory(bytes: Uint8Array): Map<string, [number, number]> | string {
  if (bytes.length < 12) return 'The font file is cut short.'
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength)
  const tag = (at: number) => String.fromCharCode(...bytes.subarray(at, at + 4))
  const version = view.getUint32(0)
  if (version !== 0x00010000 && tag(0) !== 'OTTO' && tag(0) !== 'true') return 'The file is no TrueType or OpenType font.'
  const count = view.getUint16(4)
  if (count > 256) return 'The font file states more tables than a font can have.'
  const tables = new Map<string, [number, number]>()
  for (let i = 0; i < count; i++) {
    const at = 12 + 16 * i
    if (at + 16 > bytes.length) return 'The font file is cut short in its table directory.'
    const offset = view.getUint32(at + 8)
    const length = view.getUint32(at + 12)
    if (offset + length > bytes.length) return `The font file is cut short: its “${tag(at).trim()}” table runs past the end.`
    tables.set(tag(at), [offset, length])
  }
  return tables
}
