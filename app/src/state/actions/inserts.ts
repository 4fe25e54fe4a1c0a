import type { PieceReference } from '@kelvar/core/document/piece-reference'
import { newId } from '@kelvar/core/document/ids'
import { placeMatrix, UNMOVED_PLACE } from '@kelvar/core/document/place'
import type { Piece } from '@kelvar/core/document/schema'
import { newStep } from '@kelvar/core/project/new-project'
import { inlayParams } from '@kelvar/core/steps/join/inlay/index'
import type { WorkbenchStore } from '../store'
import { currentPiece } from '../work'

/** Adds what goes into the pocket of an Inlay step, of one piece or of one for each colour of the words, standing in the pocket. */
export function addInserts(store: WorkbenchStore, stepId: string, how: 'one' | 'colours'): void {
  const { document, news, edit } = store.getState()
  const body = currentPiece(store.getState())
  const step = body?.route.find(({ id }) => id === stepId)
  const marks = news?.steps.find(({ id }) => id === stepId)?.marks
  const words = document.pieces.find(({ id }) => id === (step?.params.words as PieceReference | undefined)?.piece)
  if (!body || !step || !words || !marks?.seat) return
  const [x, y, z] = marks.seat
  const m = placeMatrix(body.place ?? UNMOVED_PLACE)
  const { turn, size } = words.place ?? UNMOVED_PLACE
  const place = {
    position: [0, 4, 8].map((r) => Number((m[r] * x + m[r + 1] * y + m[r + 2] * z + m[r + 3]).toFixed(4))) as [number, number, number],
    turn,
    size,
  }
  const { clearance } = inlayParams.parse(step.params)
  const sets = how === 'one' ? [{ name: `Insert for ${body.name}`, layers: [] as string[] }] : coloursOf(marks.layers ?? [], body.name)
  const taken = document.pieces.map((p) => p.id)
  const made = sets.map(({ name, layers }): Piece => {
    const id = newId('piece', taken)
    taken.push(id)
    return {
      id,
      name: name.slice(0, 80),
      place,
      route: [
        newStep('piece-outline-1', 'piece-outline', { of: step.params.words, layers, gap: how === 'one' ? 0 : clearance }),
        newStep('insert-1', 'insert', { pocket: { piece: body.id } }),
        newStep('dress-1', 'dress', { layerColours: 'all' }),
      ],
    }
  })
  edit(made.length > 1 ? `${made.length} inserts` : 'Insert', (draft) => {
    draft.pieces.splice(draft.pieces.findIndex((p) => p.id === body.id) + 1, 0, ...made)
  })
  store.getState().choosePiece(made[0].id)
}

/** The layers of each colour; those without one each by itself. */
function coloursOf(
  layers: readonly { readonly id: string; readonly name: string; readonly colour?: string }[],
  body: string,
): { name: string; layers: string[] }[] {
  const sets = new Map<string, { name: string; layers: string[] }>()
  for (const { id, name, colour } of layers) {
    const set = sets.get(colour ?? id)
    if (set) set.layers.push(id)
    else sets.set(colour ?? id, { name: `${name} for ${body}`, layers: [id] })
  }
  return [...sets.values()]
}
