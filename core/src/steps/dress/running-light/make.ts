import type { z } from 'zod'
import { type Look, type Material, UNDRESSED } from '../../../look/material'
import type { Apart } from '../../../repeat/apart'
import { thingMiddles } from '../../../repeat/thing-mask'
import { EDGE, FACE, NONE, withLabel } from '../../../solid/labels'
import type { Solid } from '../../../solid/solid'
import { apartInStep } from '../../shared/apart'
import { type Evaluate, failed } from '../../step'
import type { runningLightParams } from './schema'

export const evaluate: Evaluate<typeof runningLightParams> = async (input, params) => {
  if (input?.kind !== 'solid' && input?.kind !== 'assembly')
    return failed('no-input', 'Running light needs a solid or copies.', 'Put a step such as Extrude before it.')
  const apart = apartInStep(input, params.by)
  if ('ok' in apart) return apart
  const { assembly, things } = apart
  const bright = brightness(sharesOf(apart, params), params)
  const level = new Uint8Array(assembly.placements.unit.length)
  const colour = new Uint8Array(level.length)
  things.forEach(({ entries }, i) => {
    for (const entry of entries) {
      level[entry] = Math.round(bright[i] * STEPS)
      colour[entry] = i % params.colours.length
    }
  })
  const units = assembly.units.slice()
  const litUnits = new Map<string, number>()
  const unit = assembly.placements.unit.map((u, entry) => {
    if (level[entry] === 0) return u
    const key = `${u} ${level[entry]} ${colour[entry]}`
    const known = litUnits.get(key)
    if (known !== undefined) return known
    const number = units.push(lit(assembly.units[u], level[entry] / STEPS, params.colours[colour[entry]], params.on)) - 1
    litUnits.set(key, number)
    return number
  })
  const count = bright.reduce((sum, b) => sum + (Math.round(b * STEPS) > 0 ? 1 : 0), 0)
  return {
    ok: true,
    value: { ...assembly, units, placements: { ...assembly.placements, unit } },
    issues: [],
    told: `${count.toLocaleString('en')} of ${things.length.toLocaleString('en')} lit`,
  }
}

type Params = z.infer<typeof runningLightParams>

/** So many steps of brightness: copies of one unit that are as bright share their unit. */
const STEPS = 24

/** Where each thing lies on the light's way, 0 to 1. */
function sharesOf(apart: Apart, { order, turned }: Params): Float64Array {
  const count = apart.things.length
  const middles = thingMiddles(apart)
  const places = apart.things.map((_, i) => {
    if (order === 'across') return middles[3 * i]
    if (order === 'up') return middles[3 * i + 1]
    return order === 'text' ? i : Math.abs(i - (count - 1) / 2)
  })
  const [least, most] = [Math.min(...places), Math.max(...places)]
  return Float64Array.from(places, (place) => {
    const share = most > least ? (place - least) / (most - least) : 0.5
    return turned ? 1 - share : share
  })
}

/** How bright each is, 0 to 1: most where the light is, none from half its width on; at 0 and at 100 % it lies outside of all. */
function brightness(shares: Float64Array, { at, width, strength }: Params): Float64Array {
  const half = width / 200
  const place = -half + (at / 100) * (1 + 2 * half)
  return shares.map((share) => {
    const off = Math.abs(share - place) / half
    return off >= 1 ? 0 : ((1 + Math.cos(Math.PI * off)) / 2) * (strength / 100)
  })
}

/** A solid whose surfaces shine so much, 0 to 1, in the light's colour. */
function lit({ looks, labels, ...solid }: Solid, by: number, colour: string, on: Params['on']): Solid {
  const shines = (group: number) => on === 'all' || group === FACE || (on === 'face-edge' && group === EDGE)
  const shone = [...looks, { name: 'undressed', material: UNDRESSED }].map(
    ({ name, material }): Look => ({ name: `${name} lit`, material: shining(material, colour, by) }),
  )
  return {
    ...solid,
    looks: [...looks, ...shone],
    labels: withLabel(labels, 'look', (row) => {
      const look = labels.look[row]
      return shines(labels.group[row]) ? looks.length + (look === NONE ? looks.length : look) : look
    }),
  }
}

const shining = (material: Material, colour: string, by: number): Material => ({
  ...material,
  colour: mixed(material.colour, colour, by),
  glow: Math.max(material.glow ?? 0, by),
})

/** A colour part of the way to another, by their sRGB numbers. */
function mixed(from: string, to: string, by: number): string {
  const part = (hex: string, k: number) => Number.parseInt(hex.slice(1 + 2 * k, 3 + 2 * k), 16)
  return `#${[0, 1, 2]
    .map((k) =>
      Math.round(part(from, k) + (part(to, k) - part(from, k)) * by)
        .toString(16)
        .padStart(2, '0'),
    )
    .join('')}`
}
