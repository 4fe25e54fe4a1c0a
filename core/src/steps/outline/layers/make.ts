import type { Layer, Region } from '../../../outline/outline'
import { type Evaluate, failed, type StepIssue } from '../../step'
import type { layersParams } from './schema'

export const evaluate: Evaluate<typeof layersParams> = async (input, params) => {
  if (input?.kind !== 'outline') return failed('no-outline', 'Layers needs an outline to work on.', 'Put a source such as Vector file before it.')
  const rows = new Map(params.table.map((row) => [row.layer, row]))
  const ids = input.layers.map((layer) => layer.id)
  const target = (id: string): string => {
    // a layer merged into one that is merged itself goes with it; a ring of merges leads nowhere
    const seen = new Set<string>()
    let at = id
    for (let next = rows.get(at)?.into; next !== undefined && ids.includes(next) && !seen.has(at); next = rows.get(at)?.into) {
      seen.add(at)
      at = next
    }
    return at
  }
  const place = (id: string) => (params.order.includes(id) ? params.order.indexOf(id) : params.order.length + ids.indexOf(id))
  const kept = input.layers.filter((layer) => target(layer.id) === layer.id && !rows.get(layer.id)?.hidden).sort((a, b) => place(a.id) - place(b.id))
  const number = new Map(kept.map((layer, i) => [layer.id, i]))
  const made = kept.map((layer): Layer => {
    const row = rows.get(layer.id)
    const { name, colour, depth, edge, lift } = { ...layer, ...definedOf(row) }
    return { id: layer.id, name, ...definedOf({ colour, depth, edge, lift }) }
  })
  const regions = input.regions
    .flatMap((region): Region[] => {
      const layer = number.get(target(input.layers[region.layer]?.id ?? ''))
      return layer === undefined ? [] : [{ ...region, layer }]
    })
    .sort((a, b) => a.layer - b.layer)
  const lost = params.table.filter((row) => !ids.includes(row.layer))
  const issues: StepIssue[] = lost.length === 0 ? [] : [
      {
        code: 'layers-gone',
        severity: 'warning',
        message: `The outline has no layer ${lost.slice(0, 6).map((r) => `“${r.layer}”`).join(', ')} any more; what was set for it is kept aside.`,
        remedy: 'It is used again when such a layer comes back.',
        field: 'table',
      },
    ] // biome-ignore format: short
  if (regions.length === 0) return failed('all-hidden', 'Every layer is hidden.', 'Show one of them.', 'table')
  return { ok: true, value: { ...input, layers: made, regions }, issues }
}

/** The values of an object that are there. */
function definedOf<T extends object>(row: T | undefined): Partial<T> {
  return Object.fromEntries(Object.entries(row ?? {}).filter(([, value]) => value !== undefined)) as Partial<T>
}
