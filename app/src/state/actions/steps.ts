import { newId } from '@kelvar/core/document/ids'
import type { ProjectDocument, RouteStep } from '@kelvar/core/document/schema'
import { newStep } from '@kelvar/core/project/new-project'
import type { StepKind } from '@kelvar/core/steps/step'
import type { WorkbenchStore } from '../store'

/**
 * A step of a piece. What takes time is bound to one when it begins, so that its result lands there whatever a person has turned to
 * meanwhile; a step's id alone means the piece in hand.
 */
export interface StepPlace {
  readonly piece: string
  readonly step: string
}

/** The step of the piece in hand with this id, to be come back to. */
export const placeOf = (store: WorkbenchStore, step: string): StepPlace => ({ piece: store.getState().pieceId, step })

const placed = (store: WorkbenchStore, at: StepPlace | string): StepPlace => (typeof at === 'string' ? placeOf(store, at) : at)

/** Whether the step is still there. */
export const isThere = (document: ProjectDocument, { piece, step }: StepPlace): boolean =>
  document.pieces.some((p) => p.id === piece && p.route.some((s) => s.id === step))

/** The steps of a piece, inside a draft; none when it is gone. */
export function routeIn(draft: ProjectDocument, pieceId: string): RouteStep[] {
  return draft.pieces.find((p) => p.id === pieceId)?.route ?? []
}

/** Sets a parameter of a step; nothing when the step is gone. */
export function setParam(store: WorkbenchStore, at: StepPlace | string, name: string, value: unknown, label: string, gesture?: string): void {
  const { piece, step: stepId } = placed(store, at)
  store.getState().edit(
    label,
    (draft) => {
      const step = routeIn(draft, piece).find((s) => s.id === stepId)
      if (step) step.params[name] = value
    },
    gesture ?? `${piece}/${stepId}/${name}`,
  )
}

/** Sets several parameters of a step at once, as one step of undo. */
export function setParams(store: WorkbenchStore, stepId: string, params: Readonly<Record<string, unknown>>, label: string): void {
  const { edit, pieceId } = store.getState()
  edit(label, (draft) => {
    const step = routeIn(draft, pieceId).find((s) => s.id === stepId)
    if (step) Object.assign(step.params, params)
  })
}

/** Puts a step of a kind into the route, before the one that stands at a number. */
export function insertStep(store: WorkbenchStore, at: number, kind: string, title: string, params: Record<string, unknown> = {}): void {
  const { edit, pieceId, document } = store.getState()
  const route = routeIn(document, pieceId)
  const id = freeId(kind, route)
  edit(`Insert ${title}`, (draft) => {
    routeIn(draft, pieceId).splice(at, 0, newStep(id, kind, params))
  })
  store.getState().unfold(id)
}

/** Puts another kind of step where one stands, with fresh values; those that both have by the same name and that fit are kept. */
export function replaceStep(store: WorkbenchStore, stepId: string, kind: StepKind): void {
  const { edit, pieceId, document } = store.getState()
  const id = freeId(kind.kind, routeIn(document, pieceId))
  edit(`Change into ${kind.title}`, (draft) => {
    const route = routeIn(draft, pieceId)
    const i = route.findIndex((s) => s.id === stepId)
    if (i < 0) return
    const defaults = kind.params.parse({}) as Record<string, unknown>
    const old = plainStep(route[i])
    const params = Object.fromEntries(
      Object.entries(old.params).filter(([name, value]) => name in defaults && kind.params.safeParse({ [name]: value }).success),
    )
    route[i] = { ...old, id, kind: kind.kind, version: kind.version, params }
  })
  store.getState().unfold(id)
}

export function changeStep(store: WorkbenchStore, stepId: string, action: 'switch' | 'up' | 'down' | 'copy' | 'remove', title: string): void {
  const { edit, pieceId } = store.getState()
  const words = { switch: 'Switch', up: 'Move up', down: 'Move down', copy: 'Copy', remove: 'Remove' }[action]
  edit(`${words} ${title}`, (draft) => {
    const route = routeIn(draft, pieceId)
    const i = route.findIndex((s) => s.id === stepId)
    if (i < 0) return
    if (action === 'switch') route[i].on = !route[i].on
    else if (action === 'remove') route.splice(i, 1)
    else if (action === 'copy') route.splice(i + 1, 0, { ...structuredClone(plainStep(route[i])), id: freeId(route[i].kind, route) })
    else {
      const j = action === 'up' ? i - 1 : i + 1
      if (j >= 0 && j < route.length) [route[i], route[j]] = [route[j], route[i]]
    }
  })
}

/** Immer's drafts cannot be cloned; their JSON can. */
const plainStep = (step: RouteStep): RouteStep => JSON.parse(JSON.stringify(step)) as RouteStep

const freeId = (kind: string, route: readonly RouteStep[]) =>
  newId(
    kind,
    route.map((s) => s.id).filter((id) => id.startsWith(`${kind}-`)),
  )
