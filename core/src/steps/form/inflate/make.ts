import { loadManifold } from '../../../kernel/manifold'
import { regionPolygons } from '../../../outline/polygon'
import { SolidBuilder } from '../../../solid/builder'
import { coarsened, inflate as inflateMembrane, type Membrane, membraneOf } from '../../../solid/inflate'
import type { Solid } from '../../../solid/solid'
import { approximateIssue, formRegions, letterFinder, named, placesOf, regionRidge, strokesLeft } from '../../shared/forming'
import { plain } from '../../meta'
import { type Evaluate, failed } from '../../step'
import type { inflateParams } from './schema'

export const evaluate: Evaluate<typeof inflateParams> = async (input, params, context) => {
  if (input?.kind !== 'outline') return failed('no-outline', 'Inflate needs an outline to work on.', 'Put a source such as Lettering before it.')
  if (input.regions.length === 0) return failed('no-areas', 'The outline has no closed shapes to inflate.', 'Close the strokes, or set some words.')
  await loadManifold()
  const { lattice } = input
  // the whole word is divided alike, fitted to its widest stroke
  const halves: number[] = []
  for (const region of input.regions) {
    halves.push(regionRidge(context.memo, region, params.tolerance, lattice))
    await context.breathe()
  }
  // from a fixed row of sizes, so that one letter more rarely divides all others anew
  const division = params.division > 0 ? params.division : fitted(halves.reduce((a, b) => Math.max(a, b)) / 4)
  const membranes: Membrane[] = []
  const key = JSON.stringify([params.roundness, params.rim, division, params.tolerance, lattice])
  for (const region of input.regions) {
    const known = context.memo.peek<Membrane>(`membrane:${key}:${region.key}`)
    if (!known) await context.breathe()
    membranes.push(
      known ??
        context.memo.get(`membrane:${key}:${region.key}`, () =>
          membraneOf(regionPolygons(region, params.tolerance, lattice), halves[membranes.length], { ...params, division }),
        ),
    )
    context.progress((membranes.length / input.regions.length) * 0.8)
  }
  const most = membranes.reduce((m, { most }) => Math.max(m, most), 0)
  if (!(most > 0)) return failed('vanished', 'The shapes are too narrow to swell with so wide a rim.', 'Give a narrower rim, or raise the cap height.', 'rim')
  const bulge = JSON.stringify([params.height, params.sides, params.wall, params.measure === 'word' ? most : 'own'])
  const { solid } = await formRegions<{ solid: Solid }>(input, { ...context, progress: (done) => context.progress(0.8 + 0.2 * done) }, (region) => ({
    key: `inflate:${key}:${bulge}`,
    make: () => {
      const membrane = membranes[input.regions.indexOf(region)]
      if (!(membrane.most > 0)) return { solid: new SolidBuilder(lattice).finish() }
      const options = { ...params, letterAt: letterFinder(region, params.tolerance, lattice) }
      return { solid: inflateMembrane(membrane, options, params.measure === 'word' ? most : membrane.most) }
    },
  }))
  const issues = [...strokesLeft(input), ...approximateIssue(input, membranes, 'swelling', params.height)]
  const lost = input.regions.filter((_, i) => !(membranes[i].most > 0))
  if (lost.length > 0)
    issues.push({
      code: 'parts-vanished',
      severity: 'warning',
      message: `${named(lost, input)} ${lost.length === 1 ? 'is' : 'are'} narrower than the rim and left out.`,
      remedy: 'Give a narrower rim.',
      field: 'rim',
      places: placesOf(lost, 0),
    })
  if (params.division > 0 && membranes.some(coarsened))
    issues.push({
      code: 'coarser',
      severity: 'warning',
      message: `At ${plain(params.division)} mm the faces would need too many triangles; they are divided more coarsely.`,
      remedy: 'Give a larger division.',
      field: 'division',
    })
  return { ok: true, value: solid, issues }
}

/** The next lower of 1, 1.25, 1.6, 2, 2.5, 3.2, 4, 5, 6.3, 8 and their tenths, hundredths and so on (ISO 3, R10). */
const fitted = (size: number) => Number((10 ** (Math.floor(10 * Math.log10(Math.max(size, 1e-3))) / 10)).toPrecision(2))
