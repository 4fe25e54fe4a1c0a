import type { CheckReport } from '@kelvar/core/check/check'
import type { Thinnest } from '@kelvar/core/join/thinnest'
import type { ProjectDocument } from '@kelvar/core/document/schema'
import { produce } from 'immer'
import { createStore } from 'zustand/vanilla'
import type { RouteNews } from '@/workers/messages'
import type { ViewMesh } from '@/workers/view-mesh'
import type { ViewTree } from '@/workers/view-tree'

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
  /** the key of what was shown as a first sight, coarser than asked for */
  readonly roughKey: string | undefined
  readonly making: boolean
  /** which step, how far, while it waits for another piece what that is called, and what its work is expected to come to */
  readonly progress: { readonly step: string; readonly done: number; readonly of?: string; readonly expected?: string } | undefined
  /** making was ended by a person; it goes on with the next change or when asked */
  readonly stopped: boolean
  /** the step that was being made then */
  readonly stoppedAt: string | undefined
  /** the step whose spot is to be pressed in the view next, or AGAINST */
  readonly aiming: string | undefined
  /** of what is said of the open step only this has its places shown, by its code; all of it when undefined */
  readonly pointing: string | undefined
  /** the step whose mask is shown in the view, on the shape it is measured on */
  readonly maskShown: string | undefined
  /** the painted entry of a step's mask that the brush is on, and the brush: mm, %, % */
  readonly painting: Brush | undefined
  /** the frame that is shown, counted from 0 */
  readonly frame: number
  /** frames pass by */
  readonly playing: boolean
  /** the frame from which they do, or did last */
  readonly playedFrom: number
  /** the first and the last frame of what is played over and over; all of it when undefined */
  readonly loop: readonly [number, number] | undefined
  /** the view is what the project's camera sees */
  readonly through: boolean
  /** other frames are shown beside the one in hand, seen through */
  readonly ghosts: boolean
  /** frames that are being written out, or why they were not; undefined when nothing is to be said */
  readonly film: FilmNews | undefined
  /** grows with every frame that is made ahead */
  readonly framesMade: number
  /** a copy that is picked in the view */
  readonly copy: PickedCopy | undefined
  /** a handle in the view is being pulled */
  readonly pulling: boolean
  /** why nothing can be made at all, in words; undefined when all is well */
  readonly fault: string | undefined
  /** what makes picking on the shown solid fast, once it is there */
  readonly picking: { readonly key: string; readonly tree: ViewTree; readonly lighter?: ViewMesh } | undefined
  /** a worker had to be ended or broke down, and a fresh one does the next thing */
  readonly afresh: boolean
  readonly report: { readonly key: string; readonly check: CheckReport } | undefined
  /** where it is thinnest, by the key of the solid */
  readonly thinnest: ({ readonly key: string } & Thinnest) | undefined
  /** that place is pointed at */
  readonly showsThinnest: boolean
  readonly saving: Saving
  readonly savingMessage: string
  readonly keptAt: number | undefined
  /** the document as the server last accepted it, or had it when this page was opened */
  readonly keptDocument: ProjectDocument
  /** what was saved elsewhere since this page's base revision */
  readonly conflict: { readonly theirs: ProjectDocument; readonly revision: number } | undefined
  /** what is unfolded at the right */
  readonly shelf: Shelf | undefined
  /** all pieces that are not hidden are looked at, each at its place */
  readonly together: boolean
}

/** What is told of frames that are written out: how many are done of how many, or why it ended. */
export type FilmNews = { readonly words: string; readonly done: number; readonly of: number } | { readonly said: string }

/** In the place of a step's id, what is aimed at: the face of another piece, to lay the one in hand against. */
export const AGAINST = 'against'

/** A brush on one entry of a step's mask. */
export interface Brush {
  readonly step: string
  readonly entry: number
  readonly radius: number
  readonly soft: number
  readonly amount: number
  /** what it does where it is pressed: it lays on, takes away what is there, or draws that towards the mean round about */
  readonly does: 'lays' | 'takes' | 'smooths'
}

/** A copy in the view: what it is called by the step that repeats, see core/src/repeat/spots.ts. */
export interface PickedCopy {
  readonly step: string
  readonly number: number
  /** the letters of the piece as one text, and where the copy's own begins, −1 for none */
  readonly of: string
  readonly at: number
  readonly letter: string
  readonly spot: readonly [number, number, number]
}

/** What can be laid open beside the view. */
export type Shelf = 'try-outs' | 'history'

export const MAIN_VIEWS = ['Draw', 'Model', 'Motion'] as const
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
  /** Turns to a view; with a step, in whose hands it then is. */
  turnTo(view: MainView, step?: string): void
  /** Unfolds what is beside the view, or folds it away. */
  openShelf(shelf: Shelf | undefined): void
  /** A handle in the view is taken in hand, or let go. */
  pull(pulling: boolean): void
  /** The next press on the piece in the view gives a step its spot; undefined ends that. */
  aim(step: string | undefined): void
  /** Shows the places of one thing that is said of the open step, by its code; of all of it when undefined. */
  point(code: string | undefined): void
  /** Points at where the solid is thinnest, or no more. */
  showThinnest(shows: boolean): void
  /** Shows a step's mask in the view, or no more. */
  showMask(step: string | undefined): void
  /** Takes a brush in hand, whose mask is then shown, or lays it down. */
  paint(brush: Brush | undefined): void
  /** Shows another frame. */
  seek(frame: number): void
  /** Lets frames pass by, or stops at the one that is shown. */
  play(playing: boolean): void
  /** Plays from one frame to another over and over, or all. */
  loopOver(loop: readonly [number, number] | undefined): void
  /** Looks through the project's camera, or freely. */
  lookThrough(through: boolean): void
  /** Shows other frames beside the one in hand, or no more. */
  showGhosts(ghosts: boolean): void
  /** Tells of frames that are written out. */
  tellFilm(film: FilmNews | undefined): void
  /** Picks a copy, or none. */
  pickCopy(copy: PickedCopy | undefined): void
  /** Goes on making after it was stopped. */
  goOn(): void
  /** Looks at all pieces together, or at the one in hand. */
  lookAtAll(together: boolean): void
}

/**
 * The page's state as everyone sees it: to read, to listen to, and to change through its actions and those in the files beside this one.
 * Nothing else writes it.
 */
export type WorkbenchStore = Omit<WritableStore, 'setState'>

/** For the files of this folder. */
type WritableStore = ReturnType<typeof createWorkbenchStore>

export const writable = (store: WorkbenchStore): WritableStore => store as WritableStore

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
      roughKey: undefined,
      making: false,
      progress: undefined,
      stopped: false,
      stoppedAt: undefined,
      aiming: undefined,
      pointing: undefined,
      maskShown: undefined,
      painting: undefined,
      copy: undefined,
      frame: 0,
      playing: false,
      playedFrom: 0,
      loop: undefined,
      ghosts: false,
      through: false,
      film: undefined,
      framesMade: 0,
      pulling: false,
      fault: undefined,
      report: undefined,
      thinnest: undefined,
      showsThinnest: false,
      picking: undefined,
      afresh: false,
      saving: 'kept',
      savingMessage: '',
      keptAt: undefined,
      keptDocument: document,
      conflict: undefined,
      shelf: undefined,
      together: false,

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
          set({
            pieceId,
            openStep: piece.route[0]?.id,
            copy: undefined,
            aiming: undefined,
            pointing: undefined,
            until: undefined,
            picked: [],
            typeCase: undefined,
            news: undefined,
            report: undefined,
          })
      },
      unfold: (openStep) => set({ openStep, copy: undefined, aiming: undefined, pointing: undefined, maskShown: undefined, painting: undefined }),
      lookUntil: (until) => set({ until }),
      pick(letters, added = false) {
        const before = added ? get().picked : []
        const taken = new Set(letters.filter((at) => before.includes(at)))
        set({ picked: [...before.filter((at) => !taken.has(at)), ...letters.filter((at) => !taken.has(at))].sort((a, b) => a - b) })
      },
      openTypeCase: (typeCase) => set({ typeCase }),
      turnTo: (view, step) => set({ view, ...(step === undefined ? {} : { openStep: step }), ...(view === 'Motion' ? {} : { playing: false }) }),
      openShelf: (shelf) => set({ shelf }),
      pull: (pulling) => set({ pulling }),
      aim: (aiming) => set({ aiming }),
      point: (pointing) => set({ pointing }),
      showThinnest: (showsThinnest) => set({ showsThinnest }),
      seek: (frame) => set({ frame: Math.max(0, Math.round(frame)) }),
      play: (playing) => set((s) => (playing ? { playing, playedFrom: s.frame } : { playing })),
      loopOver: (loop) => set({ loop: loop && [Math.max(0, Math.min(...loop)), Math.max(...loop)] }),
      lookThrough: (through) => set({ through }),
      showGhosts: (ghosts) => set({ ghosts }),
      tellFilm: (film) => set({ film }),
      pickCopy: (copy) => set(copy ? { copy, picked: [] } : { copy }),
      showMask: (maskShown) => set(maskShown === undefined ? { maskShown, painting: undefined } : { maskShown }),
      paint: (painting) => set(painting ? { painting, maskShown: painting.step, together: false } : { painting }),
      goOn: () => set({ stopped: false }),
      lookAtAll: (together) => set({ together, aiming: undefined }),
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
    maskShown: has(state.maskShown) ? state.maskShown : undefined,
    painting: has(state.painting?.step) ? state.painting : undefined,
  }
}
