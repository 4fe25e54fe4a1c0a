import type { NodePath } from '@kelvar/core/outline/nodes'
import { nodePath } from '@kelvar/core/outline/nodes'
import { useCallback, useEffect, useState } from 'react'
import { z } from 'zod'

const keptProfile = z.object({ id: z.string(), name: z.string(), drawn: nodePath })
export type KeptProfile = z.infer<typeof keptProfile>
const refusal = z.object({ error: z.object({ message: z.string(), remedy: z.string() }) })

const asked = async (path: string, init?: RequestInit): Promise<unknown> => {
  const response = await fetch(path, init).catch(() => undefined)
  const body: unknown = await response?.json().catch(() => undefined)
  if (response?.ok) return body
  const told = refusal.safeParse(body)
  throw new Error(told.success ? `${told.data.error.message} ${told.data.error.remedy}` : 'The cabinet cannot be reached. Nothing is lost; try again.')
}

let known: readonly KeptProfile[] = []
const listeners = new Set<() => void>()
const tell = (profiles: readonly KeptProfile[]) => {
  known = profiles
  for (const listener of listeners) listener()
}

/** The profiles kept in the cabinet, and what can be done with them; failures come as a sentence to show. */
export function useKeptProfiles(): {
  profiles: readonly KeptProfile[]
  keep: (name: string, drawn: NodePath) => Promise<string | undefined>
  remove: (id: string) => Promise<string | undefined>
} {
  const [profiles, setProfiles] = useState(known)
  useEffect(() => {
    const listen = () => setProfiles(known)
    listeners.add(listen)
    asked('/api/profiles')
      .then((body) => tell(z.object({ profiles: z.array(keptProfile) }).parse(body).profiles))
      .catch(() => undefined)
    return () => {
      listeners.delete(listen)
    }
  }, [])
  const keep = useCallback(async (name: string, drawn: NodePath) => {
    try {
      const body = { name, drawn }
      const made = keptProfile.parse(
        await asked('/api/profiles', { method: 'POST', headers: { 'content-type': 'application/json' }, body: JSON.stringify(body) }),
      )
      tell([...known.filter((p) => p.id !== made.id), made].sort((a, b) => a.name.localeCompare(b.name)))
      return undefined
    } catch (error) {
      return error instanceof Error ? error.message : 'It could not be kept.'
    }
  }, [])
  const remove = useCallback(async (id: string) => {
    try {
      await asked(`/api/profiles/${id}`, { method: 'DELETE' })
      tell(known.filter((p) => p.id !== id))
      return undefined
    } catch (error) {
      return error instanceof Error ? error.message : 'It could not be removed.'
    }
  }, [])
  return { profiles, keep, remove }
}
