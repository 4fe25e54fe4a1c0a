import type { WorkbenchStore } from '@/state/store'
import { fileName, saveFile } from '@/ui/save-file'
import type { Film } from './film'

const going = new WeakMap<WorkbenchStore, AbortController>()

/** Whether frames are being written. */
export const filming = (store: WorkbenchStore): boolean => going.has(store)

/** Writes frames of the piece in hand out and hands them over as a file, while one goes on working. One film at a time. */
export async function beginFilm(store: WorkbenchStore, film: Film): Promise<void> {
  if (going.has(store)) return
  const controller = new AbortController()
  going.set(store, controller)
  const { document, pieceId, tellFilm } = store.getState()
  const piece = document.pieces.find(({ id }) => id === pieceId)
  const name = fileName(piece?.name ?? '')
  tellFilm({ words: 'Making', done: 0, of: film.to - film.from + 1 })
  const { FilmError, writeFilm } = await import('./film')
  try {
    const file = await writeFilm(document, pieceId, film, name, controller.signal, (words, done, of) => tellFilm({ words, done, of }))
    saveFile(file, `${name}.${film.kind === 'png' ? 'zip' : film.kind}`)
    tellFilm(undefined)
  } catch (error) {
    if (controller.signal.aborted) tellFilm({ said: 'Stopped; no frames were written.' })
    else if (error instanceof FilmError) tellFilm({ said: error.message })
    else {
      console.error(error)
      tellFilm({ said: 'The frames could not be written. Nothing in the project has changed; try a smaller size, or fewer frames.' })
    }
  } finally {
    going.delete(store)
  }
}

/** Ends it; nothing is handed over. */
export const stopFilm = (store: WorkbenchStore): void => going.get(store)?.abort(new DOMException('stopped', 'AbortError'))
