import type { Look } from '../look/material'

/** A part of a model and what it is made of, as its file names them. */
export interface ModelSurface {
  /** empty where the file has no name for it */
  readonly part: string
  readonly look?: Look
}

/** Triangles as files hold them: x, y, z per vertex in mm, three vertex numbers a triangle. */
export interface MeshData {
  readonly positions: Float64Array
  readonly indices: Uint32Array
  /** row of `surfaces` per triangle; both are absent when a file tells nothing of parts and materials */
  readonly surface?: Uint32Array
  readonly surfaces?: readonly ModelSurface[]
  /** place of each corner in its material's picture, two numbers each, where any has one */
  readonly pictureUv?: Float32Array
}

/** A file that cannot be read, in words for the person who chose it. */
export class FormatError extends Error {
  readonly code = 'unreadable'
  constructor(
    message: string,
    readonly remedy = 'Export the file again, or choose another.',
  ) {
    super(message)
    this.name = 'FormatError'
  }
}

/** Files larger than this are refused before they are parsed. */
export const MAX_MODEL_BYTES = 256 * 1024 * 1024

/** Models of more triangles are refused. */
export const MOST_TRIANGLES = 2_000_000
