'use client'
import { ChevronDown, FolderOpen, Plus, Search, Trash2, X } from 'lucide-react'
import Link from 'next/link'
import { useRouter } from 'next/navigation'
import { cutText } from '@kelvar/core/document/words'
import { useQuery, useQueryClient } from '@tanstack/react-query'
import { useMemo, useState } from 'react'
import { Button, FileTrigger, Input, SearchField } from 'react-aria-components'
import styled from 'styled-components'
import { z } from 'zod'
import type { ProjectSummary } from '@/server/projects'
import { ask, json } from '@/state/server'
import { ActionButton, Choice, PlainButton } from '@/ui/buttons'
import { DayAndNight } from '@/ui/day-and-night'
import { LongWorkLine, useLongWork } from '@/ui/long-work'
import { Wordmark } from '@/ui/wordmark'

const identified = z.object({ id: z.string() })
/** answers of which nothing is wanted but that they came */
const done = z.unknown().transform(() => true as const)
const listed = z.object({
  projects: z.array(
    z.object({
      id: z.string(),
      name: z.string(),
      pieces: z.number(),
      revision: z.number(),
      hasPicture: z.boolean(),
      updatedAt: z.string(),
      removedAt: z.string().optional(),
    }),
  ),
  /** there are no more */
  all: z.boolean(),
})

const Page = styled.main`
  max-width: 1120px;
  margin: 0 auto;
  padding: 0 32px 64px;
`
const Head = styled.header`
  display: flex;
  align-items: center;
  gap: 16px;
  height: 64px;
  border-bottom: 1px solid var(--ink);
  .acts { margin-left: auto; display: flex; gap: 10px; align-items: center; }
`
const Title = styled.div`
  padding: 40px 0 22px;
  display: grid;
  grid-template-columns: 1fr auto auto;
  gap: 0 22px;
  align-items: end;
  .search { display: flex; align-items: center; gap: 7px; border-bottom: 1px solid var(--ink); width: 220px; color: var(--soft); }
  .search input { flex: 1; min-width: 0; border: 0; background: none; padding: 6px 0; outline: none; color: var(--ink); }
  .search:focus-within { border-bottom-color: var(--action); box-shadow: 0 1px 0 var(--action); }
  .sort > div { grid-template-columns: auto; }
  .sort > div > span { display: none; }
  h1 { font-size: 34px; font-weight: 700; letter-spacing: -0.02em; }
  p { margin: 4px 0 0; color: var(--soft); font-size: 14px; }
`
const List = styled.ul`
  list-style: none;
  margin: 0;
  padding: 0;
  display: grid;
  grid-template-columns: repeat(auto-fill, minmax(300px, 1fr));
  gap: 28px 24px;
`
const Card = styled.li`
  position: relative;
  a { color: inherit; text-decoration: none; display: block; border-radius: 4px; }
  .picture {
    aspect-ratio: 16 / 10;
    background: radial-gradient(circle at 50% 40%, var(--stage-near), var(--stage-far));
    border: 1px solid var(--rule);
    border-radius: 4px;
    overflow: hidden;
    display: grid;
    place-items: center;
    font: 700 26px/1.1 var(--display);
    color: color-mix(in srgb, var(--ink) 34%, transparent);
    text-align: center;
    padding: 0;
  }
  .picture img { width: 100%; height: 100%; object-fit: cover; display: block; }
  a:hover .picture { border-color: var(--action); }
  strong { display: block; margin-top: 10px; font: 600 15px/1.3 var(--display); }
  small { color: var(--soft); font-size: 12.5px; }
  .remove { display: flex; margin: 1px 0 0 -7px; font-size: 12.5px; }
  .remove a { display: inline-flex; padding: 5px 7px; color: var(--soft); border-radius: 3px; }
  .remove a:hover { color: var(--ink); background: color-mix(in srgb, var(--ink) 6%, transparent); }
`
const NewTile = styled(Button)`
  width: 100%;
  aspect-ratio: 16 / 10;
  border: 1px dashed color-mix(in srgb, var(--ink) 35%, transparent);
  border-radius: 4px;
  background: none;
  color: var(--soft);
  display: grid;
  place-content: center;
  justify-items: center;
  gap: 8px;
  font-size: 14px;
  cursor: pointer;
  &[data-hovered] { border-color: var(--action); color: var(--action); }
`
const Removed = styled.section`
  margin-top: 44px;
  border-top: 1px solid var(--rule);
  padding-top: 12px;
  > button { margin-left: -7px; }
  p { color: var(--soft); margin: 8px 0; }
  div { display: flex; align-items: baseline; gap: 12px; padding: 6px 0; border-bottom: 1px solid var(--rule); max-width: 620px; }
  strong { font: 600 14px/1.3 var(--display); }
  small { color: var(--soft); }
  div button { margin-left: auto; color: var(--action); font-weight: 600; }
`
const Told = styled.div`
  position: fixed;
  left: 50%;
  bottom: 24px;
  transform: translateX(-50%);
  display: flex;
  align-items: center;
  gap: 14px;
  padding: 10px 10px 10px 18px;
  border-radius: 4px;
  background: var(--ink);
  color: var(--paper);
  box-shadow: 0 12px 36px rgb(var(--shadow) / 0.3);
  z-index: 40;
  button { border: 0; background: none; color: inherit; font-weight: 700; padding: 5px 8px; border-radius: 3px; cursor: pointer; display: grid; }
  button[data-hovered] { background: color-mix(in srgb, var(--paper) 18%, transparent); }
  button[data-focus-visible] { outline: 2px solid var(--paper); }
`
const More = styled.div`
  display: grid;
  place-items: center;
  gap: 8px;
  padding: 34px 0 0;
  color: var(--soft);
  font-size: 13px;
`
const Empty = styled.p`
  border: 1px dashed var(--rule);
  border-radius: 4px;
  padding: 40px;
  text-align: center;
  color: var(--soft);
`

/** So many cards are shown at first, and more at a time: hundreds of pictures would take seconds. */
const AT_A_TIME = 60

const when = new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'long', hour: '2-digit', minute: '2-digit' })

/** The library of projects: a plain list with pictures, and a new one. `all`: none is older than those it is given. */
export function Cabinet({ projects = [], all = true, unreachable = false }: { projects?: ProjectSummary[]; all?: boolean; unreachable?: boolean }) {
  const router = useRouter()
  const [busy, setBusy] = useState(false)
  const bringing = useLongWork()
  const [message, setMessage] = useState(unreachable ? 'The library of projects cannot be reached. Start Kelvar again with ./start, then reload.' : '')
  /** the project removed last, to be put back at once */
  const [gone, setGone] = useState<ProjectSummary>()
  /** those that can be put back, while they are looked at */
  const [looking, setLooking] = useState(false)
  const client = useQueryClient()
  const { data, error: unseen } = useQuery({
    queryKey: ['removed'],
    queryFn: ({ signal }) => ask('/api/projects?removed', listed, { signal }, 'The removed projects cannot be looked at: the server does not answer.'),
    enabled: looking,
  })
  const removed = looking ? data : undefined

  const [query, setQuery] = useState('')
  const [order, setOrder] = useState<'changed' | 'name'>('changed')
  const [most, setMost] = useState(AT_A_TIME)
  const shown = useMemo(() => {
    const wanted = query.trim().toLowerCase()
    const found = projects.filter((p) => p.name.toLowerCase().includes(wanted))
    return order === 'name' ? found.toSorted((a, b) => a.name.localeCompare(b.name, 'en')) : found
  }, [projects, query, order])

  /** Does what changes the library; what went wrong is told, and undefined comes of it. */
  async function change<T>(path: string, shape: z.ZodType<T>, init: RequestInit, silent: string): Promise<T | undefined> {
    setBusy(true)
    setMessage('')
    try {
      return await ask(path, shape, init, silent)
    } catch (error) {
      setMessage(init.signal?.aborted ? 'Stopped; nothing was brought in.' : error instanceof Error ? error.message : silent)
      return undefined
    } finally {
      setBusy(false)
    }
  }

  async function bringIn(file: File) {
    const made = await bringing.run((signal) =>
      change('/api/projects/file', identified, { method: 'POST', body: file, signal }, 'The project file could not be brought in: the server does not answer.'),
    )
    if (made) router.push(`/project/${made.id}`)
  }

  async function copy(project: ProjectSummary) {
    const silent = 'The project could not be copied: the server does not answer.'
    const found = await change(`/api/projects/${project.id}`, z.object({ document: z.record(z.string(), z.unknown()) }), {}, silent)
    if (!found) return
    const document = { ...found.document, name: `${cutText(project.name, 112)} · copy` }
    if (await change('/api/projects', identified, json('POST', { document, copyOf: project.id }), silent)) router.refresh()
  }

  async function create() {
    const silent = 'A new project could not be made: the server does not answer. Nothing is lost; try again.'
    const made = await change('/api/projects', identified, json('POST', {}), silent)
    if (made) {
      setBusy(true)
      router.push(`/project/${made.id}`)
    }
  }

  async function remove(project: ProjectSummary) {
    if (
      (await change(`/api/projects/${project.id}`, done, { method: 'DELETE' }, 'The project could not be removed: the server does not answer.')) === undefined
    )
      return
    setGone(project)
    void client.invalidateQueries({ queryKey: ['removed'] })
    router.refresh()
  }

  async function putBack(project: ProjectSummary) {
    const silent = 'The project could not be put back: the server does not answer. It is still kept; try again.'
    if ((await change(`/api/projects/${project.id}/put-back`, done, { method: 'POST' }, silent)) === undefined) return
    setGone(undefined)
    void client.invalidateQueries({ queryKey: ['removed'] })
    router.refresh()
  }

  return (
    <Page>
      <Head>
        <Wordmark />
        <div className="acts">
          <FileTrigger acceptedFileTypes={['.kelvar']} onSelect={(files) => files?.[0] && bringIn(files[0])}>
            <PlainButton isDisabled={busy || unreachable}>
              <FolderOpen size={15} aria-hidden /> Open a project file
            </PlainButton>
          </FileTrigger>
          <DayAndNight />
          <ActionButton onPress={create} isDisabled={busy || unreachable}>
            {busy ? 'Opening…' : 'New project'}
          </ActionButton>
        </div>
      </Head>
      <Title>
        <div>
          <h1>Cabinet</h1>
          <p>Every project is kept by itself as you work.</p>
        </div>
        {projects.length > 1 && (
          <>
            <SearchField className="search" aria-label="Search projects" value={query} onChange={setQuery}>
              <Search size={15} aria-hidden />
              <Input placeholder="Find a project" />
            </SearchField>
            <div className="sort">
              <Choice
                label="Order of projects"
                value={order}
                options={[
                  { id: 'changed', label: 'Last changed' },
                  { id: 'name', label: 'By name' },
                ]}
                onChange={setOrder}
              />
            </div>
          </>
        )}
      </Title>
      {bringing.busy && (
        <Empty as="div">
          <LongWorkLine work={bringing} words="Opening the project file" />
        </Empty>
      )}
      {message && <Empty role="alert">{message}</Empty>}
      {query !== '' && shown.length === 0 && <Empty>No project is called “{query}”.</Empty>}
      <List>
        {shown.slice(0, most).map((p) => (
          <Card key={p.id}>
            <Link href={`/project/${p.id}`} prefetch={false}>
              <div className="picture">{p.hasPicture ? <img src={`/api/projects/${p.id}/picture?r=${p.revision}`} alt="" loading="lazy" /> : p.name}</div>
              <strong>{p.name}</strong>
              <small suppressHydrationWarning>
                {p.pieces === 1 ? '1 piece' : `${p.pieces} pieces`} · {when.format(new Date(p.updatedAt))}
              </small>
            </Link>
            <span className="remove">
              <a href={`/api/projects/${p.id}/file`} download aria-label={`Take out ${p.name} as a file`}>
                Take out
              </a>
              <PlainButton aria-label={`Copy ${p.name}`} isDisabled={busy} onPress={() => copy(p)}>
                Copy
              </PlainButton>
              <PlainButton aria-label={`Remove ${p.name}`} onPress={() => remove(p)}>
                Remove
              </PlainButton>
            </span>
          </Card>
        ))}
        {!unreachable && query === '' && shown.length <= most && (
          <li>
            <NewTile onPress={create} isDisabled={busy}>
              <Plus size={22} aria-hidden />
              Type a word: it stands at once
            </NewTile>
          </li>
        )}
      </List>
      {shown.length > most && (
        <More>
          <PlainButton onPress={() => setMost(most + AT_A_TIME)}>
            <ChevronDown size={15} aria-hidden /> Show more
          </PlainButton>
          {most} of {shown.length} {query === '' ? 'projects' : 'found'} shown
        </More>
      )}
      {!all && shown.length <= most && <More>Projects that were changed longer ago than these are not listed. Remove some, and they come in sight.</More>}
      {!unreachable && (
        <Removed aria-label="Removed projects">
          <PlainButton aria-expanded={looking} onPress={() => setLooking(!looking)}>
            <Trash2 size={14} aria-hidden /> {looking ? 'Hide removed projects' : 'Removed projects'}
          </PlainButton>
          {looking && unseen && <p role="alert">{unseen.message}</p>}
          {removed?.projects.length === 0 && <p>None. What is removed can be put back from here for thirty days.</p>}
          {removed?.projects.map((p) => (
            <div key={p.id}>
              <strong>{p.name}</strong>
              <small suppressHydrationWarning>removed {when.format(new Date(p.removedAt ?? p.updatedAt))}</small>
              <PlainButton aria-label={`Put back ${p.name}`} onPress={() => putBack(p)}>
                Put back
              </PlainButton>
            </div>
          ))}
          {removed?.all === false && <p>Projects that were removed before these are kept as well, but not listed.</p>}
        </Removed>
      )}
      {gone && (
        <Told role="status">
          “{gone.name}” is removed.
          <Button onPress={() => putBack(gone)}>Undo</Button>
          <Button aria-label="Close" onPress={() => setGone(undefined)}>
            <X size={14} aria-hidden />
          </Button>
        </Told>
      )}
    </Page>
  )
}
