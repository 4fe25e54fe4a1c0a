import type { FaceFacts } from '@kelvar/core/font/facts'

/** What a reader is asked: to read a file for real. `folder` is where it may put what it unpacks. */
export type ReadingJob = { readonly kind: 'file'; readonly path: string } | { readonly kind: 'font'; readonly path: string; readonly folder: string }

export interface ReadProblem {
  readonly code: string
  readonly message: string
  readonly remedy: string
}

/** What a drawing or a picture is. */
export type FileFacts =
  | { readonly type: 'picture'; readonly width: number; readonly height: number }
  | { readonly type: 'model'; readonly triangles: number }
  | { readonly type: 'vector'; readonly layers: number; readonly ignored: readonly string[] }

/** One face of a font file, as a file of its own. */
export interface UnpackedFace {
  readonly path: string
  readonly sha256: string
  readonly facts: FaceFacts
}

/** What it answers; `failed` is a fault inside, for the log. */
export type ReadingAnswer =
  | { readonly ok: true; readonly file: FileFacts }
  | { readonly ok: true; readonly faces: readonly UnpackedFace[] }
  | { readonly ok: false; readonly problem: ReadProblem }
  | { readonly ok: false; readonly failed: string }
