import { checkMesh } from '@kelvar/core/check/check'
import { Memo } from '@kelvar/core/evaluate/memo'
import type { RouteStep } from '@kelvar/core/document/schema'
import { evaluateRoute, type RouteReport } from '@kelvar/core/evaluate/route'
import { FontFace } from '@kelvar/core/font/face'
import { bordersOf } from '@kelvar/core/outline/areas'
import { type Picture, readPicture } from '@kelvar/core/format/picture'
import { regionRidge } from '@kelvar/core/steps/forming'
import { loadManifold } from '@kelvar/core/kernel/manifold'
import { type Outline, placedPaths } from '@kelvar/core/outline/outline'
import { alternatesOf, drawPaths } from '@kelvar/core/steps/lettering/alternates'
import { featurePreviews } from '@kelvar/core/steps/lettering/previews'
import { type LetteringParams, letteringParams } from '@kelvar/core/steps/lettering/schema'
import { letterShapes, specimen } from '@kelvar/core/steps/lettering/specimen'
import { editableShapes, textOf } from '@kelvar/core/steps/redraw/index'
import { type AssetSource, MissingAssetError, type StepIssue } from '@kelvar/core/steps/step'
import { expose, type Remote, releaseProxy, transfer } from 'comlink'
import { arranged, lettersApart, merged } from '@kelvar/core/solid/arrange'
import type { Solid } from '@kelvar/core/solid/solid'
import type { DispatchFormat, DispatchOptions, MakerApi, OutlineDrawing, RouteNews, StepNews, Work } from './messages'
import { meshBuffers, viewMesh } from './view-mesh'

type SolidFormat = Exclude<DispatchFormat, 'svg' | 'dxf'>

const memo = new Memo()
const fonts = new Map<string, Promise<FontFace>>()

const assets: AssetSource = {
  font(sha256) {
    let face = fonts.get(sha256)
    if (!face) {
      face = openFont(sha256)
      fonts.set(sha256, face)
      // a failed fetch is tried again next time; a font that is broken stays broken
      face.catch((error) => {
        if (!(error instanceof MissingAssetError)) return
        fonts.delete(sha256)
      })
    }
    return face
  },
  async file(sha256) {
    const response = await fetch(`/api/assets/${sha256}`).catch(() => undefined)
    if (!response?.ok) throw new MissingAssetError(sha256)
    return new Uint8Array(await response.arrayBuffer())
  },
  async picture(sha256) {
    return readPicture(await this.file(sha256), readWebp)
  },
}

/** The browser's own WebP reader, which is the same library in all of them. */
async function readWebp(bytes: Uint8Array): Promise<Picture> {
  const image = await createImageBitmap(new Blob([bytes as BlobPart], { type: 'image/webp' }), { premultiplyAlpha: 'none', colorSpaceConversion: 'none' })
  try {
    const { width, height } = image
    const context = new OffscreenCanvas(width, height).getContext('2d', { willReadFrequently: true })
    if (!context) throw new Error('no canvas')
    context.drawImage(image, 0, 0)
    return { width, height, rgba: context.getImageData(0, 0, width, height).data }
  } finally {
    image.close()
  }
}

async function openFont(sha256: string): Promise<FontFace> {
  const response = await fetch(`/api/assets/${sha256}`).catch(() => undefined)
  if (!response?.ok) throw new MissingAssetError(sha256)
  return FontFace.open(new Uint8Array(await response.arrayBuffer()), sha256)
}

let running: AbortController | undefined
let dispatching: AbortController | undefined

const api: MakerApi = {
  async make(work, until, known, progress) {
    running?.abort()
    const controller = new AbortController()
    running = controller
    let told = 0
    try {
      const report = await evaluateRoute(work.route, {
        ...projectOf(work),
        until,
        signal: controller.signal,
        onProgress: (step, done) => {
          const now = performance.now()
          if (now - told < 60) return
          told = now
          progress(step, done)
        },
      })
      const news = tell(report)
      if (report.value?.kind !== 'solid' || report.key === known) return news
      const mesh = viewMesh(report.value)
      return transfer({ ...news, mesh }, meshBuffers(mesh))
    } catch (error) {
      if (controller.signal.aborted) return null
      throw error
    } finally {
      // each call brings a message port of its own, which would stay open for good
      ;(progress as unknown as Remote<() => void>)[releaseProxy]()
    }
  },

  async picture(work, until) {
    const { value, key } = await evaluateRoute(work.route, { ...projectOf(work), until })
    if (value?.kind !== 'solid' || !key) return null
    const mesh = viewMesh(value)
    return transfer({ key, mesh }, meshBuffers(mesh))
  },

  async stop() {
    running?.abort()
  },

  async before(work, step) {
    const route = routeBefore(work, step)
    let { value } = await evaluateRoute(route, projectOf(work))
    if (value?.kind === 'outline') value = (await evaluateRoute([...route, SHEET], projectOf(work))).value
    if (value?.kind !== 'solid') return null
    const mesh = viewMesh(value)
    return transfer(mesh, meshBuffers(mesh))
  },

  async check(work, until) {
    const value = (await evaluateRoute(work.route, { ...projectOf(work), until })).value
    return value?.kind === 'solid' ? checkMesh(value) : null
  },

  async stopDispatch() {
    dispatching?.abort()
  },

  async dispatch(work, format, name, options) {
    const controller = new AbortController()
    dispatching = controller
    try {
      return await written(work, format, name, options, controller.signal)
    } catch (error) {
      if (controller.signal.aborted) return null
      throw error
    }
  },

  async board(work, step) {
    const { value, key } = await evaluateRoute(routeBefore(work, step), projectOf(work))
    if (value?.kind !== 'outline' || !key) return null
    return memo.get(`board:${key}`, () => ({
      key,
      text: textOf(value),
      shapes: editableShapes(value).map(({ at: letter, text, paths }) => ({ at: letter, text, paths })),
      guides: value.guides ?? [],
      drawing: drawOutline(value),
    }))
  },

  async strokes(work, step) {
    const { value } = await evaluateRoute(routeBefore(work, step), projectOf(work))
    if (value?.kind !== 'outline' || value.regions.length === 0) return null
    await loadManifold()
    const halves = value.regions.map((region) => regionRidge(memo, region, STROKE_TOLERANCE, value.lattice)).filter((half) => half > 0.01)
    return halves.length > 0 ? { least: Math.min(...halves), most: Math.max(...halves) } : null
  },

  async openStrokes(work) {
    const { steps } = await evaluateRoute(work.route, projectOf(work))
    const strokes = steps.flatMap(({ value }) => (value?.kind === 'outline' ? value.strokes : []))
    return strokes.filter((path, i) => path.verbs.length > 0 && strokes.findIndex((other) => other === path) === i).slice(0, MOST_STROKES)
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

const projectOf = ({ piece, others }: Work) => ({ assets, memo, piece, pieces: others })

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

/** A file of a route's result. Looks for the signal between its parts; throws when it was given. */
async function written(
  work: Work,
  format: DispatchFormat,
  name: string,
  options: DispatchOptions,
  signal: AbortSignal,
): Promise<{ bytes: Uint8Array } | { issue: StepIssue }> {
  const report = await evaluateRoute(work.route, { ...projectOf(work), signal })
  const issue = report.steps.flatMap((s) => s.issues).find((i) => i.severity === 'failed')
  if (issue) return { issue }
  const { value } = report
  if (!value) return { issue: nothingMade }
  if (format === 'svg' || format === 'dxf') {
    const outline = report.steps.map((s) => s.value).findLast((v) => v?.kind === 'outline')
    if (outline?.kind !== 'outline') return { issue: nothingMade }
    await loadManifold()
    if (format === 'dxf') {
      const { writeDxf } = await import('@kelvar/core/format/dxf')
      return { bytes: new TextEncoder().encode(writeDxf(outline)) }
    }
    const { writeSvg } = await import('@kelvar/core/format/svg')
    return { bytes: new TextEncoder().encode(writeSvg(outline)) }
  }
  if (value.kind !== 'solid')
    return {
      issue: {
        code: 'no-solid',
        severity: 'failed',
        message: 'The route ends with an outline; there is no solid to write.',
        remedy: 'Insert a form such as Extrude.',
      },
    }
  const solid = arranged(value, options)
  // rounding may have done harm that only shows now
  if (options.scale !== 1 && !checkMesh(solid).sound) return { issue: unsoundScaled }
  if (options.parts === 'letters') return { bytes: await letterArchive(solid, format, name, signal) }
  return { bytes: await writeSolid(options.parts === 'merged' ? merged(solid) : solid, format, name) }
}

async function writeSolid(solid: Solid, format: SolidFormat, name: string): Promise<Uint8Array> {
  switch (format) {
    case 'stl':
      return (await import('@kelvar/core/format/stl')).writeStl(solid)
    case '3mf':
      return (await import('@kelvar/core/format/3mf')).write3mf(solid, name)
    case 'ply':
      return (await import('@kelvar/core/format/ply')).writePly(solid)
    case 'obj':
      return (await import('@kelvar/core/format/obj')).writeObjArchive(solid, name)
    case 'glb':
      return (await import('@kelvar/core/format/glb')).writeGlb(solid, name)
  }
}

/** A file for every letter in one archive, numbered in their order. */
async function letterArchive(solid: Solid, format: SolidFormat, name: string, signal: AbortSignal): Promise<Uint8Array> {
  const { strToU8 } = await import('fflate')
  const { archive } = await import('@kelvar/core/format/archive')
  const { writeObj } = await import('@kelvar/core/format/obj')
  const files: Record<string, Uint8Array> = {}
  const parts = lettersApart(solid)
  for (const [i, part] of parts.entries()) {
    // lets a word to stop in
    await new Promise((resolve) => setTimeout(resolve))
    signal.throwIfAborted()
    const called = `${String(i + 1).padStart(String(parts.length).length, '0')}-${part.name.replace(/[^\p{L}\p{N}]+/gu, '').slice(0, 20) || 'part'}`
    if (format === 'obj') {
      const { obj, mtl } = writeObj(part.solid, `${name} ${called}`, `${called}.mtl`)
      Object.assign(files, { [`${called}.obj`]: strToU8(obj), [`${called}.mtl`]: strToU8(mtl) })
    } else files[`${called}.${format}`] = await writeSolid(part.solid, format, `${name} ${called}`)
  }
  return archive(files)
}

const unsoundScaled: StepIssue = {
  code: 'unsound',
  severity: 'failed',
  message: 'At this scale some details are finer than the file can hold, and the solid would no longer be sound.',
  remedy: 'Choose a larger scale, or set the size in the steps themselves.',
}

const nothingMade: StepIssue = {
  code: 'nothing-made',
  severity: 'failed',
  message: 'The route makes nothing.',
  remedy: 'Insert a source such as Lettering, or switch one on.',
}

function tell(report: RouteReport): RouteNews {
  const steps = report.steps.map((s): StepNews => {
    const { id, state, key, issues, ms, triangles, value, told } = s
    const news = { id, state, key, issues, ms, triangles, told, gives: value?.kind }
    if (value?.kind !== 'outline') return news
    const layers = value.layers.map(({ id: layer, name, colour }) => ({ id: layer, name, colour }))
    return { ...news, layers, drawing: memo.get(`drawing:${key}`, () => drawOutline(value)) }
  })
  return { steps, key: report.key, complete: report.complete, ms: report.ms }
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

expose(api)
// the page holds its first request until this: a message sent while a module is still loading can be lost
postMessage('ready')
