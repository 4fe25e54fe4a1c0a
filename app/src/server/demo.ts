import { readFile } from 'node:fs/promises'
import { DOCUMENT_VERSION, type ProjectDocument, type RouteStep, type TryOut } from '@kelvar/core/document/schema'
import { SHIPPED_FACES } from '@kelvar/core/fonts'
import type { EntityManager } from '@mikro-orm/postgresql'
import { Project } from './entities'
import { createProject } from './projects'

const face = (id: string) => {
  const found = SHIPPED_FACES.find((f) => f.id === id)
  if (!found) throw new Error(`no shipped face “${id}”`)
  return found
}

const fontOf = (id: string) => ({ sha256: face(id).sha256, name: face(id).name })

/** Other ways the gate sign could be made, kept to be shown to the harbour master. */
function gateTryOuts(): TryOut[] {
  const way = (id: string, name: string, extrude: Record<string, unknown>, dress: Record<string, unknown>): TryOut => ({
    id,
    name,
    route: [
      { id: 'lettering-1', kind: 'lettering', on: true, params: { text: 'Tern Quay', font: fontOf('abril-fatface'), size: 40, tracking: 10 } },
      { id: 'extrude-1', kind: 'extrude', on: true, params: extrude },
      { id: 'dress-1', kind: 'dress', on: true, params: dress },
    ],
  })
  return [
    way(
      'try-out-1',
      'Deep and gilded',
      { depth: 26, front: { profile: 'knife', inset: 3, height: 3 } },
      {
        face: { colour: '#d9b45f', roughness: 0.3, metalness: 0.95 },
        edge: { colour: '#f1d692', roughness: 0.2, metalness: 1 },
        return: { colour: '#5b2c24', roughness: 0.6, metalness: 0.1 },
      },
    ),
    way(
      'try-out-2',
      'Painted',
      { depth: 8, front: { profile: 'round', inset: 1.6, height: 2 } },
      {
        face: { colour: '#f3ead6', roughness: 0.5, metalness: 0 },
        edge: { colour: '#f3ead6', roughness: 0.4, metalness: 0 },
        return: { colour: '#1f6f68', roughness: 0.5, metalness: 0 },
      },
    ),
    way(
      'try-out-3',
      'Stepped stone',
      { depth: 16, front: { profile: 'two-steps', inset: 2.4, height: 3 } },
      {
        face: { colour: '#8d877c', roughness: 0.85, metalness: 0 },
        edge: { colour: '#a8a295', roughness: 0.85, metalness: 0 },
        return: { colour: '#6c675e', roughness: 0.9, metalness: 0 },
      },
    ),
  ]
}

/** The entrance sign of the Tern Quay Lantern Fair. */
function gateSign(): ProjectDocument {
  return {
    format: 'kelvar',
    version: DOCUMENT_VERSION,
    name: 'Lantern Fair · gate sign',
    pieces: [
      {
        id: 'gate-words',
        name: 'Gate words',
        route: [
          { id: 'lettering-1', kind: 'lettering', on: true, params: { text: 'Tern Quay', font: fontOf('abril-fatface'), size: 40, tracking: 10 } },
          {
            id: 'extrude-1',
            kind: 'extrude',
            on: true,
            params: { depth: 13, front: { profile: 'ogee', inset: 2.4, height: 3 }, back: { profile: 'chamfer', inset: 0.8, height: 0.8 } },
          },
          {
            id: 'dress-1',
            kind: 'dress',
            on: true,
            params: {
              face: { colour: '#b8692a', roughness: 0.34, metalness: 0.75 },
              edge: { colour: '#e0a25a', roughness: 0.24, metalness: 0.85 },
              return: { colour: '#22343b', roughness: 0.5, metalness: 0.2 },
              back: { colour: '#22343b', roughness: 0.7, metalness: 0.1 },
            },
          },
        ],
        tryOuts: gateTryOuts(),
      },
      {
        id: 'lantern-script',
        name: 'Lantern Fair',
        place: { position: [0, -62, -4], turn: [0, 0, 0], size: 1 },
        route: [
          { id: 'lettering-1', kind: 'lettering', on: true, params: { text: 'Lantern Fair', font: fontOf('pacifico'), size: 34 } },
          { id: 'extrude-1', kind: 'extrude', on: true, params: { depth: 10, front: { profile: 'round', inset: 1.4, height: 1.8 } } },
          {
            id: 'dress-1',
            kind: 'dress',
            on: true,
            params: {
              face: { colour: '#e9dcc0', roughness: 0.5, metalness: 0 },
              edge: { colour: '#f2b63c', roughness: 0.3, metalness: 0.5 },
              return: { colour: '#9c3b2e', roughness: 0.5, metalness: 0 },
              back: { colour: '#9c3b2e', roughness: 0.7, metalness: 0 },
            },
          },
        ],
      },
      {
        id: 'pier-number',
        name: 'Pier 7',
        place: { position: [0, 94, -6], turn: [0, 0, 0], size: 1 },
        route: [
          { id: 'lettering-1', kind: 'lettering', on: true, params: { text: 'PIER\n7', font: fontOf('alfa-slab'), size: 30, leading: 82 } },
          { id: 'extrude-1', kind: 'extrude', on: true, params: { depth: 9, front: { profile: 'stepped', inset: 1.6, height: 2.2 } } },
          {
            id: 'dress-1',
            kind: 'dress',
            on: true,
            params: {
              face: { colour: '#1f6f68', roughness: 0.42, metalness: 0.1 },
              edge: { colour: '#efe6d2', roughness: 0.5, metalness: 0 },
              return: { colour: '#163c3a', roughness: 0.55, metalness: 0.1 },
              back: { colour: '#163c3a', roughness: 0.7, metalness: 0 },
            },
          },
        ],
      },
    ],
    assets: assetsOf('abril-fatface', 'pacifico', 'alfa-slab'),
  }
}

const dress = (face: string, edge: string, side: string, shine = 0.4) => ({
  id: 'dress-1',
  kind: 'dress',
  on: true,
  params: {
    face: { colour: face, roughness: shine, metalness: 0.05 },
    edge: { colour: edge, roughness: 0.3, metalness: 0.2 },
    return: { colour: side, roughness: 0.5, metalness: 0.05 },
    back: { colour: side, roughness: 0.7, metalness: 0 },
  },
})

const extrude = (depth: number, profile: string, inset: number, height: number) => ({
  id: 'extrude-1',
  kind: 'extrude',
  on: true,
  params: { depth, front: { profile, inset, height } },
})

const words = (text: string, id: string, size: number, more: Record<string, unknown> = {}) => ({
  id: 'lettering-1',
  kind: 'lettering',
  on: true,
  params: { text, font: fontOf(id), size, ...more },
})

/** Signs for the stalls: words round a ring, on an arc, in columns, drawn together, from right to left. */
function stallSigns(): ProjectDocument {
  const river = 'River Boats'
  return {
    format: 'kelvar',
    version: DOCUMENT_VERSION,
    name: 'Lantern Fair · stall signs',
    pieces: [
      {
        id: 'ring',
        name: 'Ring',
        route: [
          words('TERN QUAY · LANTERN FAIR · ', 'jost-bold', 24, { layout: 'circle', radius: 92, align: 'justified' }),
          extrude(9, 'chamfer', 1.2, 1.4),
          dress('#1d3d4c', '#e8b04b', '#12262f'),
        ],
      },
      {
        id: 'boats',
        name: 'Boats',
        route: [
          words(river, 'bodoni-moda-italic', 36, {
            layout: 'arc',
            sweep: 62,
            letters: {
              of: river,
              list: [
                { at: 0, features: { ss02: 1 }, scale: 118 },
                { at: 6, scale: 118 },
              ],
            },
          }),
          extrude(12, 'ogee', 1.6, 2.2),
          dress('#a63d2f', '#f0dcae', '#4c1d17'),
        ],
      },
      {
        id: 'jelly',
        name: 'Jelly',
        route: [words('Jellies', 'fredoka', 38, { touch: 'each', overlap: 1.6 }), extrude(16, 'round', 3, 4.2), dress('#d8577a', '#ee8fa6', '#a8385a', 0.22)],
      },
      {
        id: 'festival',
        name: 'みなと祭り',
        route: [words('みなと祭り\n港の夜市', 'dela-gothic', 26, { layout: 'stack' }), extrude(8, 'chamfer', 0.9, 0.9), dress('#20262b', '#c9a25a', '#101418')],
      },
      {
        id: 'harbour',
        name: 'ميناء',
        route: [words('ميناء الفوانيس', 'lalezar', 40), extrude(11, 'cove', 1.4, 1.8), dress('#1f6f68', '#e6d7ad', '#123f3c')],
      },
    ],
    assets: assetsOf('jost-bold', 'bodoni-moda-italic', 'fredoka', 'dela-gothic', 'lalezar'),
  }
}

const at = (x: number, y: number, bend?: { in?: [number, number]; out?: [number, number] }) => ({
  x,
  y,
  ...bend,
  kind: bend?.in && bend.out ? 'smooth' : 'corner',
})
const outline = (id: string, layer: string, ...nodes: ReturnType<typeof at>[]) => ({ id, layer, width: 0, closed: true, nodes })

/** A lantern drawn with the pen, half of it mirrored. */
function lanternShapes() {
  const mirrored = (id: string, layer: string, ...half: ReturnType<typeof at>[]) =>
    outline(
      id,
      layer,
      ...half,
      ...half
        .slice()
        .reverse()
        .map(({ x, y, in: arriving, out }) =>
          at(-x, y, { ...(out ? { in: [-out[0], out[1]] } : {}), ...(arriving ? { out: [-arriving[0], arriving[1]] } : {}) }),
        ),
    )
  return [
    mirrored('body', 'frame', at(14, 0), at(26, 14, { in: [-2, -10], out: [3, 16] }), at(22, 62, { in: [7, -18], out: [-4, 10] }), at(12, 74)),
    mirrored('glass', 'glass', at(11, 10), at(19, 20, { in: [-1, -6], out: [2, 12] }), at(16, 56, { in: [5, -13], out: [-2, 5] }), at(11, 62)),
    mirrored('roof', 'roof', at(17, 75), at(20, 79), at(6, 92, { in: [2, -9] }), at(6, 96)),
    mirrored('foot', 'roof', at(18, -6), at(16, -1)),
    {
      id: 'ring',
      layer: 'roof',
      width: 3,
      closed: true,
      nodes: [
        at(0, 97, { in: [-6, 0], out: [6, 0] }),
        at(7, 104, { in: [0, -4], out: [0, 4] }),
        at(0, 111, { in: [4, 0], out: [-4, 0] }),
        at(-7, 104, { in: [0, 4], out: [0, -4] }),
      ],
    },
    {
      id: 'flame',
      layer: 'flame',
      width: 0,
      closed: true,
      nodes: [at(0, 22, { in: [-7, 0], out: [7, 0] }), at(7, 34, { in: [0, -6], out: [0, 9] }), at(0, 52), at(-7, 34, { in: [0, 9], out: [0, -6] })],
    },
  ]
}

/** What is drawn for the fair: a tied word, a lantern in layers, a plate with words cut out, a word in waves. */
function drawnThings(): ProjectDocument {
  const word = 'Harbour'
  return {
    format: 'kelvar',
    version: DOCUMENT_VERSION,
    name: 'Lantern Fair · drawn by hand',
    pieces: [
      {
        id: 'harbour',
        name: 'Harbour',
        route: [
          words(word, 'kaushan-script', 42),
          {
            id: 'extend-1',
            kind: 'extend',
            on: true,
            params: {
              limbs: {
                of: word,
                list: [
                  {
                    from: { at: 6, contour: 0, share: 0.6818 },
                    to: { at: 0, contour: 0, share: 0.2016 },
                    line: {
                      closed: false,
                      nodes: [at(100.44, 12.71, { out: [16, -30] }), at(12, -21, { in: [58, -3], out: [-46, 2.4] }), at(-86.7, -0.82, { in: [12, -17] })],
                    },
                    width: 3,
                    endWidth: 6,
                    blend: 2.5,
                  },
                ],
              },
            },
          },
          extrude(10, 'round', 1.8, 2.2),
          dress('#1f6f68', '#e8c98a', '#123f3c', 0.3),
        ],
      },
      {
        id: 'lantern',
        name: 'Lantern',
        route: [
          {
            id: 'drawing-1',
            kind: 'drawing',
            on: true,
            params: {
              layers: [
                { id: 'frame', name: 'Frame', colour: '#163c3a' },
                { id: 'glass', name: 'Glass', colour: '#f2c14e' },
                { id: 'roof', name: 'Roof', colour: '#a63d2f' },
                { id: 'flame', name: 'Flame', colour: '#fbf3dc' },
              ],
              shapes: lanternShapes(),
            },
          },
          {
            id: 'layers-1',
            kind: 'layers',
            on: true,
            params: {
              table: [
                { layer: 'glass', depth: 2, lift: 4 },
                { layer: 'roof', depth: 7 },
                { layer: 'flame', depth: 2, lift: 6 },
              ],
            },
          },
          { id: 'extrude-1', kind: 'extrude', on: true, params: { depth: 4, front: { profile: 'round', inset: 0.8, height: 0.8 } } },
          { id: 'dress-1', kind: 'dress', on: true, params: { layerColours: 'all' } },
        ],
      },
      {
        id: 'stall-words',
        name: 'Tea & cake',
        route: [words('TEA\n& CAKE', 'jost-bold', 20, { leading: 62 }), extrude(5, 'chamfer', 0.6, 0.6), dress('#20262b', '#c9a25a', '#101418')],
      },
      {
        id: 'stall-plate',
        name: 'Stall plate',
        route: [
          {
            id: 'drawing-1',
            kind: 'drawing',
            on: true,
            params: {
              shapes: [
                outline(
                  'plate',
                  'drawing',
                  at(-66, -34),
                  at(66, -34),
                  at(74, 0, { in: [0, -16], out: [0, 16] }),
                  at(66, 34),
                  at(0, 44, { in: [34, 0], out: [-34, 0] }),
                  at(-66, 34),
                  at(-74, 0, { in: [0, 16], out: [0, -16] }),
                ),
              ],
            },
          },
          { id: 'combine-1', kind: 'combine', on: true, params: { how: 'cut-out', other: { piece: 'stall-words' } } },
          extrude(4, 'round', 1, 1),
          dress('#a8703a', '#d9a665', '#5c3a1e', 0.45),
        ],
      },
      {
        id: 'tide',
        name: 'Tide',
        route: [
          words('High Tide', 'archivo-bold', 40, { tracking: 10 }),
          { id: 'slice-1', kind: 'slice', on: true, params: { cut: 'wave', count: 3, amplitude: 2.6, length: 46, gap: 1.2 } },
          {
            id: 'layers-1',
            kind: 'layers',
            on: true,
            params: {
              table: ['#bfe0dc', '#7fb9b4', '#3b8e88', '#163c3a'].map((colour, i) => ({ layer: `lettering · ${i + 1}`, colour, depth: 6 + 2 * i })),
            },
          },
          { id: 'extrude-1', kind: 'extrude', on: true, params: { depth: 10, front: { profile: 'round', inset: 0.9, height: 1 } } },
          { id: 'dress-1', kind: 'dress', on: true, params: { layerColours: 'all' } },
        ],
      },
    ],
    assets: assetsOf('kaushan-script', 'jost-bold', 'archivo-bold'),
  }
}

/** What letters can be made into: swollen, bent, lit from within, inlaid, stamped. */
function madeLetters(): ProjectDocument {
  const step = (kind: string, params: Record<string, unknown>) => ({ id: `${kind}-1`, kind, on: true, params })
  return {
    format: 'kelvar',
    version: DOCUMENT_VERSION,
    name: 'Lantern Fair · made letters',
    pieces: [
      {
        id: 'balloons',
        name: 'Children’s tent',
        route: [
          words('Bubbles', 'fredoka', 40, { tracking: -8 }),
          step('inflate', { height: 9, measure: 'word', rim: 0 }),
          step('dress', {
            face: { colour: '#f49ab5', roughness: 0.2, metalness: 0 },
            back: { colour: '#f49ab5', roughness: 0.3, metalness: 0 },
            palette: 'letter',
            colours: ['#e0527a', '#f0a03c', '#f2cf4e', '#4fb39a', '#4a86c6', '#9a78c8'],
            paletteOn: 'all',
          }),
        ],
      },
      {
        id: 'tea-neon',
        name: 'Tea room',
        route: [
          words('Tea & buns', 'kaushan-script', 44),
          step('tube', { radius: 1.5, offset: -0.4, gap: 2.4, gapAt: 72 }),
          step('dress', {
            face: { colour: '#ff6a26', roughness: 0.3, metalness: 0, glow: 0.7 },
            edge: { colour: '#ff6a26', roughness: 0.3, metalness: 0, glow: 0.7 },
            rules: [
              { groups: [], letters: '&', every: 1, from: 1, layer: '', band: '', material: { colour: '#38b6f0', roughness: 0.3, metalness: 0, glow: 0.7 } },
            ],
          }),
        ],
      },
      {
        id: 'pier-light',
        name: 'Pier light',
        route: [
          words('FERRY', 'archivo-bold', 90, { tracking: 24 }),
          step('channel', {
            depth: 26,
            wall: 2.4,
            floor: 2,
            rim: 'round',
            rimSize: 0.8,
            rimHeight: 0.8,
            thickness: 3,
            clearance: 0.3,
            ledge: 1.2,
            mounting: 2,
            cable: 6,
          }),
          step('dress', {
            face: { colour: '#fff1d6', roughness: 0.4, metalness: 0, glow: 0.85 },
            edge: { colour: '#c9a35a', roughness: 0.38, metalness: 0.95 },
            return: { colour: '#1f4a55', roughness: 0.42, metalness: 0.25 },
            back: { colour: '#1f4a55', roughness: 0.6, metalness: 0.2 },
            inside: { colour: '#f2efe8', roughness: 0.8, metalness: 0 },
          }),
        ],
      },
      {
        id: 'inlaid',
        name: 'Inlaid line',
        route: [
          words('Quay', 'alfa-slab', 46, { tracking: 14 }),
          step('extrude', {
            depth: 12,
            front: { profile: 'ovolo', inset: 3.2, height: 3 },
            back: { profile: 'chamfer', inset: 0.6, height: 0.6 },
            bands: [{ name: 'Bright rim', from: 0, to: 0.5 }],
            corners: 'mitre',
          }),
          step('dress', {
            face: { colour: '#1f5a44', roughness: 0.34, metalness: 0 },
            edge: { colour: '#efe3c6', roughness: 0.4, metalness: 0 },
            return: { colour: '#15332a', roughness: 0.4, metalness: 0 },
            back: { colour: '#15332a', roughness: 0.6, metalness: 0 },
            rules: [
              { groups: [], letters: '', every: 1, from: 1, layer: '', band: 'Bright rim', material: { colour: '#e8b64c', roughness: 0.24, metalness: 1 } },
            ],
          }),
        ],
      },
      {
        id: 'token',
        name: 'Fair token',
        route: [
          step('plate', { shape: 'disc', width: 42, height: 42 }),
          step('relief', { by: 'distance', curve: 'ripples', reach: 5.25, height: 1, base: 2.4, division: 0.4 }),
          step('dress', {
            face: { colour: '#b98a3a', roughness: 0.34, metalness: 0.95 },
            return: { colour: '#8f6a2c', roughness: 0.45, metalness: 0.9 },
            back: { colour: '#8f6a2c', roughness: 0.5, metalness: 0.9 },
          }),
        ],
      },
      {
        id: 'pennant',
        name: 'Flourish',
        route: [
          step('drawing', {
            layers: [{ id: 'line', name: 'Line' }],
            shapes: [
              {
                id: 'line',
                layer: 'line',
                closed: false,
                nodes: [
                  { x: 0, y: 14, out: [18, -26] },
                  { x: 58, y: 30, in: [-6, -26], out: [6, 26] },
                  { x: 34, y: 46, in: [18, 6], out: [-22, -8] },
                  { x: 70, y: 6, in: [-34, -14], out: [40, 16] },
                  { x: 124, y: 40, in: [4, -22], out: [-4, 20] },
                  { x: 100, y: 44, in: [12, 10], out: [-14, -12] },
                  { x: 168, y: 22, in: [-34, -34] },
                ],
              },
            ],
          }),
          step('sweep', { section: 'round', width: 7, height: 5, sizeStart: 12, sizeMiddle: 100, sizeEnd: 6, ends: 'pointed' }),
          step('dress', { face: { colour: '#c9a35a', roughness: 0.3, metalness: 0.95 } }),
        ],
      },
      {
        id: 'lifebelt',
        name: 'Lifebelt',
        route: [step('block', { shape: 'ring', width: 90, bar: 20 }), step('dress', { face: { colour: '#e7e2d6', roughness: 0.35, metalness: 0 } })],
      },
    ],
    assets: assetsOf('fredoka', 'kaushan-script', 'archivo-bold', 'alfa-slab'),
  }
}

/** One word in every form there is, side by side. */
function oneWord(): ProjectDocument {
  const step = (kind: string, params: Record<string, unknown>) => ({ id: `${kind}-1`, kind, on: true, params })
  const made = (id: string, name: string, ...route: ReturnType<typeof step>[]) => ({ id, name, route })
  const word = (font: string, more: Record<string, unknown> = {}) => words('Quay', font, 40, more)
  const dress = (colour: string, edge: string, side: string, metal = 0.1) =>
    step('dress', {
      face: { colour, roughness: 0.36, metalness: metal },
      edge: { colour: edge, roughness: 0.26, metalness: Math.min(1, metal + 0.3) },
      return: { colour: side, roughness: 0.55, metalness: 0.1 },
    })
  return {
    format: 'kelvar',
    version: DOCUMENT_VERSION,
    name: 'Lantern Fair · one word in seven forms',
    pieces: [
      made(
        'ogee',
        'Ogee',
        word('abril-fatface'),
        step('extrude', { depth: 12, front: { profile: 'ogee', inset: 2.2, height: 3 } }),
        dress('#1f6f68', '#7fc2ae', '#16403f', 0.3),
      ),
      made(
        'chamfer',
        'Chamfer',
        word('archivo-bold'),
        step('extrude', { depth: 14, front: { profile: 'chamfer', inset: 2.2, height: 2.2 } }),
        dress('#c8803c', '#efb66e', '#33434a', 0.7),
      ),
      made(
        'ridged',
        'Ridged',
        word('cinzel-decorative'),
        step('prismatic', { angle: 42, walls: 3 }),
        step('dress', { edge: { colour: '#d9b45f', roughness: 0.28, metalness: 0.95 }, return: { colour: '#6d5426', roughness: 0.5, metalness: 0.6 } }),
      ),
      made(
        'inflated',
        'Inflated',
        word('fredoka'),
        step('inflate', { height: 8, rim: 0 }),
        step('dress', { face: { colour: '#d8434f', roughness: 0.16, metalness: 0.05 }, back: { colour: '#d8434f', roughness: 0.3, metalness: 0 } }),
      ),
      made(
        'neon',
        'Tube',
        word('jost-bold'),
        step('tube', { radius: 1.3, gap: 2.5, bend: 2 }),
        step('dress', {
          edge: { colour: '#3f9fc7', roughness: 0.2, metalness: 0, glow: 0.55 },
          face: { colour: '#3f9fc7', roughness: 0.2, metalness: 0, glow: 0.55 },
        }),
      ),
      made(
        'pen',
        'Pen',
        step('drawing', {
          layers: [{ id: 'ink', name: 'Ink' }],
          shapes: PEN_STROKES.map((points, i) => ({ id: `s${i}`, layer: 'ink', closed: false, nodes: throughAll(points) })),
        }),
        step('sweep', {
          section: 'round',
          width: 4.4,
          height: 4.4,
          ends: 'pointed',
          course: 'curves',
          sizeCurve: [
            [0, 28],
            [0.22, 105],
            [0.5, 62],
            [0.8, 108],
            [1, 14],
          ],
        }),
        step('dress', { face: { colour: '#2b3f6b', roughness: 0.3, metalness: 0.35 }, edge: { colour: '#2b3f6b', roughness: 0.3, metalness: 0.35 } }),
      ),
      made(
        'channel',
        'Channel',
        word('archivo-bold'),
        step('channel', { depth: 20, wall: 1.6, floor: 2, rim: 'cove', rimSize: 0.5, rimHeight: 4, thickness: 3, clearance: 0.3, ledge: 0.9, mounting: 2 }),
        step('dress', {
          face: { colour: '#f4d9a0', roughness: 0.5, metalness: 0, glow: 0.5 },
          edge: { colour: '#8a2f2a', roughness: 0.4, metalness: 0.1 },
          return: { colour: '#8a2f2a', roughness: 0.45, metalness: 0.1 },
        }),
      ),
    ],
    assets: assetsOf('abril-fatface', 'archivo-bold', 'cinzel-decorative', 'fredoka', 'jost-bold'),
  }
}

/** “Quay” as a pen writes it: points along each stroke, mm. */
const PEN_STROKES: readonly (readonly [number, number])[][] = [
  [
    [27, 35],
    [14, 38],
    [3, 24],
    [5, 7],
    [18, 1],
    [30, 11],
    [31, 27],
    [20, 37],
  ],
  [
    [17, 11],
    [25, 5],
    [36, -3],
    [46, -2],
  ],
  [
    [44, 25],
    [43, 10],
    [49, 2],
    [58, 8],
    [62, 24],
  ],
  [
    [62, 26],
    [61, 8],
    [66, 1],
    [72, 5],
  ],
  [
    [93, 20],
    [84, 26],
    [75, 15],
    [77, 3],
    [87, 4],
    [94, 22],
  ],
  [
    [95, 26],
    [93, 8],
    [98, 1],
    [104, 5],
  ],
  [
    [108, 25],
    [107, 11],
    [113, 3],
    [121, 8],
    [126, 24],
  ],
  [
    [127, 26],
    [123, 3],
    [115, -12],
    [103, -12],
    [108, -3],
    [128, 5],
    [140, 13],
  ],
]

/** Smooth nodes through points (Catmull and Rom, 1974). */
const throughAll = (points: readonly (readonly [number, number])[]) =>
  points.map(([x, y], i) => {
    const [a, b] = [points[Math.max(0, i - 1)], points[Math.min(points.length - 1, i + 1)]]
    const [dx, dy] = [(b[0] - a[0]) / 6, (b[1] - a[1]) / 6]
    return { x, y, ...(i > 0 ? { in: [-dx, -dy] } : {}), ...(i < points.length - 1 ? { out: [dx, dy] } : {}) }
  })

/** Words in and on other things: a way-stone with a carved name, a raised stall plate, and a stencil plate cut right through. */
function carvedThings(): ProjectDocument {
  const step = (kind: string, params: Record<string, unknown>) => ({ id: `${kind}-1`, kind, on: true, params })
  const dress = (face: string, inside: string, edge = face, metalness = 0.05) =>
    step('dress', {
      face: { colour: face, roughness: 0.7, metalness },
      edge: { colour: edge, roughness: 0.5, metalness },
      return: { colour: face, roughness: 0.75, metalness },
      back: { colour: face, roughness: 0.75, metalness },
      inside: { colour: inside, roughness: 0.6, metalness: 0.1 },
    })
  const plainForm = (depth: number) => step('extrude', { depth, front: { profile: 'chamfer', inset: 0.4, height: 0.4 } })
  return {
    format: 'kelvar',
    version: DOCUMENT_VERSION,
    name: 'Lantern Fair · carved and raised',
    pieces: [
      {
        id: 'way-stone',
        name: 'Way-stone',
        route: [
          step('block', { shape: 'box', width: 150, height: 92, depth: 40, rounding: 9 }),
          step('carve-lettering', { words: { piece: 'stone-words' }, cut: 'v', tool: 80 }),
          dress('#8f958f', '#e3c27a'),
        ],
      },
      {
        id: 'stall-plate',
        name: 'Stall plate',
        hidden: true,
        route: [
          step('plate', { shape: 'pill', size: 'piece', other: { piece: 'stall-words' }, margin: 11 }),
          step('extrude', { depth: 6, front: { profile: 'round', inset: 1.4, height: 1.4 } }),
          dress('#1f6f68', '#1f6f68', '#7fc2ae', 0.2),
          step('fuse', { others: [{ piece: 'stall-words' }], stand: 'face', sunk: 0.5 }),
        ],
      },
      {
        id: 'crate-stencil',
        name: 'Crate stencil',
        hidden: true,
        route: [
          step('plate', { shape: 'rounded', size: 'piece', other: { piece: 'crate-words' }, margin: 12, radius: 6 }),
          step('extrude', { depth: 1.6, front: { profile: 'square', inset: 0, height: 0 } }),
          step('carve', { others: [{ piece: 'crate-words' }], stand: 'through' }),
          dress('#b9794b', '#7d4c2b'),
        ],
      },
      {
        id: 'stone-words',
        name: 'Stone words',
        place: { position: [0, 54, 18], turn: [0, 0, 0], size: 1 },
        route: [words('To the\nPier', 'cinzel-decorative', 20, { align: 'centre' }), plainForm(6)],
      },
      {
        id: 'stall-words',
        name: 'Stall words',
        hidden: true,
        route: [
          words('Lemonade', 'pacifico', 26),
          step('extrude', { depth: 5, front: { profile: 'round', inset: 1, height: 1.2 } }),
          dress('#f2c14e', '#f2c14e', '#fbe6a8', 0.1),
        ],
      },
      {
        id: 'crate-words',
        name: 'Crate words',
        hidden: true,
        route: [words('FERRY 4', 'saira-stencil', 30, { tracking: 60 }), plainForm(6)],
      },
    ],
    assets: assetsOf('cinzel-decorative', 'pacifico', 'saira-stencil'),
  }
}

/** Words round a bottle, in a token, and a stencil whose counters are held: all from bodies made here. */
function roundThings(): ProjectDocument {
  const step = (kind: string, params: Record<string, unknown>, id = `${kind}-1`) => ({ id, kind, on: true, params })
  const coat = (colour: string, roughness = 0.5, metalness = 0.05) => ({ colour, roughness, metalness })
  const at = (x: number, y: number, z: number) => ({ position: [x, y, z] as [number, number, number], turn: [0, 0, 0] as [number, number, number], size: 1 })
  return {
    format: 'kelvar',
    version: DOCUMENT_VERSION,
    name: 'Lantern Fair · round and inlaid',
    pieces: [
      {
        id: 'bottle',
        name: 'Lemonade bottle',
        route: [
          step('block', { shape: 'cylinder', width: 64, height: 86 }),
          step('fuse', { others: [{ piece: 'shoulder' }, { piece: 'neck' }] }),
          step('dress', {
            face: coat('#2f6f5e', 0.28, 0.1),
            edge: coat('#2f6f5e', 0.28, 0.1),
            return: coat('#2f6f5e', 0.28, 0.1),
            back: coat('#2f6f5e', 0.28, 0.1),
          }),
          step('raise-lettering', {
            words: { piece: 'label' },
            lay: 'round',
            point: [-11, 38, 30],
            angle: 10,
            height: 1.6,
            front: { profile: 'round', inset: 0.35, height: 0.5 },
          }),
        ],
      },
      { id: 'shoulder', name: 'Shoulder', hidden: true, place: at(0, 85.5, 0), route: [step('block', { shape: 'cone', width: 64, top: 24, height: 26 })] },
      { id: 'neck', name: 'Neck', hidden: true, place: at(0, 110, 0), route: [step('block', { shape: 'cylinder', width: 24, height: 30 })] },
      { id: 'label', name: 'Label', hidden: true, route: [words('Lemonade', 'pacifico', 13), step('extrude', { depth: 3 })] },
      {
        id: 'token',
        name: 'Token',
        hidden: true,
        route: [
          step('plate', { shape: 'disc', width: 52, height: 52 }),
          step('extrude', { depth: 6, front: { profile: 'round', inset: 1.2, height: 1.2 }, back: { profile: 'round', inset: 1.2, height: 1.2 } }),
          step('inlay', { words: { piece: 'token-words' }, depth: 2.4, clearance: 0.15, proud: 0.6 }),
          step('dress', { face: coat('#22577a'), edge: coat('#38a3a5'), return: coat('#22577a'), back: coat('#22577a'), inside: coat('#0f2f44') }),
        ],
      },
      {
        id: 'token-words',
        name: 'Token’s insert',
        hidden: true,
        place: at(0, 16, 3.6),
        route: [
          words('T7', 'abril-fatface', 20),
          step('insert', { pocket: { piece: 'token' }, front: { profile: 'chamfer', inset: 0.3, height: 0.3 } }),
          step('dress', { face: coat('#f6d365', 0.35, 0.3), edge: coat('#fff1c1', 0.3, 0.3), return: coat('#d9a441') }),
        ],
      },
      {
        id: 'crate-plate',
        name: 'Ferry stencil',
        hidden: true,
        route: [
          step('plate', { shape: 'rounded', size: 'piece', other: { piece: 'crate-letters' }, margin: 12, radius: 6 }),
          step('extrude', { depth: 1.6, front: { profile: 'square', inset: 0, height: 0 } }),
          step('carve', { others: [{ piece: 'crate-letters' }], stand: 'through' }),
          step('dress', { face: coat('#b9794b'), edge: coat('#b9794b'), return: coat('#8a5531'), back: coat('#8a5531'), inside: coat('#7d4c2b') }),
        ],
      },
      {
        id: 'crate-letters',
        name: 'Crate letters',
        hidden: true,
        route: [words('DRY ROPE 80', 'archivo-bold', 26, { tracking: 40 }), step('stencil', { bridges: 2, width: 2.4 }), step('extrude', { depth: 6 })],
      },
    ],
    assets: assetsOf('pacifico', 'abril-fatface', 'archivo-bold'),
  }
}

/** Words that were melted, chiselled, bent, tapered and weathered, and go on being words. */
function softThings(): ProjectDocument {
  const step = (kind: string, params: Record<string, unknown>, id = `${kind}-1`) => ({ id, kind, on: true, params })
  const coat = (colour: string, roughness = 0.5, metalness = 0.05) => ({ colour, roughness, metalness })
  const all = (colour: string, edge = colour, roughness = 0.5, metalness = 0.05) =>
    step('dress', {
      face: coat(colour, roughness, metalness),
      edge: coat(edge, roughness, metalness),
      return: coat(edge, roughness, metalness),
      back: coat(edge, roughness, metalness),
      inside: coat(edge, roughness, metalness),
    })
  return {
    format: 'kelvar',
    version: DOCUMENT_VERSION,
    name: 'Lantern Fair · bent, soft and chiselled',
    pieces: [
      {
        id: 'arch',
        name: 'Welcome arch',
        route: [
          words('WELCOME TO THE QUAY', 'archivo-bold', 34, { tracking: 30 }),
          step('extrude', { depth: 9, front: { profile: 'ogee', inset: 1.2, height: 1.6 } }),
          step('bend', { angle: 150 }),
          all('#e2583e', '#f3c98b', 0.35),
        ],
      },
      {
        id: 'stone',
        name: 'Chiselled stone',
        hidden: true,
        route: [
          words('PIER', 'cinzel-decorative', 44, { tracking: 20 }),
          step('extrude', { depth: 8, front: { profile: 'square', inset: 0, height: 0 } }),
          step('chisel', { shape: 'slope', height: 3.2, reach: 5 }),
          all('#b9b2a3', '#8f897c', 0.85, 0),
        ],
      },
      {
        id: 'jelly',
        name: 'Jelly',
        hidden: true,
        route: [
          words('Jelly', 'fredoka', 44, { tracking: -20 }),
          step('extrude', { depth: 16, front: { profile: 'round', inset: 3, height: 4 }, back: { profile: 'round', inset: 3, height: 4 } }),
          step('melt', { radius: 3 }),
          step('soften', { amount: 1.4 }),
          all('#d6336c', '#d6336c', 0.12, 0.1),
        ],
      },
      {
        id: 'brush',
        name: 'Brush lettering',
        hidden: true,
        route: [
          words('Lanterns', 'kaushan-script', 44),
          step('brush', { height: 1.8, share: 120, bristles: 7, pointed: 1.5, lift: 1 }),
          all('#1f5f8b', '#17466a', 0.28, 0.1),
        ],
      },
      {
        id: 'balloon',
        name: 'Foil balloon',
        hidden: true,
        route: [
          words('TENT', 'fredoka', 46, { tracking: 30 }),
          step('extrude', { depth: 10, front: { profile: 'square', inset: 0, height: 0 } }),
          step('swell', {
            by: 4,
            mask: {
              list: [
                {
                  by: 'distance',
                  from: 0,
                  to: 6,
                  curve: [
                    [0, 0],
                    [0.35, 75],
                    [1, 100],
                  ],
                },
              ],
            },
          }),
          step('soften', { amount: 0.8 }),
          all('#c9a227', '#c9a227', 0.16, 0.95),
        ],
      },
      {
        id: 'poster',
        name: 'Poster word',
        hidden: true,
        route: [
          words('TONIGHT', 'alfa-slab', 36, { tracking: 20 }),
          step('extrude', { depth: 10, front: { profile: 'chamfer', inset: 0.8, height: 0.8 } }),
          step('stretch', { amount: 40, axis: 'up' }),
          step('taper', { amount: 55 }),
          all('#1f6f68', '#8fc9bb', 0.4, 0.2),
        ],
      },
      {
        id: 'weathered',
        name: 'Weathered',
        hidden: true,
        route: [
          words('Ferry', 'alfa-slab', 40),
          step('extrude', { depth: 10, front: { profile: 'chamfer', inset: 0.8, height: 0.8 } }),
          step('roughen', { height: 1.1, scale: 5, mask: { list: [{ by: 'height', from: 60, to: 10 }] } }),
          all('#7a5a3a', '#4f3a26', 0.8, 0),
        ],
      },
      {
        id: 'round',
        name: 'Round sign',
        hidden: true,
        route: [
          words('Tern Quay Lantern Fair · ', 'archivo-bold', 20, { tracking: 20 }),
          step('extrude', { depth: 5, front: { profile: 'chamfer', inset: 0.5, height: 0.5 } }),
          step('run-along', { line: { piece: 'ring' }, other: true }),
          all('#22577a', '#7fb7be', 0.4, 0.2),
        ],
      },
      { id: 'ring', name: 'Ring', hidden: true, route: [step('plate', { shape: 'disc', width: 96, height: 96 })] },
    ],
    assets: assetsOf('archivo-bold', 'cinzel-decorative', 'fredoka', 'alfa-slab'),
  }
}

/** What stands many times: bulbs, tokens, a garland, rivets, a lattice. */
function manyThings(): ProjectDocument {
  const step = (kind: string, params: Record<string, unknown>, id = `${kind}-1`) => ({ id, kind, on: true, params })
  const coat = (colour: string, roughness = 0.5, metalness = 0.05) => ({ colour, roughness, metalness })
  const all = (colour: string, edge = colour, inside = edge, roughness = 0.5, metalness = 0.05) =>
    step('dress', {
      face: coat(colour, roughness, metalness),
      edge: coat(edge, roughness, metalness),
      return: coat(edge, roughness, metalness),
      back: coat(edge, roughness, metalness),
      inside: coat(inside, roughness, metalness),
    })
  const square = { profile: 'square', inset: 0, height: 0 }
  return {
    format: 'kelvar',
    version: DOCUMENT_VERSION,
    name: 'Lantern Fair · bulbs, rows and lattices',
    pieces: [
      {
        id: 'theatre',
        name: 'Pier theatre',
        route: [
          words('PIER', 'archivo-bold', 90, { tracking: 40 }),
          step('channel', { depth: 16, wall: 1.6, floor: 2, panel: false, mounting: 0 }),
          step('fill-inside', { unit: 'bulb', width: 7, pitch: 11, edge: 1.2, holes: 'through', power: 0.9 }),
          step('dress', {
            face: coat('#f2e3c0'),
            edge: coat('#e8c173', 0.3, 0.6),
            return: coat('#7d211d', 0.45),
            back: coat('#7d211d', 0.6),
            inside: coat('#b3372f', 0.5),
          }),
        ],
      },
      {
        id: 'tokens',
        name: 'Tokens, nine at a time',
        hidden: true,
        route: [
          step('block', { shape: 'box', width: 62, height: 34, depth: 9, rounding: 2.5 }),
          step('carve', { others: [{ piece: 'cut-out' }] }),
          step('fuse', { others: [{ piece: 'popping' }] }),
          all('#d9c9a3', '#c6b488', '#2f6f68', 0.6),
          step('grid', { across: 3, down: 3, gap: 7 }),
        ],
      },
      {
        id: 'garland',
        name: 'Garland',
        hidden: true,
        route: [
          step('drawing', {
            shapes: [
              {
                id: 'swag',
                layer: 'drawing',
                closed: false,
                width: 0,
                nodes: [
                  { x: -120, y: 30, out: [22, -46] },
                  { x: -40, y: 22, in: [-24, -44], out: [24, -46] },
                  { x: 40, y: 22, in: [-24, -46], out: [24, -44] },
                  { x: 120, y: 30, in: [-22, -46] },
                ],
              },
            ],
          }),
          step('along', { unit: 'bead', width: 7.5, pitch: 7.6, corners: true, along: 'strokes' }),
          step('vary', {
            by: 'order',
            colours: ['#d9482b', '#e8932e', '#f0c84a', '#3f8f6b', '#2f6f9f'],
            curve: [
              [0, 0],
              [1, 0],
            ],
          }),
        ],
      },
      {
        id: 'riveted',
        name: 'Riveted',
        hidden: true,
        route: [
          words('FERRY', 'alfa-slab', 48, { tracking: 20 }),
          step('extrude', { depth: 10, front: { profile: 'chamfer', inset: 0.8, height: 0.8 } }),
          step('along', { unit: 'rivet', width: 2.6, pitch: 6, inset: 2.4 }),
          all('#3f4a52', '#6f7a80', '#6f7a80', 0.45, 0.7),
        ],
      },
      {
        id: 'lattice',
        name: 'Lattice lettering',
        hidden: true,
        route: [
          words('Quay', 'archivo-bold', 70, { tracking: 20 }),
          step('extrude', { depth: 18, front: square, back: square }),
          step('lattice', { edge: 8, bar: 0.7, ball: 1.4 }),
          all('#e9e4d8', '#1f6f68', '#1f6f68', 0.4),
        ],
      },
      {
        id: 'sparks',
        name: 'Sparks',
        hidden: true,
        route: [
          step('block', { shape: 'box', width: 6, height: 6, depth: 6, rounding: 1.6 }),
          step('grid', { across: 14, down: 5, gap: 3.4, rows: 'staggered' }),
          step(
            'vary',
            {
              by: 'distance',
              point: [-40, -12, 0],
              far: 110,
              size: 70,
              forward: 16,
              curve: [
                [0, 100],
                [0.55, 10],
                [1, -60],
              ],
            },
            'vary-1',
          ),
          step('vary', { seed: 8, turn: 60, lean: 30, colours: ['#e8932e', '#d9482b', '#f0c84a', '#2f6f9f'] }, 'vary-2'),
        ],
      },
      {
        id: 'popping',
        name: 'Word that pops out',
        hidden: true,
        place: { position: [0, 11.5, -2.5], turn: [0, 0, 0], size: 1 },
        route: [
          words('QUAY', 'archivo-bold', 11, { tracking: 60 }),
          step('extrude', { depth: 10.5, front: { profile: 'chamfer', inset: 0.35, height: 0.35 } }),
        ],
      },
      {
        id: 'cut-out',
        name: 'Its cut-out',
        hidden: true,
        place: { position: [0, 11.5, -2], turn: [0, 0, 0], size: 1 },
        route: [
          words('QUAY', 'archivo-bold', 11, { tracking: 60 }),
          step('offset', { distance: 0.7 }),
          step('extrude', { depth: 20, front: square, back: square }),
        ],
      },
    ],
    assets: assetsOf('archivo-bold', 'alfa-slab'),
  }
}

const step = (kind: string, params: Record<string, unknown>, tracks?: RouteStep['tracks'], id = `${kind}-1`): RouteStep => ({
  id,
  kind,
  on: true,
  params,
  ...(tracks ? { tracks } : {}),
})
const coat = (colour: string, roughness = 0.45, metalness = 0.1) => ({ colour, roughness, metalness })

/** What moves: a title that unfolds, a ring of words that turns, a word that rises out of its block and sinks again. */
function movingThings(): ProjectDocument {
  const all = (colour: string, edge: string) =>
    step('dress', { face: coat(colour), edge: coat(edge), return: coat(edge), back: coat(edge), inside: coat('#2f6f68') })
  const square = { profile: 'square', inset: 0, height: 0 }
  type Keys = NonNullable<RouteStep['tracks']>[string]['keys']
  const keys = (...list: (readonly [number, number, Keys[number]['ease']?])[]): Keys => list.map(([at, value, ease = 'gentle']) => ({ at, value, ease }))
  return {
    format: 'kelvar',
    version: DOCUMENT_VERSION,
    name: 'Lantern Fair · in motion',
    time: { rate: 24, frames: 96 },
    pieces: [
      {
        id: 'title',
        name: 'Title unfolds',
        route: [
          words('LANTERN FAIR', 'archivo-bold', 34, { tracking: 30 }),
          step('extrude', { depth: 9, front: { profile: 'chamfer', inset: 0.8, height: 0.8 } }),
          step('bend', { angle: 200 }, { angle: { keys: keys([0, 260, 'beyond and back'], [48, 0], [72, 0, 'back first'], [95, 260]), after: 'stays' } }),
          all('#e8b64c', '#b3372f'),
        ],
      },
      {
        id: 'ring',
        name: 'Words turn',
        hidden: true,
        route: [
          words('QUAY', 'archivo-bold', 18),
          step('extrude', { depth: 5, front: { profile: 'chamfer', inset: 0.4, height: 0.4 } }),
          step('ring', { count: 7, radius: 60, plane: 'lying' }, { begin: { keys: keys([0, 0, 'even'], [95, 356.25]), after: 'goes on' } }),
          all('#22577a', '#7fb7be'),
        ],
      },
      {
        id: 'rising',
        name: 'Rises and sinks',
        hidden: true,
        route: [
          step('block', { shape: 'box', width: 84, height: 38, depth: 8, rounding: 2 }),
          step('fuse', { others: [{ piece: 'word' }] }),
          all('#d9c9a3', '#c6b488'),
        ],
      },
      {
        id: 'word',
        name: 'The word in it',
        hidden: true,
        place: { position: [0, 11, -3], turn: [0, 0, 0], size: 1 },
        route: [
          words('TIDE', 'archivo-bold', 16, { tracking: 60 }),
          step('extrude', { depth: 8, front: square, back: square }, { depth: { keys: keys([0, 7.4], [40, 19], [95, 7.4]), after: 'again' } }),
        ],
      },
    ],
    assets: assetsOf('archivo-bold'),
  }
}

/** A word of toffee that shatters and comes together again, a pane, and a number of bricks. */
function brokenThings(): ProjectDocument {
  const all = (face: string, edge: string, inside: string, roughness = 0.35) =>
    step('dress', { face: coat(face, roughness), edge: coat(edge, roughness), return: coat(edge, roughness), back: coat(edge), inside: coat(inside, 0.7, 0) })
  type Keys = NonNullable<RouteStep['tracks']>[string]['keys']
  const keys = (...list: (readonly [number, number, Keys[number]['ease']?])[]): Keys => list.map(([at, value, ease = 'gentle']) => ({ at, value, ease }))
  return {
    format: 'kelvar',
    version: DOCUMENT_VERSION,
    name: 'Lantern Fair · broken things',
    time: { rate: 24, frames: 96 },
    pieces: [
      {
        id: 'toffee',
        name: 'Toffee stall',
        route: [
          words('TOFFEE', 'alfa-slab', 36, { tracking: 20 }),
          step('extrude', { depth: 14, front: { profile: 'round', inset: 1.6, height: 2 } }),
          step('shatter', { pattern: 'impact', pieces: 60, reach: 22, rough: 60, grain: 4, stuff: 'toffee', seed: 11 }),
          all('#c9822b', '#9c5a1e', '#f0c878', 0.22),
          step(
            'burst',
            { far: 34, turn: 150, uneven: 60 },
            { strength: { keys: keys([0, 28, 'slow end'], [36, 72], [52, 76, 'slow start'], [92, 0], [95, 0]), after: 'stays' } },
          ),
        ],
      },
      {
        id: 'pane',
        name: 'Cracked pane',
        hidden: true,
        route: [
          words('NO ENTRY', 'archivo-bold', 30, { tracking: 10 }),
          step('extrude', { depth: 5, front: { profile: 'chamfer', inset: 0.4, height: 0.4 } }),
          step('shatter', { pattern: 'glass', pieces: 90, gap: 0.35, stuff: 'glass', seed: 3 }),
          all('#8fc4cc', '#5b98a4', '#dff1f2', 0.15),
        ],
      },
      {
        id: 'bricks',
        name: 'Pier 7 in bricks',
        hidden: true,
        route: [
          words('7', 'alfa-slab', 70),
          step('extrude', { depth: 18 }),
          step('shatter', { pattern: 'bricks', pieces: 40, gap: 0.8, stuff: 'stone', seed: 5 }),
          all('#b4553a', '#96432d', '#c98a6e', 0.9),
        ],
      },
      {
        id: 'driftwood',
        name: 'Driftwood',
        hidden: true,
        route: [
          words('DRIFT', 'archivo-bold', 34, { tracking: 20 }),
          step('extrude', { depth: 10 }),
          step('shatter', { pattern: 'grain', pieces: 46, long: 6, angle: 8, rough: 25, grain: 4, stuff: 'birch', seed: 8 }),
          all('#a98f6b', '#8a7252', '#d9c39a', 0.85),
          step('burst', { strength: 22, far: 24, turn: 50, from: 'line', angle: 0, uneven: 80 }),
        ],
      },
      {
        id: 'tumbled',
        name: 'Tumbled letters',
        hidden: true,
        route: [
          words('TUMBLE', 'alfa-slab', 34, { tracking: 30 }),
          step('extrude', { depth: 11, front: { profile: 'round', inset: 1, height: 1.2 } }),
          all('#d9482b', '#a8331c', '#f0c878'),
          step(
            'drop',
            { fall: 55, spin: 150, stuff: 'birch', bounce: 30, length: 4, seed: 7 },
            { at: { keys: keys([0, 0.6, 'even'], [82, 4]), after: 'stays' } },
          ),
        ],
      },
      {
        id: 'crumbs',
        name: 'Crumbs',
        hidden: true,
        route: [
          words('CRUMB', 'archivo-bold', 34, { tracking: 20 }),
          step('extrude', { depth: 10, front: { profile: 'round', inset: 1, height: 1.2 } }),
          step('shatter', { pieces: 60, stuff: 'toffee', seed: 9 }),
          all('#b98a52', '#96693a', '#e6c894', 0.7),
          step('drop', { by: 'copy', at: 2.5, fall: 20, spin: 30, friction: 0.7, bounce: 5, stuff: 'toffee', seed: 4 }),
        ],
      },
    ],
    assets: assetsOf('alfa-slab', 'archivo-bold'),
  }
}

/** What wobbles, swells, hangs, falls and covers: a jelly word, balloons on strings, a sign on chains, letters in a crate, a cloth over a word, and a glued word that breaks. */
function livingThings(): ProjectDocument {
  const all = (face: string, edge: string, roughness = 0.35, metalness = 0.1) =>
    step('dress', {
      face: coat(face, roughness, metalness),
      edge: coat(edge, roughness, metalness),
      return: coat(edge, roughness, metalness),
      back: coat(edge, roughness, metalness),
      inside: coat(edge, 0.7, 0),
    })
  type Keys = NonNullable<RouteStep['tracks']>[string]['keys']
  const running = (from: number, to: number): NonNullable<RouteStep['tracks']> => ({
    at: { keys: [{ at: 0, value: from, ease: 'even' } as Keys[number], { at: 95, value: to, ease: 'even' } as Keys[number]], after: 'stays' },
  })
  return {
    format: 'kelvar',
    version: DOCUMENT_VERSION,
    name: 'Lantern Fair · living things',
    time: { rate: 24, frames: 96 },
    pieces: [
      {
        id: 'sign',
        name: 'Hanging sign',
        hidden: true,
        route: [
          words('QUAY INN', 'alfa-slab', 26, { tracking: 20 }),
          step('extrude', { depth: 7, front: { profile: 'round', inset: 0.8, height: 1 } }),
          all('#d8a93f', '#a87a22', 0.3, 0.5),
          step('fuse', { others: [{ piece: 'board' }] }),
          step(
            'drop',
            {
              by: 'part',
              hang: 'chain',
              ropes: 2,
              rope: 34,
              thick: 1.6,
              stuff: 'birch',
              spin: 0,
              floor: 'none',
              air: 'wind',
              wind: 9,
              towards: 60,
              gusts: 80,
              length: 6,
              seed: 5,
            },
            running(1, 5),
          ),
        ],
      },
      {
        id: 'board',
        name: 'Sign board',
        hidden: true,
        place: { position: [0, -10, -2], turn: [0, 0, 0], size: 1 },
        route: [step('block', { shape: 'box', width: 200, height: 46, depth: 6, rounding: 2 }), all('#2f4a4d', '#22383a', 0.6)],
      },
      {
        id: 'jelly',
        name: 'Jelly stall',
        hidden: true,
        route: [
          words('JELLY', 'alfa-slab', 34, { tracking: 30 }),
          step('extrude', { depth: 16, front: { profile: 'round', inset: 2.2, height: 2.6 } }),
          all('#c2255c', '#a01b4a', 0.12),
          step(
            'jelly',
            {
              stiffness: 45,
              cell: 4.5,
              length: 5,
              floor: 'none',
              air: 'wind',
              wind: 12,
              towards: 20,
              gusts: 90,
              mask: { list: [{ by: 'height', from: 10, to: 9.9 }] },
              seed: 2,
            },
            running(0.4, 4.4),
          ),
        ],
      },
      {
        id: 'balloons',
        name: 'Balloons',
        hidden: true,
        route: [
          words('FAIR', 'archivo-bold', 44, { tracking: 130 }),
          step(
            'balloon',
            { pressure: 120, creases: 55, edge: 1.4, tie: 'string', string: 70, thick: 0.7, air: 'wind', wind: 1.2, towards: 0, gusts: 60, length: 5, seed: 3 },
            running(0.5, 4.5),
          ),
          step('dress', { palette: 'letter', colours: ['#d9482b', '#e8a13a', '#2f8077', '#7a4fa0'], paletteOn: 'all', face: coat('#d9482b', 0.16, 0.65) }),
        ],
      },
      {
        id: 'crate',
        name: 'Crate',
        route: [
          step('block', { shape: 'box', width: 170, height: 16, depth: 80, rounding: 1 }),
          step('carve', { others: [{ piece: 'hollow' }] }),
          all('#b98a52', '#96693a', 0.8),
        ],
      },
      {
        id: 'hollow',
        name: 'Hollow of the crate',
        hidden: true,
        place: { position: [0, 4, 0], turn: [0, 0, 0], size: 1 },
        route: [step('block', { shape: 'box', width: 160, height: 20, depth: 70, rounding: 0 })],
      },
      {
        id: 'tumbling',
        name: 'Letters in a crate',
        place: { position: [0, 80, 0], turn: [0, 0, 0], size: 1 },
        route: [
          words('HERRING', 'archivo-bold', 20, { tracking: 20 }),
          step('extrude', { depth: 8, front: { profile: 'round', inset: 0.8, height: 1 } }),
          step('dress', { palette: 'letter', colours: ['#d9482b', '#e8a13a', '#2f8077', '#2f5f97'], paletteOn: 'all' }),
          step('drop', { floor: 'none', others: [{ piece: 'crate' }], spin: 160, stuff: 'birch', bounce: 25, length: 4, seed: 12 }, running(1.4, 4)),
        ],
      },
      {
        id: 'full-crate',
        name: 'Full crate',
        hidden: true,
        route: [
          step('block', { shape: 'box', width: 170, height: 16, depth: 80, rounding: 1 }),
          step('carve', { others: [{ piece: 'hollow' }] }),
          all('#b98a52', '#96693a', 0.8),
          step('fuse', { others: [{ piece: 'tumbling' }] }),
        ],
      },
      {
        id: 'unveiled',
        name: 'Under a cloth',
        hidden: true,
        route: [
          words('SOON', 'alfa-slab', 44, { tracking: 10 }),
          step('extrude', { depth: 20, front: { profile: 'round', inset: 1, height: 1.2 } }),
          all('#d8a93f', '#a87a22', 0.3, 0.5),
          step('drape', { at: 1.5, over: 34, thick: 0.9, edge: 2, above: 12, floor: 'below', fall: 0, length: 2.5 }, running(0.4, 2.5)),
        ],
      },
      {
        id: 'glued',
        name: 'Glued plate',
        hidden: true,
        route: [
          words('FRAGILE', 'archivo-bold', 30),
          step('extrude', { depth: 7 }),
          step('shatter', { pieces: 60, stuff: 'plaster', seed: 6 }),
          all('#dfe3e0', '#b8c0bc', 0.6),
          step('drop', { by: 'copy', hang: 'glue', glue: 25, fall: 60, spin: 0, stuff: 'plaster', length: 4, seed: 3 }, running(0.8, 3)),
        ],
      },
    ],
    assets: assetsOf('alfa-slab', 'archivo-bold'),
  }
}

function assetsOf(...ids: string[]): ProjectDocument['assets'] {
  return ids.map((id) => {
    const { sha256, name, bytes } = face(id)
    return { sha256, name, type: 'font' as const, bytes }
  })
}

/** Adds the demo projects that are not there; those a person has changed are left alone. Returns the ids of those that were added. */
export async function seedDemo(em: EntityManager): Promise<string[]> {
  const demos: [string, ProjectDocument, string][] = [
    ['7e51a0de-0000-4000-8000-000000000012', livingThings(), 'living-things.png'],
    ['7e51a0de-0000-4000-8000-000000000011', brokenThings(), 'broken-things.png'],
    ['7e51a0de-0000-4000-8000-000000000010', movingThings(), 'moving-things.png'],
    ['7e51a0de-0000-4000-8000-000000000009', manyThings(), 'many-things.png'],
    ['7e51a0de-0000-4000-8000-000000000008', softThings(), 'soft-things.png'],
    ['7e51a0de-0000-4000-8000-000000000007', roundThings(), 'round-things.png'],
    ['7e51a0de-0000-4000-8000-000000000006', carvedThings(), 'carved-things.png'],
    ['7e51a0de-0000-4000-8000-000000000005', oneWord(), 'one-word.png'],
    ['7e51a0de-0000-4000-8000-000000000004', madeLetters(), 'made-letters.png'],
    ['7e51a0de-0000-4000-8000-000000000003', drawnThings(), 'drawn-things.png'],
    ['7e51a0de-0000-4000-8000-000000000002', stallSigns(), 'stall-signs.png'],
    ['7e51a0de-0000-4000-8000-000000000001', gateSign(), 'gate-sign.png'],
  ]
  const added: string[] = []
  for (const [id, document, picture] of demos) {
    if (await em.count(Project, { id })) continue
    await createProject(em, document, { id, picture: await readFile(new URL(`../../demo/${picture}`, import.meta.url)) })
    added.push(id)
  }
  return added
}
