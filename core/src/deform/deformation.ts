import { type Bend, bendMap, isFullTurn } from './bend'
import { type Bulge, bulgeMap } from './bulge'
import { type Cage, cageMap } from './cage'
import { isWholeRound, type RunAlong, runAlongMap } from './run-along'
import { type Shear, shearMap } from './shear'
import type { SpaceMap } from './space-map'
import { type Stretch, stretchMap } from './stretch'
import { type Taper, taperMap } from './taper'
import { type Twist, twistMap } from './twist'
import type { Box } from './units'
import { type Wave, waveMap } from './wave'

/** A deformation in figures: plain data, so that a solid can carry those it has been through. */
export type Deformation = Bend | Twist | Taper | Stretch | Shear | Bulge | Wave | RunAlong | Cage

/** Whether a deformation takes what it acts on once round, to where it began. */
export const comesRound = (deformation: Deformation): boolean =>
  (deformation.kind === 'bend' && isFullTurn(deformation)) || (deformation.kind === 'run-along' && isWholeRound(deformation))

/** The map of a deformation. Where it begins or ends, its derivative is that on the side where `box` is, mm: what is deformed. */
export function mapOf(deformation: Deformation, box?: Box): SpaceMap {
  switch (deformation.kind) {
    case 'bend':
      return bendMap(deformation, box)
    case 'twist':
      return twistMap(deformation, box)
    case 'taper':
      return taperMap(deformation, box)
    case 'stretch':
      return stretchMap(deformation)
    case 'shear':
      return shearMap(deformation)
    case 'bulge':
      return bulgeMap(deformation)
    case 'wave':
      return waveMap(deformation)
    case 'cage':
      return cageMap(deformation, box)
    case 'run-along':
      return runAlongMap(deformation, box)
  }
}
