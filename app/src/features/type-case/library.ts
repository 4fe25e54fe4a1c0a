import { Coverage } from '@kelvar/core/font/coverage'
import { SHIPPED_FACES } from '@kelvar/core/fonts'
import { useEffect } from 'react'
import { createStore, useStore } from 'zustand'
import { z } from 'zod'
import { faceFacts } from '@kelvar/core/font/facts'

const listedFace = faceFacts.extend({ sha256: z.string().regex(/^[0-9a-f]{64}$/), bytes: z.number(), shipped: z.string().optional() })
const listing = z.object({ faces: z.array(listedFace) })
const addition = z.object({ faces: z.array(listedFace), notes: z.array(z.string()) })
const refusal = z.object({ error: z.object({ message: z.string(), remedy: z.string() }) })

/** A face of the type case. */
export type CaseFace = z.infer<typeof listedFace>

/** What became of a file that was handed in. */
export interface Handed {
  readonly file: string
  readonly ok: boolean
  readonly message: string
}

interface Library {
  readonly faces: readonly CaseFace[]
  readonly state: 'idle' | 'loading' | 'ready' | 'failed'
}

/** The shipped faces are known before the server answers. */
const library = createStore<Library>(() => ({
  faces: SHIPPED_FACES.map((face) => ({ ...face, scripts: [...face.scripts], axes: [...face.axes], shipped: face.id })),
  state: 'idle',
}))

const MAX_FILE = 30 * 1024 * 1024

async function load(): Promise<void> {
  library.setState({ state: 'loading' })
  try {
    const response = await fetch('/api/fonts')
    if (!response.ok) throw new Error(`status ${response.status}`)
    library.setState({ faces: listing.parse(await response.json()).faces, state: 'ready' })
  } catch (error) {
    console.error(error)
    library.setState({ state: 'failed' })
  }
}

/** The faces of the type case; loaded once, at first use. */
export function useTypeCase(): Library & { reload: () => void } {
  const state = useStore(library)
  useEffect(() => {
    if (library.getState().state === 'idle') void load()
  }, [])
  return { ...state, reload: () => void load() }
}

/** Hands font files in, one after the other, and tells what became of each, also of those that were left out because it was stopped. */
export async function handIn(files: readonly File[], signal: AbortSignal, tell: (done: number) => void): Promise<{ handed: Handed[]; faces: CaseFace[] }> {
  const handed: Handed[] = []
  const faces: CaseFace[] = []
  for (const [i, file] of files.entries()) {
    if (files.length > 1) tell(i / files.length)
    const { ok, message, added } = await handInOne(file, signal)
    handed.push({ file: file.name, ok, message })
    faces.push(...added)
  }
  if (faces.length > 0) await load()
  return { handed, faces }
}

async function handInOne(file: File, signal: AbortSignal): Promise<{ ok: boolean; message: string; added: CaseFace[] }> {
  const no = (message: string) => ({ ok: false, message, added: [] })
  // saves sending what will be refused
  if (file.size > MAX_FILE) return no(`The file is ${Math.ceil(file.size / 1048576)} MB; the type case takes up to 30 MB. Choose a subset of the font.`)
  try {
    const response = await fetch('/api/fonts', { method: 'POST', body: file, signal })
    const answer: unknown = await response.json()
    if (!response.ok) {
      const { error } = refusal.parse(answer)
      return no(`${error.message} ${error.remedy}`)
    }
    const { faces, notes } = addition.parse(answer)
    const names = faces.map((f) => f.name).join(', ')
    return { ok: true, message: notes.length > 0 ? notes.join(' ') : `${names} added.`, added: faces }
  } catch (error) {
    if (signal.aborted) return no('It was stopped.')
    console.error(error)
    return no('The server does not answer. Try again when it does; nothing else is lost.')
  }
}

/** Takes one of a person's own faces out of the type case. */
export async function takeOut(sha256: string): Promise<boolean> {
  const response = await fetch(`/api/fonts/${sha256}`, { method: 'DELETE' }).catch(() => undefined)
  if (!response?.ok) return false
  await load()
  return true
}

const coverages = new Map<string, Coverage>()

/** The characters of a text that a face lacks. */
export function lacking(face: CaseFace, text: string): string[] {
  let coverage = coverages.get(face.sha256)
  if (!coverage) coverages.set(face.sha256, (coverage = new Coverage(face.characters)))
  return coverage.missing(text)
}
