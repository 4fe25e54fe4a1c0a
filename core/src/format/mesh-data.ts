/** Bare triangles as files hold them: x, y, z per vertex in mm, three vertex numbers a triangle. */
export interface MeshData {
  readonly positions: Float64Array
  readonly indices: Uint32Array
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
