import { colord, extend } from 'colord'
import namesPlugin from 'colord/plugins/names'
import type { CssNode, Rule as StyleRule, Selector } from 'css-tree'
import generate from 'css-tree/generator'
import parse from 'css-tree/parser'
import walk from 'css-tree/walker'
import { SaxesParser } from 'saxes'
import { SVGPathData } from 'svg-pathdata'
import { plainName } from '../document/well-formed'
import { loadManifold, manifold, withScope } from '../kernel/manifold'
import { boundCrossings, sidesOfRings } from '../kernel/sides'
import { type Affine, compose, IDENTITY } from '../outline/affine'
import { bordersOf, keyOf } from '../outline/areas'
import { fitPath } from '../outline/fit'
import { flattenPath } from '../outline/flatten'
import { latticeFor } from '../outline/lattice'
import { type Layer, type Outline, outlineBounds, type Region } from '../outline/outline'
import { controlBounds, type Path, PathBuilder, reversePath, toSvgPath, transformPath } from '../outline/path'
import { areSimple, doubleArea, toPairs, winding } from '../outline/polygon'
import { strokeOutlines } from '../outline/stroker'
import { FormatError } from './mesh-data'
import { AT_ONCE, type ReadingWork } from './reading'

extend([namesPlugin])

/** An Outline as SVG in mm, a path for every layer in its colour, exact curves kept; Y is flipped to SVG's downward axis. Throws FormatError when it is empty. */
export function writeSvg(outline: Outline): string {
  const [x0, y0, x1, y1] = outlineBounds(outline)
  if (!(x1 >= x0)) throw new FormatError('The outline is empty: there is nothing to write.', 'Choose a drawing or words that have shapes.')
  const n = (v: number) => String(Number(v.toFixed(4)))
  const width = n(x1 - x0)
  const height = n(y1 - y0)
  const layers = outline.layers.map((layer, i) => {
    const paths = outline.regions.filter((region) => region.layer === i).flatMap((region) => bordersOf(region))
    if (paths.length === 0) return ''
    const paint = layer.colour ? ` fill="${layer.colour}"` : ''
    return `<path id="${escaped(layer.id)}"${paint} fill-rule="nonzero" d="${toSvgPath(paths, 4, true)}"><title>${escaped(layer.name)}</title></path>`
  })
  const strokes = outline.strokes.length > 0 ? `<path fill="none" stroke="#000" stroke-width="0.2" d="${toSvgPath(outline.strokes, 4, true)}"/>` : ''
  return `<svg xmlns="http://www.w3.org/2000/svg" width="${width}mm" height="${height}mm" viewBox="${n(x0)} ${n(-y1)} ${width} ${height}">${layers.join('')}${strokes}</svg>\n`
}

const escaped = (text: string) => text.replace(/[&<>"]/g, (c) => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' })[c] as string)

const MAX_SVG_BYTES = 20 * 1024 * 1024
const MAX_DEPTH = 400
const MAX_ELEMENTS = 200_000
/** elements drawn through `use` */
const MAX_COPIES = 20_000
const MAX_POINTS = 4_000_000
const MAX_LAYERS = 500
const MAX_RULES = 20_000
/** tries of a part of a rule on an element */
const MAX_MATCHES = 20_000_000
const MAX_STYLE_DEPTH = 100
/** mm */
const MAX_REACH = 1e6

interface Element {
  readonly name: string
  readonly attributes: Readonly<Record<string, string>>
  readonly classes: readonly string[]
  readonly children: Element[]
  text: string
}

/** What an SVG file gives: filled areas as layers, and the names of what cannot be geometry and was passed over. */
export interface SvgDrawing {
  readonly outline: Outline
  readonly ignored: readonly string[]
}

/**
 * Reads an SVG drawing (SVG 2): all path commands and basic shapes, nested transforms and viewports, `use` and `symbol`,
 * fill rules, strokes as areas, clip paths, and paint from attributes, styles and style sheets. Elements that follow one
 * another in one group with one colour are one layer. What cannot be geometry is named in `ignored`. Nothing is fetched or
 * run, entities of the file's own are refused. Throws FormatError. `tolerance` is that of strokes and clipped shapes, mm; by
 * itself a four-thousandth of the drawing, at most 0.01 mm. What would take far too long throws TooMuchWork before it is begun.
 */
export async function readSvg(text: string, tolerance?: number, work: ReadingWork = AT_ONCE): Promise<SvgDrawing> {
  await loadManifold()
  if (text.length > MAX_SVG_BYTES) throw new FormatError('The SVG file is larger than 20 MB.', 'Simplify the drawing.')
  const declared = text.search(/<!DOCTYPE/i)
  if (declared >= 0 && text.slice(declared, text.indexOf('>', declared)).includes('['))
    throw new FormatError('The SVG file declares entities of its own, which are not read.', 'Export it as plain SVG.')
  const root = parseXml(text)
  if (root.name !== 'svg') throw new FormatError('The file is no SVG drawing.')
  return new Reader(root, tolerance).read(work)
}

function parseXml(text: string): Element {
  const parser = new SaxesParser({ xmlns: false })
  const top: Element = { name: '', attributes: {}, classes: [], children: [], text: '' }
  const open: Element[] = [top]
  let count = 0
  parser.on('error', (error) => {
    throw new FormatError(`The SVG file is not well-formed: ${error.message.split('\n')[0]}.`, 'Export it again from where it came.')
  })
  parser.on('opentag', (tag) => {
    if (open.length > MAX_DEPTH) throw new FormatError(`The SVG file is nested more than ${MAX_DEPTH} deep.`, 'Ungroup the drawing and export it again.')
    if (++count > MAX_ELEMENTS) throw new FormatError('The SVG file has more than 200,000 elements.', 'Simplify the drawing.')
    const attributes = tag.attributes as Record<string, string>
    const classes = attributes.class?.split(/\s+/).filter(Boolean) ?? []
    const element: Element = { name: tag.name.replace(/^svg:/, ''), attributes, classes, children: [], text: '' }
    open[open.length - 1].children.push(element)
    open.push(element)
  })
  parser.on('closetag', () => void open.pop())
  const addText = (part: string) => {
    const element = open[open.length - 1]
    if (element.name === 'style' || element.name === 'title') element.text += part
  }
  parser.on('text', addText)
  parser.on('cdata', addText)
  parser.write(text).close()
  const [root] = top.children
  if (!root) throw new FormatError('The file is no SVG drawing.')
  return root
}

/** Inherited properties that matter here, with their initial values. */
const INHERITED: Readonly<Record<string, string>> = {
  fill: 'black',
  'fill-rule': 'nonzero',
  'clip-rule': 'nonzero',
  'fill-opacity': '1',
  stroke: 'none',
  'stroke-width': '1',
  'stroke-linecap': 'butt',
  'stroke-linejoin': 'miter',
  'stroke-miterlimit': '4',
  'stroke-dasharray': 'none',
  'stroke-dashoffset': '0',
  'stroke-opacity': '1',
  color: 'black',
  visibility: 'visible',
}
const OWN = ['display', 'opacity', 'clip-path', 'mask', 'filter', 'marker-start', 'marker-mid', 'marker-end']
const PROPERTIES = new Set([...Object.keys(INHERITED), ...OWN, 'transform'])

type Style = Readonly<Record<string, string>>

interface Rule {
  readonly match: (element: Element, ancestors: readonly Element[]) => boolean
  readonly specificity: number
  /** what an element must have for it: “#id”, “.class”, a name, or “*” */
  readonly key: string
  readonly values: Style
}

/** Where an element stands: its map to mm (Y upwards), inherited style, the viewport for percentages, the clip in force. */
interface Frame {
  readonly matrix: Affine
  readonly style: Style
  readonly width: number
  readonly height: number
  readonly clip: readonly Float64Array[] | undefined
  readonly group: string
}

class Reader {
  private readonly byId: Map<string, Element>
  private readonly rules: Rule[]
  private readonly ruleIndex: Map<string, number[]>
  private matches = 0
  private readonly ignored = new Set<string>()
  private readonly layers: { layer: Layer; group: string; regions: Path[][] }[] = []
  private readonly using: string[]
  /** the rings of a clip path by its id and map: many elements are cut by one */
  private readonly clips = new Map<string, readonly Float64Array[]>()
  private readonly shapes = new Map<string, Path[]>()
  private readonly given: boolean
  private tolerance: number
  /** the shapes in their order, each put down when it is called */
  private readonly drawn: (() => void)[] = []
  private visited = 0
  private points = 0

  constructor(
    private readonly root: Element,
    tolerance: number | undefined,
    /** the reader of the drawing that a clip path is part of: its elements, rules and open references are shared */
    whole?: Reader,
  ) {
    this.given = tolerance !== undefined
    this.tolerance = tolerance ?? 0.01
    this.byId = whole?.byId ?? new Map()
    this.rules = whole?.rules ?? []
    this.ruleIndex = whole?.ruleIndex ?? new Map()
    this.using = whole?.using ?? []
    if (whole) return
    this.index(root)
    this.rules.sort((a, b) => a.specificity - b.specificity)
    this.rules.forEach(({ key }, k) => {
      const list = this.ruleIndex.get(key)
      if (list) list.push(k)
      else this.ruleIndex.set(key, [k])
    })
  }

  async read(work: ReadingWork): Promise<SvgDrawing> {
    const frame: Frame = { matrix: [1, 0, 0, -1, 0, 0], style: INHERITED, width: 0, height: 0, clip: undefined, group: '' }
    this.visit(this.root, frame, [])
    for (const [i, draw] of this.drawn.entries()) {
      await work.breathe()
      work.progress(i / this.drawn.length)
      draw()
    }
    const all = this.layers.flatMap((l) => l.regions.flat())
    const box = controlBounds(all)
    const reach = Math.max(...box.map((v) => (Number.isFinite(v) ? Math.abs(v) : 0)))
    const used = this.layers.filter((l) => l.regions.length > 0)
    const regions = used.flatMap(({ regions }, layer): Region[] => {
      const paths = regions.map((members) => ({ letter: -1, paths: members }))
      return [{ key: keyOf('svg', regions.flat()), members: paths, dx: 0, dy: 0, layer }]
    })
    const outline: Outline = { kind: 'outline', regions, strokes: [], letters: [], layers: uniqueLayers(used.map((l) => l.layer)), lattice: latticeFor(reach) }
    return { outline, ignored: [...this.ignored] }
  }

  private index(element: Element): void {
    const { id } = element.attributes
    if (id && !this.byId.has(id)) this.byId.set(id, element)
    if (element.name === 'style') this.readRules(element.text)
    for (const child of element.children) this.index(child)
  }

  private readRules(css: string): void {
    // its reader calls itself for all that is nested
    let [depth, deepest] = [0, 0]
    for (const [bracket] of css.matchAll(/[{}()[\]]/g)) {
      depth = Math.max(0, depth + ('{(['.includes(bracket) ? 1 : -1))
      deepest = Math.max(deepest, depth)
    }
    if (deepest > MAX_STYLE_DEPTH)
      throw new FormatError(`A style sheet in the SVG file is nested more than ${MAX_STYLE_DEPTH} deep.`, 'Export it with its styles as attributes.')
    let tree: CssNode
    try {
      tree = parse(css, { parseValue: false, onParseError: () => this.ignored.add('part of a style sheet') })
    } catch {
      this.ignored.add('a style sheet')
      return
    }
    walk(tree, { visit: 'Rule', enter: (node) => this.readRule(node) })
  }

  private readRule(rule: StyleRule): void {
    const values: Record<string, string> = {}
    walk(rule.block, {
      visit: 'Declaration',
      enter: (node) => {
        if (PROPERTIES.has(node.property)) values[node.property] = generate(node.value).trim()
      },
    })
    if (rule.prelude.type !== 'SelectorList') return
    rule.prelude.children.forEach((selector) => {
      if (selector.type !== 'Selector') return
      const compiled = compileSelector(selector, this.matching)
      if (!compiled) this.ignored.add(`the style rule “${generate(selector).slice(0, 40)}”`)
      else if (this.rules.push({ ...compiled, values }) > MAX_RULES)
        throw new FormatError(`The SVG file has more than ${MAX_RULES.toLocaleString('en')} style rules.`, 'Export it with its styles as attributes.')
    })
  }

  private styleOf(element: Element, inherited: Style, ancestors: readonly Element[]): Style {
    const style: Record<string, string> = {}
    for (const name of Object.keys(INHERITED)) style[name] = inherited[name]
    const set = (name: string, value: string) => {
      const plain = value
        .trim()
        .replace(/!important$/, '')
        .trim()
      if (plain === '') return
      if (plain === 'inherit') style[name] = inherited[name] ?? ''
      else style[name] = plain
    }
    for (const [name, value] of Object.entries(element.attributes)) if (PROPERTIES.has(name) && name !== 'transform') set(name, value)
    for (const k of this.rulesFor(element)) {
      const { match, values } = this.rules[k]
      if (match(element, ancestors)) for (const [name, value] of Object.entries(values)) set(name, value)
    }
    for (const declaration of (element.attributes.style ?? '').split(';')) {
      const colon = declaration.indexOf(':')
      const name = declaration.slice(0, Math.max(0, colon)).trim()
      if (PROPERTIES.has(name)) set(name, declaration.slice(colon + 1))
    }
    return style
  }

  /** Numbers of the rules that may hold for an element, in the order in which they do. */
  private rulesFor({ name, attributes, classes }: Element): number[] {
    if (this.rules.length === 0) return []
    const lists = [`#${attributes.id}`, ...classes.map((c) => `.${c}`), name, '*'].flatMap((key) => this.ruleIndex.get(key) ?? [])
    return lists.length > 1 ? lists.sort((a, b) => a - b) : lists
  }

  private readonly matching = (): void => {
    if (++this.matches > MAX_MATCHES)
      throw new FormatError('The SVG file has too many style rules for so many elements.', 'Export it with its styles as attributes.')
  }

  private visit(element: Element, parent: Frame, ancestors: readonly Element[]): void {
    if (this.using.length > 0 && ++this.visited > MAX_COPIES)
      throw new FormatError('The SVG file repeats its parts more than 20,000 times.', 'Expand the copies that are needed and export it again.')
    if (ancestors.length > MAX_DEPTH) throw new FormatError(`The SVG file is nested more than ${MAX_DEPTH} deep.`, 'Ungroup the drawing and export it again.')
    const { name, attributes: a } = element
    // what belongs to another vocabulary is a note of the program that wrote the file
    if (PASSED.has(name) || name.includes(':')) return
    const named = NAMED.get(name)
    if (named) {
      this.ignored.add(named)
      return
    }
    const style = this.styleOf(element, parent.style, ancestors)
    if (style.display === 'none') return
    const transform = style.transform ?? a.transform
    let frame: Frame = {
      ...parent,
      style,
      matrix: transform ? compose(parent.matrix, parseTransform(transform)) : parent.matrix,
      group: name === 'g' ? labelOf(element, a.id ?? parent.group) : parent.group,
    }
    frame = this.clipped(style, frame, ancestors)
    for (const [
      property,
      what,
    ] of [['mask', 'a mask'], ['filter', 'a filter'], ['marker-start', 'markers'], ['marker-mid', 'markers'], ['marker-end', 'markers']]) // biome-ignore format: a table
      if (style[property] && style[property] !== 'none') this.ignored.add(what)
    if (Number(style.opacity) === 0) return
    if (Number(style.opacity) < 1) this.ignored.add('transparency (taken as solid)')
    const inside = [...ancestors, element]
    switch (name) {
      case 'svg':
        frame = this.viewport(element, frame, ancestors.length === 0)
        break
      case 'use':
        this.visitUse(element, frame, inside)
        return
      case 'switch': {
        const [first] = element.children.filter((c) => !c.attributes.systemLanguage && !NAMED.has(c.name))
        if (first) this.visit(first, frame, inside)
        return
      }
    }
    const data = shapeData(name, a, (value, axis) => this.length(value, axis, frame))
    if (data !== undefined) this.drawn.push(() => this.addShape(element, data, frame))
    else if (CONTAINERS.has(name)) for (const child of element.children) this.visit(child, frame, inside)
    else this.ignored.add(`“${name.slice(0, 30)}”`)
  }

  private visitUse(element: Element, frame: Frame, ancestors: readonly Element[]): void {
    const a = element.attributes
    const href = (a.href ?? a['xlink:href'] ?? '').trim()
    if (!href.startsWith('#')) {
      this.ignored.add('a part of another file (not fetched)')
      return
    }
    const id = href.slice(1)
    const target = this.byId.get(id)
    if (!target) {
      this.ignored.add(`a copy of “${id.slice(0, 30)}”, which is not in the file`)
      return
    }
    if (this.using.includes(id) || ancestors.includes(target)) {
      this.ignored.add(`“${id.slice(0, 30)}”, which contains itself`)
      return
    }
    const moved: Frame = { ...frame, matrix: compose(frame.matrix, [1, 0, 0, 1, this.length(a.x, 'x', frame), this.length(a.y, 'y', frame)]) }
    this.using.push(id)
    if (target.name === 'symbol') {
      const sized: Element = {
        ...target,
        name: 'svg',
        attributes: { ...target.attributes, x: '0', y: '0', width: a.width ?? '100%', height: a.height ?? '100%' },
      }
      this.visit(sized, moved, ancestors)
    } else this.visit(target, moved, ancestors)
    this.using.pop()
  }

  /** A length in user units; percentages of the viewport. NaN where it cannot be read. */
  private length(value: string | undefined, axis: 'x' | 'y' | 'both', frame: Frame): number {
    if (value === undefined || value.trim() === '') return 0
    const match = /^\s*([-+]?(?:\d+\.?\d*|\.\d+)(?:[eE][-+]?\d+)?)\s*(mm|cm|in|pt|pc|px|q|em|ex|%|)\s*$/i.exec(value)
    if (!match) return Number.NaN
    const unit = match[2].toLowerCase()
    const whole = axis === 'x' ? frame.width : axis === 'y' ? frame.height : Math.hypot(frame.width, frame.height) / Math.SQRT2
    return Number(match[1]) * (unit === '%' ? whole / 100 : unit === 'em' ? 16 : unit === 'ex' ? 8 : (UNIT_PX.get(unit) ?? 1))
  }

  private viewport(element: Element, frame: Frame, outermost: boolean): Frame {
    const a = element.attributes
    const box = (a.viewBox ?? '')
      .trim()
      .split(/[\s,]+/)
      .map(Number)
    const boxed = box.length === 4 && box.every((v) => Number.isFinite(v)) && box[2] > 0 && box[3] > 0
    const relative = (value: string | undefined) => value === undefined || value.trim().endsWith('%')
    let [width, height] = [this.length(a.width, 'x', frame), this.length(a.height, 'y', frame)]
    // the outermost drawing has the size it states; without one, a unit of its box is a CSS pixel
    if (outermost && relative(a.width)) width = boxed ? (relative(a.height) ? box[2] : (height * box[2]) / box[3]) : 300
    if (outermost && relative(a.height)) height = boxed ? (relative(a.width) ? box[3] : (width * box[3]) / box[2]) : 150
    if (!outermost && a.width === undefined) width = frame.width
    if (!outermost && a.height === undefined) height = frame.height
    const mm = outermost ? 25.4 / 96 : 1
    if (outermost && !this.given) this.tolerance = Math.min(0.01, Math.max(0.0005, (Math.max(width, height) * mm) / 4000) || 0.01)
    let matrix = compose(frame.matrix, [mm, 0, 0, mm, 0, 0])
    if (!outermost) matrix = compose(matrix, [1, 0, 0, 1, this.length(a.x, 'x', frame), this.length(a.y, 'y', frame)])
    if (!boxed) return { ...frame, matrix, width, height }
    if (!(width > 0 && height > 0)) return { ...frame, matrix: compose(matrix, [0, 0, 0, 0, 0, 0]), width: box[2], height: box[3] }
    const [align = 'xMidYMid', mode = 'meet'] = (a.preserveAspectRatio ?? '').trim().split(/\s+/).filter(Boolean)
    let [sx, sy] = [width / box[2], height / box[3]]
    if (align !== 'none') sx = sy = mode === 'slice' ? Math.max(sx, sy) : Math.min(sx, sy)
    const share = (text: string) => (text.includes('Min') ? 0 : text.includes('Max') ? 1 : 0.5)
    const [dx, dy] = align === 'none' ? [0, 0] : [(width - box[2] * sx) * share(align.slice(0, 4)), (height - box[3] * sy) * share(align.slice(4))]
    return { ...frame, matrix: compose(matrix, [sx, 0, 0, sy, dx - box[0] * sx, dy - box[1] * sy]), width: box[2], height: box[3] }
  }

  /** The frame with the element's clip path added to the clip in force. */
  private clipped(style: Style, frame: Frame, ancestors: readonly Element[]): Frame {
    const reference = /^url\(\s*['"]?#([^'")]+)['"]?\s*\)/.exec(style['clip-path'] ?? '')
    if (!reference) return frame
    const id = reference[1]
    const target = this.byId.get(id)
    if (!target || target.name !== 'clipPath' || this.using.includes(id)) return frame
    if (target.attributes.clipPathUnits === 'objectBoundingBox') {
      this.ignored.add('a clip path measured by its object')
      return frame
    }
    const matrix = target.attributes.transform ? compose(frame.matrix, parseTransform(target.attributes.transform)) : frame.matrix
    const key = [id, ...matrix, frame.width, frame.height].join(' ')
    let own = this.clips.get(key)
    if (!own) this.clips.set(key, (own = this.clipRingsOf(target, id, { ...frame, style: INHERITED, matrix, clip: undefined }, ancestors)))
    return { ...frame, clip: frame.clip ? intersectRings(frame.clip, own) : own }
  }

  /** The area of a clip path, by its children's clip rules. */
  private clipRingsOf(target: Element, id: string, frame: Frame, ancestors: readonly Element[]): Float64Array[] {
    this.using.push(id)
    const rings: Float64Array[] = []
    const inner = new Reader(this.root, this.tolerance, this)
    inner.visited = this.visited
    for (const child of target.children) {
      if (!['use', 'path', 'rect', 'circle', 'ellipse', 'polygon', 'polyline', 'text'].includes(child.name)) continue
      // inside a clip path only the area counts, by its clip rule
      const clipRule = child.attributes['clip-rule'] ?? 'nonzero'
      inner.visit({ ...child, attributes: { ...child.attributes, fill: 'black', stroke: 'none', 'fill-rule': clipRule } }, frame, ancestors)
    }
    for (const draw of inner.drawn) draw()
    this.visited = inner.visited
    this.using.pop()
    for (const what of inner.ignored) this.ignored.add(what)
    for (const { regions } of inner.layers)
      for (const paths of regions) for (const path of paths) rings.push(flattenPath(path, { tolerance: this.tolerance / 4, maxTurn: 6 }).xy)
    return unionRings(rings)
  }

  private addShape(element: Element, data: ShapeData, frame: Frame): void {
    const { style } = frame
    if (style.visibility === 'hidden' || style.visibility === 'collapse') return
    let local: Path[]
    try {
      // a shape that is used often is read once
      local = this.shapes.get(data.d) ?? readPathData(data.d)
      this.shapes.set(data.d, local)
    } catch {
      this.ignored.add('a path that cannot be read')
      return
    }
    for (const path of local) this.points += path.verbs.length
    if (this.points > MAX_POINTS) throw new FormatError('The SVG file has more than four million curve segments.', 'Simplify the drawing.')
    for (const path of local) {
      const { coords } = transformPath(path, frame.matrix)
      if (coords.some((v) => !(Math.abs(v) < MAX_REACH)))
        throw new FormatError(`The SVG file places shapes ${farOff(coords)} away, beyond a kilometre.`, 'Check its units and transforms.')
    }
    const fill = this.paint(style.fill, style, 'fill')
    if (fill && Number(style['fill-opacity']) !== 0) {
      const areas = local.filter((path) => path.verbs.length > 1 || path.closed).map((path) => ({ ...path, closed: true }))
      this.addArea(
        element,
        fill,
        fillPaths(
          areas.map((path) => transformPath(path, frame.matrix)),
          style['fill-rule'],
          this.tolerance,
        ),
        frame,
      )
    }
    const stroke = this.paint(style.stroke, style, 'stroke')
    const width = this.length(style['stroke-width'], 'both', frame)
    if (!stroke || !(width > 0) || Number(style['stroke-opacity']) === 0) return
    const scale = Math.sqrt(Math.abs(frame.matrix[0] * frame.matrix[3] - frame.matrix[1] * frame.matrix[2])) || 1
    const dashes = style['stroke-dasharray'] === 'none' ? [] : style['stroke-dasharray'].split(/[\s,]+/).map((v) => this.length(v, 'both', frame))
    const outlines = strokeOutlines(
      local,
      {
        width,
        cap: oneOf(['round', 'square'], style['stroke-linecap']) ?? 'flat',
        join: oneOf(['round', 'bevel'], style['stroke-linejoin']) ?? 'mitre',
        mitreLimit: Number(style['stroke-miterlimit']) || 4,
        dashes: dashes.every((d) => d >= 0) ? dashes : [],
        dashOffset: this.length(style['stroke-dashoffset'], 'both', frame),
      },
      this.tolerance / scale,
    )
    this.addArea(
      element,
      stroke,
      outlines.map((path) => transformPath(path, frame.matrix)),
      frame,
    )
  }

  /** A paint as "#rrggbb"; undefined for none. What is no plain colour is named and taken as its nearest plain one. */
  private paint(value: string, style: Style, what: string): string | undefined {
    let plain = value.trim()
    const server = /^url\([^)]*\)\s*(.*)$/.exec(plain)
    if (server) {
      const id = /#([^'")]+)/.exec(plain)?.[1] ?? ''
      const target = this.byId.get(id)
      this.ignored.add(target?.name === 'pattern' ? `a pattern (taken as one colour)` : `a gradient (taken as one colour)`)
      plain = server[1] || (target && this.stopColour(target)) || (target ? '#808080' : what === 'stroke' ? 'none' : 'black')
    }
    if (plain === 'none' || plain === 'transparent') return undefined
    if (/^currentcolor$/i.test(plain)) plain = style.color
    const colour = colord(plain)
    if (!colour.isValid()) return what === 'fill' ? '#000000' : undefined
    if (colour.alpha() === 0) return undefined
    return colour.alpha(1).toHex()
  }

  private stopColour(gradient: Element, depth = 0): string | undefined {
    const stop = gradient.children.find((c) => c.name === 'stop')
    if (stop)
      return (
        this.styleOf(stop, INHERITED, [])['stop-color'] ?? stop.attributes['stop-color'] ?? /stop-color\s*:\s*([^;]+)/.exec(stop.attributes.style ?? '')?.[1]
      )
    const href = (gradient.attributes.href ?? gradient.attributes['xlink:href'] ?? '').replace(/^#/, '')
    const next = this.byId.get(href)
    return next && depth < 8 ? this.stopColour(next, depth + 1) : undefined
  }

  private addArea(element: Element, colour: string, paths: Path[], frame: Frame): void {
    const visible = frame.clip ? clipPaths(paths, frame.clip, this.tolerance) : paths
    if (visible.length === 0) return
    const last = this.layers.at(-1)
    const full = this.layers.length >= MAX_LAYERS
    const known = last?.layer.colour === colour && last.group === frame.group ? last : full ? this.layers.findLast((l) => l.layer.colour === colour) : undefined
    if (known) {
      known.regions.push(visible)
      return
    }
    if (full) throw new FormatError(`The SVG file has more than ${MAX_LAYERS} layers or colours.`, 'Group what belongs together, or use fewer colours.')
    const name = labelOf(element, element.attributes.id ?? frame.group) || `${colour}`
    this.layers.push({ layer: { id: name, name, colour }, group: frame.group, regions: [visible] })
  }
}

const oneOf = <T extends string>(list: readonly T[], value: string): T | undefined => list.find((known) => known === value)

const farOff = (coords: Float64Array) => {
  const most = coords.reduce((far, v) => Math.max(far, Number.isNaN(v) ? Infinity : Math.abs(v)), 0)
  return Number.isFinite(most) ? `${Math.round(most / 1e6).toLocaleString('en')} km` : 'endlessly far'
}

/** Elements with nothing to draw by themselves. */
const PASSED = new Set('defs symbol clipPath mask pattern linearGradient radialGradient marker filter title desc metadata style'.split(' '))
const CONTAINERS = new Set(['svg', 'g', 'a', 'switch'])
/** What is named rather than dropped in silence. */
const NAMED: ReadonlyMap<string, string> = new Map(
  Object.entries({
    text: 'text (set it as Lettering, or turn it into outlines first)',
    image: 'a picture',
    foreignObject: 'foreign content',
    script: 'a script (not run)',
    animate: 'an animation',
    animateTransform: 'an animation',
    animateMotion: 'an animation',
    set: 'an animation',
    audio: 'sound',
    video: 'a film',
    iframe: 'foreign content',
  }),
)

const labelOf = (element: Element, otherwise: string): string =>
  plainName(
    Object.entries(element.attributes).find(([name]) => name.endsWith(':label'))?.[1] ??
      element.attributes['data-name'] ??
      element.children.find((c) => c.name === 'title')?.text.trim() ??
      otherwise,
    80,
  ) || plainName(otherwise, 80)

function uniqueLayers(layers: readonly Layer[]): Layer[] {
  const taken = new Set<string>()
  // where to go on counting for a name
  const next = new Map<string, number>()
  return layers.map((layer) => {
    let id = layer.id
    let k = next.get(layer.id) ?? 2
    for (; taken.has(id); k++) id = `${layer.id} ${k}`
    next.set(layer.id, k)
    taken.add(id)
    return { ...layer, id, name: id }
  })
}

/** A matcher for a selector made of types, ids, classes and the two ancestor combinators; undefined for others. `count` is called at every try. */
function compileSelector(selector: Selector, count: () => void): Pick<Rule, 'match' | 'specificity' | 'key'> | undefined {
  const compounds: { tests: ((e: Element) => boolean)[]; child: boolean; key?: string; type?: string }[] = [{ tests: [], child: false }]
  let specificity = 0
  let known = true
  selector.children.forEach((node) => {
    const last = compounds[compounds.length - 1]
    switch (node.type) {
      case 'TypeSelector':
        if (node.name === '*') last.tests.push(() => true)
        else {
          specificity += 1
          last.tests.push((e) => e.name === node.name)
          last.type = node.name
        }
        break
      case 'ClassSelector':
        specificity += 1000
        last.tests.push((e) => e.classes.includes(node.name))
        last.key ??= `.${node.name}`
        break
      case 'IdSelector':
        specificity += 1_000_000
        last.tests.push((e) => e.attributes.id === node.name)
        last.key = `#${node.name}`
        break
      case 'Combinator':
        if (node.name !== ' ' && node.name !== '>') known = false
        compounds.push({ tests: [], child: node.name === '>' })
        break
      default:
        known = false
    }
  })
  if (!known) return undefined
  const fits = (e: Element, k: number) => {
    count()
    return compounds[k].tests.every((test) => test(e))
  }
  const match = (element: Element, ancestors: readonly Element[]): boolean => {
    if (!fits(element, compounds.length - 1)) return false
    let at = ancestors.length - 1
    for (let k = compounds.length - 2; k >= 0; k--) {
      if (compounds[k + 1].child) {
        if (at < 0 || !fits(ancestors[at], k)) return false
        at--
        continue
      }
      while (at >= 0 && !fits(ancestors[at], k)) at--
      if (at < 0) return false
      at--
    }
    return true
  }
  const { key, type } = compounds[compounds.length - 1]
  return { match, specificity, key: key ?? type ?? '*' }
}

const unionRings = (rings: readonly Float64Array[]): Float64Array[] => clipRings(rings, undefined)
const intersectRings = (a: readonly Float64Array[], b: readonly Float64Array[]): Float64Array[] => clipRings(a, b)

function clipRings(a: readonly Float64Array[], b: readonly Float64Array[] | undefined): Float64Array[] {
  const { CrossSection } = manifold()
  const [first, second] = [a, b].map((rings) => rings?.filter((ring) => ring.length >= 6))
  if (!first?.length || (b && !second?.length)) return []
  if (second) boundCrossings(sidesOfRings([...first, ...second]))
  return withScope((own) => {
    const section = own(new CrossSection(first.map(toPairs), 'NonZero'))
    const result = second ? own(section.intersect(own(new CrossSection(second.map(toPairs), 'NonZero')))) : section
    return result.toPolygons().map((ring) => Float64Array.from(ring.flat()))
  })
}

/** Paths cut to a clip; what lies wholly within keeps its exact curves. */
function clipPaths(paths: Path[], clip: readonly Float64Array[], tolerance: number): Path[] {
  const [x0, y0, x1, y1] = controlBounds(paths)
  // a rectangle that holds all of it cuts nothing
  const rectangle = clip.length === 1 && clip[0].length === 8 ? clip[0] : undefined
  if (rectangle) {
    const [xs, ys] = [0, 1].map((k) => [0, 2, 4, 6].map((i) => rectangle[i + k]))
    const upright = new Set(xs.map((v) => v.toFixed(6))).size === 2 && new Set(ys.map((v) => v.toFixed(6))).size === 2
    if (upright && Math.min(...xs) <= x0 + 1e-6 && Math.max(...xs) >= x1 - 1e-6 && Math.min(...ys) <= y0 + 1e-6 && Math.max(...ys) >= y1 - 1e-6) return paths
  }
  const rings = paths.map((path) => flattenPath(path, { tolerance: tolerance / 4, maxTurn: 6 }).xy)
  return clipRings(rings, clip).map((ring) => fitPath(ring, true, { tolerance, corner: 14 }))
}

/**
 * Closed paths of the area that the given ones have by a fill rule, outer ones counter-clockwise and holes clockwise, so
 * that areas can be put together. Turned round or left out where that is enough, which keeps the exact curves; cut anew
 * where they cross.
 */
function fillPaths(paths: Path[], rule: string, tolerance: number): Path[] {
  const flat = paths.map((path) => ({ path, xy: flattenPath(path, { tolerance: tolerance / 4, maxTurn: 6 }).xy })).filter(({ xy }) => xy.length >= 6)
  if (flat.length === 0) return []
  const turns = flat.map(({ xy }) => Math.sign(doubleArea(xy)))
  if (rule !== 'evenodd' && turns.every((t) => t === turns[0])) return flat.map(({ path }) => (turns[0] < 0 ? reversePath(path) : path))
  return connectedGroups(flat.map(({ path }) => controlBounds([path]))).flatMap((group) =>
    fillGroup(
      group.map((i) => flat[i]),
      rule,
      tolerance,
    ),
  )
}

/** Rings that lie in or across one another, by their boxes. */
function connectedGroups(boxes: readonly (readonly number[])[]): number[][] {
  const order = boxes.map((_, i) => i).sort((i, j) => boxes[i][0] - boxes[j][0])
  const parent = boxes.map((_, i) => i)
  const find = (i: number): number => (parent[i] === i ? i : (parent[i] = find(parent[i])))
  let active: number[] = []
  for (const i of order) {
    active = active.filter((j) => boxes[j][2] >= boxes[i][0])
    for (const j of active) if (boxes[j][1] <= boxes[i][3] && boxes[i][1] <= boxes[j][3]) parent[find(i)] = find(j)
    active.push(i)
  }
  const groups = new Map<number, number[]>()
  boxes.forEach((_, i) => {
    const group = groups.get(find(i))
    if (group) group.push(i)
    else groups.set(find(i), [i])
  })
  return [...groups.values()]
}

function fillGroup(flat: readonly { path: Path; xy: Float64Array }[], rule: string, tolerance: number): Path[] {
  const turns = flat.map(({ xy }) => Math.sign(doubleArea(xy)))
  if (areSimple(flat.map(({ xy }) => xy))) {
    const filled = (wind: number) => (rule === 'evenodd' ? wind % 2 !== 0 : wind !== 0)
    return flat.flatMap(({ path, xy }, i) => {
      const around = winding(
        flat.filter((_, k) => k !== i),
        xy[0],
        xy[1],
      )
      const [within, without] = [filled(around + turns[i]), filled(around)]
      if (within === without) return []
      return turns[i] > 0 === within ? [path] : [reversePath(path)]
    })
  }
  const { CrossSection } = manifold()
  return withScope((own) =>
    own(
      new CrossSection(
        flat.map(({ xy }) => toPairs(xy)),
        rule === 'evenodd' ? 'EvenOdd' : 'NonZero',
      ),
    )
      .toPolygons()
      .map((ring) => fitPath(Float64Array.from(ring.flat()), true, { tolerance, corner: 14 })),
  )
}

/** CSS pixels of absolute units. */
const UNIT_PX: ReadonlyMap<string, number> = new Map(Object.entries({ mm: 96 / 25.4, cm: 96 / 2.54, in: 96, pt: 96 / 72, pc: 16, px: 1, q: 96 / 101.6 }))

function parseTransform(text: string): Affine {
  let m: Affine = IDENTITY
  for (const [, name, list] of text.matchAll(/(matrix|translate|scale|rotate|skewX|skewY)\s*\(([^()]*)\)/g)) {
    const v = list
      .trim()
      .split(/[\s,]+/)
      .map((part) => Number.parseFloat(part))
    const rad = ((v[0] ?? 0) * Math.PI) / 180
    const [cos, sin] = [Math.cos(rad), Math.sin(rad)]
    const [cx, cy] = [v[1] ?? 0, v[2] ?? 0]
    const maps: Record<string, Affine> = {
      matrix: [v[0], v[1], v[2], v[3], v[4], v[5]],
      translate: [1, 0, 0, 1, v[0], v[1] ?? 0],
      scale: [v[0], 0, 0, v[1] ?? v[0], 0, 0],
      rotate: [cos, sin, -sin, cos, cx - cos * cx + sin * cy, cy - sin * cx - cos * cy],
      skewX: [1, 0, Math.tan(rad), 1, 0, 0],
      skewY: [1, Math.tan(rad), 0, 1, 0, 0],
    }
    m = compose(m, maps[name])
  }
  return m
}

interface ShapeData {
  readonly d: string
}

/** Path data of a shape (SVG 2, chapter 10), undefined for other elements. */
function shapeData(
  name: string,
  a: Readonly<Record<string, string>>,
  length: (value: string | undefined, axis: 'x' | 'y' | 'both') => number,
): ShapeData | undefined {
  const x = (key: string) => length(a[key], 'x')
  const y = (key: string) => length(a[key], 'y')
  const ellipse = (cx: number, cy: number, rx: number, ry: number) =>
    rx > 0 && ry > 0 ? `M${cx + rx} ${cy}A${rx} ${ry} 0 0 1 ${cx - rx} ${cy}A${rx} ${ry} 0 0 1 ${cx + rx} ${cy}Z` : ''
  switch (name) {
    case 'path':
      return { d: a.d ?? '' }
    case 'rect': {
      const [left, top, w, h] = [x('x'), y('y'), x('width'), y('height')]
      const auto = (key: string) => a[key] === undefined || a[key].trim() === 'auto'
      const rx = Math.min(w / 2, auto('rx') ? (auto('ry') ? 0 : y('ry')) : x('rx'))
      const ry = Math.min(h / 2, auto('ry') ? (auto('rx') ? 0 : x('rx')) : y('ry'))
      if (!(w > 0 && h > 0)) return { d: '' }
      if (!(rx > 0 && ry > 0)) return { d: `M${left} ${top}h${w}v${h}h${-w}Z` }
      const arc = (dx: number, dy: number) => `a${rx} ${ry} 0 0 1 ${dx} ${dy}`
      return { d: `M${left + rx} ${top}h${w - 2 * rx}${arc(rx, ry)}v${h - 2 * ry}${arc(-rx, ry)}h${2 * rx - w}${arc(-rx, -ry)}v${2 * ry - h}${arc(rx, -ry)}Z` }
    }
    case 'circle':
      return { d: ellipse(x('cx'), y('cy'), length(a.r, 'both'), length(a.r, 'both')) }
    case 'ellipse':
      return { d: ellipse(x('cx'), y('cy'), x('rx'), y('ry')) }
    case 'line':
      return { d: `M${x('x1')} ${y('y1')}L${x('x2')} ${y('y2')}` }
    case 'polyline':
      return { d: a.points?.trim() ? `M${a.points}` : '' }
    case 'polygon':
      return { d: a.points?.trim() ? `M${a.points}Z` : '' }
    default:
      return undefined
  }
}

function readPathData(d: string): Path[] {
  if (d.trim() === '') return []
  const { commands } = new SVGPathData(d).toAbs().normalizeHVZ(false).normalizeST().aToC()
  const out: Path[] = []
  let path: PathBuilder | undefined
  let start: [number, number] = [0, 0]
  // a line of no length is a dot once it is stroked; a mere move is nothing
  let drew = false
  const end = (closed: boolean) => {
    if (path && (drew || closed)) out.push(path.build(closed))
    path = undefined
    drew = false
  }
  for (const c of commands) {
    if (c.type === SVGPathData.MOVE_TO) {
      end(false)
      path = new PathBuilder(c.x, c.y)
      start = [c.x, c.y]
    } else if (c.type === SVGPathData.CLOSE_PATH) end(true)
    else {
      path ??= new PathBuilder(...start)
      drew = true
      if (c.type === SVGPathData.LINE_TO) path.lineTo(c.x, c.y)
      else if (c.type === SVGPathData.QUAD_TO) path.quadraticTo(c.x1, c.y1, c.x, c.y)
      else if (c.type === SVGPathData.CURVE_TO) path.cubicTo(c.x1, c.y1, c.x2, c.y2, c.x, c.y)
    }
  }
  end(false)
  return out
}
