import { shardFigures } from '../../../break/figures'
import { type Broken, brokenToPieces } from '../../../break/pieces'
import { loadManifold } from '../../../kernel/manifold'
import { solidBounds } from '../../../solid/solid'
import { plain } from '../../meta'
import { type Evaluate, failed, type StepIssue } from '../../step'
import type { shatterParams } from './schema'

export const evaluate: Evaluate<typeof shatterParams> = async (input, params, context) => {
  if (input?.kind !== 'solid') return failed('no-input', 'Shatter needs a solid.', 'Put a form such as Extrude before it.')
  if (input.indices.length === 0) return failed('empty', 'There is nothing here to break.', 'Type a word, or choose a form that gives something.')
  await loadManifold()
  await context.breathe()
  const box = solidBounds(input.positions)
  const spot = params.point ?? ([0, 1, 2].map((k) => (box[k] + box[k + 3]) / 2) as [number, number, number])
  const each = params.pattern === 'letter' || (params.count === 'letter' && ['even', 'grain', 'glass', 'bricks'].includes(params.pattern))
  const broken = await brokenToPieces(
    input,
    {
      pattern: params.pattern,
      pieces: params.pieces,
      seed: params.seed,
      spot,
      reach: params.reach,
      angle: params.angle,
      long: params.long,
      gap: params.gap,
      rough: params.rough / 100,
      grain: params.grain,
      chips: params.chips,
      eachLetter: each,
    },
    context,
  )
  if (!broken.ok) return failure(broken)
  const { assembly, letters } = broken
  const figures = shardFigures(assembly, params.stuff)
  const asked = params.pattern === 'letter' ? figures.length : each ? params.pieces * letters : params.pieces
  const masses = figures.map(({ mass }) => mass).sort((a, b) => a - b)
  const grams = (g: number) => (g < 0.01 ? 'under 0.01 g' : `${plain(g)} g`)
  return {
    ok: true,
    value: assembly,
    issues: said(broken, asked, params.chips),
    told: `${figures.length.toLocaleString('en')} pieces, ${grams(masses[0])} to ${grams(masses[masses.length - 1])}`,
  }
}

function failure({ why, places }: Extract<Broken, { ok: false }>) {
  if (why === 'too-fine')
    return failed('too-fine', 'Break faces of so fine a grain would take too many triangles.', 'Take a larger grain, fewer pieces or less depth.', 'grain')
  if (why === 'flat') return failed('flat', 'What is to be broken has no volume.', 'Give it some depth first.')
  const outcome = failed(
    'not-certified',
    'The pieces cross themselves where they were rounded, and could not be mended.',
    'Take another seed, less roughness or smaller chips. The place is shown in the view.',
    'seed',
  )
  return { ...outcome, issue: { ...outcome.issue, places } }
}

function said({ assembly, unfit, rough, lost }: Extract<Broken, { ok: true }>, asked: number, chips: number): StepIssue[] {
  const given = assembly.units.length
  const issues: StepIssue[] = []
  if (given !== asked)
    issues.push({
      code: 'other-count',
      severity: 'note',
      message: `${asked.toLocaleString('en')} pieces were asked for and there are ${given.toLocaleString('en')}: ${given > asked ? 'parts that touch no other are pieces of their own.' : 'some cells hold nothing.'}`,
      remedy: given > asked ? 'Ask for more pieces, or leave the gap out.' : 'Take another seed or more pieces.',
      field: 'pieces',
    })
  if (rough < 1)
    issues.push({
      code: 'smoother',
      severity: 'note',
      message: `Break faces are only ${plain(100 * rough)} % as rough as asked: rougher ones would cross where pieces are thin.`,
      remedy: 'Take less roughness, a smaller grain, or fewer pieces.',
      field: 'rough',
    })
  if (unfit > 0)
    issues.push({
      code: 'not-exact',
      severity: 'note',
      message: `${unfit} break face${unfit === 1 ? '' : 's'} fit only to a hundredth of a millimetre.`,
      remedy: 'Take another seed or a larger grain for faces that fit exactly.',
      field: 'seed',
    })
  if (lost > 1e-5 && chips > 0)
    issues.push({
      code: 'chipped',
      severity: 'note',
      message: `Chips take ${plain(100 * lost)} % of the volume.`,
      remedy: 'Smaller chips leave more of it.',
      field: 'chips',
    })
  return issues
}
