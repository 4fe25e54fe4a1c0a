import { checkMesh } from '@kelvar/core/check/check'
import { Memo } from '@kelvar/core/evaluate/memo'
import { evaluateRoute, type RouteReport } from '@kelvar/core/evaluate/route'
import { FontFace } from '@kelvar/core/font/face'
import { outlineBounds, placedPaths } from '@kelvar/core/outline/outline'
import { toSvgPath } from '@kelvar/core/outline/path'
import { type AssetSource, MissingAssetError, type StepIssue } from '@kelvar/core/steps/step'
import { expose, type Remote, releaseProxy, transfer } from 'comlink'
import type { MakerApi, RouteNews, StepNews } from './messages'
import { meshBuffers, viewMesh } from './view-mesh'

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
}

async function openFont(sha256: string): Promise<FontFace> {
  const response = await fetch(`/api/assets/${sha256}`).catch(() => undefined)
  if (!response?.ok) throw new MissingAssetError(sha256)
  return FontFace.open(new Uint8Array(await response.arrayBuffer()), sha256)
}

let running: AbortController | undefined

const api: MakerApi = {
  async make(route, until, known, progress) {
    running?.abort()
    const controller = new AbortController()
    running = controller
    let told = 0
    try {
      const report = await evaluateRoute(route, {
        assets,
        memo,
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

  async picture(route, until) {
    const { value, key } = await evaluateRoute(route, { assets, memo, until })
    if (value?.kind !== 'solid' || !key) return null
    const mesh = viewMesh(value)
    return transfer({ key, mesh }, meshBuffers(mesh))
  },

  async check(route, until) {
    const value = (await evaluateRoute(route, { assets, memo, until })).value
    return value?.kind === 'solid' ? checkMesh(value) : null
  },

  async dispatch(route, format, name) {
    const report = await evaluateRoute(route, { assets, memo })
    const issue = report.steps.flatMap((s) => s.issues).find((i) => i.severity === 'failed')
    if (issue) return { issue }
    const { value } = report
    if (!value) return { issue: nothingMade }
    if (format === 'svg') {
      const outline = report.steps.map((s) => s.value).findLast((v) => v?.kind === 'outline')
      if (outline?.kind !== 'outline') return { issue: nothingMade }
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
    if (format === 'stl') {
      const { writeStl } = await import('@kelvar/core/format/stl')
      return { bytes: writeStl(value) }
    }
    const { writeGlb } = await import('@kelvar/core/format/glb')
    return { bytes: await writeGlb(value, name) }
  },
}

const nothingMade: StepIssue = {
  code: 'nothing-made',
  severity: 'failed',
  message: 'The route makes nothing.',
  remedy: 'Insert a source such as Lettering, or switch one on.',
}

function tell(report: RouteReport): RouteNews {
  const steps = report.steps.map((s): StepNews => {
    const { id, state, key, issues, ms, triangles, value } = s
    const news = { id, state, key, issues, ms, triangles, gives: value?.kind }
    if (value?.kind !== 'outline') return news
    const [x0, y0, x1, y1] = outlineBounds(value)
    return { ...news, drawing: { path: memo.get(`drawing:${key}`, () => toSvgPath(placedPaths(value), 2, true)), box: [x0, -y1, x1 - x0, y1 - y0] } }
  })
  return { steps, key: report.key, complete: report.complete, ms: report.ms }
}

expose(api)
// the page holds its first request until this: a message sent while a module is still loading can be lost
postMessage('ready')
