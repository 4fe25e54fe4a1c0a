import { z } from 'zod'
import { checkMesh } from '../../../check/check'
import { FormatError } from '../../../format/mesh-data'
import { readModel, WITHOUT_UNITS } from '../../../format/model'
import { mendedSolid } from '../../../join/placed'
import { latticeFor } from '../../../outline/lattice'
import { type Repaired, repairTriangles } from '../../../repair/repair'
import { solidFromTriangles } from '../../../solid/from-triangles'
import { type Solid, solidBounds, triangleCount, withParts } from '../../../solid/solid'
import { meta, plain } from '../../meta'
import { defineStep, failed, fileMissing, MissingAssetError, type StepIssue, type StepOutcome } from '../../step'

const UNITS = { mm: 1, cm: 10, m: 1000, inch: 25.4 } as const
const UNIT_NAMES = Object.keys(UNITS) as (keyof typeof UNITS)[]

const modelParams = z.object({
  file: z
    .object({ sha256: z.string().regex(/^([0-9a-f]{64})?$/), name: z.string().max(200) })
    .default({ sha256: '', name: '' })
    .meta(meta({ title: 'File', holds: 'model file' })),
  unit: z
    .enum(['mm', 'cm', 'm', 'inch'])
    .default('mm')
    .meta(
      meta({
        title: 'Its numbers are',
        labels: ['Millimetres', 'Centimetres', 'Metres', 'Inches'],
        description: 'Of STL, OBJ and PLY; other files say it themselves.',
      }),
    ),
  up: z
    .enum(['y', 'z'])
    .default('y')
    .meta(meta({ title: 'Stands as', labels: ['It is', 'Z is up'] })),
  scale: z
    .number('The scale must be a number.')
    .min(0.1, 'The scale must be at least 0.1 %.')
    .max(100_000)
    .default(100)
    .meta(meta({ title: 'Scale', unit: '%', step: 5 })),
  ground: z
    .boolean()
    .default(true)
    .meta(meta({ title: 'On the ground, in the middle' })),
  repair: z
    .enum(['off', 'on'])
    .default('off')
    .meta(
      meta({ title: 'Repair', labels: ['As it is', 'Repaired'], description: 'Closes holes, turns triangles the right way and leaves out repeated ones.' }),
    ),
})

type ModelParams = z.infer<typeof modelParams>

/** Sizes that pieces mostly have, mm: outside of them another unit is proposed. */
const LIKELY = [3, 4000] as const

export const modelFile = defineStep({
  kind: 'model-file',
  version: 1,
  family: 'Source',
  title: 'Model file',
  summary: 'Brings in a model as STL, OBJ, PLY, GLB or 3MF, to carve words into or raise them on.',
  takes: [],
  gives: 'solid',
  params: modelParams,
  describe: ({ file, repair }) => (file.sha256 ? `${file.name || 'A model'}${repair === 'on' ? ', repaired' : ''}` : 'No file chosen yet'),

  async evaluate(_input, params, context): Promise<StepOutcome> {
    const { sha256, name } = params.file
    if (!sha256) return failed('no-file', 'No model has been chosen.', 'Choose an STL, OBJ, PLY, GLB or 3MF file.', 'file')
    let mesh: Awaited<ReturnType<typeof readModel>>
    try {
      mesh = await readModel(await context.assets.file(sha256))
    } catch (error) {
      if (error instanceof FormatError) return failed('unreadable-model', `${name}: ${error.message}`, error.remedy, 'file')
      if (error instanceof MissingAssetError) return fileMissing(`The model “${name}”`, 'file')
      throw error
    }
    context.progress(0.3)
    await context.breathe()
    const unitless = WITHOUT_UNITS.includes(mesh.format)
    const positions = placed(mesh.positions, params, unitless ? UNITS[params.unit] : 1)
    const size = sizeOf(positions)
    if (Math.max(...size) > 100_000)
      return failed('too-large', `The model would be ${plain(Math.max(...size) / 1000)} m large.`, 'Choose a smaller unit or scale.', 'unit')
    const lattice = latticeFor(solidBounds(positions).reduce((most, v) => Math.max(most, Math.abs(v)), 0))
    const repaired = repairTriangles({ positions, indices: mesh.indices }, lattice)
    context.progress(0.6)
    await context.breathe()
    const found = inWords(repaired)
    if (found && params.repair === 'off') return broken(name, found, checkMesh({ positions, indices: mesh.indices }, { deep: false }).findings[0]?.places)
    let solid: Solid = { ...withParts(solidFromTriangles(repaired, lattice)), layers: [{ name: 'Model' }] }
    let check = checkMesh(solid)
    if (!check.sound && check.findings.every(({ code }) => code === 'crossing')) {
      // triangles that rounding has turned over
      const { solid: mended, mended: did } = mendedSolid(solid)
      if (did.sound) [solid, check] = [mended, checkMesh(mended)]
    }
    if (!check.sound) {
      const [{ count, places }] = check.findings
      return {
        ok: false,
        issue: {
          code: 'unsound-model',
          severity: 'failed',
          message: `${name} is not the surface of a solid: ${check.findings.map((f) => `${f.message.replace(/\.$/, '')} (${f.count.toLocaleString('en')}×)`).join('; ')}.`,
          remedy: `${count === 1 ? 'The place is' : 'The first places are'} shown in the view. This cannot be repaired exactly: mend it where it was made.`,
          places: places.slice(0, 8),
          field: 'file',
        },
      }
    }
    return {
      ok: true,
      value: solid,
      issues: unitless ? unlikely(size, params) : [],
      told: `${triangleCount(solid).toLocaleString('en')} triangles, ${check.parts === 1 ? 'one part' : `${check.parts} parts`}${found ? `; repaired: ${found}` : ''}`,
    }
  },
})

function sizeOf(positions: Float64Array): [number, number, number] {
  const box = solidBounds(positions)
  return [box[3] - box[0], box[4] - box[1], box[5] - box[2]]
}

/** The model's points in mm, as it is to stand. */
function placed(from: Float64Array, { up, scale, ground }: ModelParams, unit: number): Float64Array {
  const factor = (unit * scale) / 100
  const out = new Float64Array(from.length)
  for (let i = 0; i < from.length; i += 3) {
    out[i] = from[i] * factor
    out[i + 1] = (up === 'z' ? from[i + 2] : from[i + 1]) * factor
    out[i + 2] = (up === 'z' ? -from[i + 1] : from[i + 2]) * factor
  }
  if (!ground) return out
  const box = solidBounds(out)
  const by = [-(box[0] + box[3]) / 2, -box[1], -(box[2] + box[5]) / 2]
  for (let i = 0; i < out.length; i++) out[i] += by[i % 3]
  return out
}

/** What there is to be repaired, counted; empty when there is nothing. */
function inWords({ duplicate, turned, holes }: Repaired): string {
  const count = (n: number, one: string, many: string) => (n === 0 ? [] : [n === 1 ? one : `${n.toLocaleString('en')} ${many}`])
  return [
    ...count(holes, 'one hole', 'holes'),
    ...count(turned, 'one triangle that faces the wrong way', 'triangles that face the wrong way'),
    ...count(duplicate, 'one triangle that is there twice', 'triangles that are there twice'),
  ].join(', ')
}

const broken = (name: string, found: string, places: StepIssue['places']): StepOutcome => ({
  ok: false,
  issue: {
    code: 'broken-model',
    severity: 'failed',
    message: `${name} is broken: ${found}.`,
    remedy: 'Let it be repaired here, or mend it where it was made.',
    ...(places ? { places: places.slice(0, 8) } : {}),
    field: 'repair',
    fixes: [{ label: 'Repair it', params: { repair: 'on' } }],
  },
})

/** Another unit is proposed where the model is of a size that pieces hardly have. */
function unlikely(size: readonly number[], { unit, scale }: ModelParams): StepIssue[] {
  const most = Math.max(...size)
  if (most >= LIKELY[0] && most <= LIKELY[1]) return []
  const bare = most / UNITS[unit] / (scale / 100)
  const fits = UNIT_NAMES.filter((name) => name !== unit && bare * UNITS[name] >= LIKELY[0] && bare * UNITS[name] <= LIKELY[1])
  return [
    {
      code: 'unlikely-size',
      severity: 'warning',
      message: `The model is ${plain(most)} mm large, which is unlikely for ${{ mm: 'millimetres', cm: 'centimetres', m: 'metres', inch: 'inches' }[unit]}.`,
      remedy: 'Choose the unit its numbers are in.',
      field: 'unit',
      ...(fits.length > 0 ? { fixes: fits.map((name) => ({ label: `Take them as ${name}`, params: { unit: name, scale: 100 } })) } : {}),
    },
  ]
}
