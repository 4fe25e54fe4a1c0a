import { beforeAll, describe, expect, it } from 'vitest'
import { assets, wordRoute } from '../../test/helpers'
import { checkMesh } from '../check/check'
import type { RouteStep } from '../document/schema'
import { evaluateRoute } from '../evaluate/route'
import { arranged, lettersApart, merged } from './arrange'
import { normalsOf } from './shading'
import { labelAt, type Solid, surfacesOf, triangleCount } from './solid'

const dress: RouteStep = { id: 'dress-1', kind: 'dress', on: true, params: { palette: 'letter', colours: ['#cc2211', '#2244cc'] } }
const make = async (text: string, lettering: Record<string, unknown> = {}) => {
  const { value } = await evaluateRoute([...wordRoute(text, 'archivo-bold', lettering), dress], { assets })
  if (value?.kind !== 'solid') throw new Error(text)
  return value
}
let solid: Solid

beforeAll(async () => {
  solid = await make('Quiä B')
})

describe('a solid that is taken away', () => {
  it('is itself when nothing is asked', () => {
    expect(arranged(solid, { scale: 1, up: 'y' })).toBe(solid)
  })

  it('stands up for programs whose Z points upwards, unharmed to the bit', () => {
    const was = checkMesh(solid)
    const standing = arranged(solid, { scale: 1, up: 'z' })
    const is = checkMesh(standing)
    expect(is).toMatchObject({ sound: true, triangles: was.triangles, size: [was.size[0], was.size[2], was.size[1]] })
    expect(is.volume).toBeCloseTo(was.volume, 6)
    // its face, which looked along +Z, looks along −Y
    for (let t = 0; t < triangleCount(standing); t++)
      if (labelAt(standing, t, 'group') === 0) expect(normalsOf(standing).subarray(9 * t, 9 * t + 3)).toEqual(Float32Array.of(0, -1, 0))
  })

  it.each([0.1, 0.5, 2.54, 25.4])('scaled by %f is as many times as large and sound', (scale) => {
    const [was, is] = [checkMesh(solid), checkMesh(arranged(solid, { scale, up: 'z' }))]
    expect(is.sound).toBe(true)
    expect(is.volume / was.volume / scale ** 3).toBeCloseTo(1, 3)
    expect(is.size[2] / was.size[1] / scale).toBeCloseTo(1, 3)
  })

  it('is one surface when merged', () => {
    expect(surfacesOf(solid).surfaces.length).toBeGreaterThan(4)
    const one = merged(solid)
    expect(surfacesOf(one).surfaces.length).toBe(1)
    expect(checkMesh(one).volume).toBe(checkMesh(solid).volume)
  })

  it('comes apart by its letters, each whole with its dots, all of it and no more', () => {
    const parts = lettersApart(solid)
    expect(parts.map((p) => p.name)).toEqual(['Q', 'u', 'i', 'ä', 'B'])
    for (const part of parts) expect(checkMesh(part.solid)).toMatchObject({ sound: true })
    expect(checkMesh(parts[3].solid).parts).toBe(3)
    expect(parts.reduce((sum, p) => sum + triangleCount(p.solid), 0)).toBe(triangleCount(solid))
    expect(parts.reduce((sum, p) => sum + checkMesh(p.solid).volume, 0)).toBeCloseTo(checkMesh(solid).volume, 6)
    // and looks as it did
    expect(surfacesOf(parts[0].solid).surfaces.map((s) => s.material.colour)).toContain('#cc2211')
  })

  it('keeps letters together that are joined', async () => {
    const joined = await make('oo l', { tracking: -300, united: true })
    const parts = lettersApart(joined)
    for (const part of parts) expect(checkMesh(part.solid).sound).toBe(true)
    expect(parts.map((p) => p.name).join('')).toBe('ool')
    expect(parts.length).toBeLessThan(3)
  })
})
