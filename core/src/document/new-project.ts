import { SHIPPED_FACES } from '../../fonts/catalogue'
import { DOCUMENT_VERSION, type Piece, type ProjectDocument } from './schema'

/** A piece with words already standing: lettering, extruded and dressed. */
export function newPiece(id: string, name: string, text: string): Piece {
  return {
    id,
    name,
    route: [
      { id: 'lettering-1', kind: 'lettering', on: true, params: { text } },
      { id: 'extrude-1', kind: 'extrude', on: true, params: {} },
      { id: 'dress-1', kind: 'dress', on: true, params: {} },
    ],
  }
}

/** A piece that begins with a drawing still to be chosen. */
export function newDrawingPiece(id: string, name: string): Piece {
  return {
    id,
    name,
    route: [
      { id: 'vector-file-1', kind: 'vector-file', on: true, params: {} },
      { id: 'layers-1', kind: 'layers', on: true, params: {} },
      { id: 'extrude-1', kind: 'extrude', on: true, params: { depth: 6, front: { profile: 'chamfer', inset: 0.5, height: 0.5 } } },
      { id: 'dress-1', kind: 'dress', on: true, params: { layerColours: 'all' } },
    ],
  }
}

/** A piece that is drawn by hand from an empty board. */
export function newHandDrawnPiece(id: string, name: string): Piece {
  return {
    id,
    name,
    route: [
      { id: 'drawing-1', kind: 'drawing', on: true, params: {} },
      { id: 'extrude-1', kind: 'extrude', on: true, params: { depth: 6, front: { profile: 'chamfer', inset: 0.8, height: 0.8 } } },
      { id: 'dress-1', kind: 'dress', on: true, params: {} },
    ],
  }
}

/** A piece traced from a picture still to be chosen. */
export function newTracedPiece(id: string, name: string): Piece {
  return {
    id,
    name,
    route: [
      { id: 'traced-picture-1', kind: 'traced-picture', on: true, params: {} },
      { id: 'extrude-1', kind: 'extrude', on: true, params: { depth: 6, front: { profile: 'chamfer', inset: 0.5, height: 0.5 } } },
      { id: 'dress-1', kind: 'dress', on: true, params: { layerColours: 'all' } },
    ],
  }
}

/** A plate to stand words on or cut them out of. */
export function newPlatePiece(id: string, name: string): Piece {
  return {
    id,
    name,
    route: [
      { id: 'plate-1', kind: 'plate', on: true, params: {} },
      { id: 'extrude-1', kind: 'extrude', on: true, params: { depth: 6, front: { profile: 'chamfer', inset: 0.8, height: 0.8 } } },
      { id: 'dress-1', kind: 'dress', on: true, params: {} },
    ],
  }
}

/** A plain solid: a box until another is chosen. */
export function newBlockPiece(id: string, name: string): Piece {
  return {
    id,
    name,
    route: [
      { id: 'block-1', kind: 'block', on: true, params: { rounding: 2 } },
      { id: 'dress-1', kind: 'dress', on: true, params: {} },
    ],
  }
}

/** What a new project opens with. */
export function newProject(name = 'Untitled lettering'): ProjectDocument {
  const [face] = SHIPPED_FACES
  return {
    format: 'kelvar',
    version: DOCUMENT_VERSION,
    name,
    pieces: [newPiece('words-1', 'Words', 'Hello')],
    assets: [{ sha256: face.sha256, name: face.name, type: 'font', bytes: face.bytes }],
  }
}
