import { z } from 'zod'
import { labelled, solidOf as solidOfMesh } from '../../../volume/labelled'
import { smoothedSurface } from '../../../volume/smooth-surface'
import { meta, plain } from '../../meta'
import { solidOf } from '../../shared/joining'
import { maskedInput, maskParam } from '../../shared/masks'
import { certified, onLattice } from '../../shared/surfaces'
import { defineStep, failed } from '../../step'

const smoothParams = z.object({
  rounds: z
    .number('The rounds must be a number.')
    .int('Rounds are counted whole.')
    .min(1)
    .max(200)
    .default(10)
    .meta(meta({ title: 'Rounds', step: 1, tried: true, most: 60 })),
  weights: z
    .enum(['cotangent', 'even'])
    .default('cotangent')
    .meta(
      meta({ title: 'Neighbours count', labels: ['By their angles', 'All alike'], description: 'By their angles: uneven triangles are not drawn together.' }),
    ),
  creases: z
    .number('The angle must be a number.')
    .min(1, 'Creases begin at 1° or more.')
    .max(180)
    .default(40)
    .meta(meta({ title: 'Creases from', unit: '°', step: 5, description: 'Sides that bend by more keep their line.' })),
  mask: maskParam,
})

export const smoothSurface = defineStep({
  kind: 'smooth-surface',
  version: 1,
  family: 'Volume',
  title: 'Smooth surface',
  summary: 'Takes roughness out of a surface without shrinking it; creases and borders keep their lines.',
  takes: ['solid'],
  gives: 'solid',
  params: smoothParams,
  describe: ({ rounds, creases }) => `${rounds === 1 ? 'One round' : `${rounds} rounds`}, creases from ${plain(creases)}°`,
  async evaluate(input, { rounds, weights, creases, mask }, context) {
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
    return failed(
      'crosses',
      'Smoothed even once, the surface would pass through itself: its triangles are too uneven.',
      'Remesh it before, by voxels.',
      'rounds',
    )
  },
})
