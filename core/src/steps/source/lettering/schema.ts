import { z } from 'zod'
import { SHIPPED_FACES } from '../../../../fonts/catalogue'
import { meta } from '../../meta'

const MAX_CHARACTERS = 2000

const fontReference = z.object({
  sha256: z.string().regex(/^[0-9a-f]{64}$/),
  name: z.string().max(200),
})

const featureTag = z.string().regex(/^[A-Za-z0-9]{4}$/, 'A feature is named by four letters or digits.')
const featureValues = z.record(featureTag, z.number().int().min(0).max(999))

/** What is changed on one letter. All but `at` may be left out. */
const letterChange = z.object({
  /** its first UTF-16 unit in `letters.of` */
  at: z.number().int().min(0).max(MAX_CHARACTERS),
  /** features for this letter alone: the alternate that was picked */
  features: featureValues.optional(),
  /** nudge along and across the line, mm */
  dx: z.number().min(-2000).max(2000).optional(),
  dy: z.number().min(-2000).max(2000).optional(),
  /** counter-clockwise about its middle, degrees */
  turn: z.number().min(-360).max(360).optional(),
  /** of its own size, % */
  scale: z.number().min(5).max(1000).optional(),
  /** space added after it, thousandths of the em */
  space: z.number().min(-2000).max(5000).optional(),
})

export type LetterChange = z.infer<typeof letterChange>

/** Changes of single letters, and the text they were made in: when the text is another now, they are carried over to it. */
export const letterChanges = z.object({
  of: z.string().max(MAX_CHARACTERS),
  list: z.array(letterChange).max(MAX_CHARACTERS),
})

export type LetterChanges = z.infer<typeof letterChanges>

const strokeParams = z.object({
  points: z
    .array(z.tuple([z.number().min(-1e4).max(1e4), z.number().min(-1e4).max(1e4)]))
    .min(2, 'A stroke needs two points at least.')
    .max(200, 'A stroke can have 200 points at most.'),
  closed: z.boolean().default(false),
})

export type StrokeParams = z.infer<typeof strokeParams>

const millimetres = (what: string, min: number, max: number) =>
  z
    .number(`${what} must be a number.`)
    .min(min, `${what} must be at least ${min} mm.`)
    .max(max, { error: () => `${what} can be at most ${max.toLocaleString('en')} mm.` })

export const letteringParams = z.object({
  text: z
    .string()
    .max(MAX_CHARACTERS, `The text is too long: Kelvar sets at most ${MAX_CHARACTERS.toLocaleString('en')} characters in one piece.`)
    .default('Kelvar')
    .meta(meta({ title: 'Words', holds: 'words' })),
  font: fontReference.default({ sha256: SHIPPED_FACES[0].sha256, name: SHIPPED_FACES[0].name }).meta(meta({ title: 'Face', holds: 'face' })),
  axes: z
    .record(z.string().length(4), z.number())
    .default({})
    .meta(meta({ title: 'Variation', holds: 'face axes' })),
  features: featureValues.default({}).meta(meta({ title: 'Letterforms', holds: 'face features' })),
  letters: letterChanges.default({ of: '', list: [] }).meta(meta({ title: 'Single letters', holds: 'letter changes' })),
  size: millimetres('The cap height', 1, 2000)
    .default(40)
    .meta(meta({ title: 'Cap height', unit: 'mm', step: 1, pull: 'up', pullBy: 'scale' })),
  align: z
    .enum(['left', 'centre', 'right', 'justified'])
    .default('centre')
    .meta(meta({ title: 'Lines', labels: ['Left', 'Centred', 'Right', 'Justified'] })),
  layout: z
    .enum(['straight', 'stack', 'circle', 'arc', 'stroke'])
    .default('straight')
    .meta(meta({ title: 'Baseline', labels: ['Straight', 'Letters stacked', 'Around a circle', 'On an arc', 'Along a stroke'] })),
  radius: millimetres('The radius', 1, 20000)
    .default(80)
    .meta(meta({ title: 'Radius', unit: 'mm', step: 1, when: { field: 'layout', is: ['circle'] } })),
  sweep: z
    .number('The angle must be a number.')
    .min(-350, 'The arc can turn by 350° at most.')
    .max(350, 'The arc can turn by 350° at most.')
    .refine((angle) => Math.abs(angle) >= 1, 'The arc must turn by 1° at least; for less, choose a straight baseline.')
    .default(90)
    .meta(
      meta({
        title: 'Turns by',
        unit: '°',
        step: 5,
        description: 'What the longest line turns by; below zero the middle hangs.',
        when: { field: 'layout', is: ['arc'] },
      }),
    ),
  stroke: strokeParams
    .default({
      points: [
        [-90, 0],
        [-30, 16],
        [30, -16],
        [90, 0],
      ],
      closed: false,
    })
    .meta(meta({ title: 'Stroke', holds: 'baseline', when: { field: 'layout', is: ['stroke'] } })),
  side: z
    .enum(['outside', 'inside'])
    .default('outside')
    .meta(meta({ title: 'Side', labels: ['Outside, above', 'Inside, below'], when: { field: 'layout', is: ['circle', 'stroke'] } })),
  startAngle: z
    .number('The start must be a number.')
    .min(-360)
    .max(360)
    .default(0)
    .meta(meta({ title: 'Start', unit: '°', step: 5, description: 'From the top, clockwise.', when: { field: 'layout', is: ['circle'] } })),
  startAt: z
    .number('The start must be a number.')
    .min(-20000)
    .max(20000)
    .default(0)
    .meta(meta({ title: 'Start', unit: 'mm', step: 1, description: 'Moves the words along the stroke.', when: { field: 'layout', is: ['stroke'] } })),
  stand: z
    .enum(['turn', 'upright'])
    .default('turn')
    .meta(meta({ title: 'Letters', labels: ['Turn with it', 'Stay upright'], when: { field: 'layout', is: ['circle', 'arc', 'stroke'] } })),
  tracking: z
    .number('The tracking must be a number.')
    .min(-500)
    .max(2000)
    .default(0)
    .meta(
      meta({
        title: 'Tracking',
        unit: '‰ em',
        step: 5,
        description: 'Space added between all letters, in thousandths of the em.',
        when: { field: 'touch', is: ['off'] },
      }),
    ),
  touch: z
    .enum(['off', 'even', 'each'])
    .default('off')
    .meta(
      meta({
        title: 'Touching',
        labels: ['Off', 'One tracking for all', 'Pair by pair'],
        description: 'Draws the letters together until neighbours overlap.',
      }),
    ),
  overlap: millimetres('The overlap', 0, 200)
    .default(1)
    .meta(meta({ title: 'Overlap', unit: 'mm', step: 0.25, when: { field: 'touch', is: ['even', 'each'] } })),
  leading: z
    .number('The leading must be a number.')
    .min(30)
    .max(400)
    .default(100)
    .meta(meta({ title: 'Leading', unit: '%', step: 5, description: 'Distance between lines, of what the face asks for.' })),
  fit: z
    .enum(['free', 'wrap', 'size', 'lines', 'spacing'])
    .default('free')
    .meta(meta({ title: 'Width', labels: ['As it comes', 'Break lines to', 'Size text to', 'Size each line to', 'Space each line to'] })),
  width: millimetres('The width', 1, 20000)
    .default(200)
    .meta(meta({ title: 'Width of', unit: 'mm', step: 5, when: { field: 'fit', is: ['wrap', 'size', 'lines', 'spacing'] } })),
  overlaps: z
    .enum(['unite', 'apart'])
    .default('unite')
    .meta(meta({ title: 'Overlaps', labels: ['Unite', 'Keep apart'], description: 'Letters that overlap become one shape, or stay separate.' })),
  kerning: z
    .enum(['face', 'optical', 'none'])
    .default('face')
    .meta(meta({ title: 'Kerning', labels: ['From the face', 'Optical', 'None'], advanced: true })),
  wordSpace: z
    .number('The word space must be a number.')
    .min(0)
    .max(1000)
    .default(100)
    .meta(meta({ title: 'Word space', unit: '%', step: 5, advanced: true })),
  direction: z
    .enum(['auto', 'ltr', 'rtl'])
    .default('auto')
    .meta(meta({ title: 'Direction', labels: ['By the words', 'Left to right', 'Right to left'], advanced: true })),
  counts: z
    .boolean()
    .default(false)
    .meta(meta({ title: 'Counts', advanced: true, description: 'Each # in the words is a digit of a number, which can be keyed.' })),
  number: z
    .number('The number must be a number.')
    .min(0, 'It counts from 0 on.')
    .max(999_999_999, 'It counts to 999,999,999.')
    .default(0)
    .meta(meta({ title: 'Number', step: 1, advanced: true, when: { field: 'counts', is: ['true'] } })),
})

export type LetteringParams = z.infer<typeof letteringParams>
