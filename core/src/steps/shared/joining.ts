import { type Joined, type JoinHow, joinSolid, type Partner } from '../../join/join'
import { thinnestFloor } from '../../join/thinnest'
import { loadManifold } from '../../kernel/manifold'
import { sizedOutline } from '../../outline/sized'
import { type Matrix, UNMOVED } from '../../solid/operations'
import { connectedParts, partCount, type Solid, solidBounds, vertexCount } from '../../solid/solid'
import { plain } from '../meta'
import { failed, type Fix, type StepContext, type StepIssue, type StepKind, type StepMarks, type StepOutcome } from '../step'
import type { Value } from '../value'

/** One of them, with what it is called. */
export interface NamedPartner extends Partner {
  readonly name: string
}

/** Another piece that is moved or stretched from its place along the body's own front, before it is joined. */
type Standing = (partner: NamedPartner, number: number) => Matrix

interface JoinInStep {
  readonly title: string
  readonly how: JoinHow
  /** the parameter that names the other pieces, and what they are as solids */
  readonly field?: string
  readonly solids?: readonly Solid[]
  /** their labels are those of what they lay bare already */
  readonly inside?: boolean
  /** where they stand; at their places when left out */
  readonly standing?: (body: Solid) => Standing
}

export interface JoinedInStep {
  readonly joined: Extract<Joined, { ok: true }>
  readonly partners: readonly NamedPartner[]
}

/**
 * Runs a join for a step: the body, the other pieces from the step's inputs, each at its place and then as `standing` has it. Failures are
 * outcomes in words; what succeeded comes with the partners as they stood.
 */
export async function joinInStep(
  input: Value | undefined,
  context: StepContext,
  { title, how, field = 'others', solids, inside, standing = () => (partner) => partner.matrix }: JoinInStep,
): Promise<{ readonly failure: StepOutcome } | JoinedInStep> {
  const no = (code: string, message: string, remedy: string) => ({ failure: failed(code, message, remedy, field) })
  const body = solidOf(input)
  if (!body) return no('no-solid', `${title} needs a solid to work on.`, 'Put a form such as Extrude, or a Block, before it.')
  const others = solids ?? (context.inputs[field] ?? []).flatMap((value) => solidOf(value) ?? [])
  if (others.length === 0) return noPiece(title, field)
  await loadManifold()
  await context.breathe()
  const stand = standing(body)
  const partners = others.map((solid, i): NamedPartner => {
    // several solids of one piece stand where it does
    const places = context.placed?.[field] ?? []
    const { piece: name = 'the other piece', matrix = UNMOVED } = places[i] ?? places[0] ?? {}
    return { solid, name, matrix: stand({ solid, name, matrix }, i), inside }
  })
  const joined = joinSolid(body, partners, how, context.memo)
  if (joined.ok) return { joined, partners }
  const names = partners.map(({ name }) => `“${name}”`).join(', ')
  if (joined.why === 'empty')
    return no(
      'nothing-left',
      how === 'overlap' ? `${names} and this piece do not overlap.` : 'Nothing is left of this piece.',
      'Move one of them: Place, under the view, has the figures.',
    )
  return {
    failure: {
      ok: false,
      issue: {
        code: 'not-certified',
        severity: 'failed',
        message: 'The result crosses itself where it was rounded, and could not be mended.',
        remedy: 'Move one of the pieces by a tenth of a millimetre, or leave one out. The place is shown in the view.',
        places: joined.places,
        field,
      },
    },
  }
}

export const noPiece = (title: string, field: string) => ({
  failure: failed('no-piece', `No piece has been chosen to ${title.toLowerCase()} with.`, 'Choose one; it takes part where it stands in the project.', field),
})

/** A value as a solid; undefined for an outline or none. */
export function solidOf(value: Value | undefined): Solid | undefined {
  return value?.kind === 'solid' ? value : undefined
}

/** What is said of pieces that have nothing in common with the body, at their middles. */
export function missing(partners: readonly NamedPartner[], apart: readonly number[], fixes: readonly Fix[]): StepIssue[] {
  if (apart.length === 0) return []
  const names = apart.map((i) => `“${partners[i].name}”`)
  return [
    {
      code: 'misses',
      severity: 'warning',
      message: `${names.join(', ')} ${names.length > 1 ? 'do' : 'does'} not reach into this piece: nothing is changed by ${names.length > 1 ? 'them' : 'it'}.`,
      remedy: 'Bring it to this piece, or give it another place.',
      places: apart.slice(0, 8).map((i) => middle(partners[i])),
      field: 'others',
      ...(fixes.length > 0 ? { fixes } : {}),
    },
  ]
}

function middle({ solid, matrix: m }: Partner): [number, number, number] {
  const b = solidBounds(solid.positions)
  const [x, y, z] = [0, 1, 2].map((k) => (b[k] + b[k + 3]) / 2)
  return [0, 4, 8].map((r) => m[r] * x + m[r + 1] * y + m[r + 2] * z + m[r + 3]) as [number, number, number]
}

/** Bounds of a partner where it stands. */
export function boundsAt(solid: Solid, m: Matrix): [number, number, number, number, number, number] {
  const box: [number, number, number, number, number, number] = [Infinity, Infinity, Infinity, -Infinity, -Infinity, -Infinity]
  const { positions: p } = solid
  for (let i = 0; i < p.length; i += 3)
    for (let k = 0; k < 3; k++) {
      const v = m[4 * k] * p[i] + m[4 * k + 1] * p[i + 1] + m[4 * k + 2] * p[i + 2] + m[4 * k + 3]
      if (v < box[k]) box[k] = v
      if (v > box[k + 3]) box[k + 3] = v
    }
  return box
}

/** The height of a body's front under a rectangle of its plane, mm; of the whole body where nothing of it lies there. */
export function frontUnder({ positions: p, indices }: Solid, [x0, y0, , x1, y1]: readonly number[]): number {
  let [most, whole] = [-Infinity, -Infinity]
  for (let i = 0; i < indices.length; i += 3) {
    const [a, b, c] = [3 * indices[i], 3 * indices[i + 1], 3 * indices[i + 2]]
    const z = Math.max(p[a + 2], p[b + 2], p[c + 2])
    if (z > whole) whole = z
    if (z <= most) continue
    if (Math.max(p[a], p[b], p[c]) < x0 || Math.min(p[a], p[b], p[c]) > x1) continue
    if (Math.max(p[a + 1], p[b + 1], p[c + 1]) < y0 || Math.min(p[a + 1], p[b + 1], p[c + 1]) > y1) continue
    most = z
  }
  return Number.isFinite(most) ? most : whole
}

/** Stands partners on the body's face, so deep in. */
export const onFace =
  (sunk: number) =>
  (body: Solid): Standing =>
  ({ solid, matrix }) => {
    const box = boundsAt(solid, matrix)
    return lifted(matrix, frontUnder(body, box) - sunk - box[2])
  }

/** A matrix after which everything is moved along z. */
export const lifted = (m: Matrix, dz: number): Matrix => [...m.slice(0, 11), m[11] + dz] as unknown as Matrix

/** A volume in words. */
export const volumeWords = (mm3: number): string => (Math.abs(mm3) >= 1000 ? `${plain(mm3 / 1000)} cm³` : `${plain(mm3)} mm³`)

/** What is said of a cut that leaves less than is asked for behind its floor; `remedies` are for so many mm less depth. */
export function thinFloor(
  solid: Solid,
  leave: number,
  field: string,
  remedies: (tooDeep: number) => readonly Fix[],
): { readonly issues: StepIssue[]; readonly left?: number } {
  const thin = thinnestFloor(solid)
  if (!thin) return { issues: [] }
  // what rounding takes is not missed
  if (thin.thickness >= leave - 1e-3) return { issues: [], left: thin.thickness }
  return {
    left: thin.thickness,
    issues: [
      {
        code: 'thin-floor',
        severity: 'warning',
        message: `The cut leaves only ${plain(thin.thickness)} mm behind it; ${plain(leave)} mm are asked for.`,
        remedy: 'Cut less deep, right through, or make the body thicker.',
        places: [thin.place],
        field,
        fixes: remedies(leave - thin.thickness),
      },
    ],
  }
}

/** What is said of pieces that a cut has parted from the body and that hang on nothing: all but the largest, where the body was one before. */
export function fallenOut(before: Solid, after: Solid): StepIssue[] {
  if (partCount(before) > 1 || partCount(after) <= 1) return []
  const { positions: p, indices } = after
  const { part, count } = connectedParts(indices, vertexCount(after))
  const volumes = new Float64Array(count)
  const middles = new Float64Array(3 * count)
  const corners = new Float64Array(count)
  for (let t = 0; t < part.length; t++) {
    const [a, b, c] = [3 * indices[3 * t], 3 * indices[3 * t + 1], 3 * indices[3 * t + 2]]
    volumes[part[t]] +=
      (p[a] * (p[b + 1] * p[c + 2] - p[b + 2] * p[c + 1]) - p[a + 1] * (p[b] * p[c + 2] - p[b + 2] * p[c]) + p[a + 2] * (p[b] * p[c + 1] - p[b + 1] * p[c])) / 6
    corners[part[t]] += 3
    for (const v of [a, b, c]) for (let k = 0; k < 3; k++) middles[3 * part[t] + k] += p[v + k]
  }
  const largest = volumes.indexOf(Math.max(...volumes))
  // hollows are parts as well, of no volume of their own
  const loose = Array.from({ length: count }, (_, i) => i).filter((i) => i !== largest && volumes[i] > 0)
  if (loose.length === 0) return []
  return [
    {
      code: 'falls-out',
      severity: 'warning',
      message:
        loose.length === 1 ? 'One piece hangs on nothing any more and would fall out.' : `${loose.length} pieces hang on nothing any more and would fall out.`,
      remedy: 'Hold them by bridges: the step Stencil, in the route of the words. Or cut less deep.',
      places: loose.slice(0, 12).map((i) => [0, 1, 2].map((k) => middles[3 * i + k] / corners[i]) as [number, number, number]),
    },
  ]
}

/** So many mm less, rounded down to what one would type. */
export const lessDeep = (depth: number, by: number): number => Math.floor(20 * (depth - by) + 1e-6) / 20

/** The layers of an outline that comes from another piece, as a step's own controls are told of them. */
export const layersTold = (value: Value | undefined): NonNullable<StepMarks['layers']> =>
  value?.kind === 'outline' ? value.layers.map(({ id, name, colour }) => ({ id, name, ...(colour ? { colour } : {}) })) : []

/** A kind's solid of the words chosen, `size` times as large, with the values given; or why there is none. */
export async function formedWords(
  kind: StepKind,
  params: Record<string, unknown>,
  title: string,
  size: number,
  context: StepContext,
): Promise<{ readonly failure: StepOutcome } | { readonly solid: Solid; readonly issues: readonly StepIssue[] }> {
  const [words] = context.inputs.words ?? []
  if (words?.kind !== 'outline') return noPiece(title, 'words')
  const outcome = await kind.evaluate(sizedOutline(words, size), kind.params.parse(params), context)
  if (!outcome.ok) return { failure: { ...outcome, issue: { ...outcome.issue, field: 'words', fixes: undefined } } }
  const { value, issues } = outcome
  if (value.kind !== 'solid') throw new Error(`${kind.kind} gave no solid`)
  // remedies of the form's own values are not this step's
  return { solid: value, issues: issues.map((issue) => ({ ...issue, field: undefined, fixes: undefined })) }
}
