/** Models may be this large. */
export const MAX_FILE_BYTES = 200 * 1024 * 1024
/** Drawings and pictures may be this large. */
export const MAX_DRAWING_BYTES = 20 * 1024 * 1024
