import { plainName } from '../document/well-formed'
import { bordersOf, keyOf } from '../outline/areas'
import { flattenPath } from '../outline/flatten'
import { latticeFor } from '../outline/lattice'
import { type Layer, type Outline, type Region, regionPaths } from '../outline/outline'
import { nestingDepths } from '../outline/nesting'
import { controlBounds, LINE, type Path, PathBuilder, reversePath } from '../outline/path'
import { doubleArea } from '../outline/polygon'
import { FormatError } from './mesh-data'
import { AT_ONCE, type ReadingWork } from './reading'

const MAX_DXF_BYTES = 40 * 1024 * 1024
const MAX_ENTITIES = 200_000
const MAX_PAIRS = 4_000_000
/** mm for the drawing's own unit ($INSUNITS; DXF reference, HEADER section) */
const UNITS: Readonly<Record<number, number>> = { 0: 1, 1: 25.4, 2: 304.8, 4: 1, 5: 10, 6: 1000, 8: 25.4e-6, 9: 25.4e-3, 13: 1e-3, 14: 100 }
/** Ends nearer than this are joined, mm. */
const JOIN = 1e-3

type Pair = readonly [code: number, value: string]

interface Entity {
  readonly type: string
  /** its place among the pairs */
  readonly at: number
  readonly pairs: readonly Pair[]
}

export interface DxfDrawing {
  readonly outline: Outline
  /** entities that are no plane geometry and were passed over, each named once */
  readonly ignored: readonly string[]
}

/**
 * Reads the plane geometry of an ASCII DXF drawing (by its published reference, R12 to 2018): LINE, ARC, CIRCLE,
 * ELLIPSE, LWPOLYLINE and POLYLINE with bulges, SPLINE. Ends that meet are joined; closed lines become areas (those inside
 * others holes), open ones strokes. Layers keep their names. Throws FormatError. `work` is called between entities and layers.
 */
export async function readDxf(text: string, work: ReadingWork = AT_ONCE): Promise<DxfDrawing> {
  if (text.length > MAX_DXF_BYTES) throw new FormatError('The DXF file is larger than 40 MB.', 'Export a part of the drawing.')
  if (/^[^\r\n]{0,20}Binary DXF/.test(text)) throw new FormatError('The DXF file is in its binary form, which is not read.', 'Export it as ASCII DXF.')
  const pairs = readPairs(text)
  const scale = unitOf(pairs)
  const ignored = new Set<string>()
  const byLayer = new Map<string, Path[]>()
  let count = 0
  for (const entity of entitiesOf(pairs)) {
    if (++count % 256 === 0) {
      await work.breathe()
      work.progress((0.5 * entity.at) / pairs.length)
    }
    const path = pathOf(entity, scale, ignored)
    if (!path) continue
    const name = plainName(entity.pairs.find(([code]) => code === 8)?.[1] ?? '', 80) || '0'
    const list = byLayer.get(name)
    if (list) list.push(path)
    else byLayer.set(name, [path])
  }
  const layers: Layer[] = []
  const regions: Region[] = []
  const strokes: Path[] = []
  for (const [name, paths] of byLayer) {
    await work.breathe()
    const { closed, open } = joinEnds(paths)
    for (const path of open) strokes.push(path)
    if (closed.length === 0) continue
    const areas = orientByNesting(closed)
    work.progress(0.5 + (0.5 * (layers.length + 1)) / (byLayer.size + 1))
    regions.push({ key: keyOf('dxf', areas), members: [{ letter: -1, paths: areas }], dx: 0, dy: 0, layer: layers.length })
    layers.push({ id: name, name })
  }
  const box = controlBounds([...regions.flatMap((r) => regionPaths(r)), ...strokes])
  const reach = Math.max(...box.map((v) => (Number.isFinite(v) ? Math.abs(v) : 0)))
  if (reach > 1e6)
    throw new FormatError(`The DXF file places shapes ${Math.round(reach / 1e6).toLocaleString('en')} km away, beyond a kilometre.`, 'Check its units.')
  return { outline: { kind: 'outline', regions, strokes, letters: [], layers, lattice: latticeFor(reach) }, ignored: [...ignored] }
}

function readPairs(text: string): Pair[] {
  const lines = text.split(/\r\n|\r|\n/)
  const pairs: Pair[] = []
  for (let i = 0; i + 1 < lines.length; i += 2) {
    const code = Number(lines[i].trim())
    if (!Number.isInteger(code) || lines[i].trim() === '')
      throw new FormatError(`The DXF file is damaged at line ${i + 1}: no group code.`, 'Export it again as ASCII DXF.')
    if (pairs.push([code, lines[i + 1]]) > MAX_PAIRS) throw new FormatError('The DXF file has more than four million values.', 'Export a part of the drawing.')
    if (code === 0 && lines[i + 1].trim() === 'EOF') break
  }
  if (!pairs.some(([code, value]) => code === 2 && value.trim() === 'ENTITIES'))
    throw new FormatError('The file is no DXF drawing, or it has no ENTITIES section.')
  return pairs
}

function unitOf(pairs: readonly Pair[]): number {
  const at = pairs.findIndex(([code, value]) => code === 9 && value.trim() === '$INSUNITS')
  return (at >= 0 && pairs[at + 1]?.[0] === 70 && UNITS[Number(pairs[at + 1][1])]) || 1
}

function* entitiesOf(pairs: readonly Pair[]): Generator<Entity> {
  let i = pairs.findIndex(([code, value]) => code === 2 && value.trim() === 'ENTITIES') + 1
  let count = 0
  let polyline: Pair[] | undefined
  while (i < pairs.length) {
    const type = pairs[i][1].trim().toUpperCase()
    if (pairs[i][0] !== 0) {
      i++
      continue
    }
    if (type === 'ENDSEC' || type === 'EOF') return
    // the points of a polyline count as little as those of any other curve
    if (type !== 'VERTEX' && ++count > MAX_ENTITIES) throw new FormatError('The DXF file has more than 200,000 entities.', 'Export a part of the drawing.')
    let j = i + 1
    while (j < pairs.length && pairs[j][0] !== 0) j++
    const own = pairs.slice(i + 1, j)
    const at = i
    i = j
    // an old POLYLINE keeps its points in the VERTEX entities after it
    if (type === 'POLYLINE') polyline = [...own.filter(([code]) => ![10, 20, 30].includes(code))]
    else if (type === 'VERTEX') polyline?.push(...own.filter(([code]) => [10, 20, 42].includes(code)))
    else if (type === 'SEQEND') {
      if (polyline) yield { type: 'LWPOLYLINE', pairs: polyline, at }
      polyline = undefined
    } else yield { type, pairs: own, at }
  }
}

function pathOf({ type, pairs }: Entity, scale: number, ignored: Set<string>): Path | undefined {
  const value = (code: number, otherwise = Number.NaN) => {
    const pair = pairs.find(([c]) => c === code)
    return pair ? Number(pair[1]) : otherwise
  }
  const mm = (code: number, otherwise = Number.NaN) => value(code, otherwise) * scale
  // an extrusion direction of −Z mirrors the entity's own plane
  const mirror = value(230, 1) < 0 ? -1 : 1
  try {
    switch (type) {
      case 'LINE': {
        const path = new PathBuilder(mm(10), mm(20))
        path.lineTo(mm(11), mm(21))
        return path.segments > 0 ? path.build(false) : undefined
      }
      case 'CIRCLE':
        return ellipsePath(mirror * mm(10), mm(20), mm(40), 0, mm(40), 0, 2 * Math.PI, true)
      case 'ARC': {
        const [from, to] = [value(50), value(51)].map((degrees) => (degrees * Math.PI) / 180)
        const sweep = (((to - from) % (2 * Math.PI)) + 2 * Math.PI) % (2 * Math.PI) || 2 * Math.PI
        const arc = ellipsePath(mm(10), mm(20), mm(40), 0, mm(40), from, from + sweep, false)
        return mirror < 0 ? mirrored(arc) : arc
      }
      case 'ELLIPSE': {
        const [from, to] = [value(41, 0), value(42, 2 * Math.PI)]
        // once round is all there is of it, however far its parameters are apart
        const sweep = Math.abs(to - from) >= 2 * Math.PI ? 2 * Math.PI : to > from ? to - from : to - from + 2 * Math.PI
        if (!(Math.abs(from) < 1e6)) throw new RangeError('an ellipse begins nowhere')
        const [ax, ay] = [mm(11), mm(21)]
        const minor = Math.hypot(ax, ay) * value(40) * mirror
        return ellipsePath(mm(10), mm(20), ax, ay, minor, from, from + sweep, Math.abs(sweep - 2 * Math.PI) < 1e-6)
      }
      case 'LWPOLYLINE':
        return polylinePath(pairs, scale, mirror)
      case 'SPLINE':
        return splinePath(pairs, scale)
      case 'POINT':
        return undefined
      default:
        ignored.add(type.slice(0, 20))
        return undefined
    }
  } catch (error) {
    if (!(error instanceof RangeError)) throw error
    ignored.add(`a damaged ${type}`)
    return undefined
  }
}

function mirrored(path: Path): Path {
  return { ...path, coords: path.coords.map((v, i) => (i % 2 === 0 ? -v : v)) }
}

/** Elliptic arc about (cx, cy), long axis (ax, ay), short half axis `minor`, between eccentric angles; cubics within 10⁻⁴ of the radius. */
function ellipsePath(cx: number, cy: number, ax: number, ay: number, minor: number, from: number, to: number, closed: boolean): Path {
  const major = Math.hypot(ax, ay)
  if (!(major > 0) || !Number.isFinite(minor)) throw new RangeError('an ellipse needs a radius')
  const [bx, by] = [(-ay / major) * minor, (ax / major) * minor]
  const at = (t: number) => [cx + ax * Math.cos(t) + bx * Math.sin(t), cy + ay * Math.cos(t) + by * Math.sin(t)]
  const slope = (t: number) => [-ax * Math.sin(t) + bx * Math.cos(t), -ay * Math.sin(t) + by * Math.cos(t)]
  const steps = Math.max(1, Math.ceil(Math.abs(to - from) / (Math.PI / 4) - 1e-9))
  const path = new PathBuilder(...(at(from) as [number, number]))
  const k = (4 / 3) * Math.tan((to - from) / steps / 4)
  for (let i = 0; i < steps; i++) {
    const [t, u] = [from + ((to - from) * i) / steps, from + ((to - from) * (i + 1)) / steps]
    const [[x0, y0], [x1, y1], [dx0, dy0], [dx1, dy1]] = [at(t), at(u), slope(t), slope(u)]
    path.cubicTo(x0 + k * dx0, y0 + k * dy0, x1 - k * dx1, y1 - k * dy1, x1, y1)
  }
  return path.build(closed)
}

function polylinePath(pairs: readonly Pair[], scale: number, mirror: number): Path | undefined {
  const points: { x: number; y: number; bulge: number }[] = []
  let flags = 0
  for (const [code, text] of pairs) {
    const v = Number(text)
    if (code === 70) flags = v
    else if (code === 10) points.push({ x: mirror * v * scale, y: Number.NaN, bulge: 0 })
    else if (code === 20 && points.length > 0) points[points.length - 1].y = v * scale
    else if (code === 42 && points.length > 0) points[points.length - 1].bulge = mirror * v
  }
  if (points.length < 2) return undefined
  const closed = (flags & 1) === 1
  const path = new PathBuilder(points[0].x, points[0].y)
  for (let i = 0; i < points.length - (closed ? 0 : 1); i++) bulgeTo(path, points[i], points[(i + 1) % points.length])
  return path.segments > 0 ? path.build(closed) : undefined
}

/** Adds a side of a polyline; its bulge is the tangent of a quarter of the arc's angle, positive to the left. */
function bulgeTo(path: PathBuilder, a: { x: number; y: number; bulge: number }, b: { x: number; y: number }): void {
  const { bulge } = a
  if (Math.abs(bulge) < 1e-9) {
    path.lineTo(b.x, b.y)
    return
  }
  const angle = 4 * Math.atan(bulge)
  const steps = Math.max(1, Math.ceil(Math.abs(angle) / (Math.PI / 4)))
  const [dx, dy] = [b.x - a.x, b.y - a.y]
  // the middle lies beside the chord's middle, at the sagitta's complement
  const h = (1 - bulge * bulge) / (4 * bulge)
  const [cx, cy] = [(a.x + b.x) / 2 - dy * h, (a.y + b.y) / 2 + dx * h]
  const [rx, ry] = [a.x - cx, a.y - cy]
  const k = (4 / 3) * Math.tan(angle / steps / 4)
  for (let i = 0; i < steps; i++) {
    const at = (t: number) => [rx * Math.cos(t) - ry * Math.sin(t), rx * Math.sin(t) + ry * Math.cos(t)]
    const [[x0, y0], [x1, y1]] = [at((angle * i) / steps), at((angle * (i + 1)) / steps)]
    const end = i === steps - 1 ? [b.x, b.y] : [cx + x1, cy + y1]
    path.cubicTo(cx + x0 - k * y0, cy + y0 + k * x0, cx + x1 + k * y1, cy + y1 - k * x1, end[0], end[1])
  }
}

/** A B-spline of degree 1 to 3 as Béziers, each by its polar form (Ramshaw 1989, "Blossoms are polar forms"); weights of a rational one must be equal. */
function splinePath(pairs: readonly Pair[], scale: number): Path | undefined {
  const degree = Number(pairs.find(([c]) => c === 71)?.[1] ?? 3)
  const closed = (Number(pairs.find(([c]) => c === 70)?.[1] ?? 0) & 1) === 1
  const knots = pairs.filter(([c]) => c === 40).map(([, v]) => Number(v))
  const weights = pairs.filter(([c]) => c === 41).map(([, v]) => Number(v))
  const xs = pairs.filter(([c]) => c === 10).map(([, v]) => Number(v) * scale)
  const ys = pairs.filter(([c]) => c === 20).map(([, v]) => Number(v) * scale)
  if (![1, 2, 3].includes(degree) || xs.length !== ys.length || xs.length <= degree) throw new RangeError('spline')
  if (knots.length !== xs.length + degree + 1 || knots.some((v, i) => !Number.isFinite(v) || (i > 0 && v < knots[i - 1]))) throw new RangeError('knots')
  if (weights.some((w) => Math.abs(w - weights[0]) > 1e-9 * Math.abs(weights[0]))) throw new RangeError('weights')
  /** the polar form of the piece that begins at knot k */
  const blossom = (of: readonly number[], k: number, at: readonly number[]): number => {
    const d = of.slice(k - degree, k + 1)
    for (let r = 1; r <= degree; r++) {
      for (let j = degree; j >= r; j--) {
        const i = k - degree + j
        const span = knots[i + degree - r + 1] - knots[i]
        const f = span === 0 ? 0 : (at[r - 1] - knots[i]) / span
        d[j] = d[j - 1] + f * (d[j] - d[j - 1])
      }
    }
    return d[degree]
  }
  let path: PathBuilder | undefined
  for (let k = degree; k < xs.length; k++) {
    const [u, v] = [knots[k], knots[k + 1]]
    if (u === v) continue
    const points = Array.from({ length: degree + 1 }, (_, i): [number, number] => {
      const at = Array.from({ length: degree }, (_, j) => (j < degree - i ? u : v))
      return [blossom(xs, k, at), blossom(ys, k, at)]
    })
    path ??= new PathBuilder(...points[0])
    if (degree === 1) path.lineTo(...points[1])
    else if (degree === 2) path.quadraticTo(...points[1], ...points[2])
    else path.cubicTo(...points[1], ...points[2], ...points[3])
  }
  return path && path.segments > 0 ? path.build(closed) : undefined
}

/** Joins open paths end to end where their ends meet; what closes on itself is closed. */
function joinEnds(paths: readonly Path[]): { closed: Path[]; open: Path[] } {
  const closes = (p: Path) => p.closed || (p.verbs.length > 1 && near(startOf(p), endOf(p)))
  const closed = paths.filter(closes)
  const rest = paths.filter((p) => !closes(p))
  // ends by the cells of a grid, twice as wide as ends may be apart: what is near lies in one of at most four
  const cell = (v: number) => Math.floor(v / (2 * JOIN))
  const ends = new Map<string, Path[]>()
  for (const p of rest) {
    for (const [x, y] of [startOf(p), endOf(p)]) {
      const key = `${cell(x)},${cell(y)}`
      const list = ends.get(key)
      if (list) list.push(p)
      else ends.set(key, [p])
    }
  }
  const used = new Set<Path>()
  /** one not used yet that has an end here */
  const nextAt = ([x, y]: readonly [number, number]): Path | undefined => {
    for (const u of new Set([cell(x - JOIN), cell(x + JOIN)])) {
      for (const v of new Set([cell(y - JOIN), cell(y + JOIN)])) {
        const list = ends.get(`${u},${v}`) ?? []
        // those used up are dropped for good, so that many in one place are not gone through again and again
        while (list.length > 0 && used.has(list[list.length - 1])) list.pop()
        const next = list.findLast((p) => !used.has(p) && (near(startOf(p), [x, y]) || near(endOf(p), [x, y])))
        if (next) return next
      }
    }
    return undefined
  }
  const grow = (first: Path): Path => {
    const chain = [first]
    for (;;) {
      const at = endOf(chain[chain.length - 1])
      const next = nextAt(at)
      if (!next) return chained(chain)
      used.add(next)
      chain.push(near(startOf(next), at) ? next : reversePath(next))
    }
  }
  const open: Path[] = []
  for (const p of rest) {
    if (used.has(p)) continue
    used.add(p)
    const chain = grow(p)
    if (near(startOf(chain), endOf(chain))) closed.push(chain)
    // what comes before it is found by going back; it keeps its own direction
    else open.push(reversePath(grow(reversePath(chain))))
  }
  return { closed: closed.map((p) => ({ ...p, closed: true })), open }
}

const startOf = (p: Path): readonly [number, number] => [p.coords[0], p.coords[1]]
const endOf = (p: Path): readonly [number, number] => [p.coords[p.coords.length - 2], p.coords[p.coords.length - 1]]
const near = (a: readonly number[], b: readonly number[]) => Math.hypot(a[0] - b[0], a[1] - b[1]) <= JOIN

/** Paths of which each begins where the one before ends, as one. */
function chained(chain: readonly Path[]): Path {
  if (chain.length === 1) return chain[0]
  const sum = (of: (p: Path) => number) => chain.reduce((total, p) => total + of(p), 0)
  const verbs = new Uint8Array(sum((p) => p.verbs.length))
  const coords = new Float64Array(2 + sum((p) => p.coords.length - 2))
  coords.set(chain[0].coords.subarray(0, 2))
  let [v, c] = [0, 2]
  for (const p of chain) {
    verbs.set(p.verbs, v)
    coords.set(p.coords.subarray(2), c)
    v += p.verbs.length
    c += p.coords.length - 2
  }
  return { verbs, coords, closed: false }
}

/** Outer lines counter-clockwise, those inside an odd number of others clockwise: holes. */
function orientByNesting(paths: readonly Path[]): Path[] {
  const rings = paths.map((path) => flattenPath({ ...path, closed: true }, { tolerance: 0.02, maxTurn: 12 }).xy)
  const depths = nestingDepths(rings)
  return paths.map((path, i) => (doubleArea(rings[i]) > 0 === (depths[i] % 2 === 0) ? path : reversePath(path)))
}

/**
 * An Outline as ASCII DXF (R2000, millimetres): one SPLINE for every curve and one LINE for every straight side, exact, on
 * a layer of each layer's name.
 */
export function writeDxf(outline: Outline): string {
  const out: (string | number)[] = []
  const put = (code: number, value: string | number) => out.push(code, typeof value === 'number' ? Number(value.toFixed(6)) : value)
  const name = (text: string) => text.replace(/[^\p{L}\p{N}_$ -]/gu, '_').slice(0, 80) || '0'
  put(0, 'SECTION')
  put(2, 'HEADER')
  put(9, '$ACADVER')
  put(1, 'AC1015')
  put(9, '$INSUNITS')
  put(70, 4)
  put(0, 'ENDSEC')
  put(0, 'SECTION')
  put(2, 'TABLES')
  put(0, 'TABLE')
  put(2, 'LAYER')
  put(70, outline.layers.length)
  for (const layer of outline.layers) {
    put(0, 'LAYER')
    put(2, name(layer.name))
    put(70, 0)
    put(62, 7)
    put(6, 'CONTINUOUS')
  }
  put(0, 'ENDTAB')
  put(0, 'ENDSEC')
  put(0, 'SECTION')
  put(2, 'ENTITIES')
  const write = (path: Path, layer: string) => {
    const c = path.coords
    let o = 0
    const line = (x0: number, y0: number, x1: number, y1: number) => {
      put(0, 'LINE')
      put(100, 'AcDbEntity')
      put(8, layer)
      put(100, 'AcDbLine')
      for (const [code, v] of [[10, x0], [20, y0], [30, 0], [11, x1], [21, y1], [31, 0]] as const) put(code, v) // biome-ignore format: pairs
    }
    for (const verb of path.verbs) {
      if (verb === LINE) line(c[o], c[o + 1], c[o + 2], c[o + 3])
      else {
        put(0, 'SPLINE')
        put(100, 'AcDbEntity')
        put(8, layer)
        put(100, 'AcDbSpline')
        put(70, 8)
        put(71, verb)
        put(72, 2 * verb + 2)
        put(73, verb + 1)
        put(74, 0)
        for (let k = 0; k < 2 * verb + 2; k++) put(40, k <= verb ? 0 : 1)
        for (let k = 0; k <= verb; k++) for (const [code, v] of [[10, c[o + 2 * k]], [20, c[o + 2 * k + 1]], [30, 0]] as const) put(code, v) // biome-ignore format: pairs
      }
      o += 2 * verb
    }
    if (path.closed && (c[o] !== c[0] || c[o + 1] !== c[1])) line(c[o], c[o + 1], c[0], c[1])
  }
  for (const region of outline.regions) for (const path of bordersOf(region)) write(path, name(outline.layers[region.layer]?.name ?? '0'))
  for (const path of outline.strokes) write(path, '0')
  put(0, 'ENDSEC')
  put(0, 'EOF')
  return `${out.join('\n')}\n`
}
