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
import { plain } from '../../meta'
import { defineStep, failed, fileMissing, MissingAssetError, type StepIssue } from '../../step'
import { vectorFileParams } from './schema'

interface Drawing {
  readonly outline: Outline
  readonly ignored: readonly string[]
}

export const vectorFile = defineStep({
  kind: 'vector-file',
  version: 1,
  family: 'Source',
  title: 'Vector file',
  summary: 'Brings in an SVG or DXF drawing, each of its colours or layers a layer.',
  takes: [],
  gives: 'outline',
  params: vectorFileParams,

  describe(params) {
    return params.file.sha256 ? `${params.file.name || 'A drawing'}${params.scale === 100 ? '' : ` at ${plain(params.scale)} %`}` : 'No file chosen yet'
  },

  async evaluate(_input, params, context) {
    const { sha256, name } = params.file
    if (!sha256) return failed('no-file', 'No drawing has been chosen.', 'Choose an SVG or DXF file.', 'file')
    await loadManifold()
    let drawing: Drawing
    try {
      const key = `drawing-of:${sha256}`
      const known = context.memo.peek<Drawing>(key)
      drawing = known ?? (await readDrawing(await context.assets.file(sha256), { breathe: context.breathe, progress: (done) => context.progress(0.9 * done) }))
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
    const placed = place(outline, params.scale / 100)
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
  },
})

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
function place(outline: Outline, scale: number): Outline {
  const [x0, y0, x1] = curveBounds([...placedPaths(outline), ...outline.strokes])
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
