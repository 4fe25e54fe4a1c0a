import { SaxesParser } from 'saxes'
import { SVGPathData } from 'svg-pathdata'
import { type Affine, compose, IDENTITY } from '../outline/affine'
import { latticeFor } from '../outline/lattice'
import type { Outline } from '../outline/outline'
import { outlineBounds, placedPaths } from '../outline/outline'
import { controlBounds, type Path, PathBuilder, toSvgPath, transformPath } from '../outline/path'
import { FormatError } from './mesh-data'

/** An Outline as SVG in mm, exact curves kept, even where letters overlap; Y is flipped to SVG's downward axis. */
export function writeSvg(outline: Outline): string {
  const [x0, y0, x1, y1] = outlineBounds(outline)
  const n = (v: number) => String(Number(v.toFixed(4)))
  const width = n(x1 - x0)
  const height = n(y1 - y0)
  const d = toSvgPath(placedPaths(outline), 4, true)
  const strokes = outline.strokes.length > 0 ? `<path fill="none" stroke="#000" stroke-width="0.2" d="${toSvgPath(outline.strokes, 4, true)}"/>` : ''
  return `<svg xmlns="http://www.w3.org/2000/svg" width="${width}mm" height="${height}mm" viewBox="${n(x0)} ${n(-y1)} ${width} ${height}"><path fill-rule="nonzero" d="${d}"/>${strokes}</svg>\n`
}

const MAX_SVG_BYTES = 20 * 1024 * 1024

/**
 * Filled shapes of an SVG as an Outline: paths, basic shapes, nested transforms, groups, viewBox and physical units.
 * `ignored` names elements that were passed over. Throws FormatError; never fetches anything, knows no entities but XML's.
 */
export function readSvg(text: string): { outline: Outline; ignored: string[] } {
  if (text.length > MAX_SVG_BYTES) throw new FormatError('The SVG file is larger than 20 MB.', 'Simplify the drawing.')
  if (/<!DOCTYPE[^>]*\[/i.test(text)) throw new FormatError('The SVG file declares entities of its own, which are not read.', 'Export it as plain SVG.')
  const paths: Path[] = []
  const ignored = new Set<string>()
  const frames: { matrix: Affine; hidden: boolean }[] = [{ matrix: [1, 0, 0, -1, 0, 0], hidden: false }]
  let sawSvg = false
  const parser = new SaxesParser({ xmlns: false })
  parser.on('error', (error) => {
    throw new FormatError(`The SVG file is not well-formed: ${error.message.split('\n')[0]}.`)
  })
  parser.on('opentag', (tag) => {
    if (frames.length > 10_000) throw new FormatError('The SVG file is nested too deeply.')
    const name = tag.name.replace(/^svg:/, '')
    const a = tag.attributes as Record<string, string>
    const parent = frames[frames.length - 1]
    let matrix = parent.matrix
    if (name === 'svg') {
      matrix = compose(matrix, viewportMatrix(a))
      sawSvg = true
    }
    if (a.transform) matrix = compose(matrix, parseTransform(a.transform))
    const hidden =
      parent.hidden || ['defs', 'symbol', 'clipPath', 'mask', 'pattern'].includes(name) || /display\s*:\s*none/.test(a.style ?? '') || a.display === 'none'
    frames.push({ matrix, hidden })
    if (hidden) return
    const d = shapeData(name, a)
    if (d !== undefined) {
      if (a.fill === 'none' || /fill\s*:\s*none/.test(a.style ?? '')) ignored.add(`${name} without a fill`)
      else paths.push(...readPathData(d).map((path) => transformPath(path, matrix)))
    } else if (!['svg', 'g', 'title', 'desc', 'metadata', 'style', 'a'].includes(name)) ignored.add(name)
  })
  parser.on('closetag', () => {
    frames.pop()
  })
  parser.write(text).close()
  if (!sawSvg) throw new FormatError('The file is no SVG drawing.')
  if (paths.some((p) => p.coords.some((v) => !Number.isFinite(v) || Math.abs(v) > 1e6)))
    throw new FormatError('The SVG file places shapes beyond a kilometre.', 'Check its units and transforms.')
  const box = controlBounds(paths)
  const outline: Outline = {
    kind: 'outline',
    regions: paths.length > 0 ? [{ key: `svg:${toSvgPath(paths)}`, members: [{ letter: -1, paths }], dx: 0, dy: 0, layer: 0 }] : [],
    strokes: [],
    letters: [],
    layers: ['Drawing'],
    lattice: latticeFor(Math.max(...box.map((v) => Math.abs(Number.isFinite(v) ? v : 0)))),
  }
  return { outline, ignored: [...ignored] }
}

const UNIT_MM: Record<string, number> = { mm: 1, cm: 10, in: 25.4, pt: 25.4 / 72, pc: 25.4 / 6, px: 25.4 / 96, '': 25.4 / 96 }

function lengthMm(value: string | undefined): number | undefined {
  const match = /^\s*([-+\d.eE]+)\s*(mm|cm|in|pt|pc|px|)\s*$/.exec(value ?? '')
  return match ? Number(match[1]) * UNIT_MM[match[2]] : undefined
}

function viewportMatrix(a: Record<string, string>): Affine {
  const box = (a.viewBox ?? '')
    .trim()
    .split(/[\s,]+/)
    .map(Number)
  const width = lengthMm(a.width)
  const height = lengthMm(a.height)
  if (box.length !== 4 || box.some((v) => !Number.isFinite(v)) || box[2] <= 0 || box[3] <= 0) return [UNIT_MM.px, 0, 0, UNIT_MM.px, 0, 0]
  const scale = Math.min(width ? width / box[2] : Infinity, height ? height / box[3] : Infinity)
  const s = Number.isFinite(scale) ? scale : UNIT_MM.px
  return [s, 0, 0, s, 0, 0]
}

function parseTransform(text: string): Affine {
  let m: Affine = IDENTITY
  for (const [, name, list] of text.matchAll(/(matrix|translate|scale|rotate|skewX|skewY)\s*\(([^)]*)\)/g)) {
    const v = list
      .trim()
      .split(/[\s,]+/)
      .map(Number)
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

/** Path data of a basic shape (SVG 2, chapter 10), undefined for other elements. */
function shapeData(name: string, a: Record<string, string>): string | undefined {
  const n = (key: string) => Number.parseFloat(a[key] ?? '0') || 0
  const ellipse = (cx: number, cy: number, rx: number, ry: number) =>
    rx > 0 && ry > 0 ? `M${cx - rx} ${cy}A${rx} ${ry} 0 0 1 ${cx + rx} ${cy}A${rx} ${ry} 0 0 1 ${cx - rx} ${cy}Z` : ''
  switch (name) {
    case 'path':
      return a.d ?? ''
    case 'rect': {
      const [x, y, w, h] = [n('x'), n('y'), n('width'), n('height')]
      const rx = Math.min(w / 2, a.rx === undefined ? n('ry') : n('rx'))
      const ry = Math.min(h / 2, a.ry === undefined ? n('rx') : n('ry'))
      if (w <= 0 || h <= 0) return ''
      if (rx <= 0 || ry <= 0) return `M${x} ${y}h${w}v${h}h${-w}Z`
      const arc = (dx: number, dy: number) => `a${rx} ${ry} 0 0 1 ${dx} ${dy}`
      return `M${x + rx} ${y}h${w - 2 * rx}${arc(rx, ry)}v${h - 2 * ry}${arc(-rx, ry)}h${2 * rx - w}${arc(-rx, -ry)}v${2 * ry - h}${arc(rx, -ry)}Z`
    }
    case 'circle':
      return ellipse(n('cx'), n('cy'), n('r'), n('r'))
    case 'ellipse':
      return ellipse(n('cx'), n('cy'), n('rx'), n('ry'))
    case 'polygon':
      return a.points ? `M${a.points}Z` : ''
    default:
      return undefined
  }
}

function readPathData(d: string): Path[] {
  if (d.trim() === '') return []
  let commands: SVGPathData['commands']
  try {
    commands = new SVGPathData(d).toAbs().normalizeHVZ(false).normalizeST().aToC().commands
  } catch {
    throw new FormatError('The SVG file holds a path that cannot be read.')
  }
  const out: Path[] = []
  let path: PathBuilder | undefined
  let start: [number, number] = [0, 0]
  const end = () => {
    if (path && path.segments > 0) out.push(path.build(true))
    path = undefined
  }
  for (const c of commands) {
    if (c.type === SVGPathData.MOVE_TO) {
      end()
      path = new PathBuilder(c.x, c.y)
      start = [c.x, c.y]
    } else if (c.type === SVGPathData.CLOSE_PATH) end()
    else {
      path ??= new PathBuilder(...start)
      if (c.type === SVGPathData.LINE_TO) path.lineTo(c.x, c.y)
      else if (c.type === SVGPathData.QUAD_TO) path.quadraticTo(c.x1, c.y1, c.x, c.y)
      else if (c.type === SVGPathData.CURVE_TO) path.cubicTo(c.x1, c.y1, c.x2, c.y2, c.x, c.y)
    }
  }
  end()
  return out
}
