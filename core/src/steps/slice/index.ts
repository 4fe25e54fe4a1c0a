import { z } from 'zod'
import { loadManifold, type SimplePolygon } from '../../kernel/manifold'
import { combineRings, fitRings, letterOf, regionFrom, regionRings, ringsBounds } from '../../outline/areas'
import type { Layer, Region } from '../../outline/outline'
import { meta, plain } from '../meta'
import { defineStep, failed } from '../step'

const sliceParams = z.object({
  cut: z
    .enum(['straight', 'wave', 'zigzag'])
    .default('straight')
    .meta(meta({ title: 'Cuts', labels: ['Straight', 'Waves', 'Zigzag'] })),
  count: z
    .number('The number of cuts must be a number.')
    .int('The number of cuts must be a whole number.')
    .min(1, 'There must be one cut at least.')
    .max(100, 'There can be 100 cuts at most.')
    .default(1)
    .meta(meta({ title: 'How many', step: 1, description: 'Evenly spaced over the height of the outline.' })),
  angle: z
    .number('The angle must be a number.')
    .min(-180)
    .max(180)
    .default(0)
    .meta(meta({ title: 'Angle', unit: '°', step: 5, description: 'Of the cuts; 0 runs along the line of letters.' })),
  shift: z
    .number('The shift must be a number.')
    .min(-2000)
    .max(2000)
    .default(0)
    .meta(meta({ title: 'Shift', unit: 'mm', step: 1, description: 'Moves all cuts across.' })),
  amplitude: z
    .number('The height of the waves must be a number.')
    .min(0)
    .max(500)
    .default(4)
    .meta(meta({ title: 'Height', unit: 'mm', step: 0.5, when: { field: 'cut', is: ['wave', 'zigzag'] } })),
  length: z
    .number('The length of the waves must be a number.')
    .min(1, 'A wave must be 1 mm long at least.')
    .max(2000)
    .default(40)
    .meta(meta({ title: 'Length', unit: 'mm', step: 1, when: { field: 'cut', is: ['wave', 'zigzag'] } })),
  gap: z
    .number('The gap must be a number.')
    .min(0, 'The gap cannot be below 0 mm.')
    .max(200)
    .default(1)
    .meta(meta({ title: 'Gap', unit: 'mm', step: 0.25 })),
})

type SliceParams = z.infer<typeof sliceParams>

export const slice = defineStep({
  kind: 'slice',
  version: 1,
  family: 'Outline',
  title: 'Slice',
  summary: 'Cuts the outline into bands along lines, waves or zigzags; every band is a layer.',
  takes: 'outline',
  gives: 'outline',
  params: sliceParams,
  describe: ({ cut, count, gap }) =>
    `${count} ${{ straight: 'straight', wave: 'waved', zigzag: 'zigzag' }[cut]} ${count === 1 ? 'cut' : 'cuts'}, ${plain(gap)} mm wide`,

  async evaluate(input, params, context) {
    if (input?.kind !== 'outline') return failed('no-outline', 'Slice needs an outline to work on.', 'Put a source such as Lettering before it.')
    if (input.regions.length === 0) return failed('no-areas', 'The outline has no closed shapes to cut.', 'Close the strokes, or set some words.')
    await loadManifold()
    const areas = input.regions.map((region) => ({ region, rings: regionRings(region) }))
    const bands = bandsOver(ringsBounds(areas.flatMap((a) => a.rings)), params)
    const layers: Layer[] = []
    const regions: Region[] = []
    for (let source = 0; source < input.layers.length; source++) {
      for (let band = 0; band < bands.length; band++) {
        const from = regions.length
        for (const { region, rings } of areas) {
          if (region.layer !== source) continue
          const paths = fitRings(combineRings(rings, [bands[band]], 'intersect'))
          if (paths.length > 0) regions.push(regionFrom(paths, letterOf(region), layers.length))
        }
        if (regions.length === from) continue
        const layer = input.layers[source]
        layers.push({ ...layer, id: `${layer.id} · ${band + 1}`, name: `${layer.name} · ${band + 1}` })
      }
      await context.breathe()
      context.progress((source + 1) / input.layers.length)
    }
    if (regions.length === 0) return failed('vanished', 'The gap takes away everything.', 'Make the gap smaller, or the cuts fewer.', 'gap')
    return { ok: true, value: { ...input, regions, layers }, issues: [] }
  },
})

/** The bands between the cuts, from the top down, as rings that reach beyond a box; gaps are left out. */
function bandsOver([x0, y0, x1, y1]: readonly number[], params: SliceParams): SimplePolygon[] {
  const { cut, count, gap, amplitude, length } = params
  const angle = (params.angle * Math.PI) / 180
  const [c, s] = [Math.cos(angle), Math.sin(angle)]
  const [cx, cy] = [(x0 + x1) / 2, (y0 + y1) / 2]
  // the box as it lies in the cuts' own frame
  const [w, h] = [Math.abs(c) * (x1 - x0) + Math.abs(s) * (y1 - y0), Math.abs(s) * (x1 - x0) + Math.abs(c) * (y1 - y0)]
  const reach = w / 2 + amplitude + gap + length
  const step = cut === 'straight' ? 2 * reach : cut === 'zigzag' ? length / 2 : length / 48
  const n = Math.min(20_000, Math.ceil((2 * reach) / step))
  // waves begin at the middle, so that they stay where they are when the words grow
  const first = cut === 'straight' ? -reach : Math.floor(-reach / step) * step
  const along = Array.from({ length: n + 2 }, (_, i) => first + i * step)
  const height = (u: number) =>
    cut === 'straight' ? 0 : cut === 'zigzag' ? amplitude * (Math.round(u / step) % 2 === 0 ? 1 : -1) : amplitude * Math.sin((2 * Math.PI * u) / length)
  const line = (v: number): [number, number][] => along.map((u) => [u, v + height(u)])
  const far = h / 2 + 2 * amplitude + gap + Math.abs(params.shift) + 1
  const cuts = Array.from({ length: count }, (_, i) => h / 2 - (h * (i + 1)) / (count + 1) + params.shift)
  const edges = [far + h, ...cuts.flatMap((v) => [v + gap / 2, v - gap / 2]), -far - h]
  const bands: SimplePolygon[] = []
  for (let i = 0; i < edges.length; i += 2) {
    const [top, bottom] = [line(edges[i]), line(edges[i + 1])]
    bands.push([...bottom, ...top.reverse()].map(([u, v]): [number, number] => [cx + c * u - s * v, cy + s * u + c * v]))
  }
  return bands
}
