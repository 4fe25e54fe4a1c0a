import { type CentreStroke, centreStrokes } from '../../centre/strokes'
import type { Region } from '../../outline/outline'
import { regionPolygons } from '../../outline/polygon'
import type { StepContext } from '../step'

/** How near curves are followed when their middle is looked for, mm: an axis has a branch for every facet. */
const FOLLOWED = 0.01

/** The strokes of a region in its own coordinates, kept under its key. Needs the manifold kernel loaded. */
export const regionStrokes = (memo: StepContext['memo'], region: Region, lattice: number): readonly CentreStroke[] =>
  memo.get(`centre-strokes:${region.key}:${lattice}`, () => centreStrokes(regionPolygons(region, FOLLOWED, lattice)))
