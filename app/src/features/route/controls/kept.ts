import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { z } from 'zod'
import { anything, ask, json } from '@/state/server'

const AWAY = 'The cabinet cannot be reached. Nothing is lost; try again.'
const NONE: readonly never[] = []

interface Named {
  readonly id: string
  readonly name: string
}

/** What of one kind is kept in the cabinet by name, and what can be done with it; failures come as a sentence to show. */
export function useKept<Thing extends Named>(
  what: 'profiles' | 'masks',
  thing: z.ZodType<Thing>,
): {
  list: readonly Thing[]
  keep: (made: Omit<Thing, 'id'>) => Promise<string | undefined>
  remove: (id: string) => Promise<string | undefined>
} {
  const client = useQueryClient()
  const { data } = useQuery({
    queryKey: [what],
    queryFn: async ({ signal }) => {
      const { [what]: list } = await ask(`/api/${what}`, z.record(z.string(), z.array(thing)), { signal }, AWAY)
      return list
    },
  })
  const change = (next: (list: readonly Thing[]) => readonly Thing[]) => client.setQueryData<readonly Thing[]>([what], (list) => next(list ?? NONE))
  const keeping = useMutation({
    mutationFn: (made: Omit<Thing, 'id'>) => ask(`/api/${what}`, thing, json('POST', made), AWAY),
    onSuccess: (made) => change((list) => [...list.filter(({ id }) => id !== made.id), made].sort((a, b) => a.name.localeCompare(b.name))),
  })
  const removing = useMutation({
    mutationFn: (id: string) => ask(`/api/${what}/${id}`, anything, { method: 'DELETE' }, AWAY),
    onSuccess: (_, id) => change((list) => list.filter((p) => p.id !== id)),
  })
  return { list: data ?? NONE, keep: (made) => said(keeping.mutateAsync(made)), remove: (id) => said(removing.mutateAsync(id)) }
}

/** What went wrong, in words; undefined when nothing did. */
const said = (work: Promise<unknown>): Promise<string | undefined> =>
  work.then(
    () => undefined,
    (error) => (error instanceof Error ? error.message : AWAY),
  )
