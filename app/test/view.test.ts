import { newProject } from '@kelvar/core/document/new-project'
import { GROUPS, type Solid } from '@kelvar/core/solid/solid'
import { STEPS, stepKind } from '@kelvar/core/steps/registry'
import { describe, expect, it } from 'vitest'
import * as THREE from 'three'
import { misfit } from '@/features/route/finder'
import { effectiveParams } from '@/features/route/fields'
import { FIELD_OF_VIEW, framingOf, STANDARD_VIEWS, standFor } from '@/features/view/scene'
import { meshBuffers, viewMesh } from '@/workers/view-mesh'

const solid: Solid = {
  kind: 'solid',
  positions: Float64Array.from([0, 0, 0, 4, 0, 0, 0, 3, 0, 0, 0, 5]),
  indices: Uint32Array.from([0, 2, 1, 0, 1, 3, 1, 2, 3, 0, 3, 2]),
  group: Uint8Array.from([3, 0, 0, 2]),
  letter: new Uint16Array(4),
  layer: new Uint16Array(4),
  layers: [],
  part: new Uint16Array(4),
  normals: Float32Array.from({ length: 36 }, (_, i) => i),
  uvs: new Float32Array(24),
  letters: ['x'],
  lattice: 2 ** -14,
  materials: Object.fromEntries(GROUPS.map((g, i) => [g, { colour: `#00000${i}`, roughness: 0.5, metalness: 0 }])) as Solid['materials'],
}

describe('viewMesh', () => {
  it('hands every triangle to its group, with its normals and the group’s material', () => {
    const mesh = viewMesh(solid)
    expect(mesh.groups.map((g) => [g.group, g.positions.length / 9, g.material.colour])).toEqual([
      ['face', 2, '#000000'],
      ['return', 1, '#000002'],
      ['back', 1, '#000003'],
    ])
    expect([...mesh.groups[2].positions]).toEqual([0, 0, 0, 0, 3, 0, 4, 0, 0])
    expect([...mesh.groups[0].normals.subarray(0, 9)]).toEqual([9, 10, 11, 12, 13, 14, 15, 16, 17])
    expect(mesh.box).toEqual([0, 0, 0, 4, 3, 5])
    expect(meshBuffers(mesh).length).toBe(9)
  })
})

describe('standFor', () => {
  it('stands where the whole piece is in the frame, from every standard view, wide or tall', () => {
    for (const box of [
      [-140, -15, 0, 140, 40, 13],
      [-5, -100, 0, 5, 200, 2],
      [0, 0, 0, 1, 1, 1],
    ] as const) {
      const framing = framingOf(box)
      for (const aspect of [0.6, 1.3, 2.4]) {
        for (const view of STANDARD_VIEWS) {
          const camera = new THREE.PerspectiveCamera(FIELD_OF_VIEW, aspect, 0.1, 1e6)
          camera.position.copy(standFor(view, framing, aspect))
          camera.lookAt(framing.centre)
          camera.updateMatrixWorld()
          for (let corner = 0; corner < 8; corner++) {
            const p = new THREE.Vector3(box[corner & 1 ? 3 : 0], box[corner & 2 ? 4 : 1], box[corner & 4 ? 5 : 2]).project(camera)
            expect(Math.max(Math.abs(p.x), Math.abs(p.y)), `${view} ${aspect}`).toBeLessThan(1)
          }
        }
      }
    }
  })
})

describe('the finder', () => {
  it('offers a step just where its input is what comes before, and else says why not', () => {
    const fits = (before: 'outline' | 'solid' | undefined) => STEPS.filter((s) => misfit(s, before) === undefined).map((s) => s.kind)
    expect(fits(undefined)).toEqual(['lettering', 'drawing', 'vector-file', 'traced-picture', 'plate', 'block'])
    expect(fits('outline')).toEqual([
      'layers',
      'redraw',
      'extend',
      'combine',
      'stroke-to-outline',
      'offset',
      'round-corners',
      'smooth',
      'slice',
      'warp',
      'simplify',
      'extrude',
      'prismatic',
      'inflate',
      'tube',
      'sweep',
      'channel',
      'relief',
    ])
    expect(fits('solid')).toEqual(['dress'])
    for (const step of STEPS) for (const before of ['outline', 'solid', undefined] as const) expect(misfit(step, before) ?? 'fits.').toMatch(/\.$/)
  })
})

describe('effectiveParams', () => {
  const lettering = stepKind('lettering')
  if (!lettering) throw new Error('no lettering')

  it('shows defaults for what is missing or bad, and keeps the rest and every text', () => {
    const { params } = newProject().pieces[0].route[0]
    expect(effectiveParams(lettering, params)).toMatchObject({ text: 'Hello', size: 40, kerning: 'face' })
    expect(effectiveParams(lettering, { text: 'Quay', size: -5, tracking: 30 })).toMatchObject({ text: 'Quay', size: 40, tracking: 30 })
    const long = 'x'.repeat(5000)
    expect(effectiveParams(lettering, { text: long })).toMatchObject({ text: long, size: 40 })
  })
})
