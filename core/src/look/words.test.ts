import { describe, expect, it } from 'vitest'
import { DENSITIES, massOf, STUFF_LABELS, STUFFS } from './densities'
import { STARTERS } from './materials'
import { named } from './words'

describe('materials in words', () => {
  it('are called as in the library where they are of it, and by their looks where they are not', () => {
    for (const { name, material } of STARTERS) expect(named({ ...material })).toBe(name.toLowerCase())
    expect(named({ colour: '#123456', roughness: 0.2, metalness: 1 })).toBe('polished metal')
    expect(named({ colour: '#123456', roughness: 0.8, metalness: 1 })).toBe('brushed metal')
    expect(named({ colour: '#123456', roughness: 0.2, metalness: 0 })).toBe('gloss')
    expect(named({ colour: '#123456', roughness: 0.8, metalness: 0 })).toBe('matt')
    expect(named({ colour: '#123456', roughness: 0.8, metalness: 0, glow: 0.9 })).toBe('glowing')
  })
})

describe('what things weigh', () => {
  it('is their volume by their density: a litre of each as many kilograms as its g/cm³', () => {
    for (const stuff of STUFFS) {
      expect(massOf(1e6, stuff)).toBeCloseTo(1000 * DENSITIES[stuff], 9)
      expect(massOf(0, stuff)).toBe(0)
    }
    // a steel cube of 10 cm
    expect(massOf(100 ** 3, 'steel')).toBeCloseTo(7850, 6)
    expect(new Set(STUFF_LABELS).size).toBe(STUFFS.length)
    // foam floats on water, metals and stone do not
    expect(massOf(1e6, 'foam')).toBeLessThan(1000)
    for (const heavy of ['steel', 'brass', 'aluminium', 'stone', 'glass'] as const) expect(massOf(1e6, heavy)).toBeGreaterThan(1000)
  })
})
