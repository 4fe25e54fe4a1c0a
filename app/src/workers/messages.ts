import type { CheckReport } from '@kelvar/core/check/check'
import type { Thinnest } from '@kelvar/core/join/thinnest'
import type { Moment } from '@kelvar/core/document/moment'
import type { Piece, Place, RouteStep } from '@kelvar/core/document/schema'
import type { StepState } from '@kelvar/core/evaluate/route'
import type { FontAxis } from '@kelvar/core/font/face'
import type { Path } from '@kelvar/core/outline/path'
import type { Alternate, Drawing } from '@kelvar/core/steps/source/lettering/alternates'
import type { FeaturePreview } from '@kelvar/core/steps/source/lettering/previews'
import type { SetLetter } from '@kelvar/core/steps/source/lettering/specimen'
import type { Arrangement } from '@kelvar/core/solid/arrange'
import type { StepIssue, StepMarks, ValueKind } from '@kelvar/core/steps/step'
import type { ViewMesh, ViewSurface } from './view-mesh'
import type { ViewTree } from './view-tree'
import type { EditableShape } from '@kelvar/core/outline/letter-shapes'

/** A piece to be made, and the other pieces that it is made with. */
export interface Work {
  readonly piece: string
  readonly route: RouteStep[]
  readonly others: readonly Piece[]
  /** where the piece stands */
  readonly place?: Place
  /** what of its place moves */
  readonly tracks?: Piece['tracks']
  /** frames a second */
  readonly rate?: number
  /** the project that it is of; what is recorded for it travels with that */
  readonly project?: string
  /** the moment at which it is made; the first one when left out */
  readonly moment?: Moment
}

/** What a step that is edited on the drawing board works on. */
export interface BoardGround {
  /** content key of the outline that comes before the step */
  readonly key: string
  /** what it stands for, letter by letter */
  readonly text: string
  readonly shapes: readonly Omit<EditableShape, 'parts'>[]
  readonly guides: readonly { readonly name: string; readonly y: number }[]
  readonly drawing: OutlineDrawing
}

/** An outline's picture, a path for every layer. */
export interface OutlineDrawing {
  readonly box: Drawing['box']
  readonly parts: readonly { readonly path: string; readonly colour?: string; readonly open?: boolean }[]
}

/** A mask on the shape it is measured on, what makes picking on it fast, and the letters of it in their order. */
export interface MaskMesh {
  readonly mesh: ViewMesh
  readonly tree: ViewTree
  readonly texts: readonly string[]
}

/** What the page learns of one step. */
export interface StepNews {
  readonly id: string
  readonly state: StepState
  readonly key?: string
  readonly issues: readonly StepIssue[]
  readonly ms: number
  readonly triangles?: number
  /** what it did, in figures */
  readonly told?: string
  /** what the view shows of how it was done */
  readonly marks?: StepMarks
  /** an outline's picture */
  readonly drawing?: OutlineDrawing
  /** an outline's layers */
  readonly layers?: readonly { readonly id: string; readonly name: string; readonly colour?: string }[]
  readonly gives?: ValueKind
}

export interface RouteNews {
  readonly steps: readonly StepNews[]
  /** what is to be shown, when the route gives a solid */
  readonly mesh?: ViewMesh
  /** in its stead where only materials differ from those of the mesh that is known */
  readonly surfaces?: readonly ViewSurface[]
  /** content key of the shown value */
  readonly key?: string
  readonly complete: boolean
  readonly ms: number
  /** the worker's kernel broke down: it is to be started afresh */
  readonly kernelLost?: true
}

/** How a piece is taken away. */
export interface DispatchOptions extends Arrangement {
  /** as it is dressed, as one surface, or a file for every letter, zipped */
  readonly parts: 'dressed' | 'merged' | 'letters'
  /** copies as instances, as a node each, or all as one solid; formats without copies have them as one */
  readonly copies: 'instances' | 'nodes' | 'one'
}

/** Files a piece is written out as; OBJ comes with its materials in one archive. */
export type DispatchFormat = 'stl' | '3mf' | 'glb' | 'obj' | 'ply' | 'svg' | 'dxf'

/** What the workers that make things offer. Whatever takes time has a job's number first, by which it is stopped. */
export interface MakerApi {
  /** The end of a line to the results that workers have in common; told once, before anything is asked. */
  begin(results: MessagePort, waits: boolean): void
  /** The result of a job is not wanted any more. It then rejects, soon or when it next looks up. */
  stop(job: number): void
  /** Answers as soon as the worker hears anything. */
  hears(): void
  /**
   * Runs a route and gives its solid for the view, or what differs from the one that is known. `until` shows the piece as of a step. Where `sketch` is given, what takes long
   * is made coarser first, and that handed to it.
   */
  make(
    job: number,
    work: Work,
    until: string | undefined,
    known: { readonly key: string; readonly shape: string } | undefined,
    progress: (step: string, done: number, of?: string, expected?: string) => void,
    sketch?: (key: string, mesh: ViewMesh) => void,
  ): Promise<RouteNews>
  /** The content key of a route's result as of a step, without making it; null when that is no solid. */
  keyOf(work: Work, until: string): string | null
  /** A light mesh of a route's result as of a step, for a small picture; null when it is no solid. */
  pictureMesh(job: number, work: Work, until: string): Promise<{ key: string; mesh: ViewMesh } | null>
  /** The solid of a piece that stands beside the one in hand, unless it is the one known; null when it makes none. */
  pieceMesh(job: number, work: Work, known: string | undefined): Promise<{ key: string; mesh?: ViewMesh } | null>
  /** The piece as it is before a step, an outline as a thin sheet; null when there is nothing to be seen of it. */
  before(job: number, work: Work, step: string): Promise<ViewMesh | null>
  /** The piece at rest before a step, with the weights of the step's mask; null when there is no mask or nothing to be seen of it. */
  maskMesh(job: number, work: Work, step: string): Promise<MaskMesh | null>
  /** What picking needs of the shown solid, and a light mesh of it where it is heavy to turn; null when it is no solid. */
  forPicking(job: number, work: Work, until: string | undefined): Promise<{ key: string; tree: ViewTree; lighter?: ViewMesh } | null>
  /** The soundness report of the route's result. */
  check(job: number, work: Work, until: string | undefined): Promise<CheckReport | null>
  /** The least thickness of the route's result, mm, and where; null for what is open, or stands as copies. */
  thinnest(job: number, work: Work, until: string | undefined): Promise<Thinnest | null>
  /** A file of the route's result; the options concern solids only. */
  dispatch(job: number, work: Work, format: DispatchFormat, name: string, options: DispatchOptions): Promise<{ bytes: Uint8Array } | { issue: StepIssue }>
  /** The outline that comes before a step, to be drawn on; null when there is none. */
  board(work: Work, step: string): Promise<BoardGround | null>
  /** Half of the narrowest and of the widest letter's widest stroke before a step, mm; null when no outline comes before it. */
  strokeHalfWidths(work: Work, step: string): Promise<{ least: number; most: number } | null>
  /** The open strokes that a piece's outlines have, at most 24. */
  openStrokes(work: Work): Promise<readonly Path[]>
  /** Words set in a face; null when the face cannot be opened. */
  specimen(sha256: string, words: string): Promise<Drawing | null>
  /** The variable axes of a face; none when it cannot be opened. */
  axes(sha256: string): Promise<readonly FontAxis[]>
  /** The features of a Lettering step's face, each with what it does. */
  features(params: unknown): Promise<readonly FeaturePreview[]>
  /** The letters of a Lettering step as they are set. */
  letters(params: unknown): Promise<readonly SetLetter[]>
  /** The shapes the letter at a UTF-16 offset can take. */
  alternates(params: unknown, at: number): Promise<readonly Alternate[]>
}
