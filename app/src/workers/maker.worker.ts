import { deformedFrom } from '@kelvar/core/deform/deform'
import { effectiveParams, masksAtRest } from '@kelvar/core/steps/fields'
import { stepKind } from '@kelvar/core/steps/registry'
import { masked } from '@kelvar/core/mask/masked'
import { maskSchema } from '@kelvar/core/mask/schema'
import { nextTask } from '@kelvar/core/cache/breathing'
import { Memo } from '@kelvar/core/cache/memo'
import { checkMesh } from '@kelvar/core/check/check'
import { thinnestWall } from '@kelvar/core/join/thinnest'
import { bringMaskFiles } from '@kelvar/core/steps/shared/mask-files'
import { paramsAtMoment, START } from '@kelvar/core/document/moment'
import type { RouteStep } from '@kelvar/core/document/schema'
import { type Planned, planRoute } from '@kelvar/core/evaluate/plan'
import { type EvaluateOptions, evaluateRoute, resultKey, type RouteReport } from '@kelvar/core/evaluate/route'
import { type FontFace, loadHarfBuzz } from '@kelvar/core/font/face'
import { loadManifold } from '@kelvar/core/kernel/manifold'
import { bordersOf } from '@kelvar/core/outline/areas'
import { editableShapes, textOf } from '@kelvar/core/outline/letter-shapes'
import { type Outline, placedPaths } from '@kelvar/core/outline/outline'
import { checkAssembly } from '@kelvar/core/repeat/check'
import { type Assembly, assemblyTriangles, bakedAssembly } from '@kelvar/core/solid/assembly'
import { type Solid, triangleCount } from '@kelvar/core/solid/solid'
import { regionRidge } from '@kelvar/core/steps/shared/forming'
import { alternatesOf, drawPaths } from '@kelvar/core/steps/source/lettering/alternates'
import { featurePreviews } from '@kelvar/core/steps/source/lettering/previews'
import { type LetteringParams, letteringParams } from '@kelvar/core/steps/source/lettering/schema'
import { letterShapes, specimen } from '@kelvar/core/steps/source/lettering/specimen'
import type { Value } from '@kelvar/core/steps/step'
import { LRUCache } from 'lru-cache'
import { expose, type Remote, releaseProxy, transfer } from 'comlink'
import { workerAssets } from './assets'
import { workerBakes } from './bakes'
import type { MakerApi, OutlineDrawing, RouteNews, StepNews, Work } from './messages'
import { lighterMesh } from './reduced-mesh'
import { inSharedMemory, MadeElsewhere, SharedMemory, type SharedNews } from './shared-results'
import { WorkerThreads } from './threads'
import { bodyOf, inMaterials, meshBuffers, meshTriangles, valueMesh, valueSurfaces, type ViewMesh, viewMesh } from './view-mesh'
import { buildTree, treeBuffers } from './view-tree'
import { written } from './writing'

const memo = new Memo()
/** results that are others at other moments */
const frames = new Memo(128 * 1024 * 1024)
const assets = workerAssets()
/** what other workers have made lies in it */
const memory = new SharedMemory()
let results: MessagePort | undefined
const threads = new WorkerThreads()
const elsewhere = new MadeElsewhere((news) => results?.postMessage(news))

/** What the page is told of a step besides: an outline's picture and layers. */
interface Note {
  readonly drawing: OutlineDrawing
  readonly layers: NonNullable<StepNews['layers']>
  readonly strokes: Outline['strokes']
}

const noteOf = (value: Value): Note | undefined =>
  value.kind === 'outline'
    ? { drawing: drawOutline(value), layers: value.layers.map(({ id, name, colour }) => ({ id, name, colour })), strokes: value.strokes }
    : undefined

/** Hands a result on to the other workers, and keeps it in memory that they share. */
const shareResult: NonNullable<EvaluateOptions['share']> = (key, outcome) => {
  if (!outcome.ok || outcome.value.kind === 'outline') return outcome
  const shared = inSharedMemory(outcome)
  results?.postMessage(memory.packed(key, shared))
  return shared
}

const evaluate = ({ piece, route, others, place, tracks, rate, moment, project }: Work, options: Partial<EvaluateOptions> = {}): Promise<RouteReport> =>
  evaluateRoute(route, {
    assets,
    bakes: workerBakes(project),
    threads,
    elsewhere,
    memo,
    frames,
    piece,
    pieces: others,
    place,
    tracks,
    rate,
    ...(moment ? { moment } : {}),
    note: noteOf,
    share: shareResult,
    ...options,
  })

const planOf = (work: Work, until: string | undefined) =>
  planRoute(work.route, {
    pieces: work.others,
    behind: [work.piece],
    place: work.place,
    until,
    paramsAt: (step) => paramsAtMoment(step, work.moment ?? START),
  })

/** A first sight is so many times as coarse, of steps that took longer than this the last time, ms, or have not been made yet. */
const ROUGH = 3
const QUICK = 400
const took = new LRUCache<string, number>({ max: 1000 })

/** What a route comes to on the whole, made coarser and quicker; undefined where it needs no first sight, or has none. */
async function firstSight(work: Work, until: string | undefined, shown: string | undefined, signal: AbortSignal, begun: (step: string) => void) {
  if (work.moment || !work.route.some(({ kind }) => stepKind(kind)?.roughly)) return undefined
  const plan = planOf(work, until)
  const long = ({ key, kind, step }: Planned) => key !== undefined && kind?.roughly && !memo.peek(resultKey(key)) && (took.get(step.id) ?? Infinity) > QUICK
  // what the page shows already needs none, also where it is not at hand here any more
  if (!plan.some(long) || plan.findLast(({ state }) => state === 'ready')?.key === shown) return undefined
  const wanted = new Set(plan.map(({ key }) => key))
  const { value, key, complete } = await evaluate(work, {
    until,
    signal,
    rough: ROUGH,
    onProgress: begun,
    // nobody else has a use for what is rough
    share: (of, outcome) => (wanted.has(of) ? shareResult(of, outcome) : outcome),
  })
  return complete && value && key && value.kind !== 'outline' && !wanted.has(key) ? { key, mesh: valueMesh(value) } : undefined
}

const jobs = new Map<number, AbortController>()

/** Runs a job that may be stopped by its number. */
async function stoppable<T>(job: number, work: (signal: AbortSignal) => Promise<T>): Promise<T> {
  const controller = new AbortController()
  jobs.set(job, controller)
  try {
    // while the worker was busy it may have been asked for many things, all but the last of which are not wanted any more
    await nextTask()
    controller.signal.throwIfAborted()
    return await work(controller.signal)
  } finally {
    jobs.delete(job)
  }
}

/** The route's result; undefined when it is no solid and no assembly. */
async function solidOf(work: Work, options: Partial<EvaluateOptions>): Promise<{ solid: Solid | Assembly; key: string } | undefined> {
  const { value, key } = await evaluate(work, options)
  return value && key && value.kind !== 'outline' ? { solid: value, key } : undefined
}

/** What stands before a step, an outline as a sheet. */
async function solidBefore(work: Work, step: string, signal: AbortSignal) {
  const route = routeBefore(work, step)
  const { value } = await evaluate({ ...work, route }, { signal })
  return solidOf({ ...work, route: value?.kind === 'outline' ? [...route, SHEET] : route }, { signal })
}

/** What of an assembly a mask is shown on: what carries the copies, or all of them where nothing does. */
function maskedPart(assembly: Assembly): Solid {
  const body = bodyOf(assembly)
  return triangleCount(body) > 0 || assemblyTriangles(assembly) > HEAVY ? body : bakedAssembly(assembly)
}

/** Triangles of the mesh for a small picture. */
const PICTURE_TRIANGLES = 40_000
/** A mesh of more triangles than this gets a lighter one that is shown while the view is turned. */
const HEAVY = 250_000
/** Triangles of that one. */
const TURNED = 32_000

const api: MakerApi = {
  begin(port, waits) {
    results = port
    elsewhere.waits = waits
    port.onmessage = ({ data }: MessageEvent<SharedNews>) => {
      if ('key' in data) memo.put(resultKey(data.key), memory.adopted(data).outcome)
      else elsewhere.hear(data)
    }
  },

  stop(job) {
    jobs.get(job)?.abort(new DOMException('not wanted any more', 'AbortError'))
  },

  hears() {},

  async make(job, work, until, known, progress, sketch) {
    let told = 0
    let toldOf: string | undefined
    try {
      return await stoppable(job, async (signal) => {
        const sight = sketch && (await firstSight(work, until, known?.key, signal, (step) => progress(step, 0)))
        if (sight) sketch(sight.key, transfer(sight.mesh, meshBuffers(sight.mesh)))
        const report = await evaluate(work, {
          until,
          signal,
          onProgress: (step, done, of, expected) => {
            const now = performance.now()
            if (step === toldOf && now - told < 60 && expected === undefined) return
            told = now
            toldOf = step
            progress(step, done, of, expected)
          },
        })
        const news = tell(report)
        for (const { id, reused, ms } of report.steps) if (!reused && ms > 0) took.set(id, ms)
        const { value, key } = report
        // a first sight has taken the place of what was known
        const there = sight ? undefined : known
        if (!value || value.kind === 'outline' || key === there?.key) return news
        const { shape, surfaces } = valueSurfaces(value)
        if (shape === there?.shape) return { ...news, surfaces }
        const mesh = valueMesh(value)
        return transfer({ ...news, mesh }, meshBuffers(mesh))
      })
    } finally {
      // each call brings a message port of its own, which would stay open for good
      for (const told of [progress, sketch]) if (told) (told as unknown as Remote<() => void>)[releaseProxy]()
    }
  },

  keyOf(work, until) {
    const last = planOf(work, until).findLast((p) => p.state === 'ready')
    return last?.gives === 'outline' ? null : (last?.key ?? null)
  },

  pictureMesh: (job, work, until) =>
    stoppable(job, async (signal) => {
      const made = await solidOf(work, { until, signal })
      if (!made) return null
      // what is dressed in another way is made lighter once
      const { shape, surfaces } = valueSurfaces(made.solid)
      const kept = memo.peek<ViewMesh>(`picture:${shape}`)
      const mesh = kept ?? (await lighterMesh(valueMesh(made.solid), PICTURE_TRIANGLES))
      if (!kept) memo.put(`picture:${shape}`, mesh)
      return { key: made.key, mesh: inMaterials(mesh, surfaces) }
    }),

  pieceMesh: (job, work, known) =>
    stoppable(job, async (signal) => {
      const made = await solidOf(work, { signal })
      if (!made) return null
      if (made.key === known) return { key: made.key }
      const mesh = valueMesh(made.solid)
      return transfer({ key: made.key, mesh }, meshBuffers(mesh))
    }),

  before: (job, work, step) =>
    stoppable(job, async (signal) => {
      const made = await solidBefore(work, step, signal)
      if (!made) return null
      const mesh = valueMesh(made.solid)
      return transfer(mesh, meshBuffers(mesh))
    }),

  maskMesh: (job, work, step) =>
    stoppable(job, async (signal) => {
      const found = work.route.find(({ id }) => id === step)
      const kind = stepKind(found?.kind ?? '')
      if (!found || !kind) return null
      const params = effectiveParams(kind, found.params)
      const { data: mask } = maskSchema.safeParse(params.mask)
      if (!mask || mask.list.length === 0 || (await bringMaskFiles({ mask }, assets))) return null
      const made = await solidBefore(work, step, signal)
      if (!made) return null
      // of copies a mask is shown on what carries them, or on all of them
      const shown = made.solid.kind === 'solid' ? made.solid : maskedPart(made.solid)
      const other = await kind.maskedOn(made.solid, params)
      const rest = other ?? (mask.live || !masksAtRest(kind) ? shown : (deformedFrom(shown)?.from ?? shown))
      const { solid, weights } = masked(rest, mask)
      const mesh = viewMesh({ ...solid, attributes: { ...solid.attributes, weight: weights } }, true)
      const tree = buildTree(mesh)
      return transfer({ mesh, tree, texts: solid.letters }, [...meshBuffers(mesh), ...treeBuffers(tree)])
    }),

  forPicking: (job, work, until) =>
    stoppable(job, async (signal) => {
      const made = await solidOf(work, { until, signal })
      if (!made) return null
      const mesh = viewMesh(bodyOf(made.solid))
      const lighter = meshTriangles(mesh) > HEAVY ? await lighterMesh(mesh, TURNED) : undefined
      signal.throwIfAborted()
      const tree = buildTree(mesh)
      return transfer({ key: made.key, tree, ...(lighter ? { lighter } : {}) }, [...treeBuffers(tree), ...(lighter ? meshBuffers(lighter) : [])])
    }),

  check: (job, work, until) =>
    stoppable(job, async (signal) => {
      const made = await solidOf(work, { until, signal })
      if (!made) return null
      const { solid } = made
      return memo.get(`check:${valueSurfaces(solid).shape}`, () => (solid.kind === 'solid' ? checkMesh(solid) : checkAssembly(solid)))
    }),

  thinnest: (job, work, until) =>
    stoppable(job, async (signal) => {
      const made = await solidOf(work, { until, signal })
      if (made?.solid.kind !== 'solid') return null
      const { solid } = made
      return memo.get(`thinnest:${valueSurfaces(solid).shape}`, () => {
        const found = thinnestWall(solid)
        return found && Number.isFinite(found.thickness) ? found : null
      })
    }),

  dispatch: (job, work, format, name, options) => stoppable(job, (signal) => written(work, format, name, options, evaluate, signal)),

  async board(work, step) {
    const { value, key } = await evaluate({ ...work, route: routeBefore(work, step) })
    if (value?.kind !== 'outline' || !key) return null
    return memo.get(`board:${key}`, () => ({
      key,
      text: textOf(value),
      shapes: editableShapes(value).map(({ at: letter, text, paths }) => ({ at: letter, text, paths })),
      guides: value.guides ?? [],
      drawing: drawOutline(value),
    }))
  },

  async strokeHalfWidths(work, step) {
    const { value } = await evaluate({ ...work, route: routeBefore(work, step) })
    if (value?.kind !== 'outline' || value.regions.length === 0) return null
    await loadManifold()
    const halves = value.regions.map((region) => regionRidge(memo, region, STROKE_TOLERANCE, value.lattice)).filter((half) => half > 0.01)
    return halves.length > 0 ? { least: halves.reduce((a, b) => Math.min(a, b)), most: halves.reduce((a, b) => Math.max(a, b)) } : null
  },

  async openStrokes(work) {
    const { steps } = await evaluate(work)
    const strokes = new Set(steps.flatMap(({ note }) => (note as Note | undefined)?.strokes ?? []))
    return [...strokes].filter((path) => path.verbs.length > 0).slice(0, MOST_STROKES)
  },

  async specimen(sha256, words) {
    const face = await assets.font(sha256).catch(() => undefined)
    return face ? memo.get(`specimen:${sha256}:${words}`, () => specimen(face, words)) : null
  },

  async axes(sha256) {
    return (await assets.font(sha256).catch(() => undefined))?.axes ?? []
  },

  async features(params) {
    const set = await setting(params)
    return set ? featurePreviews(set.face, set.params) : []
  },

  async letters(params) {
    const set = await setting(params)
    return set ? letterShapes(set.face, set.params) : []
  },

  async alternates(params, at) {
    const set = await setting(params)
    return set ? alternatesOf(set.face, set.params, at) : []
  },
}

/** Shows an outline in space. */
const SHEET: RouteStep = {
  id: 'sheet',
  kind: 'extrude',
  on: true,
  params: { depth: 0.1, front: { profile: 'square', inset: 0, height: 0 }, back: { profile: 'square', inset: 0, height: 0 } },
}

const STROKE_TOLERANCE = 0.02
const MOST_STROKES = 24

/** What stands before a step; nothing for one that is not there. */
function routeBefore({ route }: Work, step: string): RouteStep[] {
  return route.slice(
    0,
    Math.max(
      0,
      route.findIndex((s) => s.id === step),
    ),
  )
}

/** The face and the whole parameters of a Lettering step; undefined when either is not usable, which the step itself says. */
async function setting(params: unknown): Promise<{ face: FontFace; params: LetteringParams } | undefined> {
  const parsed = letteringParams.safeParse(params)
  if (!parsed.success) return undefined
  try {
    return { face: (await assets.font(parsed.data.font.sha256)).at(parsed.data.axes), params: parsed.data }
  } catch {
    return undefined
  }
}

function tell({ steps, key, complete, ms, kernelLost }: RouteReport): RouteNews {
  const news = steps.map(({ id, state, key, issues, ms, triangles, gives, told, marks, note }): StepNews => {
    const { drawing, layers } = (note as Note | undefined) ?? {}
    return { id, state, key, issues, ms, triangles, told, marks, gives, drawing, layers }
  })
  return { steps: news, key, complete, ms, ...(kernelLost ? { kernelLost } : {}) }
}

function drawOutline(outline: Outline): OutlineDrawing {
  const { box } = drawPaths([...placedPaths(outline), ...outline.strokes])
  const parts = outline.layers.map(({ colour }, i) => ({
    path: drawPaths(outline.regions.filter((region) => region.layer === i).flatMap((region) => bordersOf(region))).path,
    ...(colour ? { colour } : {}),
  }))
  const strokes = drawPaths(outline.strokes).path
  return { box, parts: [...parts, ...(strokes ? [{ path: strokes, open: true }] : [])].filter((part) => part.path !== '') }
}

// what nearly every route needs gets ready while the page is still being put together
void loadManifold().catch(() => {})
void loadHarfBuzz().catch(() => {})

expose(api)
// the page holds its first request until this: a message sent while a module is still loading can be lost
postMessage('ready')
