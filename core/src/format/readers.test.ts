import { execFileSync } from 'node:child_process'
import { mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { unzipSync } from 'fflate'
import validator from 'gltf-validator'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { assets, wordRoute } from '../../test/helpers'
import { checkMesh } from '../check/check'
import type { RouteStep } from '../document/schema'
import { evaluateRoute } from '../evaluate/route'
import type { Solid } from '../solid/solid'
import { write3mf } from './3mf'
import { writeGlb } from './glb'
import { writeObj } from './obj'
import { writePly } from './ply'
import { writeStl } from './stl'

/** Programs that know nothing of Kelvar; scripts/install.sh brings them (assimp-utils, admesh, libxml2-utils). */
const run = (program: string, ...args: string[]) => execFileSync(program, args, { encoding: 'utf8', stdio: ['ignore', 'pipe', 'pipe'] })

const step = (kind: string, params: Record<string, unknown> = {}): RouteStep => ({ id: `${kind}-1`, kind, on: true, params })
const [words] = wordRoute('Qä & 8', 'alfa-slab')
const ROUTES: Record<string, RouteStep[]> = {
  extruded: [words, step('extrude', { front: { profile: 'ogee', inset: 1.5, height: 1.5 } }), step('dress')],
  inflated: [words, step('inflate', { height: 4 })],
  channel: [words, step('channel', { depth: 12 })],
}

let folder: string
const solids = new Map<string, Solid>()

beforeAll(async () => {
  folder = mkdtempSync(join(tmpdir(), 'kelvar-readers-'))
  for (const [name, route] of Object.entries(ROUTES)) {
    const { value } = await evaluateRoute(route, { assets })
    if (value?.kind !== 'solid') throw new Error(name)
    solids.set(name, value)
  }
})
afterAll(() => rmSync(folder, { recursive: true }))

async function write(solid: Solid, format: string, name: string): Promise<string> {
  const path = join(folder, `${name}.${format}`)
  if (format === 'stl') writeFileSync(path, writeStl(solid))
  else if (format === 'ply') writeFileSync(path, writePly(solid))
  else if (format === '3mf') writeFileSync(path, write3mf(solid, name))
  else if (format === 'glb') writeFileSync(path, await writeGlb(solid, name))
  else {
    const { obj, mtl } = writeObj(solid, name, `${name}.mtl`)
    writeFileSync(path, obj)
    writeFileSync(join(folder, `${name}.mtl`), mtl)
  }
  return path
}

/** What admesh finds in an STL file; its volume is of the facets, whatever normals the file states. */
function measure(path: string) {
  const told = run('admesh', '--exact', '--normal-values', path)
  const number = (pattern: RegExp) => Number(pattern.exec(told)?.[1] ?? Number.NaN)
  return {
    triangles: number(/Number of facets\s*:\s*(\d+)/),
    open: number(/Total disconnected facets\s*:\s*(\d+)/),
    degenerate: number(/Degenerate facets\s*:\s*(\d+)/),
    reversed: number(/Facets reversed\s*:\s*(\d+)/),
    volume: number(/Volume\s*:\s*(-?[\d.]+)/),
    size: ['X', 'Y', 'Z'].map((axis) => number(new RegExp(`Max ${axis} =\\s*(-?[\\d.]+)`)) - number(new RegExp(`Min ${axis} =\\s*(-?[\\d.]+)`))),
  }
}

describe.each(Object.keys(ROUTES))('%s letters', (name) => {
  // glTF is in metres by its standard
  it.each([
    ['stl', 1],
    ['obj', 1],
    ['ply', 1],
    ['3mf', 1],
    ['glb', 1000],
  ] as const)('as %s are read by assimp and admesh with the same triangles, volume and size', async (format, unit) => {
    const solid = solids.get(name) as Solid
    const own = checkMesh(solid)
    const path = await write(solid, format, name)
    let stl = path
    if (format !== 'stl') {
      stl = join(folder, `${name}-${format}.stl`)
      run('assimp', 'export', path, stl, '-f', 'stlb')
    }
    const read = measure(stl)
    expect(read).toMatchObject({ triangles: own.triangles, degenerate: 0, reversed: 0 })
    if (format === 'stl') expect(read.open).toBe(0)
    read.size.forEach((s, k) => expect(Math.abs(s * unit - own.size[k])).toBeLessThan(unit === 1 ? 1e-4 : 2e-3))
    // admesh prints six decimals, which leaves a metre's cube few digits
    if (unit === 1) expect(Math.abs(read.volume / own.volume - 1)).toBeLessThan(1e-4)
    else expect(Math.abs(read.volume - own.volume / 1e9)).toBeLessThan(1e-6)
  })

  it('as 3MF keep to the schema of the 3MF core specification', async () => {
    const archive = unzipSync(write3mf(solids.get(name) as Solid, `${name} <&>`))
    const model = join(folder, `${name}.model.xml`)
    writeFileSync(model, archive['3D/3dmodel.model'])
    const schema = fileURLToPath(new URL('../../test/3mf-core.xsd', import.meta.url))
    expect(() => run('xmllint', '--noout', '--nonet', '--huge', '--schema', schema, model)).not.toThrow()
    // and the schema does find faults
    writeFileSync(model, new TextDecoder().decode(archive['3D/3dmodel.model']).replace(/ v2="\d+"/, ''))
    expect(() => run('xmllint', '--noout', '--nonet', '--huge', '--schema', schema, model)).toThrow(/v2/)
  })

  it('as GLB have nothing the glTF validator would object to', async () => {
    const { issues } = await validator.validateBytes(await writeGlb(solids.get(name) as Solid, name))
    expect(issues).toMatchObject({ numErrors: 0, numWarnings: 0 })
  })
})
