import { FormatError } from '../../../format/mesh-data'
import type { ReadingWork } from '../../../format/reading'
import { loadManifold } from '../../../kernel/manifold'
import { TooMuchWork } from '../../../kernel/work-bound'
import { curveBounds } from '../../../outline/areas'
import type { Affine } from '../../../outline/affine'
import { cutToVisible } from '../../../outline/visible'
import { latticeFor } from '../../../outline/lattice'
import { type Outline, outlineBounds, placedPaths, type Region, regionPaths } from '../../../outline/outline'
import { transformPath } from '../../../outline/path'
import { type Evaluate, failed, fileMissing, MissingAssetError, type StepContext, type StepIssue } from '../../step'
import type { VectorFileParams, vectorFileParams } from './schema'

export const evaluate: Evaluate<typeof vectorFileParams> = async (_input, params, context) => {
  const { sha256, name } = params.file
  if (!sha256) return failed('no-file', 'No drawing has been chosen.', 'Choose an SVG or DXF file.', 'file')
  await loadManifold()
  let drawing: Drawing
  try {
    const key = `drawing-of:${sha256}`
    const known = context.memo.peek<Drawing>(key)
    drawing = known ?? (await readDrawing(await context.assets.file(sha256), inTime(context)))
    if (!known) context.memo.put(key, drawing)
  } catch (error) {
    if (error instanceof FormatError) return failed('unreadable-drawing', `${name}: ${error.message}`, error.remedy, 'file')
    if (error instanceof MissingAssetError) return fileMissing(`The drawing “${name}”`, 'file')
    throw error
  }
  const { outline, ignored } = drawing
  if (outline.regions.length === 0 && outline.strokes.length === 0)
    return failed(
      'empty-drawing',
      `${name} holds nothing that can be an outline.`,
      ignored.length > 0 ? `It holds only ${ignored.join(', ')}.` : 'Choose another drawing.',
      'file',
    )
  const placed = place(outline, params)
  await context.breathe()
  const value = params.overlaps === 'visible' ? cutToVisible(placed, params.gap) : placed
  const issues: StepIssue[] = []
  if (ignored.length > 0)
    issues.push({
      code: 'passed-over',
      severity: 'warning',
      message: `Not brought in: ${ignored.slice(0, 10).join(', ')}${ignored.length > 10 ? ' and more' : ''}.`,
      remedy: 'Turn these into plain filled shapes where the drawing was made, if they are needed.',
      field: 'file',
    })
  return { ok: true, value, issues }
}

interface Drawing {
  readonly outline: Outline
  readonly ignored: readonly string[]
}

/** s */
const MOST_SECONDS = 60

/** Reading tells how far it is, can be stopped, and ends by itself when it takes too long. */
function inTime({ breathe, progress }: Pick<StepContext, 'breathe' | 'progress'>): ReadingWork {
  const end = performance.now() + MOST_SECONDS * 1000
  return {
    async breathe() {
      await breathe()
      if (performance.now() > end)
        throw new FormatError(`Reading it was ended after ${MOST_SECONDS} seconds.`, 'Simplify the drawing, or bring it in in parts.')
    },
    progress: (done) => progress(0.9 * done),
  }
}

/** SVG when it looks like XML, DXF otherwise. Throws FormatError, also for what would take far too long. */
export async function readDrawing(bytes: Uint8Array, work?: ReadingWork): Promise<Drawing> {
  const text = new TextDecoder().decode(bytes)
  try {
    if (/^\uFEFF?\s*</.test(text)) return await (await import('../../../format/svg')).readSvg(text, undefined, work)
    return await (await import('../../../format/dxf')).readDxf(text, work)
  } catch (error) {
    if (error instanceof TooMuchWork) throw new FormatError(error.message, error.remedy)
    throw error
  }
}

/** Scaled, its middle over the origin, standing on the ground. */
function place(outline: Outline, { sizing, scale: percent, width, height }: VectorFileParams): Outline {
  const [x0, y0, x1, y1] = curveBounds([...placedPaths(outline), ...outline.strokes])
  // what has no extent that way, as one level line, keeps its size
  const scale = sizing === 'width' && x1 > x0 ? width / (x1 - x0) : sizing === 'height' && y1 > y0 ? height / (y1 - y0) : sizing === 'scale' ? percent / 100 : 1
  const map: Affine = [scale, 0, 0, scale, (-scale * (x0 + x1)) / 2, -scale * y0]
  const regions = outline.regions.map((region): Region => {
    const members = region.members.map((member) => ({
      ...member,
      paths: regionPaths({ ...region, members: [member] }).map((path) => transformPath(path, map)),
    }))
    return { ...region, key: `${region.key}*${map.join()}`, members, dx: 0, dy: 0 }
  })
  const strokes = outline.strokes.map((path) => transformPath(path, map))
  const reach = Math.max(...outlineBounds({ ...outline, regions, strokes }).map(Math.abs))
  return { ...outline, regions, strokes, lattice: latticeFor(reach) }
}
