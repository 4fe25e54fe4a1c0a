import { loadManifold } from '../../../kernel/manifold'
import { connectedShapes, curveBounds, fitRings, offsetRings, regionFrom, regionRings } from '../../../outline/areas'
import { unitePaths } from '../../../outline/clip'
import { latticeFor } from '../../../outline/lattice'
import { type Outline, outlineBounds, placedPaths } from '../../../outline/outline'
import { type Path, pathArea, PathBuilder } from '../../../outline/path'
import { plain } from '../../meta'
import { type Evaluate, failed, type StepIssue } from '../../step'
import type { PlateParams, plateParams } from './schema'

export const evaluate: Evaluate<typeof plateParams> = async (_input, params, context) => {
  const [other] = context.inputs.other ?? []
  const words = other?.kind === 'outline' ? other : undefined
  if (!words && (params.shape === 'hugging' || params.size === 'piece'))
    return failed('no-piece', 'No piece has been chosen that the plate is for.', 'Choose one, or give the plate its own size.', 'other')
  await loadManifold()
  const box = words ? curveBounds(placedPaths(words)) : undefined
  if (words && params.shape === 'hugging') {
    const paths = hugging(words, params.margin, params.holes)
    if (paths.length === 0) return failed('nothing-to-hug', 'The piece has no areas to hug.', 'Choose another piece.', 'other')
    return { ok: true, value: outlineOf(connectedShapes(paths)), issues: [] }
  }
  const { margin } = params
  const fit = params.size === 'piece' && box
  // about the words where there are some, else standing on the ground
  const [w, h] = fit ? roomFor(params.shape, box[2] - box[0] + 2 * margin, box[3] - box[1] + 2 * margin) : [params.width, params.height]
  const [cx, cy] = box ? [(box[0] + box[2]) / 2, (box[1] + box[3]) / 2] : [0, h / 2]
  const value = outlineOf([[shapeOf(params.shape, cx, cy, w, h, params.radius)]])
  const issues: StepIssue[] = []
  if (box && !fit && (w < box[2] - box[0] || h < box[3] - box[1])) {
    const [nw, nh] = roomFor(params.shape, box[2] - box[0] + 2 * margin, box[3] - box[1] + 2 * margin).map((v) => Math.ceil(v))
    issues.push({
      code: 'smaller-than-words',
      severity: 'warning',
      message: `The plate is smaller than the piece on it, which takes ${plain(box[2] - box[0])} × ${plain(box[3] - box[1])} mm.`,
      remedy: `Make it ${nw} × ${nh} mm, or take its size from the piece.`,
      field: 'width',
      fixes: [{ label: `Make it ${nw} × ${nh} mm`, params: { width: nw, height: nh } }],
    })
  }
  return { ok: true, value, issues }
}

/** The size at which a shape has room for a box: round ones must be larger. */
function roomFor(shape: PlateParams['shape'], w: number, h: number): [number, number] {
  if (shape === 'disc') return [w * Math.SQRT2, h * Math.SQRT2]
  if (shape === 'pill') return [w + h * 0.6, h]
  // an arch stands on its feet: the words need their width where it begins to round
  if (shape === 'arch') return [w, h + w / 2]
  if (shape === 'shield') return [w, h * 1.6]
  return [w, h]
}

function hugging(words: Outline, margin: number, holes: PlateParams['holes']): Path[] {
  const paths = unitePaths(words.regions.flatMap((region) => fitRings(offsetRings(regionRings(region), margin, 'round'))))
  return holes === 'filled' ? paths.filter((path) => pathArea(path) > 0) : paths
}

const outlineOf = (shapes: readonly (readonly Path[])[]): Outline => {
  const regions = shapes.map((paths) => regionFrom(paths, -1, 0))
  const value: Outline = { kind: 'outline', regions, strokes: [], letters: [], layers: [{ id: 'plate', name: 'Plate' }], lattice: 1 }
  return { ...value, lattice: latticeFor(Math.max(...outlineBounds(value).map(Math.abs))) }
}

/** Distance of handles that draw a quarter circle (4/3·(√2 − 1)). */
const QUARTER = 0.5522847498307936

function shapeOf(shape: PlateParams['shape'], cx: number, cy: number, w: number, h: number, radius: number): Path {
  const [x0, y0, x1, y1] = [cx - w / 2, cy - h / 2, cx + w / 2, cy + h / 2]
  if (shape === 'disc') return withCorners(x0, y0, x1, y1, w / 2, h / 2)
  if (shape === 'pill') return withCorners(x0, y0, x1, y1, Math.min(w, h) / 2, Math.min(w, h) / 2)
  if (shape === 'rounded') {
    const r = Math.min(radius, w / 2, h / 2)
    return withCorners(x0, y0, x1, y1, r, r)
  }
  if (shape === 'shield') {
    // straight at the top, drawn in to a point below
    const shield = new PathBuilder(cx, y0)
    shield.cubicTo(cx + w * 0.3, y0 + h * 0.13, x1, y0 + h * 0.34, x1, y0 + h * 0.62)
    shield.lineTo(x1, y1)
    shield.lineTo(x0, y1)
    shield.lineTo(x0, y0 + h * 0.62)
    shield.cubicTo(x0, y0 + h * 0.34, cx - w * 0.3, y0 + h * 0.13, cx, y0)
    return shield.build(true)
  }
  const path = new PathBuilder(x0, y0)
  path.lineTo(x1, y0)
  if (shape === 'arch') {
    const rise = Math.min(w / 2, h)
    const spring = y1 - rise
    path.lineTo(x1, spring)
    path.cubicTo(x1, spring + QUARTER * rise, cx + (QUARTER * w) / 2, y1, cx, y1)
    path.cubicTo(cx - (QUARTER * w) / 2, y1, x0, spring + QUARTER * rise, x0, spring)
  } else {
    path.lineTo(x1, y1)
    path.lineTo(x0, y1)
  }
  return path.build(true)
}

/** A rectangle with elliptic corners. */
function withCorners(x0: number, y0: number, x1: number, y1: number, rx: number, ry: number): Path {
  const [kx, ky] = [rx * (1 - QUARTER), ry * (1 - QUARTER)]
  const path = new PathBuilder(x0 + rx, y0)
  path.lineTo(x1 - rx, y0)
  if (rx > 0) path.cubicTo(x1 - kx, y0, x1, y0 + ky, x1, y0 + ry)
  path.lineTo(x1, y1 - ry)
  if (rx > 0) path.cubicTo(x1, y1 - ky, x1 - kx, y1, x1 - rx, y1)
  path.lineTo(x0 + rx, y1)
  if (rx > 0) path.cubicTo(x0 + kx, y1, x0, y1 - ky, x0, y1 - ry)
  path.lineTo(x0, y0 + ry)
  if (rx > 0) path.cubicTo(x0, y0 + ky, x0 + kx, y0, x0 + rx, y0)
  return path.build(true)
}
