import type { z } from 'zod'
import { FormatError } from '../../../format/mesh-data'
import { readModel, WITHOUT_UNITS } from '../../../format/model'
import { latticeFor } from '../../../outline/lattice'
import { type Damage, DAMAGES, type Found, repairTriangles } from '../../../repair/repair'
import { repairedModel } from '../../../repair/repaired-model'
import { solidBounds, triangleCount } from '../../../solid/solid'
import { plain } from '../../meta'
import { throughVolume } from '../../shared/volumes'
import { type Evaluate, failed, fileMissing, MissingAssetError, type StepIssue, type StepOutcome } from '../../step'
import type { modelParams } from './schema'

export const evaluate: Evaluate<typeof modelParams> = async (_input, params, context) => {
  const { sha256, name } = params.file
  if (!sha256) return failed('no-file', 'No model has been chosen.', 'Choose an STL, OBJ, PLY, glTF or 3MF file.', 'file')
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
  const placedMesh = { ...mesh, positions }
  const repaired = repairTriangles(placedMesh, lattice)
  context.progress(0.6)
  await context.breathe()
  if (params.repair === 'off' && repaired.found.length > 0) return broken(name, repaired.found)
  const { solid, check, united, crossings } = await repairedModel(placedMesh, lattice, repaired, () => context.breathe())
  if (params.repair === 'off' && united > 0) return crossed(name, united, crossings)
  if (!check.sound && params.repair === 'rebuild') return throughVolume(solid, context, { title: 'Model file', params, way: 'sharp', partsMayChange: true })
  if (!check.sound) {
    const [{ count, places }] = check.findings
    return {
      ok: false,
      issue: {
        code: 'unsound-model',
        severity: 'failed',
        message: `${name} is not the surface of a solid: ${check.findings.map((f) => `${f.message.replace(/\.$/, '')} (${f.count.toLocaleString('en')}×)`).join('; ')}.`,
        remedy: `${count === 1 ? 'The place is' : 'The first places are'} shown in the view. This cannot be repaired exactly: rebuild it from its volume, or mend it where it was made.`,
        places: places.slice(0, MOST_SHOWN),
        field: 'repair',
        fixes: [{ label: 'Rebuild it', params: { repair: 'rebuild' } }],
      },
    }
  }
  return {
    ok: true,
    value: solid,
    issues: [...(unitless ? unlikely(size, params) : []), ...repaired.found.map(mendedInWords), ...(united > 0 ? [madeOne(united, crossings)] : [])],
    told: `${triangleCount(solid).toLocaleString('en')} triangles, ${check.parts === 1 ? 'one part' : `${check.parts} parts`}${solid.looks.length > 1 ? `, ${solid.looks.length} materials` : ''}${toldOf(repaired.found, united)}`,
  }
}

const UNITS = { mm: 1, cm: 10, m: 1000, inch: 25.4 } as const

const UNIT_NAMES = Object.keys(UNITS) as (keyof typeof UNITS)[]

type ModelParams = z.infer<typeof modelParams>

/** Sizes that pieces mostly have, mm: outside of them another unit is proposed. */
const LIKELY = [3, 4000] as const

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

/** Places of one kind of damage that are shown in the view. */
const MOST_SHOWN = 24

/** Each kind of damage: one of it, several, and what is done about it. */
const DAMAGE: Record<Damage, { readonly one: string; readonly many: string; readonly mended: (one: boolean) => string }> = {
  hole: { one: 'one hole', many: 'holes', mended: (one) => (one ? 'was closed' : 'were closed') },
  seam: { one: 'one corner in the middle of another side', many: 'corners in the middle of other sides', mended: () => 'joined to the sides they lie on' },
  gap: { one: 'one gap between points', many: 'gaps between points', mended: (one) => (one ? 'was drawn together' : 'were drawn together') },
  turned: { one: 'one triangle that faces the wrong way', many: 'triangles that face the wrong way', mended: (one) => (one ? 'was turned' : 'were turned') },
  duplicate: { one: 'one triangle that is there twice', many: 'triangles that are there twice', mended: () => 'left out where they were too many' },
}

const counted = ({ damage, count }: Found) => (count === 1 ? DAMAGE[damage].one : `${count.toLocaleString('en')} ${DAMAGE[damage].many}`)

/** What there is to be repaired, counted. */
const inWords = (found: readonly Found[]): string =>
  DAMAGES.toReversed()
    .flatMap((damage) => found.filter((f) => f.damage === damage).map(counted))
    .join(', ')

/** What was repaired, behind what the model is. */
function toldOf(found: readonly Found[], united: number): string {
  const all = [inWords(found), united > 0 ? `${united} bodies made one` : ''].filter(Boolean).join(', ')
  return all ? `; repaired: ${all}` : ''
}

const madeOne = (bodies: number, places: StepIssue['places']): StepIssue => ({
  code: 'repaired-crossing',
  severity: 'note',
  message: `${bodies} bodies passed through each other, and were made one.`,
  remedy: 'The places are shown in the view.',
  ...(places ? { places: places.slice(0, MOST_SHOWN) } : {}),
  field: 'repair',
})

const mendedInWords = (found: Found): StepIssue => {
  const words = counted(found)
  return {
    code: `repaired-${found.damage}`,
    severity: 'note',
    message: `${words.charAt(0).toUpperCase()}${words.slice(1)}: ${DAMAGE[found.damage].mended(found.count === 1)}.`,
    remedy: `${found.count === 1 ? 'The place is' : 'The places are'} shown in the view.`,
    places: found.places.slice(0, MOST_SHOWN),
    field: 'repair',
  }
}

const broken = (name: string, found: readonly Found[]): StepOutcome => ({
  ok: false,
  issue: {
    code: 'broken-model',
    severity: 'failed',
    message: `${name} is broken: ${inWords(found)}.`,
    remedy: 'Let it be repaired here, or mend it where it was made.',
    places: found.flatMap(({ places }) => places).slice(0, MOST_SHOWN),
    field: 'repair',
    fixes: [{ label: 'Repair it', params: { repair: 'on' } }],
  },
})

const crossed = (name: string, bodies: number, places: StepIssue['places']): StepOutcome => ({
  ok: false,
  issue: {
    code: 'crossing-bodies',
    severity: 'failed',
    message: `${name} holds ${bodies} bodies that pass through each other.`,
    remedy: 'Let them be made one here, or mend it where it was made.',
    ...(places ? { places: places.slice(0, MOST_SHOWN) } : {}),
    field: 'repair',
    fixes: [{ label: 'Make them one', params: { repair: 'on' } }],
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
