import { latticeFor } from '../outline/lattice'
import type { Look } from '../look/material'
import { FACE, INSIDE, RETURN, withLabel } from '../solid/labels'
import { joinSolids, type Matrix, transformed } from '../solid/operations'
import { sidesFor, turned, turnedBar, type TurnedPoint, turnedRing } from '../solid/revolve'
import type { Solid } from '../solid/solid'
import { shift, through, turnAbout } from './spots'
import { type UnitName } from './unit-names'

/** How far the foot of a unit reaches from its middle, of its whole width: what a hole for it is bored by. */
export const FOOT: Readonly<Record<UnitName, number>> = { bulb: 0.3, rivet: 0.24, stud: 0.3, pearl: 0.3, bead: 0.3, bolt: 0.28 }

/** How deep a foot stands in what it is set on, of a unit's width: faces that only touch, and not quite when they are turned, could not be united. */
const SUNK = 0.03

/** What it is made of: the layer it is of, and how that looks. */
interface Part {
  readonly layer: string
  readonly look: Look
}

const GLASS: Look = { name: 'bulb glass', material: { colour: '#ffe6b4', roughness: 0.1, metalness: 0, glow: 0.45, clear: 0.35 } }

const CORE: Look = { name: 'bulb core', material: { colour: '#fff4d2', roughness: 0.5, metalness: 0, glow: 1 } }

const BRASS: Look = { name: 'brass', material: { colour: '#c9a35a', roughness: 0.35, metalness: 0.95 } }

const STEEL: Look = { name: 'steel', material: { colour: '#b9bdc1', roughness: 0.28, metalness: 1 } }

const PEARL: Look = { name: 'pearl', material: { colour: '#f2ece0', roughness: 0.18, metalness: 0.05 } }

const ENAMEL: Look = { name: 'enamel', material: { colour: '#c2382b', roughness: 0.25, metalness: 0 } }

const part = (layer: string, look: Look): Part => ({ layer, look })

/** The layers of ready units: a Dress step leaves them as they come, unless a rule names them. */
export const UNIT_LAYERS: readonly string[] = ['Bulb glass', 'Bulb socket', 'Bulb core', 'Rivet', 'Stud', 'Pearl', 'Bead', 'Bolt cap']

/** A corner of a turned profile by its radius and height; what is flat there is flat on both sides. */
const corner = (r: number, y: number, group: number, before: readonly [number, number], after: readonly [number, number] = before): TurnedPoint => ({
  r,
  y,
  group,
  before,
  after,
})

/** An arc of a turned profile about (0, y) from one lift to another, degrees from the equator; its first point is left out where `first` says so. */
function arc(radius: number, y: number, from: number, to: number, steps: number, group: number, inwards = false): TurnedPoint[] {
  return Array.from({ length: steps + 1 }, (_, i): TurnedPoint => {
    const angle = ((from + ((to - from) * i) / steps) * Math.PI) / 180
    const n: [number, number] = [Math.cos(angle), Math.sin(angle)]
    const r = Math.abs(angle) > Math.PI / 2 - 1e-9 ? 0 : radius * n[0]
    return corner(r, y + radius * n[1], group, inwards ? [-n[0], -n[1]] : n)
  })
}

const DOWN: [number, number] = [0, -1]

const OUT: [number, number] = [1, 0]

const UP: [number, number] = [0, 1]

/** Two corners at one place are one: what comes before ends in its own direction, what follows begins in its. */
function run(...parts: readonly TurnedPoint[][]): TurnedPoint[] {
  const out: TurnedPoint[] = []
  for (const part of parts)
    for (const point of part) {
      const last = out[out.length - 1]
      if (last && Math.abs(last.r - point.r) < 1e-9 && Math.abs(last.y - point.y) < 1e-9) out[out.length - 1] = { ...last, after: point.after }
      else out.push(point)
    }
  return out
}

/**
 * A ready unit, `width` mm across, about the Z axis: its foot sunk a little below z = 0, facing +Z; dressed, in layers of their own names. Divided by its size, so that
 * thousands of small ones stay light.
 */
export function readyUnit(name: UnitName, width: number): Solid {
  const lattice = latticeFor(width)
  // of four at a time, so that there is a whole number of steps to a quarter
  const sides = Math.min(32, sidesFor(width / 2, 0.04))
  const steps = sides / 4
  const w = width
  const sunk = SUNK * w
  switch (name) {
    case 'bulb': {
      const [socket, tall, ball] = [0.3 * w, 0.22 * w, w / 2]
      // the ball stands on the socket's rim
      const middle = tall + Math.sqrt(ball * ball - socket * socket)
      const low = (-Math.acos(socket / ball) * 180) / Math.PI
      const outside = run(
        [corner(0, -sunk, RETURN, DOWN), corner(socket, -sunk, RETURN, DOWN, OUT), corner(socket, tall, RETURN, OUT)],
        arc(ball, middle, low, 90, Math.round(1.5 * steps), FACE),
      )
      // the hollow of the glass, and the core that stands in it
      const [inner, core, high] = [0.9 * ball, 0.13 * w, middle + 0.06 * w]
      const floor = tall + 0.04 * w
      const foot = (-Math.asin((middle - floor) / inner) * 180) / Math.PI
      const hollow = run(
        arc(inner, middle, 90, foot, steps, FACE, true),
        [corner(Math.sqrt(inner * inner - (middle - floor) ** 2), floor, FACE, UP), corner(core, floor, RETURN, UP, OUT), corner(core, high, INSIDE, OUT)],
        arc(core, high, 0, 90, Math.ceil(steps / 2), INSIDE),
      )
      return dressedUnit(upright(joinSolids([turned(outside, false, sides, lattice), turned(hollow, false, Math.max(8, sides / 2), lattice)])), {
        [FACE]: part('Bulb glass', GLASS),
        [RETURN]: part('Bulb socket', BRASS),
        [INSIDE]: part('Bulb core', CORE),
      })
    }
    case 'rivet': {
      const rise = 0.3 * w
      const radius = (w * w) / (8 * rise) + rise / 2
      const foot = (Math.asin((radius - rise) / radius) * 180) / Math.PI
      const dome = run(
        [corner(0, -sunk, RETURN, DOWN), corner(w / 2, -sunk, RETURN, DOWN, OUT), corner(w / 2, 0, RETURN, OUT)],
        arc(radius, rise - radius, foot, 90, steps, FACE),
      )
      return dressedUnit(upright(turned(dome, false, sides, lattice)), { [FACE]: part('Rivet', BRASS), [RETURN]: part('Rivet', BRASS) })
    }
    case 'stud': {
      // as wide as asked where it comes out of what it stands on
      const high = 0.4 * w
      const spike = faceted(turnedBar((w / 2) * (1 + sunk / high), 0, high + sunk, 4, lattice))
      return dressedUnit(transformed(spike, through(shift(0, 0, -sunk), turnAbout('z', 45))), {
        [FACE]: part('Stud', STEEL),
        [RETURN]: part('Stud', STEEL),
      })
    }
    case 'pearl':
      return dressedUnit(upright(turned(arc(w / 2, 0.42 * w, -90, 90, 2 * steps, FACE), false, sides, lattice)), { [FACE]: part('Pearl', PEARL) })
    case 'bead': {
      const ring = turnedRing(0.3 * w, 0.2 * w, sides, Math.max(8, sides / 2), lattice)
      // its hole along X, standing on its rim
      return dressedUnit(transformed(ring, [0, 1, 0, -0.2 * w, 1, 0, 0, 0, 0, 0, -1, 0.46 * w]), { [FACE]: part('Bead', ENAMEL) })
    }
    case 'bolt': {
      const head = faceted(turnedBar(w / 2, w / 2, 0.22 * w + sunk, 6, lattice))
      return dressedUnit(transformed(head, shift(0, 0, -sunk)), { [FACE]: part('Bolt cap', STEEL), [RETURN]: part('Bolt cap', STEEL) })
    }
  }
}

/** Turned so that what was up looks forward. */
const FORWARD: Matrix = [1, 0, 0, 0, 0, 0, -1, 0, 0, 1, 0, 0]

const upright = (solid: Solid): Solid => transformed(solid, FORWARD)

/** With few sides each is flat: shading is made from the shape. */
const faceted = (solid: Solid): Solid => upright({ ...solid, attributes: {} })

function dressedUnit(solid: Solid, parts: Readonly<Record<number, Part>>): Solid {
  const layers = [...new Set(Object.values(parts).map(({ layer }) => layer))]
  const looks = [...new Set(Object.values(parts).map(({ look }) => look))]
  const { group } = solid.labels
  const labels = withLabel(
    withLabel(solid.labels, 'look', (row) => looks.indexOf(parts[group[row]].look)),
    'layer',
    (row) => layers.indexOf(parts[group[row]].layer),
  )
  return { ...solid, labels, looks, layers: layers.map((name) => ({ name })) }
}
