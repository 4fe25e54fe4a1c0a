import { Coverage } from '@kelvar/core/font/coverage'
import { SHIPPED_FACES } from '@kelvar/core/fonts'
import { useQuery, useQueryClient } from '@tanstack/react-query'
import { LRUCache } from 'lru-cache'
import { z } from 'zod'
import { faceFacts } from '@kelvar/core/font/facts'
import { anything, ask } from '@/state/server'

const listedFace = faceFacts.extend({ sha256: z.string().regex(/^[0-9a-f]{64}$/), bytes: z.number(), shipped: z.string().optional() })
const listing = z.object({ faces: z.array(listedFace) })
const addition = z.object({ faces: z.array(listedFace), notes: z.array(z.string()) })

/** A face of the type case. */
export type CaseFace = z.infer<typeof listedFace>

/** What became of a file that was handed in. */
export interface Handed {
  readonly file: string
  readonly ok: boolean
  readonly message: string
}

/** The shipped faces are known before the server answers. */
const SHIPPED: readonly CaseFace[] = SHIPPED_FACES.map((face) => ({ ...face, scripts: [...face.scripts], axes: [...face.axes], shipped: face.id }))

const KEY = ['faces']

const MAX_FILE = 30 * 1024 * 1024

/** The faces of the type case; asked for once, at first use. */
export function useTypeCase(): { faces: readonly CaseFace[]; failed: boolean; reload: () => void } {
  const { data, isError, refetch } = useQuery({ queryKey: KEY, queryFn: async ({ signal }) => (await ask('/api/fonts', listing, { signal })).faces })
  return { faces: data ?? SHIPPED, failed: isError, reload: () => void refetch() }
}

/** What changes the type case: `handIn` takes font files, `takeOut` lets one go. */
export function useCaseChanges() {
  const client = useQueryClient()
  const reload = () => client.invalidateQueries({ queryKey: KEY })
  return {
    /** Hands font files in, one after the other, and tells what became of each, also of those that were left out because it was stopped. */
    async handIn(files: readonly File[], signal: AbortSignal, tell: (done: number) => void): Promise<{ handed: Handed[]; faces: CaseFace[] }> {
      const handed: Handed[] = []
      const faces: CaseFace[] = []
      for (const [i, file] of files.entries()) {
        if (files.length > 1) tell(i / files.length)
        const { ok, message, added } = await handInOne(file, signal)
        handed.push({ file: file.name, ok, message })
        faces.push(...added)
      }
      if (faces.length > 0) await reload()
      return { handed, faces }
    },
    /** Takes one of a person's own faces out of the type case. */
    async takeOut(sha256: string): Promise<void> {
      await ask(`/api/fonts/${sha256}`, anything, { method: 'DELETE' }).catch((error) => console.error(error))
      await reload()
    },
  }
}

async function handInOne(file: File, signal: AbortSignal): Promise<{ ok: boolean; message: string; added: CaseFace[] }> {
  const no = (message: string) => ({ ok: false, message, added: [] })
  // saves sending what will be refused
  if (file.size > MAX_FILE) return no(`The file is ${Math.ceil(file.size / 1048576)} MB; the type case takes up to 30 MB. Choose a subset of the font.`)
  try {
    const { faces, notes } = await ask('/api/fonts', addition, { method: 'POST', body: file, signal })
    const names = faces.map((f) => f.name).join(', ')
    return { ok: true, message: notes.length > 0 ? notes.join(' ') : `${names} added.`, added: faces }
  } catch (error) {
    if (signal.aborted) return no('It was stopped.')
    return no(error instanceof Error ? error.message : 'The server does not answer.')
  }
}

const coverages = new LRUCache<string, Coverage>({ max: 1000 })

/** The characters of a text that a face lacks. */
export function lacking(face: CaseFace, text: string): string[] {
  let coverage = coverages.get(face.sha256)
  if (!coverage) coverages.set(face.sha256, (coverage = new Coverage(face.characters)))
  return coverage.missing(text)
}
