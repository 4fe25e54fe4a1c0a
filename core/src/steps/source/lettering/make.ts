import { facesWith } from '../../../../fonts/catalogue'
import type { Memo } from '../../../cache/memo'
import { FontError, type FontFace } from '../../../font/face'
import { featureName } from '../../../font/features'
import { loadManifold, manifold, withScope } from '../../../kernel/manifold'
import { type Affine, translation } from '../../../outline/affine'
import { commonArea } from '../../../outline/clip'
import { latticeFor, snap } from '../../../outline/lattice'
import type { Outline, Region } from '../../../outline/outline'
import { controlBounds, type Path, transformPath } from '../../../outline/path'
import { type PolygonSet, regionPolygons, toPairs } from '../../../outline/polygon'
import { NEAR } from '../../../outline/unite'
import { plain } from '../../meta'
import { type Evaluate, failed, MissingAssetError, type StepIssue } from '../../step'
import type { LetteringParams, letteringParams } from './schema'
import { BaselineError } from './baseline'
import { counted } from './counting'
import { type SetGlyph, type SetText, setText } from './set-text'

export const evaluate: Evaluate<typeof letteringParams> = async (_input, given, context) => {
  const params = given.counts ? { ...given, text: counted(given.text, given.number) } : given
  if (params.text.trim() === '') return failed('empty-text', 'There is nothing to set: the text is empty.', 'Type a word.', 'text')
  let whole: FontFace
  try {
    whole = await context.assets.font(params.font.sha256)
  } catch (error) {
    if (error instanceof FontError) return failed('font-unreadable', `${params.font.name}: ${error.message}`, error.remedy, 'font')
    if (error instanceof MissingAssetError)
      return {
        ...failed('font-missing', `The face “${params.font.name}” is not in this project.`, 'Choose another face, or add the font file again.', 'font'),
        passing: true,
      }
    throw error
  }
  await loadManifold()
  const face = whole.at(params.axes)
  let set: SetText
  try {
    set = setText(face, params, context.memo)
  } catch (error) {
    if (error instanceof BaselineError) return failed(error.code, error.message, error.remedy, error.field)
    throw error
  }
  const issues: StepIssue[] = [
    ...axisWarnings(whole, params),
    ...featureWarnings(whole, params),
    ...(given.counts && !given.text.includes('#') ? [NO_DIGITS] : []),
    ...set.notes.map((note) => ({ ...note, severity: 'warning' as const })),
  ]
  if (set.missing.length > 0) issues.push(missingCharacters(set.missing, params))
  const glyphs = set.glyphs.filter((g) => face.outline(g.glyph).length > 0)
  if (glyphs.length === 0)
    return failed(
      'nothing-to-show',
      set.missing.length > 0 ? missingCharacters(set.missing, params).message : 'The text holds nothing that has a shape.',
      set.missing.length > 0 ? missingCharacters(set.missing, params).remedy : 'Type other characters or choose another face.',
      'text',
    )
  await context.breathe()
  const shapes = glyphs.map((g) => glyphShape(face, g, context.memo))
  const reach = glyphs.reduce((most, g, i) => Math.max(most, reachOf(g, shapes[i])), 0)
  const absurd = absurdLetter(glyphs, shapes, params) ?? (reach > MAX_REACH ? `The words reach ${inMetres(reach)} from their middle` : undefined)
  if (absurd) return failed('absurd-size', `${absurd}: the font says so, and is most likely damaged.`, 'Choose another face, or get the font again.', 'font')
  const lattice = latticeFor(reach)
  const placed = glyphs.map((g, i) => ({ ...g, shape: shapes[i], x: snap(g.x, lattice), y: snap(g.y, lattice) }))
  const groups = groupOverlapping(placed, params, context.memo)
  const regions = groups.map((group) => regionOf(group))
  if (params.overlaps === 'apart') for (const issue of overlapWarnings(placed, groups, set.letters, context.memo)) issues.push(issue)
  context.progress(1)
  const outline: Outline = {
    kind: 'outline',
    regions,
    strokes: [],
    letters: set.letters,
    layers: [{ id: 'lettering', name: 'Lettering' }],
    guides: guidesOf(face, set, params),
    lattice,
  }
  return { ok: true, value: outline, issues }
}

const NO_DIGITS: StepIssue = {
  code: 'no-digits',
  severity: 'note',
  message: 'Nothing counts: there is no # in the words.',
  remedy: 'Type a # where the number is to stand, several for as many digits.',
  field: 'text',
}

/** The heights of baseline, x-height and capitals of the first line; none where the line is bent or upright. */
function guidesOf(face: FontFace, set: SetText, params: LetteringParams): Outline['guides'] {
  const first = set.glyphs.find((g) => g.line === 0)
  if (params.layout !== 'straight' || !first) return []
  const still = set.glyphs.filter((g) => g.line === 0 && g.linear[1] === 0 && g.linear[2] === 0)
  // letters moved up or down on their own are outvoted
  const heights = still.map((g) => g.y).sort((a, b) => a - b)
  const base = heights[heights.length >> 1] ?? 0
  const scale = params.size / face.capHeight
  const x = face.xHeight
  return [{ name: 'Baseline', y: base }, ...(x > 0 ? [{ name: 'x-height', y: base + x * scale }] : []), { name: 'Cap height', y: base + params.size }]
}

/** mm; beyond it nothing can be made well (see lattice.ts) */
const MAX_REACH = 100_000

/** A letter of more cap heights than this is none; the longest ligatures of Arabic have about twelve. */
const MAX_HEIGHTS = 100

const inMetres = (mm: number) => `${(mm / 1000).toLocaleString('en', { maximumFractionDigits: 1 })} m`

/** What a letter that cannot be one measures, in words; undefined when all are letters. */
function absurdLetter(glyphs: readonly SetGlyph[], shapes: readonly GlyphShape[], { size }: LetteringParams): string | undefined {
  for (const [i, { box }] of shapes.entries()) {
    // a letter may be made larger on its own
    const [a, b, c, d] = glyphs[i].linear
    const own = Math.max(1, Math.hypot(a, b) / Math.max(1e-9, Math.hypot(c, d)), Math.hypot(c, d) / Math.max(1e-9, Math.hypot(a, b)))
    const extent = Math.max(box[2] - box[0], box[3] - box[1])
    if (extent > MAX_HEIGHTS * size * own)
      return `A letter is ${inMetres(extent)} large, ${Math.round(extent / size).toLocaleString('en')} times the cap height`
  }
  return undefined
}

interface GlyphShape {
  readonly key: string
  readonly paths: readonly Path[]
  readonly box: readonly [number, number, number, number]
}

type PlacedGlyph = SetGlyph & { readonly shape: GlyphShape }

function glyphShape(face: FontFace, { glyph, linear }: SetGlyph, memo: Memo): GlyphShape {
  const [a, b, c, d] = linear
  const key = `${face.id}/${glyph}*${b === 0 && c === 0 && a === d ? a : linear.join()}`
  return memo.get(`glyph:${key}`, () => {
    const map: Affine = [a, b, c, d, 0, 0]
    const paths = face.outline(glyph).map((path) => transformPath(path, map))
    return { key, paths, box: controlBounds(paths) }
  })
}

function reachOf(g: SetGlyph, shape: GlyphShape): number {
  const [x0, y0, x1, y1] = shape.box
  return Math.max(Math.abs(g.x + x0), Math.abs(g.x + x1), Math.abs(g.y + y0), Math.abs(g.y + y1))
}

function missingCharacters(missing: readonly string[], params: LetteringParams): StepIssue {
  const shown = missing.slice(0, 12).join(' ') + (missing.length > 12 ? ' …' : '')
  const { faces, have } = facesWith(missing)
  const helpers = faces.filter((f) => f.sha256 !== params.font.sha256).slice(0, 3)
  const names = helpers.map((f) => f.name).join(', ')
  const what = have.length === missing.length ? (have.length === 1 ? 'it' : 'them all') : have.slice(0, 12).join(' ')
  return {
    code: 'missing-characters',
    severity: 'warning',
    message: `${params.font.name} has no shape for ${shown}; left out.`,
    remedy: helpers.length > 0 ? `${names} ${helpers.length > 1 ? 'have' : 'has'} ${what}.` : 'Remove these characters or choose a face that has them.',
    field: 'text',
    ...(helpers[0] ? { fixes: [{ label: `Set it in ${helpers[0].name}`, params: { font: { sha256: helpers[0].sha256, name: helpers[0].name } } }] } : {}),
  }
}

function axisWarnings(face: FontFace, params: LetteringParams): StepIssue[] {
  return Object.entries(params.axes).flatMap(([tag, value]): StepIssue[] => {
    const axis = face.axes.find((a) => a.tag === tag)
    const warn = (code: string, message: string, remedy: string): StepIssue[] => [
      { code: `${code}-${tag}`, severity: 'warning', message, remedy, field: 'axes' },
    ]
    if (!axis) return warn('unknown-axis', `${params.font.name} has no axis “${tag}”; its value is not used.`, 'It is kept for faces that have it.')
    if (value >= axis.min && value <= axis.max) return []
    const used = plain(Math.min(axis.max, Math.max(axis.min, value)))
    return warn(
      'axis-range',
      `${axis.name} ${plain(value)} lies outside what ${params.font.name} offers; ${used} is used.`,
      `Choose a value from ${plain(axis.min)} to ${plain(axis.max)}.`,
    )
  })
}

function featureWarnings(face: FontFace, params: LetteringParams): StepIssue[] {
  const known = new Set([...face.substitutions, 'kern', 'palt', 'vert'])
  const asked = [params.features, ...params.letters.list.map((change) => change.features ?? {})].flatMap((features) => Object.entries(features))
  const unknown = [...new Set(asked.filter(([tag, value]) => value > 0 && !known.has(tag)).map(([tag]) => tag))]
  if (unknown.length === 0) return []
  const names = unknown.map((tag) => (featureName(tag) === tag ? `“${tag}”` : `“${featureName(tag)}” (${tag})`)).join(', ')
  return [
    {
      code: 'unknown-feature',
      severity: 'warning',
      message: `${params.font.name} has no ${names}; the letters keep their usual shapes.`,
      remedy: 'It is kept for faces that have it; switch it off under Letterforms if it is not wanted.',
      field: 'features',
    },
  ]
}

/** Glyphs that form one area: those of one letter that overlap, and, when uniting, overlapping letters. */
function groupOverlapping(glyphs: readonly PlacedGlyph[], params: LetteringParams, memo: Memo): PlacedGlyph[][] {
  const parent = glyphs.map((_, i) => i)
  const find = (i: number): number => (parent[i] === i ? i : (parent[i] = find(parent[i])))
  forOverlappingPairs(glyphs, NEAR, memo, (i, j) => {
    if (params.overlaps === 'unite' || glyphs[i].letter === glyphs[j].letter) parent[find(j)] = find(i)
  })
  const groups = new Map<number, PlacedGlyph[]>()
  glyphs.forEach((g, i) => {
    const root = find(i)
    const group = groups.get(root)
    if (group) group.push(g)
    else groups.set(root, [g])
  })
  return [...groups.values()]
}

/** Calls `visit` for pairs of glyphs that overlap, or come nearer than `near`, mm, besides what curves are off when they are looked at. */
function forOverlappingPairs(glyphs: readonly PlacedGlyph[], near: number, memo: Memo, visit: (i: number, j: number) => void): void {
  const left = (g: PlacedGlyph) => g.x + g.shape.box[0]
  // each is looked at as so much larger
  const margins = glyphs.map(({ shape }) => (near > 0 ? near / 2 + tolerance(shape) : 0))
  const widest = margins.reduce((most, margin) => Math.max(most, margin), 0)
  const order = glyphs.map((_, i) => i).sort((i, j) => left(glyphs[i]) - left(glyphs[j]))
  for (let a = 0; a < order.length; a++) {
    const p = glyphs[order[a]]
    for (let b = a + 1; b < order.length; b++) {
      const q = glyphs[order[b]]
      if (left(q) > p.x + p.shape.box[2] + margins[order[a]] + widest) break
      const reach = margins[order[a]] + margins[order[b]]
      if (q.y + q.shape.box[1] > p.y + p.shape.box[3] + reach || p.y + p.shape.box[1] > q.y + q.shape.box[3] + reach) continue
      const dx = q.x - p.x
      const dy = q.y - p.y
      const touch = memo.get(`touch:${p.shape.key}|${q.shape.key}|${dx}|${dy}|${reach}`, () => shapesOverlap(p.shape, q.shape, { dx, dy, reach, memo }))
      if (touch) visit(order[a], order[b])
    }
  }
}

/** How far the polygons on which letters are looked at are off their curves, mm. */
const tolerance = ({ box: [x0, y0, x1, y1] }: GlyphShape): number => Math.max(0.01, Math.max(x1 - x0, y1 - y0) / 1000)

const coarse = (shape: GlyphShape, memo: Memo): PolygonSet =>
  memo.get(`coarse:${shape.key}`, () => regionPolygons({ members: [{ letter: 0, paths: shape.paths }] }, tolerance(shape), 2 ** -14))

function shapesOverlap(p: GlyphShape, q: GlyphShape, { dx, dy, reach, memo }: { dx: number; dy: number; reach: number; memo: Memo }): boolean {
  const { CrossSection } = manifold()
  return withScope((own) => {
    const section = (shape: GlyphShape) =>
      own(
        new CrossSection(
          coarse(shape, memo).rings.map((ring) => toPairs(ring.xy)),
          'Positive',
        ),
      )
    const moved = own(section(q).translate([dx, dy]))
    return commonArea(own, section(p), moved, reach) > 1e-4
  })
}

function regionOf(group: readonly PlacedGlyph[]): Region {
  const [first] = group
  return {
    key: group.map((g, i) => (i === 0 ? g.shape.key : `${g.shape.key}@${g.x - first.x},${g.y - first.y}`)).join('+'),
    members: group.map((g) => ({
      letter: g.letter,
      paths: g === first ? g.shape.paths : g.shape.paths.map((path) => transformPath(path, translation(g.x - first.x, g.y - first.y))),
    })),
    dx: first.x,
    dy: first.y,
    layer: 0,
  }
}

function overlapWarnings(glyphs: readonly PlacedGlyph[], groups: readonly PlacedGlyph[][], letters: readonly { text: string }[], memo: Memo): StepIssue[] {
  const group = new Map(groups.flatMap((list, k) => list.map((g) => [g, k] as const)))
  const pairs: string[] = []
  const places: [number, number, number][] = []
  forOverlappingPairs(glyphs, 0, memo, (i, j) => {
    if (group.get(glyphs[i]) === group.get(glyphs[j])) return
    pairs.push(`${letters[glyphs[i].letter].text}${letters[glyphs[j].letter].text}`)
    if (places.length < 24) places.push([glyphs[j].x, glyphs[j].y, 0])
  })
  if (pairs.length === 0) return []
  return [
    {
      code: 'letters-overlap',
      severity: 'warning',
      message: `Letters kept apart overlap: ${[...new Set(pairs)].slice(0, 8).join(', ')}. Their solids will cross.`,
      remedy: 'Unite them, or raise the tracking until they part.',
      field: 'overlaps',
      places,
    },
  ]
}
