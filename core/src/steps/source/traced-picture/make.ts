import type { z } from 'zod'
import type { Picture } from '../../../format/picture'
import { connectedShapes, curveBounds, nestPaths, regionFrom } from '../../../outline/areas'
import { unitePaths } from '../../../outline/clip'
import { latticeFor } from '../../../outline/lattice'
import { type Layer, type Outline, outlineBounds, type Region } from '../../../outline/outline'
import { type Path, transformPath } from '../../../outline/path'
import { blurred, type Field, levelRings, traceRings } from '../../../outline/trace'
import { loadManifold } from '../../../kernel/manifold'
import { loadPicture } from '../../shared/picture-of'
import { type Evaluate, failed } from '../../step'
import { paletteOf } from './colours'
import type { tracedPictureParams } from './schema'

export const evaluate: Evaluate<typeof tracedPictureParams> = async (_input, params, context) => {
  await loadManifold()
  const picture = await loadPicture(context, params.file, MAX_TRACED)
  if ('ok' in picture) return picture
  const { layers, regions } = params.by === 'threshold' ? byThreshold(picture, params) : await byColours(picture, params, context.breathe, context.progress)
  if (regions.length === 0)
    return failed(
      'nothing-traced',
      'Nothing in the picture is traced at these values.',
      params.by === 'threshold' ? 'Move the threshold, or trace the light.' : 'Ask for more colours, or for smaller speckles.',
      params.by === 'threshold' ? 'threshold' : 'colours',
    )
  return { ok: true, value: placed({ kind: 'outline', regions, strokes: [], letters: [], layers, lattice: 1 }), issues: [], told: told(regions) }
}

type Params = z.infer<typeof tracedPictureParams>

/** Larger pictures are made smaller before: more pixels make no better outlines. */
const MAX_TRACED = 1_500_000

function told(regions: readonly Region[]): string {
  const nodes = regions.reduce((sum, r) => sum + r.members.reduce((s, m) => s + m.paths.reduce((t, p) => t + p.verbs.length, 0), 0), 0)
  return `${regions.length} ${regions.length === 1 ? 'shape' : 'shapes'}, ${nodes} nodes`
}

const optionsOf = (picture: Picture, { width, speckle, smoothness }: Params) => ({ scale: width / picture.width, speckle, smoothness: smoothness / 100 })

function byThreshold(picture: Picture, params: Params): { layers: Layer[]; regions: Region[] } {
  const { width, height, rgba } = picture
  const values = new Float32Array(width * height)
  for (let i = 0; i < values.length; i++) {
    const a = rgba[4 * i + 3] / 255
    // Rec. 709 luma over white
    const luma = (0.2126 * rgba[4 * i] + 0.7152 * rgba[4 * i + 1] + 0.0722 * rgba[4 * i + 2]) / 255
    const light = luma * a + (1 - a)
    values[i] = params.invert ? light - params.threshold / 100 : params.threshold / 100 - light
  }
  const smoothness = params.smoothness / 100
  const rings = levelRings(blurred({ width, height, values }, 0.9 * smoothness), 0)
  return { layers: [{ id: 'traced', name: 'Traced' }], regions: shapes(traceRings(rings, optionsOf(picture, params)), 0) }
}

async function byColours(
  picture: Picture,
  params: Params,
  breathe: () => Promise<void>,
  progress: (done: number) => void,
): Promise<{ layers: Layer[]; regions: Region[] }> {
  const { width, height } = picture
  const { colours, labels, others, shares, ground } = paletteOf(picture, params.colours)
  const layers: Layer[] = []
  const regions: Region[] = []
  for (let k = 0; k < colours.length; k++) {
    await breathe()
    progress(k / colours.length)
    if (k === ground && params.ground === 'leave') continue
    const values = new Float32Array(labels.length)
    for (let i = 0; i < values.length; i++) values[i] = labels[i] === k ? 1 - shares[i] : others[i] === k ? shares[i] : 0
    const field: Field = { width, height, values }
    // the share of a colour about each pixel: two neighbours' borders at one half fall on the same line
    const rings = levelRings(blurred(field, 0.45 + 0.9 * (params.smoothness / 100)), 0.5)
    const own = shapes(traceRings(rings, optionsOf(picture, params)), layers.length)
    if (own.length === 0) continue
    for (const region of own) regions.push(region)
    layers.push({ id: colours[k], name: colours[k], colour: colours[k] })
  }
  return { layers, regions }
}

/** Closed paths as regions; smoothing may make neighbours cross by a hair, which uniting mends. */
const shapes = (paths: readonly Path[], layer: number): Region[] => connectedShapes(unitePaths(nestPaths(paths))).map((shape) => regionFrom(shape, -1, layer))

/** Its middle over the origin, standing on the ground. */
function placed(outline: Outline): Outline {
  const [x0, y0, x1] = curveBounds(outline.regions.flatMap((r) => r.members.flatMap((m) => m.paths)))
  const regions = outline.regions.map((region) =>
    regionFrom(
      region.members.flatMap((m) => m.paths.map((path) => transformPath(path, [1, 0, 0, 1, -(x0 + x1) / 2, -y0]))),
      -1,
      region.layer,
    ),
  )
  return { ...outline, regions, lattice: latticeFor(Math.max(...outlineBounds({ ...outline, regions }).map(Math.abs))) }
}
