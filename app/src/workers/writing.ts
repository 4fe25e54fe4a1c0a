import { nextTask } from '@kelvar/core/cache/breathing'
import { checkBodies } from '@kelvar/core/check/bodies'
import { checkMesh } from '@kelvar/core/check/check'
import { NONE } from '@kelvar/core/solid/labels'
import type { EvaluateOptions, RouteReport } from '@kelvar/core/evaluate/route'
import { loadManifold } from '@kelvar/core/kernel/manifold'
import { arranged, arrangedAssembly, lettersApart, merged } from '@kelvar/core/solid/arrange'
import { asOneSolid, type Body } from '@kelvar/core/repeat/united'
import type { Assembly } from '@kelvar/core/solid/assembly'
import type { Solid } from '@kelvar/core/solid/solid'
import type { StepIssue } from '@kelvar/core/steps/step'
import type { DispatchFormat, DispatchOptions, Work } from './messages'

type SolidFormat = Exclude<DispatchFormat, 'svg' | 'dxf'>

type Evaluate = (work: Work, options: Partial<EvaluateOptions>) => Promise<RouteReport>

/** A file of a route's result. Looks for the signal between its parts; throws when it was given. */
export async function written(
  work: Work,
  format: DispatchFormat,
  name: string,
  options: DispatchOptions,
  evaluate: Evaluate,
  signal: AbortSignal,
): Promise<{ bytes: Uint8Array } | { issue: StepIssue }> {
  const outlineOnly = format === 'svg' || format === 'dxf'
  const report = await evaluate(work, outlineOnly ? { wants: 'outline', signal } : { signal })
  const issue = report.steps.flatMap((s) => s.issues).find((i) => i.severity === 'failed')
  if (issue) return { issue }
  const { value } = report
  if (!value) return { issue: nothingMade }
  if (outlineOnly) {
    if (value.kind !== 'outline') return { issue: nothingMade }
    await loadManifold()
    if (format === 'dxf') {
      const { writeDxf } = await import('@kelvar/core/format/dxf')
      return { bytes: new TextEncoder().encode(writeDxf(value)) }
    }
    const { writeSvg } = await import('@kelvar/core/format/svg')
    return { bytes: new TextEncoder().encode(writeSvg(value)) }
  }
  if (value.kind === 'outline')
    return {
      issue: {
        code: 'no-solid',
        severity: 'failed',
        message: 'The route ends with an outline; there is no solid to write.',
        remedy: 'Insert a form such as Extrude.',
      },
    }
  const keeps = (format === 'glb' || format === '3mf') && options.parts === 'dressed' && options.copies !== 'one'
  if (value.kind === 'assembly' && keeps) return { bytes: await writeCopies(arrangedAssembly(value, options), format, name, options.copies) }
  const one = value.kind === 'assembly' ? await asOneSolid(value, nextTask, true) : { ok: true as const, solid: value, bodies: [] }
  if (!one.ok) return { issue: { code: one.code, severity: 'failed', message: one.message, remedy: one.remedy } }
  const solid = arranged(one.solid, options)
  // rounding may have done harm that only shows now
  const broken = value.kind === 'assembly' && value.placements.shard.some((shard) => shard !== NONE)
  if (options.scale !== 1 && !(broken ? checkBodies(solid) : checkMesh(solid)).sound) return { issue: unsoundScaled }
  if (options.parts === 'letters') return { bytes: await letterArchive(solid, format, name, signal) }
  return { bytes: await writeSolid(options.parts === 'merged' ? merged(solid) : solid, format, name, one.bodies) }
}

/** Copies stay copies: they stand in the file once. */
async function writeCopies(assembly: Assembly, format: 'glb' | '3mf', name: string, copies: DispatchOptions['copies']): Promise<Uint8Array> {
  if (format === '3mf') return (await import('@kelvar/core/format/3mf')).write3mf(assembly, name)
  return (await import('@kelvar/core/format/glb')).writeGlb(assembly, name, copies === 'nodes' ? 'nodes' : 'instances')
}

async function writeSolid(solid: Solid, format: SolidFormat, name: string, bodies: readonly Body[] = []): Promise<Uint8Array> {
  switch (format) {
    case 'stl':
      return (await import('@kelvar/core/format/stl')).writeStl(solid)
    case '3mf':
      return (await import('@kelvar/core/format/3mf')).write3mf(solid, name)
    case 'ply':
      return (await import('@kelvar/core/format/ply')).writePly(solid)
    case 'obj':
      return (await import('@kelvar/core/format/obj')).writeObjArchive(solid, name, bodies)
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
    await nextTask()
    signal.throwIfAborted()
    const called = `${String(i + 1).padStart(String(parts.length).length, '0')}-${part.name.replace(/[^\p{L}\p{N}]+/gu, '').slice(0, 20) || 'part'}`
    if (format === 'obj') {
      const { obj, mtl, pictures } = writeObj(part.solid, `${name} ${called}`, `${called}.mtl`)
      Object.assign(files, { [`${called}.obj`]: strToU8(obj), [`${called}.mtl`]: strToU8(mtl), ...pictures })
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
