import { SHIPPED_FACES } from '../../fonts/catalogue'
import { DOCUMENT_VERSION, type Piece, type ProjectDocument, type RouteStep } from '../document/schema'
import { stepKind } from '../steps/registry'

/** A step with values of the present version of its kind. */
export const newStep = (id: string, kind: string, params: Record<string, unknown> = {}): RouteStep => ({
  id,
  kind,
  version: stepKind(kind)?.version ?? 1,
  on: true,
  params,
})

/** A piece with words already standing: lettering, extruded and dressed. */
export function newPiece(id: string, name: string, text: string): Piece {
  return {
    id,
    name,
    route: [newStep('lettering-1', 'lettering', { text }), newStep('extrude-1', 'extrude'), newStep('dress-1', 'dress')],
  }
}

/** A piece that begins with a drawing still to be chosen. */
export function newDrawingPiece(id: string, name: string): Piece {
  return {
    id,
    name,
    route: [
      newStep('vector-file-1', 'vector-file'),
      newStep('layers-1', 'layers'),
      newStep('extrude-1', 'extrude', { depth: 6, front: { profile: 'chamfer', inset: 0.5, height: 0.5 } }),
      newStep('dress-1', 'dress', { layerColours: 'all' }),
    ],
  }
}

/** A piece that is drawn by hand from an empty board. */
export function newHandDrawnPiece(id: string, name: string): Piece {
  return {
    id,
    name,
    route: [
      newStep('drawing-1', 'drawing'),
      newStep('extrude-1', 'extrude', { depth: 6, front: { profile: 'chamfer', inset: 0.8, height: 0.8 } }),
      newStep('dress-1', 'dress'),
    ],
  }
}

/** A piece traced from a picture still to be chosen. */
export function newTracedPiece(id: string, name: string): Piece {
  return {
    id,
    name,
    route: [
      newStep('traced-picture-1', 'traced-picture'),
      newStep('extrude-1', 'extrude', { depth: 6, front: { profile: 'chamfer', inset: 0.5, height: 0.5 } }),
      newStep('dress-1', 'dress', { layerColours: 'all' }),
    ],
  }
}

/** A piece that takes another one's outline. */
export function newOutlinePiece(id: string, name: string, of: string): Piece {
  return {
    id,
    name,
    route: [
      newStep('piece-outline-1', 'piece-outline', { of: { piece: of } }),
      newStep('extrude-1', 'extrude'),
      newStep('dress-1', 'dress', { layerColours: 'all' }),
    ],
  }
}

/** A plate to stand words on or cut them out of. */
export function newPlatePiece(id: string, name: string): Piece {
  return {
    id,
    name,
    route: [
      newStep('plate-1', 'plate'),
      newStep('extrude-1', 'extrude', { depth: 6, front: { profile: 'chamfer', inset: 0.8, height: 0.8 } }),
      newStep('dress-1', 'dress'),
    ],
  }
}

/** A plain solid: a box until another is chosen. */
export function newBlockPiece(id: string, name: string): Piece {
  return {
    id,
    name,
    route: [newStep('block-1', 'block', { rounding: 2 }), newStep('dress-1', 'dress')],
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
