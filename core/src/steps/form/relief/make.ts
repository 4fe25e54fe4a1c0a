import type { Picture } from '../../../format/picture'
import { loadManifold } from '../../../kernel/manifold'
import { curveBounds } from '../../../outline/areas'
import { placedPaths, type Region, regionPaths } from '../../../outline/outline'
import { regionPolygons } from '../../../outline/polygon'
import { distanceField, reliefSolid } from '../../../solid/relief'
import type { Solid } from '../../../solid/solid'
import { formRegions, letterFinder, strokesLeft } from '../../shared/forming'
import { loadPicture } from '../../shared/picture-of'
import { type Evaluate, failed } from '../../step'
import type { Params, reliefParams } from './schema'

export const evaluate: Evaluate<typeof reliefParams> = async (input, params, context) => {
  if (input?.kind !== 'outline') return failed('no-outline', 'Relief needs an outline to work on.', 'Put a source such as Plate before it.')
  if (input.regions.length === 0) return failed('no-areas', 'The outline has no closed shapes to form.', 'Close the strokes, or set some words.')
  await loadManifold()
  const picture = params.by === 'picture' ? await loadPicture(context, params.file, MAX_PIXELS) : undefined
  if (picture && 'ok' in picture) return picture
  const whole = curveBounds(placedPaths(input))
  const boxOf = (region: Region) => (params.spread === 'whole' ? whole : curveBounds(regionPaths(region)))
  const { solid } = await formRegions<{ solid: Solid }>(input, context, (region) => {
    const box = picture ? boxOf(region) : undefined
    return {
      key: `relief:${JSON.stringify([params, input.lattice, box && [box, region.dx, region.dy]])}`,
      make: () => {
        const set = regionPolygons(region, params.tolerance, input.lattice)
        const letterAt = letterFinder(region, params.tolerance, input.lattice)
        const light = picture && box ? lightOver(picture, box, params) : undefined
        const distance = light ? undefined : distanceField(set, Math.max(params.reach / 2, 0.5))
        const heightAt = light
          ? (x: number, y: number) => params.height * light(x + region.dx, y + region.dy)
          : (x: number, y: number) => params.height * curveAt(params, (distance as (x: number, y: number) => number)(x, y))
        return { solid: reliefSolid(set, params.base, params.division, heightAt, letterAt) }
      },
    }
  })
  if (solid.indices.length === 0) return failed('vanished', 'The shapes are too small to form a solid at this size.', 'Raise the cap height.', 'base')
  return { ok: true, value: solid, issues: strokesLeft(input) }
}

/** More pixels than this say nothing that a grid of triangles could show. */
const MAX_PIXELS = 1_000_000

/** 0 to 1 at a distance from the outline. */
function curveAt({ curve, reach }: Params, distance: number): number {
  if (curve === 'ripples') return (1 - Math.cos((2 * Math.PI * distance) / reach)) / 2
  const f = Math.min(1, distance / reach)
  if (curve === 'dome') return Math.sqrt(1 - (1 - f) ** 2)
  if (curve === 'hollow') return 1 - Math.sqrt(1 - f * f)
  return curve === 'wave' ? f * f * (3 - 2 * f) : f
}

/** How light a picture is, 0 to 1, where it lies over a box so that it covers it; averaged over about one step of the grid. */
function lightOver(picture: Picture, [x0, y0, x1, y1]: readonly number[], { high, division }: Params): (x: number, y: number) => number {
  const { width, height, rgba } = picture
  const value = (px: number, py: number) => {
    const o = 4 * (Math.max(0, Math.min(height - 1, py)) * width + Math.max(0, Math.min(width - 1, px)))
    // ITU-R BT.709; what is see-through is taken for white
    const light = (0.2126 * rgba[o] + 0.7152 * rgba[o + 1] + 0.0722 * rgba[o + 2]) / 255
    const a = rgba[o + 3] / 255
    return light * a + 1 - a
  }
  const at = (u: number, v: number) => {
    const [px, py] = [Math.floor(u - 0.5), Math.floor(v - 0.5)]
    const [fx, fy] = [u - 0.5 - px, v - 0.5 - py]
    return (value(px, py) * (1 - fx) + value(px + 1, py) * fx) * (1 - fy) + (value(px, py + 1) * (1 - fx) + value(px + 1, py + 1) * fx) * fy
  }
  const scale = Math.min(width / (x1 - x0), height / (y1 - y0))
  const [cx, cy] = [(x0 + x1) / 2, (y0 + y1) / 2]
  const spread = (division * scale) / 3
  const samples = spread > 0.4 ? [-1, 0, 1] : [0]
  return (x, y) => {
    let sum = 0
    for (const i of samples) for (const j of samples) sum += at(width / 2 + (x - cx) * scale + i * spread, height / 2 - (y - cy) * scale + j * spread)
    const light = sum / samples.length ** 2
    return high === 'light' ? light : 1 - light
  }
}
