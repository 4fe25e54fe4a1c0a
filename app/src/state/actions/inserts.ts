import { newId } from '@kelvar/core/document/ids'
import { placeMatrix, UNMOVED_PLACE } from '@kelvar/core/document/place'
import type { Piece } from '@kelvar/core/document/schema'
import { cutText } from '@kelvar/core/document/words'
import { newStep } from '@kelvar/core/project/new-project'
import { apply } from '@kelvar/core/solid/operations'
import { inlayParams } from '@kelvar/core/steps/join/inlay/schema'
import type { WorkbenchStore } from '../store'
import { currentPiece } from '../work'

/** Adds what goes into the pocket of an Inlay step, of one piece or of one for each colour of the words, standing in the pocket. */
export function addInserts(store: WorkbenchStore, stepId: string, how: 'one' | 'colours'): void {
  const { document, news, edit } = store.getState()
  const body = currentPiece(store.getState())
  const step = body?.route.find(({ id }) => id === stepId)
  const marks = news?.steps.find(({ id }) => id === stepId)?.marks
  // what was made may be of values that have become bad since
  const params = inlayParams.safeParse(step?.params).data
  const words = document.pieces.find(({ id }) => id === params?.words.piece)
  if (!body || !params || !words || !marks?.seat) return
  const seat = apply(placeMatrix(body.place ?? UNMOVED_PLACE), ...marks.seat)
  // what lies on the body's surface stands where the body does
  const { turn, size } = (params.lay === 'place' ? words : body).place ?? UNMOVED_PLACE
  const place = {
    position: seat.map((v) => Number(v.toFixed(4))) as [number, number, number],
    turn,
    size,
  }
  // an insert wears what its words do: in what its body wears it would hardly be seen
  const worn = words.route.findLast(({ kind, on }) => kind === 'dress' && on)?.params
  const sets = how === 'one' ? [{ name: `Insert for ${body.name}`, layers: [] as string[] }] : coloursOf(marks.layers ?? [], body.name)
  const taken = document.pieces.map((p) => p.id)
  const made = sets.map(({ name, layers }): Piece => {
    const id = newId('piece', taken)
    taken.push(id)
    return {
      id,
      name: cutText(name, 80),
      place,
      route: [
        newStep('piece-outline-1', 'piece-outline', { of: params.words, layers, gap: how === 'one' ? 0 : params.clearance }),
        newStep('insert-1', 'insert', { pocket: { piece: body.id } }),
        newStep('dress-1', 'dress', { ...structuredClone(worn), layerColours: 'all' }),
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
