/** What each step is shown by in the finder: one word, and what the step makes of it. */
import { assetSource, findFont } from '../../core/cli/io'
import type { Asset, Piece, ProjectDocument, RouteStep } from '../../core/src/document/schema'
import { DOCUMENT_VERSION } from '../../core/src/document/schema'
import { evaluateRoute } from '../../core/src/evaluate/route'
import { ArcLength } from '../../core/src/outline/arc-length'
import { editableShapes, textOf } from '../../core/src/outline/letter-shapes'
import { toPath } from '../../core/src/outline/nodes'
import { newStep } from '../../core/src/project/new-project'
import { STEPS } from '../../core/src/steps/registry'

const WORD = 'Tea'
const FACE = 'archivo-bold'
const { sha256, name, bytes } = findFont(FACE)

const step = (kind: string, params: Record<string, unknown> = {}): RouteStep => newStep(`${kind}-1`, kind, params)
const words = (text = WORD, more: Record<string, unknown> = {}) => step('lettering', { text, font: { sha256, name }, size: 40, ...more })
const form = step('extrude', { depth: 10, front: { profile: 'chamfer', inset: 0.9, height: 0.9 } })
const plainForm = step('extrude', { depth: 8, front: { profile: 'chamfer', inset: 0.5, height: 0.5 } })
const square = { profile: 'square', inset: 0, height: 0 }
const dress = step('dress', {
  face: { colour: '#2f8077', roughness: 0.4, metalness: 0.2 },
  edge: { colour: '#8fc9bb', roughness: 0.28, metalness: 0.35 },
  return: { colour: '#1c4a48', roughness: 0.55, metalness: 0.1 },
  back: { colour: '#1c4a48', roughness: 0.6, metalness: 0.1 },
  inside: { colour: '#c9a25e', roughness: 0.6, metalness: 0 },
})
const inColours = step('dress', { layerColours: 'all', edge: { colour: '#e6dcc4', roughness: 0.3, metalness: 0.2 } })

type Points = [number, number][]
const drawn = (lines: Points[], closed: boolean, width = 0) =>
  step('drawing', {
    shapes: lines.map((points, i) => ({ id: `s${i}`, layer: 'drawing', closed, width, nodes: points.map(([x, y]) => ({ x, y })) })),
  })
const ZIGZAG: Points = [
  [0, 0],
  [22, 38],
  [44, 2],
  [66, 38],
  [88, 0],
]
const STAR: Points = Array.from({ length: 10 }, (_, i) => {
  const [r, a] = [i % 2 ? 12 : 28, (Math.PI * i) / 5 + Math.PI / 2]
  return [r * Math.cos(a), r * Math.sin(a)]
})

/** The place on a letter's outline that lies nearest to a point, as a limb's end names it. */
async function nearest(letter: number, x: number, y: number): Promise<{ at: number; contour: number; share: number }> {
  const { value } = await evaluateRoute([words()], { assets: assetSource() })
  if (value?.kind !== 'outline') throw new Error('no outline')
  const measured = new ArcLength(toPath(editableShapes(value)[letter].paths[0]))
  const shares = Array.from({ length: 400 }, (_, i) => i / 400)
  const distance = (share: number) => {
    const at = measured.at(share * measured.length)
    return Math.hypot(at.x - x, at.y - y)
  }
  return { at: letter, contour: 0, share: shares.reduce((best, share) => (distance(share) < distance(best) ? share : best)) }
}

/** Files the samples need: a drawing in three colours, and a picture that is traced. */
interface SampleFiles {
  readonly drawing: Asset
  readonly picture: Asset
  readonly model: Asset
}

/** The word with one letter drawn anew: the foot of the T is drawn out. */
async function redrawn(): Promise<RouteStep> {
  const { value } = await evaluateRoute([words()], { assets: assetSource() })
  if (value?.kind !== 'outline') throw new Error('no outline')
  const [first] = editableShapes(value)
  const low = Math.min(...first.paths.flatMap(({ nodes }) => nodes.map((n) => n.y)))
  const paths = first.paths.map((path) => ({
    ...path,
    nodes: path.nodes.map((n) => (n.y < low + 9 ? { ...n, x: n.x + (n.x > -30 ? 14 : -14), y: n.y - 8 } : n)),
  }))
  return step('redraw', { edits: { of: textOf(value), list: [{ at: first.at, text: first.text, base: first.paths, paths }] } })
}

/** A project with a piece for every step, called by its kind. */
export async function stepSamples({ drawing, picture, model }: SampleFiles): Promise<ProjectDocument> {
  const file = (of: Asset) => ({ file: { sha256: of.sha256, name: of.name } })
  const aroundWords = step('plate', { shape: 'pill', size: 'piece', other: { piece: 'lettering' }, margin: 9 })
  const withWords = { others: [{ piece: 'lettering' }] }
  const routes: Record<string, RouteStep[]> = {
    lettering: [words(), plainForm, dress],
    drawing: [drawn([STAR], true), plainForm, dress],
    'vector-file': [step('vector-file', file(drawing)), plainForm, inColours],
    'model-file': [step('model-file', file(model)), dress],
    'traced-picture': [step('traced-picture', file(picture)), plainForm, dress],
    'piece-outline': [
      step('piece-outline', { of: { piece: 'vector-file', step: 'vector-file-1' }, layers: ['#1f6f68'] }),
      step('extrude', { depth: 14, front: { profile: 'chamfer', inset: 0.9, height: 0.9 } }),
      inColours,
    ],
    plate: [step('plate', { shape: 'arch', width: 90, height: 50 }), plainForm, dress],
    block: [step('block', { shape: 'box', rounding: 4 }), dress],
    layers: [step('vector-file', file(drawing)), step('layers', { table: [{ layer: '#f0c84a', depth: 14 }] }), plainForm, inColours],
    redraw: [words(), await redrawn(), form, dress],
    extend: [
      words(),
      step('extend', {
        limbs: {
          of: WORD,
          list: [
            {
              from: await nearest(2, 34, -2),
              to: await nearest(0, -34, -2),
              line: {
                closed: false,
                nodes: [
                  { x: 34, y: 1, out: [4, -22] },
                  { x: 0, y: -16, in: [26, -2], out: [-24, 2] },
                  { x: -31, y: 1, in: [0, -14] },
                ],
              },
              width: 3,
              endWidth: 5,
              blend: 2,
            },
          ],
        },
      }),
      form,
      dress,
    ],
    combine: [step('plate', { shape: 'pill', width: 104, height: 62 }), step('combine', { how: 'cut-out', other: { piece: 'lettering' } }), plainForm, dress],
    'stroke-to-outline': [drawn([ZIGZAG], false), step('stroke-to-outline', { width: 7 }), plainForm, dress],
    'centre-lines': [words(), step('centre-lines', {}), step('tube', { radius: 1.3, along: 'strokes' }), dress],
    'write-on': [words(), step('write-on', { written: 78 }), plainForm, dress],
    offset: [words(WORD, { tracking: 120 }), step('offset', { distance: 3.2, join: 'round' }), plainForm, dress],
    'round-corners': [words(), step('round-corners', { radius: 8 }), plainForm, dress],
    smooth: [words(), step('smooth', { amount: 10, corners: 180 }), plainForm, dress],
    slice: [words(), step('slice', { cut: 'wave', count: 3, amplitude: 2.4, length: 40, gap: 1.6 }), plainForm, dress],
    warp: [words(), step('warp', { shape: 'arch' }), plainForm, dress],
    simplify: [words(), step('simplify', { tolerance: 5 }), plainForm, dress],
    extrude: [words(), step('extrude', { depth: 16, front: { profile: 'ogee', inset: 2, height: 3 } }), dress],
    prismatic: [words(), step('prismatic', { angle: 42, walls: 3 }), dress],
    inflate: [words(), step('inflate', { height: 8, rim: 0 }), dress],
    tube: [words(), step('tube', { radius: 1.4, gap: 3, bend: 2 }), dress],
    sweep: [drawn([ZIGZAG], false), step('sweep', { width: 7, height: 7, bend: 5, sizeStart: 30, sizeMiddle: 130, sizeEnd: 30 }), dress],
    brush: [words(), step('brush', { height: 2.4, share: 95, pointed: 1.2 }), dress],
    channel: [words(), step('channel', { depth: 18, panel: false }), dress],
    relief: [words(), step('relief', { height: 5 }), dress],
    'voxel-remesh': [words(), form, step('voxel-remesh', { fit: 'given', voxel: 2.2 }), dress],
    soften: [words(), step('extrude', { depth: 14 }), step('soften', { amount: 2.4 }), dress],
    grow: [words(), step('extrude', { depth: 10 }), step('grow', { by: 2.6 }), dress],
    melt: [words('Tea', { tracking: 30 }), step('extrude', { depth: 14 }), step('melt', { radius: 9 }), step('soften', { amount: 1.6 }), dress],
    hollow: [words(), step('extrude', { depth: 14 }), step('hollow', { wall: 2.4 }), step('cut-flat', { axis: 'forward', at: 3, keep: 'first' }), dress],
    'even-remesh': [words(), form, step('even-remesh', { edge: 3 }), dress],
    reduce: [step('model-file', file(model)), step('reduce', { to: 'count', triangles: 160 }), dress],
    subdivide: [step('model-file', file(model)), step('reduce', { to: 'count', triangles: 160 }), step('subdivide', { times: 2, creases: 180 }), dress],
    'smooth-surface': [
      words(),
      step('extrude', { depth: 12 }),
      step('voxel-remesh', { fit: 'given', voxel: 1.6 }),
      step('smooth-surface', { rounds: 20, creases: 180 }),
      dress,
    ],
    chisel: [words('Te'), plainForm, step('chisel', { shape: 'cushion', height: 3.2, reach: 5 }), dress],
    rebuild: [step('model-file', { ...file(model), repair: 'rebuild' }), step('rebuild', { fit: 'given', voxel: 1.2 }), dress],
    fuse: [aroundWords, plainForm, step('fuse', { ...withWords, stand: 'face', sunk: 0.5 }), dress],
    carve: [aroundWords, plainForm, step('carve', { ...withWords, stand: 'depth', depth: 4 }), dress],
    overlap: [step('block', { shape: 'ball', width: 84 }), step('overlap', withWords), dress],
    'carve-lettering': [aroundWords, plainForm, step('carve-lettering', { words: { piece: 'lettering' }, tool: 70 }), dress],
    inlay: [aroundWords, plainForm, step('inlay', { words: { piece: 'lettering' }, depth: 4, clearance: 0.6 }), dress],
    insert: [words(), step('insert', { pocket: { piece: 'inlay' }, front: { profile: 'chamfer', inset: 0.8, height: 0.8 } }), dress],
    stencil: [words(), step('stencil', { bridges: 2, width: 3 }), plainForm, dress],
    'cut-flat': [words(), form, step('cut-flat', { axis: 'up', at: -2, gap: 5 }), dress],
    'raise-lettering': [
      aroundWords,
      plainForm,
      step('raise-lettering', { words: { piece: 'lettering' }, height: 4, front: { profile: 'round', inset: 1.2, height: 1.2 } }),
      dress,
    ],
    bend: [words('Quay'), plainForm, step('bend', { angle: 130 }), dress],
    twist: [words('Quay'), plainForm, step('twist', { angle: 110 }), dress],
    taper: [words('Quay'), form, step('taper', { amount: 65 }), dress],
    stretch: [words(), form, step('stretch', { amount: 70, axis: 'up' }), dress],
    shear: [words(), form, step('shear', { angle: 24 }), dress],
    bulge: [words('Quay'), plainForm, step('bulge', { amount: 100 }), dress],
    wave: [words('Quay'), plainForm, step('wave', { height: 6, count: 1.5 }), dress],
    roughen: [words(), form, step('roughen', { height: 1.6, scale: 6 }), dress],
    swell: [words(), step('extrude', { depth: 9 }), step('swell', { by: 3.2, mask: { list: [{ by: 'distance', from: 0, to: 4 }] } }), dress],
    'free-cage': [
      words(),
      form,
      step('free-cage', {
        across: 4,
        moved: [
          { at: [0, 2, 1], by: [-10, 45, 0] },
          { at: [3, 2, 1], by: [10, 45, 0] },
          { at: [0, 2, 0], by: [-10, 45, 0] },
          { at: [3, 2, 0], by: [10, 45, 0] },
          { at: [1, 0, 1], by: [0, 50, 0] },
          { at: [2, 0, 1], by: [0, 50, 0] },
          { at: [1, 0, 0], by: [0, 50, 0] },
          { at: [2, 0, 0], by: [0, 50, 0] },
        ],
      }),
      dress,
    ],
    'run-along': [words('Tea on the pier · '), plainForm, step('run-along', { line: { piece: 'round' }, other: true }), dress],
    grid: [words('Tea', { size: 16 }), plainForm, dress, step('grid', { across: 3, down: 3, gap: 6, rows: 'bricks' })],
    row: [words('T'), plainForm, dress, step('row', { count: 5, gap: 4, aside: 5 })],
    ring: [words('Tea', { size: 22 }), plainForm, dress, step('ring', { count: 7, radius: 62 })],
    along: [words(), form, dress, step('along', { unit: 'bead', width: 3.4, pitch: 5, inset: -2.6 })],
    'fill-inside': [words(), form, dress, step('fill-inside', { unit: 'bulb', width: 4, pitch: 5.4, edge: 0.3 })],
    'on-surface': [words(), form, dress, step('on-surface', { unit: 'pearl', width: 3, pitch: 3.2 })],
    'at-letters': [words('Tea', { tracking: 80 }), form, dress, step('at-letters', { unit: 'bolt', width: 9, up: 'bottom', depth: 'middle', higher: -6 })],
    vary: [
      words('T', { size: 26 }),
      plainForm,
      dress,
      step('grid', { across: 4, down: 3, gap: 5 }),
      step('vary', { turn: 40, size: 25, up: 3, colours: ['#d9482b', '#e8a13a', '#2f8077', '#2f5f97'] }),
    ],
    'in-turn': [words('Tea', { tracking: 40 }), form, dress, step('in-turn', { done: 62, apart: 50, up: 14, forward: 24, lean: -70, turn: 20 })],
    shatter: [words(), form, step('shatter', { pieces: 22, gap: 1, seed: 4 }), dress],
    burst: [words(), form, step('shatter', { pattern: 'impact', pieces: 40, reach: 16, seed: 4 }), dress, step('burst', { strength: 18, far: 30, turn: 120 })],
    drop: [words('Tea'), form, dress, step('drop', { at: 2.5, fall: 30, spin: 120 })],
    jelly: [
      words('Tea', { tracking: 30 }),
      step('extrude', { depth: 14, front: { profile: 'round', inset: 2, height: 2.4 } }),
      dress,
      step('jelly', {
        at: 1.2,
        stiffness: 18,
        cell: 4,
        air: 'wind',
        wind: 13,
        towards: 0,
        floor: 'none',
        mask: { list: [{ by: 'height', from: 12, to: 11.9 }] },
      }),
    ],
    balloon: [words('Tea', { tracking: 60 }), step('balloon', { creases: 60, edge: 1, pressure: 130 }), dress],
    drape: [words('Tea'), form, dress, step('drape', { at: 1.6, edge: 1.2, over: 16, floor: 'none', thick: 0.8, stiffness: 10 })],
    lattice: [words('Te'), step('extrude', { depth: 12, front: square, back: square }), step('lattice', { edge: 4, bar: 0.4, ball: 0.75 }), dress],
    dress: [words(), form, step('dress', { palette: 'letter', colours: ['#d9482b', '#e8a13a', '#2f8077', '#2f5f97'], paletteOn: 'face-edge' })],
    'running-light': [words('Tea', { tracking: 30 }), form, dress, step('running-light', { at: 34, width: 90 })],
  }
  const missing = STEPS.filter(({ kind }) => !routes[kind])
  if (missing.length > 0) throw new Error(`no sample for ${missing.map(({ kind }) => kind).join(', ')}: add one to app/scripts/step-samples.ts`)
  const pieces = Object.entries(routes).map(
    ([kind, route]): Piece => ({
      id: kind,
      name: kind,
      route: route.map((s, i) => ({ ...s, id: `${s.kind}-${i + 1}` })),
    }),
  )
  // what a word runs along
  const helpers: Piece[] = [{ id: 'round', name: 'round', route: [{ ...step('plate', { shape: 'disc', width: 92, height: 92 }), id: 'plate-1' }] }]
  return {
    format: 'kelvar',
    version: DOCUMENT_VERSION,
    name: 'Samples of steps',
    pieces: [...pieces, ...helpers],
    assets: [{ sha256, name, type: 'font', bytes: bytes.length }, drawing, picture],
  }
}
