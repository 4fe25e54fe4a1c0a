import { Coverage } from '../src/font/coverage'
import { FACE_FACTS } from './facts'
import { FACE_FILES, type FaceFile } from './files'

/** A face that ships with Kelvar. The file lies beside this one; SHA-256 is its name as an asset. */
export interface ShippedFace extends FaceFile {
  readonly bytes: number
  readonly sha256: string
  readonly glyphs: number
  /** tags of its variable axes */
  readonly axes: readonly string[]
  /** its characters, as `writeRanges` writes them */
  readonly characters: string
}

/** The shipped type case, in the order it is shown. */
export const SHIPPED_FACES: readonly ShippedFace[] = FACE_FILES.map((face) => ({ ...face, ...FACE_FACTS[face.id] }))

const coverage = new Map<string, Coverage>()

/** Which of the characters a shipped face lacks. */
function missingFrom(face: ShippedFace, text: string): string[] {
  let covers = coverage.get(face.id)
  if (!covers) coverage.set(face.id, (covers = new Coverage(face.characters)))
  return covers.missing(text)
}

/** The shipped faces that have the most of a text's characters, and which they have; none when no face has any. */
export function facesWith(characters: readonly string[]): { faces: ShippedFace[]; have: string[] } {
  const lacks = SHIPPED_FACES.map((face) => ({ face, missing: missingFrom(face, characters.join('')) }))
  const fewest = Math.min(...lacks.map((l) => l.missing.length))
  const best = lacks.filter((l) => l.missing.length === fewest)
  const have = characters.filter((c) => !best[0].missing.includes(c))
  return have.length === 0 ? { faces: [], have } : { faces: best.map((l) => l.face), have }
}
