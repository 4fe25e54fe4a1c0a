import type { CheckReport } from '@kelvar/core/check/check'
import { newId } from '@kelvar/core/document/ids'
import { newBlockPiece, newDrawingPiece, newHandDrawnPiece, newPiece, newPlatePiece, newTracedPiece } from '@kelvar/core/document/new-project'
import { piecesBehind } from '@kelvar/core/document/references'
import type { Asset, Board, Piece, ProjectDocument, RouteStep } from '@kelvar/core/document/schema'
import { carryOver, lettersKept } from '@kelvar/core/steps/lettering/letters'
import { letterChanges } from '@kelvar/core/steps/lettering/schema'
import type { StepKind } from '@kelvar/core/steps/step'
import { produce } from 'immer'
import { createStore } from 'zustand/vanilla'
import type { RouteNews, Work } from '@/workers/messages'
import type { ViewMesh } from '@/workers/view-mesh'

export type Saving = 'kept' | 'changed' | 'saving' | 'unreachable' | 'conflict' | 'refused'

interface Change {
  readonly document: ProjectDocument
  readonly label: string
}

export interface WorkbenchState {
  readonly id: string
  readonly document: ProjectDocument
  readonly revision: number
  readonly past: readonly Change[]
  readonly future: readonly Change[]
  readonly pieceId: string
  /** what the right-hand side shows */
  readonly view: MainView
  /** the step whose controls are unfolded */
  readonly openStep: string | undefined
  /** looked at "as of here"; undefined for the whole route */
  readonly until: string | undefined
  /** letters of the piece's words that are picked, by their UTF-16 offset, in order */
  readonly picked: readonly number[]
  /** the Lettering step the type case is open for */
  readonly typeCase: string | undefined
  readonly news: RouteNews | undefined
  readonly mesh: ViewMesh | undefined
  /** what `mesh` shows: content key and piece */
  readonly meshKey: string | undefined
  readonly meshPiece: string | undefined
  readonly making: boolean
  readonly progress: { readonly step: string; readonly done: number } | undefined
  /** making was ended by a person; it goes on with the next change or when asked */
  readonly stopped: boolean
  /** a handle in the view is being pulled */
  readonly pulling: boolean
  /** why nothing can be made at all, in words; undefined when all is well */
  readonly fault: string | undefined
  readonly report: { readonly key: string; readonly check: CheckReport } | undefined
  readonly saving: Saving
  readonly savingMessage: string
  readonly keptAt: number | undefined
  /** the document as the server last accepted it, or had it when this page was opened */
  readonly keptDocument: ProjectDocument
  /** what was saved elsewhere since this page's base revision */
  readonly conflict: { readonly theirs: ProjectDocument; readonly revision: number } | undefined
  /** what is unfolded at the right */
  readonly shelf: Shelf | undefined
}

/** What can be laid open beside the view. */
export type Shelf = 'try-outs' | 'history'

export const MAIN_VIEWS = ['Draw', 'Model'] as const
export type MainView = (typeof MAIN_VIEWS)[number]

export interface WorkbenchActions {
  /** Changes the document. Changes with the same `gesture` in quick succession are one step of undo; those of one drag always are. */
  edit(label: string, recipe: (draft: ProjectDocument) => void, gesture?: string): void
  /** Puts another whole document in place, as one step of undo. */
  replace(label: string, document: ProjectDocument): void
  undo(times?: number): void
  redo(times?: number): void
  choosePiece(id: string): void
  unfold(step: string | undefined): void
  lookUntil(step: string | undefined): void
  /** Picks letters by their offsets; `added` to those picked already, or, where they are, taken away. */
  pick(letters: readonly number[], added?: boolean): void
  openTypeCase(step: string | undefined): void
  set(patch: Partial<WorkbenchState>): void
}

export type WorkbenchStore = ReturnType<typeof createWorkbenchStore>

const UNDO_DEPTH = 500
const GESTURE_MS = 900

export function createWorkbenchStore(id: string, document: ProjectDocument, revision: number) {
  let lastGesture: string | undefined
  let lastEdit = 0
  const firstPiece = document.pieces[0]
  return createStore<WorkbenchState & WorkbenchActions>()((set, get) => {
    const travel = (from: 'past' | 'future', to: 'past' | 'future', times: number) => {
      const state = get()
      const left = state[from].slice()
      const gone = state[to].slice()
      let { document } = state
      for (let i = 0; i < times; i++) {
        const change = left.pop()
        if (!change) break
        gone.push({ document, label: change.label })
        document = change.document
      }
      if (document === state.document) return
      lastGesture = undefined
      set({ document, [from]: left, [to]: gone, saving: state.saving === 'conflict' ? 'conflict' : 'changed', ...validSelection(document, state) })
    }
    return {
      id,
      document,
      revision,
      past: [],
      future: [],
      pieceId: firstPiece?.id ?? '',
      view: 'Model',
      openStep: firstPiece?.route[0]?.id,
      until: undefined,
      picked: [],
      typeCase: undefined,
      news: undefined,
      mesh: undefined,
      meshKey: undefined,
      meshPiece: undefined,
      making: false,
      progress: undefined,
      stopped: false,
      pulling: false,
      fault: undefined,
      report: undefined,
      saving: 'kept',
      savingMessage: '',
      keptAt: undefined,
      keptDocument: document,
      conflict: undefined,
      shelf: undefined,

      edit(label, recipe, gesture) {
        const state = get()
        const next = produce(state.document, recipe)
        if (next === state.document) return
        const now = Date.now()
        const goesOn = gesture !== undefined && gesture === lastGesture && (gesture.startsWith('drag:') || now - lastEdit < GESTURE_MS) && state.past.length > 0
        lastGesture = gesture
        lastEdit = now
        set({
          document: next,
          past: goesOn ? state.past : [...state.past.slice(1 - UNDO_DEPTH), { document: state.document, label }],
          future: [],
          saving: state.saving === 'conflict' ? 'conflict' : 'changed',
          ...validSelection(next, state),
        })
      },
      replace(label, next) {
        const state = get()
        lastGesture = undefined
        set({
          document: next,
          past: [...state.past.slice(1 - UNDO_DEPTH), { document: state.document, label }],
          future: [],
          saving: state.saving === 'conflict' ? 'conflict' : 'changed',
          ...validSelection(next, state),
        })
      },
      undo: (times = 1) => travel('past', 'future', times),
      redo: (times = 1) => travel('future', 'past', times),
      choosePiece(pieceId) {
        const piece = get().document.pieces.find((p) => p.id === pieceId)
        // the piece in hand chosen again has nothing new to tell, and must not forget what it told
        if (piece && pieceId !== get().pieceId)
          set({ pieceId, openStep: piece.route[0]?.id, until: undefined, picked: [], typeCase: undefined, news: undefined, report: undefined })
      },
      unfold: (openStep) => set({ openStep }),
      lookUntil: (until) => set({ until }),
      pick(letters, added = false) {
        const before = added ? get().picked : []
        const taken = new Set(letters.filter((at) => before.includes(at)))
        set({ picked: [...before.filter((at) => !taken.has(at)), ...letters.filter((at) => !taken.has(at))].sort((a, b) => a - b) })
      },
      openTypeCase: (typeCase) => set({ typeCase }),
      set: (patch) => set(patch),
    }
  })
}

/** A selection that exists in the document: the same as before where possible. */
function validSelection(document: ProjectDocument, state: WorkbenchState): Partial<WorkbenchState> {
  const piece = document.pieces.find((p) => p.id === state.pieceId) ?? document.pieces[0]
  const has = (step: string | undefined) => step !== undefined && piece?.route.some((s) => s.id === step)
  return {
    pieceId: piece?.id ?? '',
    openStep: has(state.openStep) ? state.openStep : undefined,
    until: has(state.until) ? state.until : undefined,
    typeCase: has(state.typeCase) ? state.typeCase : undefined,
  }
}

const works = new WeakMap<RouteStep[], Work>()

/**
 * What the workers need to make a piece, by its own route or by another; the same object as long as neither that nor what it
 * is made with has changed.
 */
export function workOf(document: ProjectDocument, pieceId: string, route?: RouteStep[]): Work | undefined {
  const found = document.pieces.find((p) => p.id === pieceId)
  if (!found) return undefined
  const piece = route ? { ...found, route } : found
  const others = piecesBehind(route ? document.pieces.map((p) => (p === found ? piece : p)) : document.pieces, pieceId)
  const known = works.get(piece.route)
  if (
    known?.piece === pieceId &&
    known.others.length === others.length &&
    known.others.every((p, i) => p.route === others[i].route && p.name === others[i].name)
  )
    return known
  const work = { piece: pieceId, route: piece.route, others }
  works.set(piece.route, work)
  return work
}

/** The same for the piece in hand. */
export const currentWork = (state: Pick<WorkbenchState, 'document' | 'pieceId'>): Work | undefined => workOf(state.document, state.pieceId)

export function currentPiece(state: Pick<WorkbenchState, 'document' | 'pieceId'>): Piece | undefined {
  return state.document.pieces.find((p) => p.id === state.pieceId)
}

/** The steps of the piece in hand, inside a draft. */
function routeIn(draft: ProjectDocument, pieceId: string): RouteStep[] {
  return draft.pieces.find((p) => p.id === pieceId)?.route ?? []
}

export function setParam(store: WorkbenchStore, stepId: string, name: string, value: unknown, label: string, gesture?: string): void {
  const { edit, pieceId } = store.getState()
  edit(
    label,
    (draft) => {
      const step = routeIn(draft, pieceId).find((s) => s.id === stepId)
      if (step) step.params[name] = value
    },
    gesture ?? `${pieceId}/${stepId}/${name}`,
  )
}

/** Changes what lies on the board of the piece in hand. */
export function setBoard(store: WorkbenchStore, label: string, recipe: (board: Board) => void, gesture?: string): void {
  const { edit, pieceId } = store.getState()
  edit(
    label,
    (draft) => {
      const piece = draft.pieces.find((p) => p.id === pieceId)
      if (!piece) return
      piece.board ??= { guides: [] }
      recipe(piece.board)
    },
    gesture,
  )
}

/**
 * Changes the words of a Lettering step. What was done to single letters, and which are picked, goes with the letters;
 * `caret` is the offset behind what was typed.
 */
export function setWords(store: WorkbenchStore, stepId: string, text: string, caret: number | undefined): void {
  const { edit, pieceId, picked, document } = store.getState()
  const step = routeIn(document, pieceId).find((s) => s.id === stepId)
  const before = typeof step?.params.text === 'string' ? step.params.text : ''
  const changes = letterChanges.safeParse(step?.params.letters)
  edit(
    'Lettering: words',
    (draft) => {
      const target = routeIn(draft, pieceId).find((s) => s.id === stepId)
      if (!target) return
      target.params.text = text
      carryDrawn(routeIn(draft, pieceId), text, caret)
      if (changes.success && changes.data.list.length > 0) target.params.letters = carryOver(carryOver(changes.data, before), text, caret)
    },
    `${pieceId}/${stepId}/text`,
  )
  if (picked.length > 0) store.setState({ picked: carryOver({ of: before, list: picked.map((at) => ({ at })) }, text, caret).list.map((c) => c.at) })
}

/** Lists that hang on letters in the steps after the words, each as `{ of, list }` of the text it was made for. */
const ON_LETTERS: Readonly<Record<string, { param: string; anchors: readonly string[] }>> = {
  redraw: { param: 'edits', anchors: ['at'] },
  extend: { param: 'limbs', anchors: ['from.at', 'to.at'] },
  smooth: { param: 'touches', anchors: ['at'] },
}

/** What was drawn on letters goes with them; what hangs on a letter that is gone stays where it was, and the step sets it aside. */
function carryDrawn(route: RouteStep[], text: string, caret: number | undefined): void {
  for (const step of route) {
    const kept = ON_LETTERS[step.kind]
    const held = kept && (step.params[kept.param] as { of: string; list: Record<string, unknown>[] } | undefined)
    if (!held || held.list.length === 0 || held.of === text) continue
    const places = held.list.flatMap((item) => kept.anchors.map((path) => anchorOf(item, path).at)).filter((at) => at >= 0)
    const target = lettersKept(held.of, text, caret)
    // as long as a letter is missing the list keeps the text it was made for, so that the letter finds it when it comes back
    if (!places.every((at) => target.has(at))) continue
    for (const item of held.list)
      for (const path of kept.anchors) {
        const place = anchorOf(item, path)
        if (place.at >= 0) place.at = target.get(place.at) as number
      }
    held.of = text
  }
}

const anchorOf = (item: Record<string, unknown>, path: string): { at: number } => (path === 'at' ? item : item[path.split('.')[0]]) as { at: number }

interface CarriedFile {
  readonly sha256: string
  readonly name: string
  readonly bytes: number
}

/** Sets the face of a Lettering step and makes sure that the project carries it. */
export function setFace(store: WorkbenchStore, stepId: string, face: CarriedFile): void {
  setAsset(store, stepId, 'font', face, 'font')
}

/** Makes sure that the project carries a file. */
export function carryAsset(draft: ProjectDocument, { sha256, name, bytes }: CarriedFile, type: Asset['type']): void {
  if (!draft.assets.some((a) => a.sha256 === sha256)) draft.assets.push({ sha256, name, type, bytes })
}

/** Points a parameter of a step to a file and makes sure that the project carries it. */
export function setAsset(store: WorkbenchStore, stepId: string, param: string, file: CarriedFile, type: Asset['type']): void {
  const { edit, pieceId } = store.getState()
  const { sha256, name } = file
  edit(`Choose ${name}`, (draft) => {
    const step = routeIn(draft, pieceId).find((s) => s.id === stepId)
    if (!step) return
    step.params[param] = { sha256, name }
    carryAsset(draft, file, type)
  })
}

/** Sets several parameters of a step at once, as one step of undo. */
export function setParams(store: WorkbenchStore, stepId: string, params: Readonly<Record<string, unknown>>, label: string): void {
  const { edit, pieceId } = store.getState()
  edit(label, (draft) => {
    const step = routeIn(draft, pieceId).find((s) => s.id === stepId)
    if (step) Object.assign(step.params, params)
  })
}

export function insertStep(store: WorkbenchStore, at: number, kind: string, title: string, params: Record<string, unknown> = {}): void {
  const { edit, pieceId, document } = store.getState()
  const route = routeIn(document, pieceId)
  const id = freeId(kind, route)
  edit(`Insert ${title}`, (draft) => {
    routeIn(draft, pieceId).splice(at, 0, { id, kind, on: true, params })
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
    route[i] = { ...old, id, kind: kind.kind, params }
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

export type NewPiece = 'words' | 'drawing' | 'hand' | 'picture' | 'plate' | 'block'

/** A new piece of words, of a vector file, drawn by hand, traced from a picture, or a plain plate or block. */
export function addPiece(store: WorkbenchStore, of: NewPiece = 'words'): void {
  const { edit, document } = store.getState()
  const id = newId(
    'piece',
    document.pieces.map((p) => p.id),
  )
  edit('New piece', (draft) => {
    const name = `Piece ${draft.pieces.length + 1}`
    draft.pieces.push(
      {
        words: () => newPiece(id, name, 'New words'),
        drawing: () => newDrawingPiece(id, name),
        hand: () => newHandDrawnPiece(id, name),
        picture: () => newTracedPiece(id, name),
        plate: () => newPlatePiece(id, name),
        block: () => newBlockPiece(id, name),
      }[of](),
    )
  })
  store.getState().choosePiece(id)
  store.setState({ view: of === 'hand' ? 'Draw' : 'Model' })
}

export function removePiece(store: WorkbenchStore, id: string): void {
  store.getState().edit('Remove piece', (draft) => {
    draft.pieces = draft.pieces.filter((p) => p.id !== id)
  })
}
