import { loadManifold } from '../../../kernel/manifold'
import { fitRings, offsetRings } from '../../../outline/areas'
import { toPairs } from '../../../outline/polygon'
import type { Path } from '../../../outline/path'
import { placesAlong } from '../../../repeat/along'
import type { Ground } from '../../../repeat/grounds'
import { copyCount } from '../../../solid/assembly'
import { plain } from '../../meta'
import { groundsOf, setOnCarrier, spotsOn } from '../../shared/grounds'
import { tooManyCopies, unitOf } from '../../shared/repeating'
import { type Evaluate, failed } from '../../step'
import type { alongParams } from './schema'

export const evaluate: Evaluate<typeof alongParams> = async (input, params, context) => {
  const found = groundsOf(input, params.on, 'Along a line')
  if ('ok' in found) return found
  const unit = unitOf(params, context)
  if ('ok' in unit) return unit
  await loadManifold()
  const { pitch, inset, corners, ends, facing } = params
  const lines: { readonly ground: Ground; readonly paths: readonly Path[] }[] = []
  if (params.along !== 'strokes')
    for (const ground of found.grounds) {
      await context.breathe()
      lines.push({
        ground,
        paths: inset === 0 ? ground.borders() : context.memo.get(`inset-borders:${inset}:${ground.key}`, () => insetBorders(ground, inset)),
      })
    }
  if (params.along !== 'outline' && found.strokes.length > 0) lines.push({ ground: SHEET, paths: found.strokes })
  const places: Float64Array[] = []
  let count = 0
  for (const { paths } of lines) {
    const out: number[] = []
    for (const path of paths) {
      const { measured, at } = placesAlong(path, { pitch, corners, ends })
      if (measured.length / pitch > 1e6)
        return tooManyCopies(Math.round(measured.length / pitch), 'pitch') ?? failed('too-many', 'Too many copies.', 'Give a wider spacing.', 'pitch')
      for (const s of at) {
        const { x, y, tx, ty } = measured.at(s)
        out.push(x, y, (Math.atan2(ty, tx) * 180) / Math.PI)
      }
    }
    places.push(Float64Array.from(out))
    count += out.length / 3
  }
  const many = tooManyCopies(count * copyCount(unit.assembly), 'pitch')
  if (many) return many
  if (count === 0)
    return lines.length === 0
      ? failed(
          'no-lines',
          params.along === 'strokes' ? 'There are no drawn lines here.' : 'There is no line to go along.',
          'Draw some, or go along outlines.',
          'along',
        )
      : failed('no-line-left', `${plain(inset)} mm inside the outline nothing is left to go along.`, 'Go less far inside.', 'inset')
  const spots = spotsOn(
    lines.map(({ ground }) => ground),
    places,
    facing === 'along',
  )
  return setOnCarrier({ carrier: found, unit, spots, params }, context)
}

/** Drawn lines lie in the plane of the outline. */
const SHEET: Ground = { key: '', set: () => ({ rings: [], lattice: 2 ** -14 }), borders: () => [], x: 0, y: 0, z: 0, letter: -1 }

const insetBorders = (ground: Ground, inset: number): Path[] =>
  fitRings(
    offsetRings(
      ground.set().rings.map(({ xy }) => toPairs(xy)),
      -inset,
      'mitre',
    ),
  )
