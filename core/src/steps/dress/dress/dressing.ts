import { type Look, type Material, materialKey } from '../../../look/material'
import { GROUPS, rowCount } from '../../../solid/labels'
import { letterTurns } from '../../../solid/letter-turns'
import { UNIT_LAYERS } from '../../../repeat/units'
import type { Solid } from '../../../solid/solid'
import type { DressParams } from './schema'

const PALETTE_GROUPS: Record<DressParams['paletteOn'], readonly string[]> = { face: ['face'], 'face-edge': ['face', 'edge'], all: GROUPS }

/**
 * The solid with a look for every one of its surfaces: the group's material, the layer's colour, the palette's, then the rules in turn,
 * each over those before it. Geometry is shared, not copied.
 */
export function dressed(solid: Solid, params: DressParams): Solid {
  const { labels } = solid
  const turns = letterTurns(solid.letters)
  const looks: Look[] = []
  const numbers = new Map<string, number>()
  const look = new Int32Array(rowCount(labels))
  for (let row = 0; row < look.length; row++) {
    const found = lookFor(solid, row, params, turns)
    const key = `${materialKey(found.material)} ${found.name}`
    let number = numbers.get(key)
    if (number === undefined) numbers.set(key, (number = looks.push(found) - 1))
    look[row] = number
  }
  return { ...solid, labels: { ...labels, look }, looks }
}

function lookFor(solid: Solid, row: number, params: DressParams, { place, word }: ReturnType<typeof letterTurns>): Look {
  const { labels, layers, bands, letters } = solid
  const group = GROUPS[labels.group[row]]
  const letter = labels.letter[row]
  const layer = layers[labels.layer[row]]
  const band = bands[labels.band[row]] ?? ''
  let material: Material = params[group]
  let name: string = group
  // a bulb comes as it is, whatever the letter's own face wears
  const ready = layer !== undefined && UNIT_LAYERS.includes(layer.name) ? solid.looks[labels.look[row]] : undefined
  if (!ready && layer?.colour !== undefined && (params.layerColours === 'all' || (params.layerColours === 'face' && group === 'face'))) {
    material = { ...material, colour: layer.colour }
    if (layers.length > 1) name = `${group} ${layer.name}`
  }
  const { palette, colours } = params
  if (!ready && palette !== 'none' && colours.length > 0 && PALETTE_GROUPS[params.paletteOn].includes(group)) {
    const turn = palette === 'layer' ? labels.layer[row] : letter < 0 ? 0 : palette === 'word' ? word[letter] : Math.max(0, place[letter])
    const k = turn % colours.length
    material = { ...material, colour: colours[k] }
    name = `${group} ${palette} colour ${k + 1}`
  }
  if (ready) ({ material, name } = ready)
  params.rules.forEach((rule, i) => {
    if (ready && rule.layer === '') return
    if (rule.groups.length > 0 && !rule.groups.includes(group)) return
    if (rule.layer !== '' && rule.layer !== layer?.name) return
    if (rule.band !== '' && rule.band !== band) return
    if (rule.letters !== '' && (letter < 0 || !rule.letters.includes(letters[letter]))) return
    if (rule.every > 1 && (letter < 0 || place[letter] < rule.from - 1 || (place[letter] - rule.from + 1) % rule.every !== 0)) return
    material = rule.material
    name = `${group} ${rule.band || `rule ${i + 1}`}`
  })
  return { name, material }
}
