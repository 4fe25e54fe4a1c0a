import { z } from 'zod'
import { joinSolid } from '../../../join/join'
import { loadManifold } from '../../../kernel/manifold'
import { solidFromTriangles } from '../../../solid/from-triangles'
import type { Matrix } from '../../../solid/operations'
import { type Solid, solidBounds } from '../../../solid/solid'
import type { Point } from '../../../check/rays'
import { latticeFor } from '../../../outline/lattice'
import { turnedBar } from '../../../solid/revolve'
import { plain } from '../../meta'
import { solidOf, volumeWords } from '../../shared/joining'
import { type Evaluate, failed, type StepIssue, type StepOutcome } from '../../step'
import { pegPlaces } from './pegs'
import { AXES, type cutFlatParams } from './schema'

export const evaluate: Evaluate<typeof cutFlatParams> = async (input, params, context) => {
  const { axis, at, keep, gap } = params
  const body = solidOf(input)
  if (!body) return failed('no-solid', 'Cut flat needs a solid to work on.', 'Put a form such as Extrude, or a Block, before it.')
  await loadManifold()
  await context.breathe()
  const box = solidBounds(body.positions)
  const plane = planeOf(box, params)
  const [low, high] = extentAlong(body, plane)
  if (!(low < 0 && high > 0))
    return failed(
      'misses',
      `The cut lies beside the piece, which reaches ${plain((box[AXES.indexOf(axis) + 3] - box[AXES.indexOf(axis)]) / 2)} mm to each side of its middle.`,
      'Bring it nearer to the middle.',
      'at',
    )
  const [from, to] = keep === 'first' ? [0, high + BESIDE] : keep === 'second' ? [low - BESIDE, 0] : [-gap / 2, gap / 2]
  const matrix = matrixOf(plane)
  const width = Math.hypot(box[3] - box[0], box[4] - box[1], box[5] - box[2]) + Math.abs(at) + BESIDE
  const pegs = keep === 'both' ? pegPlaces(body, plane.point, plane.x, plane.y, params.pegs, params.pegWidth / 2 + params.pegClearance) : []
  const { pegWidth, pegLength, pegClearance } = params
  const bar = (radius: number, foot: number, top: number) => pegs.map((peg) => ({ solid: pegBar(radius, top - foot), matrix: pegMatrix(plane, peg, foot) }))
  const cut = joinSolid(
    body,
    [{ solid: slab(width, from, to), matrix }, ...bar(pegWidth / 2 + pegClearance, gap / 2 - SUNK, gap / 2 + pegLength + pegClearance)],
    'carve',
  )
  if (!cut.ok) return notCut(cut)
  await context.breathe()
  const joined = pegs.length > 0 ? joinSolid(cut.solid, bar(pegWidth / 2, -gap / 2 - SUNK, gap / 2 + pegLength), 'fuse') : cut
  if (!joined.ok) return notCut(joined)
  const wanted = keep === 'both' ? params.pegs : 0
  const issues: StepIssue[] =
    pegs.length < wanted
      ? [
          {
            code: 'no-room-for-pegs',
            severity: 'warning',
            message: pegs.length === 0 ? 'No peg of this width has room in the cut.' : `Only ${pegs.length} of ${wanted} pegs have room in the cut.`,
            remedy: 'Make them narrower, or cut where the piece is thicker.',
            field: 'pegWidth',
          },
        ]
      : []
  return {
    ok: true,
    value: joined.solid,
    issues,
    told: `${volumeWords(joined.after)} of ${volumeWords(cut.before)} left${pegs.length > 0 ? `, ${pegs.length} ${pegs.length === 1 ? 'peg' : 'pegs'}` : ''}`,
  }
}

const notCut = (joined: Extract<ReturnType<typeof joinSolid>, { ok: false }>): StepOutcome =>
  joined.why === 'empty'
    ? failed('nothing-left', 'Nothing is left of the piece.', 'Make the gap narrower.', 'gap')
    : {
        ok: false,
        issue: {
          code: 'not-certified',
          severity: 'failed',
          message: 'The cut crosses itself where it was rounded, and could not be mended.',
          remedy: 'Move it by a tenth of a millimetre. The place is shown in the view.',
          places: joined.places,
          field: 'at',
        },
      }

/** How far pegs and sockets reach into what they stand on or open out of, mm: what only touches is not joined. */
const SUNK = 0.5

interface Plane {
  readonly point: Point
  /** unit vectors in it, and across it, from the first side to the second */
  readonly x: Point
  readonly y: Point
  readonly normal: Point
}

/** The plane of a cut: across an axis, so far off the middle, turned about the two directions in it. */
function planeOf(box: readonly number[], { axis, at, tilt, lean }: z.infer<typeof cutFlatParams>): Plane {
  const k = AXES.indexOf(axis)
  const unit = (i: number): Point => [0, 1, 2].map((j) => (j === i % 3 ? 1 : 0)) as unknown as Point
  const [x, y, normal] = [unit(k + 1), unit(k + 2), unit(k)]
  const turned = turnedBy([x, y, normal], tilt, lean)
  const point = [0, 1, 2].map((i) => (box[i] + box[i + 3]) / 2 + at * turned[2][i]) as unknown as Point
  return { point, x: turned[0], y: turned[1], normal: turned[2] }
}

/** Three vectors at right angles turned about the first, then about the second as it then lies, degrees. */
function turnedBy([x, y, n]: readonly [Point, Point, Point], first: number, second: number): readonly [Point, Point, Point] {
  if (first === 0 && second === 0) return [x, y, n]
  const mix = (a: Point, b: Point, c: number, s: number): Point => [0, 1, 2].map((k) => c * a[k] + s * b[k]) as unknown as Point
  const [a, b] = [(first * Math.PI) / 180, (second * Math.PI) / 180]
  const y1 = mix(y, n, Math.cos(a), Math.sin(a))
  const n1 = mix(n, y, Math.cos(a), -Math.sin(a))
  return [mix(x, n1, Math.cos(b), -Math.sin(b)), y1, mix(n1, x, Math.cos(b), Math.sin(b))]
}

/** How far a solid reaches to either side of a plane, mm. */
function extentAlong({ positions: p }: Solid, { point, normal }: Plane): [number, number] {
  let [low, high] = [Infinity, -Infinity]
  for (let i = 0; i < p.length; i += 3) {
    const d = (p[i] - point[0]) * normal[0] + (p[i + 1] - point[1]) * normal[1] + (p[i + 2] - point[2]) * normal[2]
    low = Math.min(low, d)
    high = Math.max(high, d)
  }
  return [low, high]
}

/** What brings a slab to the plane: its z is across it. */
const matrixOf = ({ point, x, y, normal }: Plane): Matrix => [0, 1, 2].flatMap((k) => [x[k], y[k], normal[k], point[k]]) as unknown as Matrix

/** A peg upright on y = 0. */
const pegBar = (radius: number, height: number): Solid => turnedBar(radius, radius, height, Math.max(24, Math.ceil(8 * Math.sqrt(radius)) * 4), latticeFor(0))

/** What stands a peg across the plane, its foot so far off it. */
function pegMatrix({ point, x, y, normal }: Plane, [u, v]: readonly [number, number], foot: number): Matrix {
  const at = [0, 1, 2].map((k) => point[k] + u * x[k] + v * y[k] + foot * normal[k])
  // y of the bar is across: its x and z are the plane's y and x, so that nothing is mirrored
  return [0, 1, 2].flatMap((k) => [y[k], normal[k], x[k], at[k]]) as unknown as Matrix
}

/** How far what is cut away reaches beyond the piece, mm. */
const BESIDE = 1

/** A box about the middle of a plane, its own z across it. */
function slab(width: number, from: number, to: number): Solid {
  const positions = [from, to].flatMap((z) => [-width, -width, z, width, -width, z, width, width, z, -width, width, z])
  const indices = [0, 2, 1, 0, 3, 2, 4, 5, 6, 4, 6, 7, 0, 1, 5, 0, 5, 4, 1, 2, 6, 1, 6, 5, 2, 3, 7, 2, 7, 6, 3, 0, 4, 3, 4, 7]
  return solidFromTriangles({ positions, indices })
}
