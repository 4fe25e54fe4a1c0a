import { z } from 'zod'
import { shardFigures } from '../../../break/figures'
import { type Broken, brokenToPieces } from '../../../break/pieces'
import { PATTERNS } from '../../../break/sites'
import { loadManifold } from '../../../kernel/manifold'
import { STUFF_LABELS, STUFFS } from '../../../look/densities'
import { solidBounds } from '../../../solid/solid'
import { meta, plain } from '../../meta'
import { seedParam } from '../../shared/seed'
import { defineStep, failed, type StepIssue } from '../../step'

const coordinate = z.number('It must be a number.').min(-10_000).max(10_000)
const AT_SPOT = ['cluster', 'line', 'impact', 'glass']

const shatterParams = z.object({
  pattern: z
    .enum(PATTERNS)
    .default('even')
    .meta(meta({ title: 'Cracks', labels: ['Even', 'About a spot', 'Along a line', 'By a blow', 'Long grain', 'Like glass', 'Like bricks', 'By letter'] })),
  pieces: z
    .int('The number of pieces must be a whole number.')
    .min(2, 'It takes at least 2 pieces.')
    .max(2000, 'At most 2,000 pieces.')
    .default(24)
    .meta(meta({ title: 'Pieces', step: 1, most: 200, when: { field: 'pattern', is: PATTERNS.filter((p) => p !== 'letter') as unknown as string[] } })),
  count: z
    .enum(['all', 'letter'])
    .default('all')
    .meta(
      meta({
        title: 'Counted',
        labels: ['In all', 'For each letter'],
        when: { field: 'pattern', is: ['even', 'grain', 'glass', 'bricks'] },
        description: 'For each letter: a letter breaks the same whatever is typed beside it.',
      }),
    ),
  point: z
    .tuple([coordinate, coordinate, coordinate])
    .nullable()
    .default(null)
    .meta(meta({ title: 'Spot', holds: 'spot on the piece', when: { field: 'pattern', is: AT_SPOT }, description: 'In the middle when none is picked.' })),
  reach: z
    .number('The reach must be a number.')
    .min(0.1, 'The reach must be at least 0.1 mm.')
    .max(10_000)
    .default(15)
    .meta(
      meta({ title: 'Reach', unit: 'mm', step: 1, when: { field: 'pattern', is: ['cluster', 'line', 'impact'] }, description: 'Pieces are small within it.' }),
    ),
  angle: z
    .number('The angle must be a number.')
    .min(-360)
    .max(360)
    .default(0)
    .meta(meta({ title: 'Direction', unit: '°', step: 5, when: { field: 'pattern', is: ['line', 'grain'] } })),
  long: z
    .number('The length must be a number.')
    .min(1, 'Splinters are at least as long as wide.')
    .max(30)
    .default(4)
    .meta(meta({ title: 'Splinters, times as long', step: 0.5, when: { field: 'pattern', is: ['grain'] } })),
  gap: z
    .number('The gap must be a number.')
    .min(0)
    .max(20)
    .default(0)
    .meta(meta({ title: 'Gap', unit: 'mm', step: 0.1, description: 'Between pieces; 0: they fit exactly.' })),
  rough: z
    .number('The roughness must be a number.')
    .min(0, 'The roughness goes from 0 to 100 %.')
    .max(100, 'The roughness goes from 0 to 100 %.')
    .default(0)
    .meta(meta({ title: 'Rough faces', unit: '%', step: 10, description: 'Both sides alike, so that they fit.' })),
  grain: z
    .number('The grain must be a number.')
    .min(0.2, 'The grain must be at least 0.2 mm.')
    .max(100)
    .default(3)
    .meta(meta({ title: 'Size of its grain', unit: 'mm', step: 0.5, advanced: true })),
  chips: z
    .number('The chips must be a number.')
    .min(0)
    .max(10)
    .default(0)
    .meta(meta({ title: 'Chipped edges', unit: 'mm', step: 0.1, description: 'So large are the chips that break off along the cracks, at most.' })),
  stuff: z
    .enum(STUFFS)
    .default('acrylic')
    .meta(meta({ title: 'Made of', labels: STUFF_LABELS, advanced: true, description: 'For what the pieces weigh.' })),
  seed: seedParam(),
})

type Params = z.infer<typeof shatterParams>

const NAMES: Record<Params['pattern'], string> = {
  even: 'even',
  cluster: 'about a spot',
  line: 'along a line',
  impact: 'by a blow',
  grain: 'along a grain',
  glass: 'like glass',
  bricks: 'like bricks',
  letter: 'by letter',
}

export const shatter = defineStep({
  kind: 'shatter',
  version: 1,
  family: 'Break',
  title: 'Shatter',
  summary: 'Breaks a solid to pieces that fit each other exactly; what broke is a surface of its own.',
  takes: ['solid'],
  gives: 'assembly',
  params: shatterParams,
  describe: ({ pattern, pieces, count }) =>
    pattern === 'letter' ? 'letter by letter' : `${pieces} pieces${count === 'letter' && !AT_SPOT.includes(pattern) ? ' a letter' : ''}, ${NAMES[pattern]}`,
  async evaluate(input, params, context) {
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
  },
})

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
