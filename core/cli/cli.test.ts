import { existsSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { fileURLToPath } from 'node:url'
import { afterAll, beforeAll, describe, expect, it } from 'vitest'
import { SHIPPED_FACES } from '../fonts/catalogue'
import { hashBytes } from '../src/cache/hash'
import { writeProjectFile } from '../src/format/project-file'
import { track } from '../src/motion/track'
import { newProject } from '../src/project/new-project'
import { CommandLine, started } from '../test/command-line'
import { BOX, picturedBox, PNG } from '../test/pictured'

const root = fileURLToPath(new URL('../..', import.meta.url))
const folder = mkdtempSync(join(tmpdir(), 'kelvar-'))
afterAll(() => rmSync(folder, { recursive: true }))
const file = (name: string) => join(folder, name)

let line: CommandLine
beforeAll(async () => {
  line = await CommandLine.open(2)
})
afterAll(() => line.close())

const kelvar = (...args: string[]) => line.call(args)

const font = (name: string) => join(root, 'core/fonts', name)

const wordsIn = (script: string) => ({ Arab: 'ميناء & Böé', Hebr: 'נמל & Böé', Deva: 'मेला & Böé', Hira: 'みなと祭り 8%' })[script] ?? 'Böä & Quéen 8%@'

const ONE_OF_EACH_SCRIPT = SHIPPED_FACES.filter((f, i) => SHIPPED_FACES.findIndex((other) => other.scripts[0] === f.scripts[0]) === i)

describe.concurrent('kelvar text', () => {
  // counters, overlaps, accents, ampersands, in a face of every script; all faces are in core/test/corpus.ts
  it.each(ONE_OF_EACH_SCRIPT.map((f) => [f.id, wordsIn(f.scripts[0]), f.file]))(
    'makes a sound solid with %s',
    async (id, words, path) => {
      const out = file(`${id}.stl`)
      const made = await kelvar('text', words, '--font', font(path), '--profile', 'round', '--edge', '0.5', '--out', out, '--json')
      expect(made.err).toBe('')
      expect(made.status).toBe(0)
      const facts = JSON.parse(made.out)
      expect(facts).toMatchObject({ closed: true })
      expect(facts.size[2]).toBe(12)
      const checked = await kelvar('check', out, '--json')
      expect(checked.status).toBe(0)
      expect(JSON.parse(checked.out)).toMatchObject({ sound: true, crossings: 0, triangles: facts.triangles, parts: facts.parts })
    },
    60_000,
  )

  it('keeps a model’s picture: beside an OBJ file, and found there again', async () => {
    mkdirSync(file('crate'))
    writeFileSync(file('crate/lid.glb'), await picturedBox(BOX))
    expect((await kelvar('run', 'repair', file('crate/lid.glb'), '--out', file('crate/lid.obj'))).err).toBe('')
    const [png] = readdirSync(file('crate')).filter((name) => name.endsWith('.png'))
    expect(new Uint8Array(readFileSync(file(`crate/${png}`)))).toEqual(PNG)
    expect((await kelvar('run', 'repair', file('crate/lid.obj'), '--out', file('crate/again.glb'))).err).toBe('')
    expect(readFileSync(file('crate/again.glb')).includes(Buffer.from(PNG))).toBe(true)
    rmSync(file(`crate/${png}`))
    expect((await kelvar('run', 'repair', file('crate/lid.obj'), '--out', file('crate/bare.glb'))).err).toBe('')
    expect(readFileSync(file('crate/bare.glb')).includes(Buffer.from(PNG))).toBe(false)
  })

  it('writes GLB and SVG by the ending', async () => {
    expect((await kelvar('text', 'Pier', '--out', file('pier.glb'))).status).toBe(0)
    expect((await kelvar('check', file('pier.glb'))).status).toBe(0)
    expect((await kelvar('text', 'Pier', '--size', '20', '--out', file('pier.svg'))).status).toBe(0)
    expect(readFileSync(file('pier.svg'), 'utf8')).toMatch(/^<svg .*mm"/)
  })

  it('takes a profile from a file of points', async () => {
    writeFileSync(file('knife.json'), '[[0, 0], [0.5, 2], [1, 2.5]]')
    const made = await kelvar('text', 'H', '--profile', file('knife.json'), '--depth', '6', '--out', file('h.stl'), '--json')
    expect(made.status).toBe(0)
    expect(JSON.parse(made.out).size[2]).toBe(6)
  })
})

describe.concurrent('kelvar build, run and steps', () => {
  it('builds a project to a step', async () => {
    const path = file('project.json')
    writeFileSync(path, JSON.stringify(newProject()))
    expect((await kelvar('build', path, '--out', file('built.glb'))).status).toBe(0)
    expect((await kelvar('build', path, '--until', 'lettering-1', '--out', file('built.svg'))).status).toBe(0)
    const wrong = await kelvar('build', path, '--until', 'lettering-1', '--out', file('built.stl'))
    expect(wrong.status).toBe(1)
    expect(wrong.err).toContain('Extrude')
  })

  it('builds a frame of what moves, and a row of frames', async () => {
    const document = newProject('Moves')
    document.pieces[0].route[1].tracks = {
      depth: track.parse({
        keys: [
          { at: 0, value: 5, ease: 'even' },
          { at: 10, value: 25 },
        ],
      }),
    }
    const path = file('moves.json')
    writeFileSync(path, JSON.stringify(document))
    const { out } = await kelvar('build', path, '--frame', '4', '--out', file('frame.stl'), '--json')
    expect(JSON.parse(out).size[2]).toBeCloseTo(13, 6)
    expect((await kelvar('build', path, '--frames', '3-5', '--as', 'stl', '--out', file('film'), '--json')).status).toBe(0)
    expect(readdirSync(file('film'))).toEqual(['0003.stl', '0004.stl', '0005.stl'])
    // the same bit for bit as the frame by itself
    expect(readFileSync(file('film/0004.stl')).equals(readFileSync(file('frame.stl')))).toBe(true)
    expect((await kelvar('build', path, '--frames', '5-3', '--out', file('film'))).err).toContain('[bad-frame]')
  }, 120_000)

  it('runs one step on a file', async () => {
    expect((await kelvar('run', 'lettering', '--set', 'text=Ö', '--set', 'size=30', '--out', file('o.svg'))).status).toBe(0)
    const made = await kelvar(
      'run',
      'extrude',
      file('o.svg'),
      '--set',
      'depth=4',
      '--set',
      'front.profile=ogee',
      '--set',
      'front.inset=0.5',
      '--out',
      file('o.stl'),
      '--json',
    )
    expect(made.status).toBe(0)
    expect(JSON.parse(made.out)).toMatchObject({ closed: true, parts: 3 })
    expect((await kelvar('check', file('o.stl'))).status).toBe(0)
  })

  it('lists every step with its schema', async () => {
    const { out } = await started(join(root, 'core/cli/kelvar.mjs'), ['steps', '--json'])
    const steps = JSON.parse(out)
    expect(steps.map((s: { kind: string }) => s.kind)).toEqual(expect.arrayContaining(['lettering', 'vector-file', 'slice', 'extrude', 'dress']))
    expect(steps.find((s: { kind: string }) => s.kind === 'extrude').params.properties.depth).toMatchObject({ type: 'number', unit: 'mm', default: 12 })
  })
})

describe.concurrent('kelvar answers bad input', () => {
  const out = file('never.stl')
  writeFileSync(file('broken.ttf'), readFileSync(font('Archivo-Bold.ttf')).subarray(0, 4000))
  writeFileSync(file('text.ttf'), 'hello')
  writeFileSync(file('newer.json'), JSON.stringify({ ...newProject(), version: 99 }))
  writeFileSync(file('damaged.json'), '{"format": "kelvar"')
  writeFileSync(file('short.stl'), Buffer.alloc(100, 1))
  writeFileSync(file('backwards.json'), '[[0, 0], [2, 1], [1, 2]]')

  it.each<[string, string[], string, number]>([
    ['empty text', ['text', '', '--out', out], 'empty-text', 1],
    ['only spaces', ['text', '   ', '--out', out], 'empty-text', 1],
    ['10,000 characters', ['text', 'x'.repeat(10_000), '--out', out], 'bad-value', 1],
    ['emoji', ['text', '🏮', '--out', out], 'nothing-to-show', 1],
    ['size 0', ['text', 'A', '--size', '0', '--out', out], 'bad-value', 1],
    ['size −1', ['text', 'A', '--size', '-1', '--out', out], 'bad-value', 1],
    ['size 10⁹', ['text', 'A', '--size', '1000000000', '--out', out], 'bad-value', 1],
    ['size NaN', ['text', 'A', '--size', 'NaN', '--out', out], 'bad-value', 1],
    ['depth 0', ['text', 'A', '--depth', '0', '--out', out], 'bad-value', 1],
    ['half a font', ['text', 'A', '--font', file('broken.ttf'), '--out', out], 'font-unreadable', 1],
    ['a file that is no font', ['text', 'A', '--font', file('text.ttf'), '--out', out], 'font-unreadable', 1],
    ['a font that is not there', ['text', 'A', '--font', file('none.ttf'), '--out', out], 'file', 2],
    ['an unknown profile', ['text', 'A', '--profile', 'zigzag', '--out', out], 'unknown-profile', 1],
    ['a profile that runs backwards', ['text', 'A', '--profile', file('backwards.json'), '--out', out], 'profile', 1],
    ['an unknown ending', ['text', 'A', '--out', file('a.docx')], 'unknown-ending', 1],
    ['no file to write', ['text', 'A'], 'usage', 1],
    ['a folder that is not there', ['text', 'A', '--out', file('no/where.stl')], 'file', 1],
    ['a newer project', ['build', file('newer.json'), '--out', out], 'newer-version', 2],
    ['a damaged project', ['build', file('damaged.json'), '--out', out], 'not-json', 2],
    ['a damaged model', ['check', file('short.stl')], 'unreadable', 2],
    ['an unknown step', ['run', 'levitate', '--out', out], 'unknown-step', 1],
    ['an unknown command', ['sing'], 'unknown-command', 1],
    ['an unknown option', ['text', 'A', '--colour', 'red', '--out', out], 'usage', 1],
  ])('%s', async (_what, args, code, status) => {
    const result = await kelvar(...args)
    expect(result.err).toContain(`[${code}]`)
    expect(result.status).toBe(status)
    expect(result.out).toBe('')
    expect(existsSync(out)).toBe(false)
  })

  it('as JSON when asked', async () => {
    expect(JSON.parse((await kelvar('text', '', '--out', out, '--json')).err)).toMatchObject({ error: { code: 'empty-text', remedy: expect.any(String) } })
  })
})

describe.concurrent('kelvar bears', () => {
  writeFileSync(file('none.svg'), '<svg xmlns="http://www.w3.org/2000/svg" width="9mm" height="9mm"><defs/></svg>')
  writeFileSync(file('far.svg'), '<svg xmlns="http://www.w3.org/2000/svg"><path d="M0 0h1e12v9z"/></svg>')
  const header = (vertices: number, properties: string) =>
    `ply\nformat binary_little_endian 1.0\nelement vertex ${vertices}\n${properties}element face 1\nproperty list uchar int vertex_indices\nend_header\n`
  writeFileSync(file('announced.ply'), `${header(19_000_000, 'property float x\nproperty float y\nproperty float z\n')}${'\0'.repeat(60)}`)
  writeFileSync(file('hollow.ply'), `${header(19_000_000, '')}${'\0'.repeat(60)}`)
  writeFileSync(file('many.ply'), header(200_000_000, 'property float x\n'))
  // sixteen units an em, of which capitals are four high: what was drawn in a thousand is as large as a street
  const damaged = readFileSync(font('Archivo-Bold.ttf'))
  for (let i = 0; i < damaged.readUInt16BE(4); i++) {
    const [tag, at] = [damaged.toString('latin1', 12 + 16 * i, 16 + 16 * i), damaged.readUInt32BE(20 + 16 * i)]
    if (tag === 'OS/2') damaged.writeInt16BE(4, at + 88)
    if (tag === 'head') damaged.writeUInt16BE(16, at + 18)
  }
  writeFileSync(file('flat.ttf'), damaged)

  it.each<[string, string[], string, number]>([
    ['commands that every object has', ['toString'], 'unknown-command', 1],
    ['and its maker', ['constructor'], 'unknown-command', 1],
    ['and its kind', ['__proto__', '--out', file('x.stl')], 'unknown-command', 1],
    ['steps of such names', ['run', 'constructor', '--out', file('x.stl')], 'unknown-step', 1],
    ['a device', ['check', '/dev/zero'], 'file', 2],
    ['a folder', ['check', folder], 'file', 2],
    ['a model that announces more than it holds', ['check', file('announced.ply')], 'unreadable', 2],
    ['vertices of nothing', ['check', file('hollow.ply')], 'unreadable', 2],
    ['200 million vertices in a header', ['check', file('many.ply')], 'unreadable', 2],
    ['a drawing without shapes', ['outline', file('none.svg'), '--out', file('none-out.svg')], 'unreadable', 2],
    ['a drawing without end', ['outline', file('far.svg'), '--out', file('far-out.svg')], 'unreadable', 2],
    ['a size without end', ['text', 'A', '--size', '-Infinity', '--out', file('x.stl')], 'bad-value', 1],
    ['letters as large as a street', ['text', 'Hm', '--font', file('flat.ttf'), '--out', file('x.stl')], 'absurd-size', 1],
  ])('%s', async (_what, args, code, status) => {
    const result = await kelvar(...args)
    expect(result.err).toContain(`[${code}]`)
    expect(result.status).toBe(status)
    expect(existsSync(file('x.stl'))).toBe(false)
    expect(result.ms).toBeLessThan(15_000)
  })

  it('somebody’s material file, and leaves nothing half written', async () => {
    mkdirSync(file('models'))
    writeFileSync(file('models/word.mtl'), 'newmtl mine')
    const refused = await kelvar('text', 'A', '--out', file('models/word.obj'))
    expect(refused.err).toContain('Kelvar did not write it')
    expect(readFileSync(file('models/word.mtl'), 'utf8')).toBe('newmtl mine')
    expect(readdirSync(file('models'))).toEqual(['word.mtl'])
    for (const words of ['A', 'B']) expect((await kelvar('text', words, '--out', file('models/own.obj'))).status).toBe(0)
    expect(readdirSync(file('models')).toSorted()).toEqual(['own.mtl', 'own.obj', 'word.mtl'])
    expect(readFileSync(file('models/own.obj'), 'utf8')).toContain('mtllib own.mtl')
  })

  it('project files, with the faces they carry', async () => {
    const bytes = new Uint8Array([...readFileSync(font('Knewave-Regular.ttf')), 0, 0, 0, 7])
    const sha256 = hashBytes(bytes)
    const document = newProject('Carried')
    document.pieces[0].route[0].params.font = { sha256, name: 'Own' }
    document.assets.push({ sha256, name: 'Own', type: 'font', bytes: bytes.length })
    writeFileSync(file('carried.kelvar'), await writeProjectFile(document, new Map([[sha256, bytes]])))
    const made = await kelvar('build', file('carried.kelvar'), '--out', file('carried.stl'), '--json')
    expect(made.err).toBe('')
    expect(JSON.parse(made.out)).toMatchObject({ closed: true })
    writeFileSync(file('not.kelvar'), 'PK')
    expect((await kelvar('build', file('not.kelvar'), '--out', file('y.stl'))).err).toContain('[damaged]')
  })

  it('to name every format it knows', async () => {
    const { out } = await kelvar('--help')
    for (const ending of ['.svg', '.dxf', '.stl', '.glb', '.obj', '.ply', '.3mf', '.kelvar', '.json']) expect(out).toContain(ending)
  })
})

// one after another: each is many calls, and they use each other’s files
describe('kelvar run fuse, carve and overlap', () => {
  it('joins files where they lie in them, whatever their format, and what comes out is sound', async () => {
    const [block, words] = [file('join-block.stl'), file('join-words.3mf')]
    const a = JSON.parse((await kelvar('run', 'block', '--set', 'width=120', '--set', 'height=40', '--set', 'depth=16', '--out', block, '--json')).out).volume
    const b = JSON.parse((await kelvar('text', 'Pier 7', '--size', '20', '--depth', '12', '--out', words, '--json')).out).volume
    const volumes: Record<string, number> = {}
    for (const how of ['fuse', 'carve', 'overlap']) {
      const out = file(`join-${how}.ply`)
      const made = await kelvar('run', how, block, '--with', words, '--out', out, '--json')
      expect(made.err).toBe('')
      expect(made.status).toBe(0)
      const checked = await kelvar('check', out, '--json')
      expect(JSON.parse(checked.out)).toMatchObject({ sound: true, crossings: 0 })
      volumes[how] = JSON.parse(checked.out).volume
    }
    expect(Math.abs((volumes.fuse + volumes.overlap) / (a + b) - 1)).toBeLessThan(1e-6)
    expect(Math.abs((volumes.carve + volumes.overlap) / a - 1)).toBeLessThan(1e-6)
    const deeper = await kelvar('run', 'carve', block, '--with', words, '--set', 'stand=through', '--out', file('join-through.stl'), '--json')
    expect(JSON.parse(deeper.out).volume).toBeLessThan(volumes.carve)
  }, 180_000)

  it('carve a drawing’s words into a model that was repaired, and cut it flat', async () => {
    writeFileSync(
      file('mend-me.obj'),
      'v 0 -30 0\nv 40 -30 0\nv 40 0 0\nv 0 0 0\nv 0 -30 20\nv 40 -30 20\nv 40 0 20\nv 0 0 20\nf 1 4 3 2\nf 5 6 7 8\nf 2 1 5 6\nf 2 3 7 6\nf 3 4 8 7\n',
    )
    expect((await kelvar('run', 'fuse', file('mend-me.obj'), '--with', file('mend-me.obj'), '--out', file('never.stl'))).status).toBe(1)
    const repaired = await kelvar('run', 'repair', file('mend-me.obj'), '--out', file('mended.stl'), '--json')
    expect(JSON.parse(repaired.out)).toMatchObject({ holes: 1, closing: 2, turned: 2, duplicate: 0, degenerate: 0, closed: true, volume: 24_000 })
    writeFileSync(file('rule.svg'), '<svg xmlns="http://www.w3.org/2000/svg" width="40mm" height="30mm" viewBox="0 0 40 30"><path d="M10 12h20v6h-20z"/></svg>')
    const carved = await kelvar(
      'run',
      'carve-lettering',
      file('mended.stl'),
      '--with',
      file('rule.svg'),
      '--set',
      'cut=flat',
      '--set',
      'depth=2',
      '--out',
      file('carved.stl'),
      '--json',
    )
    expect(carved.err).toBe('')
    expect(JSON.parse(carved.out)).toMatchObject({ closed: true, volume: expect.closeTo(24_000 - 240, 1) })
    const half = await kelvar('run', 'cut-flat', file('carved.stl'), '--set', 'axis=across', '--set', 'keep=first', '--out', file('half.stl'), '--json')
    expect(JSON.parse(half.out)).toMatchObject({ closed: true, volume: expect.closeTo(12_000 - 120, 1) })
    expect((await kelvar('check', file('half.stl'))).status).toBe(0)
  }, 120_000)

  it('lays words on a model where a place is named, fits an insert’s pocket, and holds a stencil’s counters', async () => {
    const bottle = file('lay-bottle.stl')
    expect((await kelvar('run', 'block', '--set', 'shape=cylinder', '--set', 'width=60', '--set', 'height=80', '--out', bottle)).status).toBe(0)
    const whole = JSON.parse((await kelvar('check', bottle, '--json')).out) as { volume: number; wall: number }
    expect(whole.wall).toBeGreaterThan(55)
    expect(whole.wall).toBeLessThan(60.1)
    writeFileSync(
      file('ring.svg'),
      '<svg xmlns="http://www.w3.org/2000/svg" width="40mm" height="20mm" viewBox="0 0 40 20"><path fill-rule="evenodd" d="M5 2h30v16h-30z M10 6v8h20v-8z"/></svg>',
    )
    for (const lay of ['any', 'round']) {
      const made = await kelvar(
        ...[
          'run',
          'raise-lettering',
          bottle,
          '--with',
          file('ring.svg'),
          '--set',
          `lay=${lay}`,
          '--set',
          'point=0,40,30',
          '--set',
          'angle=15',
          '--set',
          'height=2',
        ],
        ...['--set', 'front.profile=square', '--out', file(`laid-${lay}.3mf`), '--json'],
      )
      expect(made.err).toBe('')
      const raised = JSON.parse((await kelvar('check', file(`laid-${lay}.3mf`), '--json')).out)
      expect(raised).toMatchObject({ sound: true })
      // 320 mm² on the cylinder, 2 mm high, wider the further out
      expect(raised.volume - whole.volume).toBeGreaterThan(320 * 2)
      expect(raised.volume - whole.volume).toBeLessThan(320 * 2 * 1.06)
    }
    const pocket = await kelvar(
      'run',
      'inlay',
      file('mended.stl'),
      '--with',
      file('rule.svg'),
      '--set',
      'clearance=0.2',
      '--set',
      'depth=3',
      '--set',
      'beneath=0',
      '--out',
      file('pocket.stl'),
      '--json',
    )
    expect(pocket.err).toBe('')
    // 20.4 × 6.4 mm with corners rounded by the clearance
    expect(24_000 - JSON.parse(pocket.out).volume).toBeCloseTo(3 * (20.4 * 6.4 - (4 - Math.PI) * 0.04), 0)
    expect((await kelvar('run', 'stencil', file('ring.svg'), '--set', 'width=2', '--out', file('bridged.svg'))).status).toBe(0)
    const bridged = await kelvar(
      'run',
      'extrude',
      file('bridged.svg'),
      '--set',
      'depth=1',
      '--set',
      'front.profile=square',
      '--out',
      file('bridged.stl'),
      '--json',
    )
    expect(JSON.parse(bridged.out)).toMatchObject({ parts: 2, volume: expect.closeTo(320 - 2 * 2 * 4, 0) })
  }, 180_000)

  it('takes no solid that is none, and says where it is broken', async () => {
    writeFileSync(file('open.obj'), 'v 0 0 0\nv 10 0 0\nv 0 10 0\nv 0 0 10\nf 1 3 2\nf 1 2 4\nf 1 4 3\n')
    const made = await kelvar('run', 'fuse', file('open.obj'), '--with', file('open.obj'), '--out', file('never.stl'))
    expect(made.status).toBe(1)
    expect(made.err).toMatch(/open\.obj is no sound solid: .*holes.*first at .* mm.*\n.*\[unsound\]/)
    expect(existsSync(file('never.stl'))).toBe(false)
  }, 60_000)
})

describe('kelvar bake', () => {
  it('records what is simulated once, to the same bytes, and says where nothing is', async () => {
    const project = newProject('Bakes')
    const [piece] = project.pieces
    const simulated = { ...piece, route: [...piece.route, { id: 'drop-1', kind: 'drop', on: true, params: { length: 1 } }] }
    const path = file('bakes.json')
    writeFileSync(
      path,
      JSON.stringify({
        ...project,
        pieces: [
          { ...simulated, name: 'Falls' },
          { ...piece, id: 'b', name: 'Stands' },
        ],
      }),
    )
    const [one, other] = [file('bakes-1'), file('bakes-2')]
    // each in a process of its own, which has nothing at hand
    const bake = (...args: string[]) => line.alone(['bake', path, ...args])
    const first = JSON.parse((await bake('--piece', 'Falls', '--out', one, '--json')).out)
    expect(first.bakes).toMatchObject([{ frames: 61, made: true }])
    expect(JSON.parse((await bake('--piece', 'Falls', '--out', one, '--json')).out).bakes).toMatchObject([{ frames: 61, made: false }])
    // a part that was left damaged is in nobody's way, and goes
    mkdirSync(other)
    writeFileSync(join(other, readdirSync(one)[0].replace('.bake', '-p0.bake-part')), 'damaged')
    await bake('--piece', 'Falls', '--out', other)
    expect(readdirSync(one)).toEqual(readdirSync(other))
    for (const name of readdirSync(one)) expect(readFileSync(join(one, name)).equals(readFileSync(join(other, name)))).toBe(true)
    // a project's file brings them along, and they are not recorded again
    const [key] = readdirSync(one).map((name) => name.replace('.bake', ''))
    const recorded = new Uint8Array(readFileSync(join(one, `${key}.bake`)))
    const travelled = file('bakes.kelvar')
    writeFileSync(travelled, await writeProjectFile(JSON.parse(readFileSync(path, 'utf8')), new Map(), [[key, recorded]]))
    const third = file('bakes-3')
    const carried = JSON.parse((await line.alone(['bake', travelled, '--piece', 'Falls', '--out', third, '--json'])).out)
    expect(carried.bakes).toMatchObject([{ file: `${key}.bake`, made: false }])
    expect(new Uint8Array(readFileSync(join(third, `${key}.bake`)))).toEqual(recorded)
    const none = await bake('--piece', 'Stands', '--out', other)
    expect(none.status).not.toBe(0)
    expect(none.err).toContain('Nothing of “Stands” is simulated')
  })
})

describe('kelvar run grid, ring, along, fill-inside and lattice', () => {
  it('repeats what is in a file, as copies or as one solid', async () => {
    const [words, solid] = [file('many.svg'), file('many.stl')]
    expect((await kelvar('outline', 'L7', '--font', font('Jost-Bold.ttf'), '--out', words)).status).toBe(0)
    const one = JSON.parse((await kelvar('run', 'extrude', words, '--set', 'depth=8', '--out', solid, '--json')).out)
    const made = await kelvar('run', 'grid', solid, '--set', 'across=3', '--set', 'down=3', '--set', 'gap=10', '--out', file('nine.3mf'), '--json')
    expect(made.err).toBe('')
    expect(JSON.parse(made.out)).toMatchObject({ copies: 9, triangles: 9 * one.triangles, closed: true })
    const checked = JSON.parse((await kelvar('check', file('nine.3mf'), '--json')).out)
    expect(checked).toMatchObject({ sound: true, parts: 9 * one.parts })
    expect(Math.abs(checked.volume / (9 * one.volume) - 1)).toBeLessThan(1e-5)
    // along a line, as one solid; and another model as what is set
    const beads = await kelvar('run', 'along', words, '--set', 'unit=bead', '--set', 'width=2', '--out', file('along.stl'), '--json')
    expect(JSON.parse(beads.out).copies).toBeGreaterThan(8)
    expect((await kelvar('check', file('along.stl'))).status).toBe(0)
    const pieces = await kelvar(
      'run',
      'fill-inside',
      words,
      '--with',
      solid,
      '--set',
      'unit=piece',
      '--set',
      'size=4',
      '--set',
      'pitch=12',
      '--out',
      file('words.glb'),
      '--json',
    )
    expect(pieces.err).toBe('')
    const bars = await kelvar('run', 'lattice', solid, '--set', 'edge=5', '--set', 'bar=0.5', '--set', 'ball=0.9', '--out', file('bars.stl'), '--json')
    expect(JSON.parse(bars.out)).toMatchObject({ closed: true, parts: one.parts })
    expect((await kelvar('run', 'fill-inside', words, '--set', 'width=90', '--out', file('no.stl'))).err).toContain('[no-room]')
  }, 180_000)
})
