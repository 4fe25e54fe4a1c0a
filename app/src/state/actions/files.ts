import type { Asset, ProjectDocument } from '@kelvar/core/document/schema'
import { cutText } from '@kelvar/core/document/words'
import { maskSchema } from '@kelvar/core/mask/schema'
import { effectiveParams } from '@kelvar/core/steps/fields'
import { stepKind } from '@kelvar/core/steps/registry'
import type { WorkbenchStore } from '../store'
import { isThere, routeIn, type StepPlace } from './steps'

/** A file that the server has taken. */
export interface CarriedFile {
  readonly sha256: string
  readonly name: string
  readonly bytes: number
}

/** Makes sure that the project carries a file. */
export function carryAsset(draft: ProjectDocument, { sha256, name, bytes }: CarriedFile, type: Asset['type']): void {
  if (!draft.assets.some((a) => a.sha256 === sha256)) draft.assets.push({ sha256, name, type, bytes })
}

/** Points a parameter of a step to a file and makes sure that the project carries it. False when the step is gone: then nothing is changed. */
export function setAsset(store: WorkbenchStore, at: StepPlace, param: string, file: CarriedFile, type: Asset['type']): boolean {
  const { sha256, name } = file
  if (!isThere(store.getState().document, at)) return false
  store.getState().edit(`Choose ${cutText(name, 60)}`, (draft) => {
    const step = routeIn(draft, at.piece).find((s) => s.id === at.step)
    if (!step) return
    step.params[param] = { sha256, name }
    carryAsset(draft, file, type)
  })
  return true
}

/** Lets an entry of a step's mask go by a picture, which the project then carries. False when the step or the entry is gone. */
export function setMaskPicture(store: WorkbenchStore, at: StepPlace, entry: number, file: CarriedFile): boolean {
  const { document, edit } = store.getState()
  const step = document.pieces.find(({ id }) => id === at.piece)?.route.find(({ id }) => id === at.step)
  const kind = step && stepKind(step.kind)
  const { data: mask } = maskSchema.safeParse(kind && effectiveParams(kind, step.params).mask)
  if (mask?.list[entry]?.by !== 'picture') return false
  const { sha256, name } = file
  edit(`Choose ${cutText(name, 60)}`, (draft) => {
    const held = routeIn(draft, at.piece).find(({ id }) => id === at.step)
    if (!held) return
    held.params.mask = { ...mask, list: mask.list.map((one, i) => (i === entry ? { ...one, picture: { sha256, name } } : one)) }
    carryAsset(draft, file, 'picture')
  })
  return true
}

/** Points a value within a step's parameters to a file made in the page, and lets go of files made so that nothing names any more. */
export function setMadeFile(
  store: WorkbenchStore,
  at: StepPlace,
  params: Readonly<Record<string, unknown>>,
  file: Asset,
  label: string,
  gesture?: string,
): boolean {
  if (!isThere(store.getState().document, at)) return false
  store.getState().edit(
    label,
    (draft) => {
      const step = routeIn(draft, at.piece).find((s) => s.id === at.step)
      if (!step) return
      Object.assign(step.params, params)
      carryAsset(draft, file, file.type)
      const named = JSON.stringify(draft.pieces)
      draft.assets = draft.assets.filter(({ type, sha256 }) => type !== 'paint' || named.includes(sha256))
    },
    gesture,
  )
  return true
}

/** Sets the face of a Lettering step and makes sure that the project carries it. False when the step is gone. */
export const setFace = (store: WorkbenchStore, at: StepPlace, face: CarriedFile): boolean => setAsset(store, at, 'font', face, 'font')
