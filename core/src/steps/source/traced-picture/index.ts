import { z } from 'zod'
import type { Picture } from '../../../format/picture'
import { connectedShapes, curveBounds, nestPaths, regionFrom } from '../../../outline/areas'
import { unitePaths } from '../../../outline/clip'
import { latticeFor } from '../../../outline/lattice'
import { type Layer, type Outline, outlineBounds, type Region } from '../../../outline/outline'
import { type Path, transformPath } from '../../../outline/path'
import { blurred, type Field, levelRings, traceRings } from '../../../outline/trace'
import { loadManifold } from '../../../kernel/manifold'
import { meta, plain } from '../../meta'
import { loadPicture, pictureFile } from '../../shared/picture-of'
import { defineStep, failed } from '../../step'
import { paletteOf } from './colours'

const tracedPictureParams = z.object({
  file: pictureFile.meta(meta({ title: 'Picture', holds: 'picture file' })),
  width: z
    .number('The width must be a number.')
    .min(1, 'The picture must be at least 1 mm wide.')
    .max(5000, 'The picture can be at most 5000 mm wide.')
    .default(100)
    .meta(meta({ title: 'Width', unit: 'mm', step: 5, description: 'Of the whole picture, its margins included.' })),
  by: z
    .enum(['threshold', 'colours'])
    .default('threshold')
    .meta(meta({ title: 'Trace by', labels: ['Light and dark', 'Colours'] })),
  threshold: z
    .number('The threshold must be a number.')
    .min(1)
    .max(99)
    .default(50)
    .meta(
      meta({
        title: 'Threshold',
        unit: '%',
        step: 1,
        tried: true,
        description: 'What is darker than this is traced.',
        when: { field: 'by', is: ['threshold'] },
      }),
    ),
  invert: z
    .boolean()
    .default(false)
    .meta(meta({ title: 'Trace the light', when: { field: 'by', is: ['threshold'] } })),
  colours: z
    .number('The number of colours must be a number.')
    .int()
    .min(2, 'There must be two colours at least.')
    .max(16, 'There can be 16 colours at most.')
    .default(4)
    .meta(meta({ title: 'Colours', step: 1, when: { field: 'by', is: ['colours'] } })),
  ground: z
    .enum(['leave', 'keep'])
    .default('leave')
    .meta(meta({ title: 'Ground', labels: ['Left out', 'Kept'], description: 'The colour that most of the rim has.', when: { field: 'by', is: ['colours'] } })),
  speckle: z
    .number('The size of speckles must be a number.')
    .min(0)
    .max(1000)
    .default(0.5)
    .meta(meta({ title: 'Speckles below', unit: 'mm²', step: 0.25, description: 'Islands and holes smaller than this are dropped.' })),
  smoothness: z
    .number('The smoothness must be a number.')
    .min(0)
    .max(100)
    .default(35)
    .meta(meta({ title: 'Smoothness', unit: '%', step: 5, tried: true })),
})

type Params = z.infer<typeof tracedPictureParams>

/** Larger pictures are made smaller before: more pixels make no better outlines. */
const MAX_TRACED = 1_500_000

export const tracedPicture = defineStep({
  kind: 'traced-picture',
  version: 1,
  family: 'Source',
  title: 'Traced picture',
  summary: 'Turns a picture into outlines, by light and dark or by its colours.',
  takes: [],
  gives: 'outline',
  params: tracedPictureParams,
  describe: ({ file, by, threshold, colours, width }) =>
    file.sha256
      ? `${file.name || 'A picture'}, ${by === 'threshold' ? `darker than ${plain(threshold)} %` : `${colours} colours`}, ${plain(width)} mm wide`
      : 'No picture chosen yet',

  async evaluate(_input, params, context) {
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
  },
})

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
