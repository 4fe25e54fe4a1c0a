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

export interface ShapeOptions {
  readonly rightToLeft: boolean
  /** four-letter OpenType features and their values, e.g. { liga: 0 } */
  readonly features: Readonly<Record<string, number>>
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

const MAX_FONT_BYTES = 30 * 1024 * 1024

/** A parsed font at one setting of its axes. Glyph outlines are read once and kept. */
export class FontFace {
  private readonly outlines = new Map<number, readonly Path[]>()

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
    if (bytes.length > MAX_FONT_BYTES) throw problem('The font file is larger than 30 MB.')
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
    const face = new hb.Face(new hb.Blob(bytes.slice()), 0)
    if (!(face.upem >= 16 && face.upem <= 16384)) throw problem('The font file states no usable size of its em square.')
    const font = new hb.Font(face)
    const characters = new Set(face.collectUnicodes())
    if (characters.size === 0) throw problem('The font file maps no characters to glyphs.')
    const maxp = tables.get('maxp') as [number, number]
    const glyphCount = (bytes[maxp[0] + 4] << 8) | bytes[maxp[0] + 5]
    const axes = Object.values(face.getAxisInfos()).map((axis) => ({
      tag: axis.tag,
      name: face.getName(axis.nameId, 'en') || axis.tag,
      min: axis.min,
      default: axis.default,
      max: axis.max,
    }))
    const family = face.getName(16, 'en') || face.getName(1, 'en') || 'Unnamed font'
    return new FontFace(hb, face, font, id, family, face.upem, axes, glyphCount, characters)
  }

  /** The same font with axes set; values outside an axis's range are moved to its end, unknown tags are ignored. */
  at(settings: Readonly<Record<string, number>>): FontFace {
    const used = this.axes
      .filter((axis) => Number.isFinite(settings[axis.tag]))
      .map((axis) => ({ tag: axis.tag, value: Math.min(axis.max, Math.max(axis.min, settings[axis.tag])) }))
    if (used.length === 0) return this
    const font = new this.hb.Font(this.face)
    font.setVariations(used.map(({ tag, value }) => new this.hb.Variation(tag, value)))
    const id = `${this.id}?${used.map(({ tag, value }) => `${tag}=${value}`).join('&')}`
    return new FontFace(this.hb, this.face, font, id, this.family, this.unitsPerEm, this.axes, this.glyphCount, this.characters)
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

  /** Distance between baselines as the font wishes it, font units. */
  get lineHeight(): number {
    const { ascender, descender, lineGap } = this.font.hExtents()
    const height = ascender - descender + lineGap
    return height > 0 ? height : 1.2 * this.unitsPerEm
  }

  /** Shapes one run of one direction. Glyphs come in visual order, left to right. */
  shape(text: string, options: ShapeOptions): ShapedGlyph[] {
    const { hb } = this
    const buffer = new hb.Buffer()
    buffer.addText(text)
    buffer.guessSegmentProperties()
    buffer.setDirection(options.rightToLeft ? hb.Direction.RTL : hb.Direction.LTR)
    buffer.setClusterLevel(hb.ClusterLevel.MONOTONE_CHARACTERS)
    hb.shape(
      this.font,
      buffer,
      Object.entries(options.features).map(([tag, value]) => new hb.Feature(tag, value)),
    )
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
  if (tag(0) === 'wOFF' || tag(0) === 'wOF2') return 'The file is a web font (WOFF); only .ttf and .otf are read so far.'
  if (tag(0) === 'ttcf') return 'The file is a collection of fonts; only single fonts are read so far.'
  if (version !== 0x00010000 && tag(0) !== 'OTTO' && tag(0) !== 'true') return 'The file is no TrueType or OpenType font.'
  const count = view.getUint16(4)
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
