import { labelled, solidOf as solidOfMesh } from '../../../volume/labelled'
import { smoothedSurface } from '../../../volume/smooth-surface'
import { solidOf } from '../../shared/joining'
import { maskedInput } from '../../shared/masks'
import { certified, onLattice } from '../../shared/surfaces'
import { type Evaluate, failed } from '../../step'
import type { smoothParams } from './schema'

export const evaluate: Evaluate<typeof smoothParams> = async (input, { rounds, weights, creases, mask }, context) => {
  const limited = maskedInput(input, mask)
  if (limited.nowhere) return { ok: true, value: limited.value, issues: limited.issues }
  const solid = solidOf(limited.value)
  if (!solid) return failed('no-solid', 'Smooth surface needs a solid to work on.', 'Put a form such as Extrude, or a Block, before it.')
  const mesh = labelled(solid)
  // where so much would make it pass through itself, less is done
  for (let now = rounds; now >= 1; now = Math.floor(now / 2)) {
    await context.breathe()
    const smoothed = smoothedSurface(mesh, now, creases, weights)
    const shares = limited.weights
    if (shares) for (let i = 0; i < smoothed.length; i++) smoothed[i] = mesh.positions[i] + shares[Math.floor(i / 3)] * (smoothed[i] - mesh.positions[i])
    const positions = onLattice(smoothed, solid.lattice)
    const result = certified(solidOfMesh({ ...mesh, positions }, solid, solid.lattice))
    if (!result.ok) continue
    return {
      ok: true,
      value: result.solid,
      issues:
        now === rounds
          ? limited.issues
          : [
              {
                code: 'less-smooth',
                severity: 'warning',
                message: `Only ${now === 1 ? 'one round was' : `${now} rounds were`} made: after more the surface would pass through itself.`,
                remedy: 'Remesh it evenly before, by voxels.',
                field: 'rounds',
              },
              ...limited.issues,
            ],
    }
  }
  return failed('crosses', 'Smoothed even once, the surface would pass through itself: its triangles are too uneven.', 'Remesh it before, by voxels.', 'rounds')
}
