import { beforeAll, describe, expect, it } from 'vitest'
import { SHIPPED_FACES } from '../../../fonts/catalogue'
import { assets, distanceToRings, FULL, openFace, pairs, stemWidth, wordRoute } from '../../../test/helpers'
import { RIMS } from './channel/schema'
import { checkMesh } from '../../check/check'
import type { RouteStep } from '../../document/schema'
import { evaluateRoute } from '../../evaluate/route'
import { loadManifold } from '../../kernel/manifold'
import { regionArea } from '../../outline/areas'
import type { Outline } from '../../outline/outline'
import { regionPolygons, polygonArea } from '../../outline/polygon'
import { BACK, EDGE, FACE, INSIDE, NONE, RETURN } from '../../solid/labels'
import { normalsOf, uvsOf } from '../../solid/shading'
import { labelAt, labelOf, type Solid, solidBounds, surfacesOf, triangleCount } from '../../solid/solid'

beforeAll(async () => {
  await loadManifold()
})

const step = (kind: string, params: Record<string, unknown> = {}): RouteStep => ({ id: `${kind}-1`, kind, on: true, params })
const words = (text: string, font = 'archivo-bold', size = 40) => wordRoute(text, font, { size })[0]
const run = (route: RouteStep[]) => evaluateRoute(route, { assets })
async function solidOf(...route: RouteStep[]): Promise<Solid> {
  const report = await run(route)
  if (report.value?.kind !== 'solid') throw new Error(JSON.stringify(report.steps.map((s) => s.issues)))
  return report.value
}
const sound = (solid: Solid, what = '') => {
  expect(checkMesh(solid).findings, what).toEqual([])
  // every shading normal is a direction, and looks out of its own triangle
  let inwards = 0
  for (let t = 0; t < triangleCount(solid); t++) {
    const p = [0, 1, 2].map((k) => solid.positions.subarray(3 * solid.indices[3 * t + k], 3 * solid.indices[3 * t + k] + 3))
    const [a, b] = [1, 2].map((k) => [0, 1, 2].map((i) => p[k][i] - p[0][i]))
    const flat = [a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]]
    const size = Math.hypot(...flat)
    for (let k = 0; k < 3; k++) {
      const n = normalsOf(solid).subarray(9 * t + 3 * k, 9 * t + 3 * k + 3)
      if (Math.abs(Math.hypot(n[0], n[1], n[2]) - 1) > 1e-3) throw new Error(`${what}: a normal of length ${Math.hypot(n[0], n[1], n[2])}`)
      if (size > 1e-3 && (n[0] * flat[0] + n[1] * flat[1] + n[2] * flat[2]) / size < -0.2) inwards++
    }
  }
  expect(inwards / triangleCount(solid), `${what}: corners shaded from within`).toBeLessThan(0.005)
}
const FONTS = ['archivo-bold', 'abril-fatface', 'pacifico', 'unifraktur-cook', 'cinzel-decorative']
const groupsOf = (solid: Solid) => new Set(labelOf(solid, 'group'))

describe('Inflate', () => {
  it('is sound on thin and thick strokes, on both sides, with walls and rims', async () => {
    for (const [font, params] of pairs(FONTS, [
      {},
      { roundness: 0.15 },
      { rim: 0.7, wall: 1 },
      { sides: 'front', wall: 2 },
      { sides: 'back', measure: 'letter' },
    ]))
      sound(await solidOf(words('Qu', font), step('inflate', params)), `${font} ${JSON.stringify(params)}`)
  })

  it('makes half an ellipsoid of a disc', async () => {
    const solid = await solidOf(step('plate', { shape: 'disc', width: 40, height: 40 }), step('inflate', { height: 10, sides: 'front', division: 1 }))
    const [, , z0, , , z1] = solidBounds(solid.positions)
    expect(z1 - z0).toBeCloseTo(10, 1)
    expect(checkMesh(solid).volume / ((2 / 3) * Math.PI * 20 * 20 * 10)).toBeCloseTo(1, 2)
  })

  it('keeps the silhouette exactly, and lets wide strokes swell further unless told otherwise', async () => {
    const plain = await solidOf(words('iO'), step('extrude', { front: { profile: 'square' } }))
    const swollen = await solidOf(words('iO'), step('inflate'))
    const flat = (s: Solid) => [0, 1, 3, 4].map((k) => solidBounds(s.positions)[k])
    expect(flat(swollen)).toEqual(flat(plain))
    const top = (s: Solid, letter: number) => {
      let z = -Infinity
      for (let t = 0; t < triangleCount(s); t++)
        if (labelAt(s, t, 'letter') === letter) for (let k = 0; k < 3; k++) z = Math.max(z, s.positions[3 * s.indices[3 * t + k] + 2])
      return z
    }
    const word = await solidOf(words('.M', 'alfa-slab'), step('inflate', { sides: 'front' }))
    expect(top(word, 0)).toBeLessThan(top(word, 1))
    const each = await solidOf(words('.M', 'alfa-slab'), step('inflate', { sides: 'front', measure: 'letter' }))
    expect(top(each, 0)).toBeCloseTo(top(each, 1), 1)
  })

  it('says so when the rim leaves nothing to swell', async () => {
    const [, report] = (await run([words('i'), step('inflate', { rim: 50 })])).steps
    expect(report.issues[0]).toMatchObject({ code: 'vanished', field: 'rim', severity: 'failed' })
  })
})

describe('Tube', () => {
  it('is sound along outlines of every kind, with gaps, offsets and other sections', async () => {
    for (const [font, params] of pairs(FONTS.slice(0, 3), [
      {},
      { gap: 3, gapAt: 40 },
      { offset: 1.2 },
      { offset: -1 },
      { section: 'square', bend: 0 },
      { section: 'profile' },
    ]))
      sound(await solidOf(words('Qa', font), step('tube', { radius: 1.5, ...params })), `${font} ${JSON.stringify(params)}`)
  }, 180_000)

  it('has the volume of a round bar along a circle, and loses what a gap takes', async () => {
    const disc = step('plate', { shape: 'disc', width: 100, height: 100 })
    const whole = checkMesh(await solidOf(disc, step('tube', { radius: 3 }))).volume
    // Pappus: the section's area times the way of its middle
    expect(whole / (Math.PI * 9 * Math.PI * 100)).toBeCloseTo(1, 2)
    const open = checkMesh(await solidOf(disc, step('tube', { radius: 3, gap: 10 }))).volume
    // the gap is the free space between the rounded ends
    const lost = Math.PI * 9 * (10 + 6) - (4 / 3) * Math.PI * 27
    expect((whole - open) / lost).toBeCloseTo(1, 1)
  })

  it('runs along drawn strokes that cross themselves, as one piece', async () => {
    const nodes = [
      { x: 0, y: 0 },
      { x: 60, y: 40 },
      { x: 60, y: 0 },
      { x: 0, y: 40 },
    ]
    const drawing = step('drawing', { shapes: [{ id: 'a', layer: 'layer-1', closed: false, nodes }], layers: [{ id: 'layer-1', name: 'Line' }] })
    const report = await run([drawing, step('tube', { radius: 2 })])
    const solid = report.value as Solid
    expect(report.steps[1].issues).toEqual([])
    sound(solid)
    expect(checkMesh(solid).parts).toBe(1)
  })

  it('lifts bars over those they cross', async () => {
    const nodes = [
      { x: 0, y: 0 },
      { x: 60, y: 40 },
      { x: 60, y: 0 },
      { x: 0, y: 40 },
    ]
    const drawing = step('drawing', { shapes: [{ id: 'a', layer: 'layer-1', closed: false, nodes }], layers: [{ id: 'layer-1', name: 'Line' }] })
    const lifted = await solidOf(drawing, step('tube', { radius: 1.5, crossings: 'lifted' }))
    expect(checkMesh(lifted).findings).toEqual([])
    const [, , z0, , , z1] = solidBounds(lifted.positions)
    expect(z1 - z0).toBeGreaterThan(6)
    const neon = await solidOf(words('8', 'fredoka'), step('tube', { radius: 1, gap: 3, crossings: 'lifted' }))
    expect(checkMesh(neon).findings).toEqual([])
  })

  it('names what is missing', async () => {
    expect((await run([words('a'), step('tube', { along: 'strokes' })])).steps[1].issues[0].code).toBe('no-strokes')
  })
})

describe('Channel', () => {
  it('leaves letters solid whose strokes are nowhere wide enough, and says so', async () => {
    const { value, steps } = await run([words('&8', 'monoton', 40), step('channel')])
    if (value?.kind !== 'solid') throw new Error(JSON.stringify(steps.at(-1)?.issues))
    sound(value, 'monoton')
    expect(steps.at(-1)?.issues.map(({ code, message }) => `${code}: ${message}`)).toEqual([
      'no-channel: “&” and “8” are narrower than two walls of 2 mm and stay solid.',
    ])
    // wide enough for the ledge of a panel, and not for a pocket
    for (const [text, face] of [
      ['.', 'saira-stencil'],
      ['@', 'yatra-one'],
      ['qi', 'bodoni-moda-italic'],
    ])
      sound(await solidOf(words(text, face, 12), step('channel')), face)
  })

  it('is sound with and without acrylic, rims and holes', async () => {
    for (const [font, params] of pairs(FONTS.slice(0, 4), [
      {},
      { panel: false, rim: 'round' },
      { cable: 6, rim: 'ogee', mounting: 3 },
      { wall: 0.8, ledge: 0.4, floor: 1, depth: 10, rim: 'chamfer' },
    ]))
      sound(await solidOf(words('Qa', font, 80), step('channel', params)), `${font} ${JSON.stringify(params)}`)
    for (const panel of [true, false]) for (const rim of RIMS) sound(await solidOf(words('a'), step('channel', { panel, rim })), `${rim} ${panel}`)
  })

  it('has the volume of floor and walls, and the panel lies apart with its clearance', async () => {
    const plate = step('plate', { shape: 'rectangle', width: 100, height: 60 })
    const open = checkMesh(await solidOf(plate, step('channel', { panel: false, mounting: 0, depth: 20, wall: 3, floor: 2 }))).volume
    expect(open).toBeCloseTo(100 * 60 * 20 - 94 * 54 * 18, 0)
    const solid = await solidOf(plate, step('channel', { mounting: 0, depth: 20, wall: 3, floor: 2, thickness: 3, clearance: 0.4, ledge: 1 }))
    const report = checkMesh(solid)
    expect(report.parts).toBe(2)
    const [w, h] = [100 - 2 * (3 - 1) - 0.8, 60 - 2 * (3 - 1) - 0.8]
    const box = 100 * 60 * 20 - 94 * 54 * (20 - 2 - 3.4) - 96 * 56 * 3.4
    expect(report.volume).toBeCloseTo(box + w * h * 3, 0)
    expect(groupsOf(solid)).toEqual(new Set([FACE, EDGE, RETURN, BACK, INSIDE]))
  })

  it('bores as many holes as there is room for and says when there is not', async () => {
    const plate = step('plate', { shape: 'rectangle', width: 100, height: 60 })
    const holes = async (params: Record<string, unknown>) => {
      const solid = await solidOf(plate, step('channel', { panel: false, depth: 20, wall: 3, floor: 2, ...params }))
      sound(solid)
      // Euler: every hole through the floor takes two from the characteristic of a closed surface
      const report = checkMesh(solid)
      const vertices = new Set(solid.indices).size
      return (2 * report.parts - (vertices - triangleCount(solid) / 2)) / 2
    }
    expect(await holes({ mounting: 0 })).toBe(0)
    expect(await holes({ mounting: 4, cable: 10 })).toBe(5)
    const [, told] = (await run([words('i'), step('channel', { mountingDiameter: 30 })])).steps
    expect(told.issues.map((i) => i.code)).toContain('no-room-for-holes')
  })

  it('names strokes that are too narrow, with the place', async () => {
    const [, report] = (await run([words('e', 'abril-fatface', 60), step('channel', { mounting: 0, panel: false })])).steps
    const issue = report.issues.find((i) => i.code === 'narrow-strokes')
    expect(issue?.message).toContain('“e”')
    expect(issue?.places?.[0]).toHaveLength(3)
    expect((await run([words('e'), step('channel', { ledge: 5 })])).steps[1].issues[0]).toMatchObject({ code: 'ledge-too-wide', field: 'ledge' })
    expect((await run([words('e'), step('channel', { depth: 4 })])).steps[1].issues[0]).toMatchObject({ code: 'too-shallow', field: 'depth' })
  })
})

describe('Relief', () => {
  it('is sound by distance, whatever the curve', async () => {
    for (const [font, curve] of pairs(FONTS, ['dome', 'ripples', 'hollow']))
      sound(await solidOf(words('Qu', font), step('relief', { curve, reach: 8, height: 1.5 })), `${font} ${curve}`)
  })

  it('has the volume under a slope', async () => {
    const solid = await solidOf(
      step('plate', { shape: 'disc', width: 60, height: 60 }),
      step('relief', { curve: 'slope', reach: 30, height: 12, base: 2, division: 0.8 }),
    )
    // a cone on a base
    expect(checkMesh(solid).volume / (Math.PI * 900 * 2 + (Math.PI * 900 * 12) / 3)).toBeCloseTo(1, 2)
    sound(solid)
  })

  it('asks for its picture', async () => {
    expect((await run([words('a'), step('relief', { by: 'picture' })])).steps[1].issues[0]).toMatchObject({ code: 'no-file', field: 'file' })
  })
})

describe('Sweep', () => {
  const drawn = (nodes: Record<string, unknown>[], closed = false) =>
    step('drawing', { shapes: [{ id: 'a', layer: 'l', closed, nodes }], layers: [{ id: 'l', name: 'Line' }] })
  const WAVE = [
    { x: 0, y: 0, out: [20, 0] },
    { x: 40, y: 30, in: [-10, 0], out: [10, 0] },
    { x: 80, y: 0, in: [-20, 0] },
  ]
  const ZIGZAG = [
    { x: 0, y: 0 },
    { x: 60, y: 40 },
    { x: 60, y: 0 },
    { x: 0, y: 40 },
  ]
  const LOOP = [
    { x: 0, y: 0, out: [60, 0] },
    { x: 60, y: 30, in: [30, -40], out: [-30, 40] },
    { x: 0, y: 20, in: [0, 40], out: [0, -30] },
    { x: 90, y: 5, in: [-40, 0] },
  ]

  it('is sound and of one piece, also where the line crosses itself, with every section and end', async () => {
    for (const [[name, nodes], params] of pairs(Object.entries({ WAVE, ZIGZAG, LOOP }), [
      {},
      { section: 'square', ends: 'flat' },
      { section: 'diamond', turnEnd: 360, ends: 'flat' },
      { sizeStart: 10, sizeEnd: 0, ends: 'pointed' },
      { section: 'half', ends: 'flat' },
      { section: 'triangle', shiftStart: -3, shiftEnd: 3 },
    ])) {
      const solid = await solidOf(drawn(nodes), step('sweep', params))
      expect(checkMesh(solid), `${name} ${JSON.stringify(params)}`).toMatchObject({ findings: [], parts: 1 })
    }
    for (const params of [{}, { section: 'square', height: 4, bend: 1 }])
      expect(checkMesh(await solidOf(words('Qa', 'pacifico'), step('sweep', { along: 'outlines', width: 2, height: 2, ...params }))).findings).toEqual([])
  }, 180_000)

  it('makes bars along outlines that bend more tightly than they are wide one body, and keeps what they do not meet as it is', async () => {
    // loops, and bars that are wider than the room between them
    for (const [text, face] of [
      ['f', 'pacifico'],
      ['a', 'knewave'],
    ]) {
      const solid = await solidOf(words(text, face, 25), step('sweep', { along: 'outlines' }))
      sound(solid, face)
      expect(checkMesh(solid).parts, face).toBe(1)
    }
    const narrow = await solidOf(words('o', 'archivo-bold', 60), step('sweep', { along: 'outlines', width: 2, height: 2 }))
    expect(checkMesh(narrow)).toMatchObject({ sound: true, parts: 2 })
  })

  it('keeps letters and layers apart where lines that cross are united', async () => {
    const slices = step('slice', { cut: 'wave', count: 1 })
    const solid = await solidOf(wordRoute('Xo', 'archivo-bold', { tracking: -60 })[0], slices, step('sweep', { along: 'outlines', width: 3, height: 3 }))
    sound(solid)
    expect(solid.letters).toEqual(['X', 'o'])
    expect(new Set(labelOf(solid, 'letter'))).toEqual(new Set([0, 1]))
    expect(new Set(labelOf(solid, 'layer')).size).toBe(solid.layers.length)
    expect(solid.layers.length).toBeGreaterThan(1)
    // the o stands to the right of the X
    const middle = (letter: number) => {
      const xs = Array.from({ length: triangleCount(solid) }, (_, t) => t)
        .filter((t) => labelAt(solid, t, 'letter') === letter)
        .map((t) => solid.positions[3 * solid.indices[3 * t]])
      return xs.reduce((a, b) => a + b, 0) / xs.length
    }
    expect(middle(1)).toBeGreaterThan(middle(0))
  })

  it('follows curves along its length, and is sound whatever they do', async () => {
    const line = drawn([
      { x: 0, y: 0 },
      { x: 100, y: 0 },
    ])
    const curves = (params: Record<string, unknown>) => step('sweep', { section: 'square', width: 6, height: 6, ends: 'flat', course: 'curves', ...params })
    // a straight curve is the same as values; a step up and down has the volume of what is between
    const tapered = checkMesh(
      await solidOf(
        line,
        curves({
          sizeCurve: [
            [0, 100],
            [1, 0],
          ],
        }),
      ),
    ).volume
    expect(tapered / 1200).toBeCloseTo(1, 2)
    const waisted = checkMesh(
      await solidOf(
        line,
        curves({
          sizeCurve: [
            [0, 100],
            [0.25, 100],
            [0.5, 20],
            [0.75, 100],
            [1, 100],
          ],
        }),
      ),
    ).volume
    // the square of the monotone cubic between 1 and 0.2, which is 1 − 0.8·(3f² − 2f³), summed over its middle half
    const f = Array.from({ length: 2000 }, (_, i) => (i + 0.5) / 2000)
    const mean = f.reduce((sum, x) => sum + (1 - 0.8 * x * x * (3 - 2 * x)) ** 2, 0) / f.length
    expect(waisted / (3600 * (0.5 + 0.5 * mean))).toBeCloseTo(1, 1)
    for (const nodes of [WAVE, ZIGZAG])
      for (const params of [
        {
          sizeCurve: [
            [0, 5],
            [0.2, 160],
            [0.4, 20],
            [0.8, 140],
            [1, 5],
          ],
          section: 'round',
        },
        {
          turnCurve: [
            [0, 0],
            [0.5, 180],
            [1, -90],
          ],
          section: 'diamond',
        },
        {
          shiftCurve: [
            [0, 0],
            [0.3, 5],
            [0.6, -5],
            [1, 0],
          ],
          width: 3,
          height: 3,
        },
      ])
        expect(checkMesh(await solidOf(drawn(nodes), curves(params))).findings, JSON.stringify(params)).toEqual([])
    const { steps } = await run([
      drawn(WAVE),
      curves({
        sizeCurve: [
          [0.6, 1],
          [0.2, 1],
        ],
      }),
    ])
    expect(steps[1].issues[0].message).toContain('from the start to the end')
  }, 120_000)

  it('has the volume of its section times its way, and of a cone where it comes to a point', async () => {
    const line = drawn([
      { x: 0, y: 0 },
      { x: 100, y: 0 },
    ])
    const volume = async (params: Record<string, unknown>) => checkMesh(await solidOf(line, step('sweep', { ends: 'flat', ...params }))).volume
    expect(await volume({ section: 'square', width: 5, height: 3 })).toBeCloseTo(1500, 3)
    expect((await volume({ section: 'round', width: 8, height: 8 })) / (Math.PI * 16 * 100)).toBeCloseTo(1, 1)
    // a section that turns keeps its area
    expect((await volume({ section: 'square', width: 6, height: 6, turnEnd: 90 })) / 3600).toBeCloseTo(1, 1)
    expect((await volume({ section: 'square', width: 6, height: 6, sizeStart: 100, sizeMiddle: 50, sizeEnd: 0 })) / 1200).toBeCloseTo(1, 2)
    expect(
      (await volume({ section: 'round', ends: 'round', width: 8, height: 8 })) - (await volume({ section: 'round', width: 8, height: 8 })),
    ).toBeGreaterThan(0.9 * (4 / 3) * Math.PI * 64 * 0.9)
  })

  it('takes the outline of a piece for its section, and says when a hollow one would cross itself', async () => {
    const pieces = [{ id: 'words', name: 'Words', route: [words('H')] }]
    const along = async (nodes: Record<string, unknown>[], params: Record<string, unknown>) =>
      evaluateRoute([drawn(nodes), step('sweep', { section: 'piece', other: { piece: 'words' }, ends: 'flat', ...params })], { assets, pieces, piece: 'bar' })
    const line = [
      { x: 0, y: 0 },
      { x: 100, y: 0 },
    ]
    const solid = (await along(line, { width: 10, height: 10 })).value as Solid
    sound(solid)
    const letter = (await run([words('H')])).value as Outline
    const [region] = letter.regions
    const box = regionArea(region).box
    const area = polygonArea(regionPolygons(region, 0.02, letter.lattice)) / ((box[2] - box[0]) * (box[3] - box[1]))
    expect(checkMesh(solid).volume / (area * 100 * 100)).toBeCloseTo(1, 2)
    expect((await along(ZIGZAG, { width: 6, height: 6 })).steps[1].issues[0]).toMatchObject({ code: 'crosses-itself' })
    expect((await along(line, { other: { piece: '' } })).steps[1].issues[0]).toMatchObject({ code: 'no-section', field: 'other' })
  })

  it('lifts a line over the one it crosses where it is told to', async () => {
    const flat = await solidOf(drawn(ZIGZAG), step('sweep', { width: 3, height: 3 }))
    const lifted = await solidOf(drawn(ZIGZAG), step('sweep', { width: 3, height: 3, crossings: 'lifted' }))
    expect(checkMesh(lifted).findings).toEqual([])
    const top = (s: Solid) => solidBounds(s.positions)[5] - solidBounds(s.positions)[2]
    expect(top(flat)).toBeCloseTo(3, 2)
    expect(top(lifted)).toBeGreaterThan(6)
  })
})

describe('Block', () => {
  it('has the volume of its shape', async () => {
    const volume = async (params: Record<string, unknown>) => {
      const solid = await solidOf(step('block', { tolerance: 0.005, ...params }))
      sound(solid, JSON.stringify(params))
      return checkMesh(solid).volume
    }
    expect(await volume({ shape: 'box', width: 30, height: 20, depth: 10 })).toBeCloseTo(6000, 6)
    const [w, h, d, r] = [30, 20, 10, 3]
    const rounded =
      (w - 2 * r) * (h - 2 * r) * (d - 2 * r) +
      2 * r * ((w - 2 * r) * (h - 2 * r) + (h - 2 * r) * (d - 2 * r) + (w - 2 * r) * (d - 2 * r)) +
      Math.PI * r * r * (w + h + d - 6 * r) +
      (4 / 3) * Math.PI * r ** 3
    expect((await volume({ shape: 'box', width: w, height: h, depth: d, rounding: r })) / rounded).toBeCloseTo(1, 2)
    expect((await volume({ shape: 'ball', width: 40 })) / ((4 / 3) * Math.PI * 8000)).toBeCloseTo(1, 2)
    expect((await volume({ shape: 'cylinder', width: 40, height: 25 })) / (Math.PI * 400 * 25)).toBeCloseTo(1, 2)
    expect((await volume({ shape: 'cone', width: 40, height: 30 })) / ((Math.PI * 400 * 30) / 3)).toBeCloseTo(1, 2)
    expect((await volume({ shape: 'ring', width: 60, bar: 10 })) / (2 * Math.PI ** 2 * 25 * 25)).toBeCloseTo(1, 2)
    expect((await run([step('block', { shape: 'ring', width: 20, bar: 10 })])).steps[0].issues[0].code).toBe('no-hole')
  })
})

describe('Extrude, further', () => {
  it('names bands of the edge that can be dressed by themselves', async () => {
    const bands = [
      { name: 'Rim', from: 0, to: 0.6 },
      { name: 'Line', from: 1, to: 1.3 },
    ]
    const rule = { band: 'Line', material: { colour: '#ff0000', roughness: 0.2, metalness: 1 } }
    const solid = await solidOf(words('Qu'), step('extrude', { front: { profile: 'ogee', inset: 2, height: 2 }, bands }), step('dress', { rules: [rule] }))
    sound(solid)
    expect(solid.bands).toEqual(['Rim', 'Line'])
    // the band lies between its insets: a plain chamfer shows it, where inset and height are one
    const cone = await solidOf(words('I'), step('extrude', { depth: 10, front: { profile: 'chamfer', inset: 2, height: 2 }, bands }))
    for (let t = 0; t < triangleCount(cone); t++) {
      const heights = [0, 1, 2].map((k) => cone.positions[3 * cone.indices[3 * t + k] + 2] - 8)
      if (labelAt(cone, t, 'band') === 1) expect(heights.every((z) => z > 0.99 && z < 1.31)).toBe(true)
      else if (labelAt(cone, t, 'group') === EDGE && labelAt(cone, t, 'band') === NONE)
        expect(heights.every((z) => (z > 0.59 && z < 1.01) || z > 1.29)).toBe(true)
    }
    expect(surfacesOf(solid).surfaces.filter((s) => s.material.colour === '#ff0000')).toMatchObject([{ group: 'edge', name: 'edge Line' }])
    expect((await run([words('I'), step('extrude', { bands: [{ name: 'Odd', from: 2, to: 1 }] })])).steps[1].issues[0]).toMatchObject({
      code: 'band',
      field: 'bands',
    })
  })

  it('grows the letters before their edges are taken off, and unites those that come to touch', async () => {
    const plain = await solidOf(words('O'), step('extrude'))
    const grown = await solidOf(words('O'), step('extrude', { outset: 1 }))
    sound(grown)
    const width = (s: Solid) => solidBounds(s.positions)[3] - solidBounds(s.positions)[0]
    expect(width(grown) - width(plain)).toBeCloseTo(2, 1)
    const word = await solidOf(words('Hallo'), step('extrude', { outset: 4, corners: 'round' }))
    sound(word)
    expect(checkMesh(word).parts).toBeLessThan(5)
    // each letter can still be dressed by itself
    expect(new Set(labelOf(word, 'letter')).size).toBe(5)
  })

  it('stops at a flat where it is told to, and offers that where no face is left', async () => {
    const wide = { profile: 'chamfer', inset: 30, height: 6 }
    const [, report] = (await run([words('Io'), step('extrude', { front: wide })])).steps
    const issue = report.issues.find((i) => i.code === 'no-face-left')
    expect(issue?.fixes?.[0].label).toContain('flat of 1 mm')
    const stopped = await solidOf(words('Io'), step('extrude', { front: wide, ...issue?.fixes?.[0].params }))
    sound(stopped)
    // a face is left on every letter
    const faces = new Set(Array.from(labelOf(stopped, 'letter')).filter((_, t) => labelAt(stopped, t, 'group') === FACE))
    expect(faces).toEqual(new Set([0, 1]))
    // the I is a bar: what is left of its width is the flat
    const bar = await solidOf(words('I'), step('extrude', { front: { ...wide, flat: 2 } }))
    const xs = Array.from({ length: triangleCount(bar) }, (_, t) => t)
      .filter((t) => labelAt(bar, t, 'group') === FACE)
      .flatMap((t) => [0, 1, 2].map((k) => bar.positions[3 * bar.indices[3 * t + k]]))
    expect(Math.max(...xs) - Math.min(...xs)).toBeCloseTo(2, 2)
  })

  it('is sound however it goes round corners and however its faces are divided', async () => {
    for (const font of FONTS.slice(0, 3))
      for (const corners of ['mitre', 'round', 'flat'])
        for (const division of ['none', 'triangles', 'squares'])
          sound(
            await solidOf(words('Mk&', font), step('extrude', { corners, division, front: { profile: 'round', inset: 1.2, height: 1.2 } })),
            `${font} ${corners} ${division}`,
          )
  })

  it('divides faces and walls evenly', async () => {
    const solid = await solidOf(
      step('plate', { shape: 'rectangle', width: 60, height: 40 }),
      step('extrude', { depth: 20, division: 'triangles', divisionEdge: 2, front: { profile: 'square' } }),
    )
    let [longest, flattest] = [0, Infinity]
    for (let t = 0; t < triangleCount(solid); t++) {
      const p = [0, 1, 2].map((k) => solid.positions.subarray(3 * solid.indices[3 * t + k], 3 * solid.indices[3 * t + k] + 3))
      const sides = [0, 1, 2].map((k) => Math.hypot(...[0, 1, 2].map((i) => p[k][i] - p[(k + 1) % 3][i])))
      longest = Math.max(longest, ...sides)
      const s = (sides[0] + sides[1] + sides[2]) / 2
      flattest = Math.min(
        flattest,
        (4 * Math.sqrt(3) * Math.sqrt(Math.max(0, s * (s - sides[0]) * (s - sides[1]) * (s - sides[2])))) / (sides[0] ** 2 + sides[1] ** 2 + sides[2] ** 2),
      )
    }
    expect(longest).toBeLessThan(4)
    // 1 for an equilateral triangle
    expect(flattest).toBeGreaterThan(0.35)
  })

  it('lays textures out in millimetres: plane on faces, unrolled on edges and returns', async () => {
    const solid = await solidOf(words('O&'), step('extrude', { front: { profile: 'round', inset: 2, height: 2 } }))
    for (let t = 0; t < triangleCount(solid); t++) {
      const p = [0, 1, 2].map((k) => solid.positions.subarray(3 * solid.indices[3 * t + k], 3 * solid.indices[3 * t + k] + 3))
      const q = [0, 1, 2].map((k) => uvsOf(solid).subarray(6 * t + 2 * k, 6 * t + 2 * k + 2))
      if (labelAt(solid, t, 'group') === EDGE) continue
      for (let k = 0; k < 3; k++) {
        const inSpace = Math.hypot(...[0, 1, 2].map((i) => p[k][i] - p[(k + 1) % 3][i]))
        const inPlane = Math.hypot(...[0, 1].map((i) => q[k][i] - q[(k + 1) % 3][i]))
        expect(Math.abs(inSpace - inPlane)).toBeLessThan(2e-3)
      }
    }
  })
})

describe('Dress', () => {
  it('dresses letters, every second letter and palettes by letter and word', async () => {
    const gold = { colour: '#e8b64c', roughness: 0.2, metalness: 1 }
    const word = [words('Tern Quay'), step('extrude')]
    const coloured = (solid: Solid, colour: string) => {
      const { surfaces, of } = surfacesOf(solid)
      const letters = new Set<string>()
      for (let t = 0; t < triangleCount(solid); t++) if (surfaces[of[t]].material.colour === colour) letters.add(solid.letters[labelAt(solid, t, 'letter')])
      return [...letters].sort().join('')
    }
    expect(coloured(await solidOf(...word, step('dress', { rules: [{ letters: 'TQ', material: gold }] })), '#e8b64c')).toBe('QT')
    expect(coloured(await solidOf(...word, step('dress', { rules: [{ every: 2, from: 2, groups: ['face'], material: gold }] })), '#e8b64c')).toBe('enuy')
    const byWord = await solidOf(...word, step('dress', { palette: 'word', colours: ['#111111', '#222222'], paletteOn: 'all' }))
    expect(coloured(byWord, '#111111')).toBe('Tenr')
    expect(coloured(byWord, '#222222')).toBe('Qauy')
    const byLetter = await solidOf(...word, step('dress', { palette: 'letter', colours: ['#111111', '#222222', '#333333'], paletteOn: 'all' }))
    expect(coloured(byLetter, '#333333')).toBe('ru')
    // a rule that finds nothing says so and stays
    const [, , idle] = (await run([...word, step('dress', { rules: [{ letters: 'z', material: gold }] })])).steps
    expect(idle.issues[0]).toMatchObject({ code: 'rule-idle', severity: 'warning' })
  })
})

describe('measures', () => {
  /** The rings of an outline's shapes, finely flattened, in its own coordinates. */
  const finely = async (route: RouteStep[]) => {
    const outline = (await run(route)).value as Outline
    return outline.regions.flatMap((region) =>
      regionPolygons(region, 0.001, outline.lattice).rings.map(({ xy }) => ({ xy: xy.map((v, i) => v + (i % 2 === 0 ? region.dx : region.dy)) })),
    )
  }
  const verticesOf = (solid: Solid, group: number) =>
    new Set(
      Array.from({ length: triangleCount(solid) }, (_, t) => t)
        .filter((t) => labelAt(solid, t, 'group') === group)
        .flatMap((t) => [0, 1, 2].map((k) => solid.indices[3 * t + k])),
    )

  it('a tube has its radius everywhere about the line it follows, within 1 %', async () => {
    const radius = 1.5
    const rings = await finely([words('O')])
    const solid = await solidOf(words('O'), step('tube', { radius }))
    let [least, most] = [Infinity, 0]
    for (const v of verticesOf(solid, EDGE)) {
      const [x, y, z] = solid.positions.subarray(3 * v, 3 * v + 3)
      const r = Math.hypot(distanceToRings(rings, x, y), z - radius)
      least = Math.min(least, r)
      most = Math.max(most, r)
    }
    expect(least / radius).toBeGreaterThan(0.99)
    expect(most / radius).toBeLessThan(1.01)
  })

  it('a channel’s walls are as thick as asked, within 1 %, but where it says they are not', async () => {
    const wall = 2
    for (const text of ['O', 'S', 'R']) {
      const route = [words(text, 'archivo-bold', 80)]
      const rings = await finely(route)
      const report = await run([...route, step('channel', { wall, panel: false, mounting: 0, depth: 20, floor: 2 })])
      expect(report.steps[1].issues).toEqual([])
      const solid = report.value as Solid
      let inner = 0
      for (const v of verticesOf(solid, INSIDE)) {
        const [x, y, z] = solid.positions.subarray(3 * v, 3 * v + 3)
        if (z < 3) continue
        inner++
        expect(Math.abs(distanceToRings(rings, x, y) / wall - 1), `${text} at ${x}, ${y}`).toBeLessThan(0.01)
      }
      expect(inner).toBeGreaterThan(40)
    }
  })

  it('letters of every face swell and bend into bars of up to half the stem, sound', async () => {
    for (const face of SHIPPED_FACES.filter((_, i) => FULL || i % 3 === 1)) {
      const stem = stemWidth(await openFace(face.id))
      expect(checkMesh(await solidOf(words('g', face.id), step('inflate', { height: stem / 2 }))).findings, `${face.id} inflated`).toEqual([])
      // the bars of a face of several lines cover it all, which takes long
      expect(
        checkMesh(await solidOf(words(face.id === 'monoton' ? 'l' : 'g', face.id), step('tube', { radius: stem / 2, tolerance: 0.05 }))).findings,
        `${face.id} as a tube`,
      ).toEqual([])
    }
  }, 240_000)

  it('profiles that cannot be are refused at the edge, with the remedy', async () => {
    for (const [edge, told] of [
      [{ profile: 'points', points: [[0, 0]] }, /at least two points/],
      [
        {
          profile: 'points',
          points: [
            [0, 0],
            [3, 1],
            [1, 2],
          ],
        },
        /runs backwards at point 3/,
      ],
      [
        {
          profile: 'points',
          points: [
            [0, 0],
            [Number.NaN, 1],
          ],
        },
        /number|NaN/,
      ],
      [{ profile: 'points', points: Array.from({ length: 10_000 }, (_, i) => [i, i]) }, /200/],
      [{ profile: 'drawn' }, /not been drawn/],
      [
        {
          profile: 'drawn',
          drawn: {
            closed: false,
            nodes: [
              { x: 0, y: 0 },
              { x: 4, y: 1 },
              { x: 1, y: 2 },
            ],
          },
        },
        /runs backwards/,
      ],
    ] as const) {
      const [, report] = (await run([words('I'), step('extrude', { front: { inset: 2, height: 2, ...edge } })])).steps
      expect(report.issues[0]).toMatchObject({ severity: 'failed' })
      expect(report.issues[0].message).toMatch(told)
      expect(report.issues[0].remedy).not.toBe('')
    }
    expect((await run([words('I'), step('tube', { radius: 0 })])).steps[1].issues[0]).toMatchObject({
      code: 'bad-value',
      message: expect.stringContaining('at least 0.1 mm'),
    })
    const dot = step('drawing', {
      shapes: [
        {
          id: 'a',
          layer: 'l',
          closed: false,
          nodes: [
            { x: 5, y: 5 },
            { x: 5, y: 5 },
          ],
        },
      ],
      layers: [{ id: 'l', name: 'Line' }],
    })
    expect((await run([dot, step('sweep', {})])).steps[1].issues[0]).toMatchObject({ severity: 'failed' })
  })
})

it('forms keep the area of the letters they stand on', async () => {
  const outline = (await run([words('Quay')])).value as Outline
  const area = outline.regions.reduce((sum, region) => sum + polygonArea(regionPolygons(region, 0.02, outline.lattice)), 0)
  expect(outline.regions.map((region) => regionArea(region).box.every(Number.isFinite))).not.toContain(false)
  const flat = await solidOf(words('Quay'), step('extrude', { depth: 10, front: { profile: 'square' } }))
  expect(checkMesh(flat).volume / 10).toBeCloseTo(area, 3)
})
