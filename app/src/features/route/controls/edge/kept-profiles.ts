import { type NodePath, nodePath } from '@kelvar/core/outline/nodes'
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { z } from 'zod'
import { anything, ask, json } from '@/state/server'

const keptProfile = z.object({ id: z.string(), name: z.string(), drawn: nodePath })
export type KeptProfile = z.infer<typeof keptProfile>

const KEY = ['profiles']
const AWAY = 'The cabinet cannot be reached. Nothing is lost; try again.'
const NONE: readonly KeptProfile[] = []

/** The profiles kept in the cabinet, and what can be done with them; failures come as a sentence to show. */
export function useKeptProfiles(): {
  profiles: readonly KeptProfile[]
  keep: (name: string, drawn: NodePath) => Promise<string | undefined>
  remove: (id: string) => Promise<string | undefined>
} {
  const client = useQueryClient()
  const { data } = useQuery({
    queryKey: KEY,
    queryFn: async ({ signal }) => (await ask('/api/profiles', z.object({ profiles: z.array(keptProfile) }), { signal }, AWAY)).profiles,
  })
  const change = (next: (list: readonly KeptProfile[]) => readonly KeptProfile[]) =>
    client.setQueryData<readonly KeptProfile[]>(KEY, (list) => next(list ?? NONE))
  const keeping = useMutation({
    mutationFn: (profile: { name: string; drawn: NodePath }) => ask('/api/profiles', keptProfile, json('POST', profile), AWAY),
    onSuccess: (made) => change((list) => [...list.filter((p) => p.id !== made.id), made].sort((a, b) => a.name.localeCompare(b.name))),
  })
  const removing = useMutation({
    mutationFn: (id: string) => ask(`/api/profiles/${id}`, anything, { method: 'DELETE' }, AWAY),
    onSuccess: (_, id) => change((list) => list.filter((p) => p.id !== id)),
  })
  return {
    profiles: data ?? NONE,
    keep: (name, drawn) => said(keeping.mutateAsync({ name, drawn })),
    remove: (id) => said(removing.mutateAsync(id)),
  }
}

/** What went wrong, in words; undefined when nothing did. */
const said = (work: Promise<unknown>): Promise<string | undefined> =>
  work.then(
    () => undefined,
    (error) => (error instanceof Error ? error.message : AWAY),
  )
