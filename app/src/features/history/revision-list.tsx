'use client'
import { differences } from '@kelvar/core/project/differences'
import { readDocument } from '@kelvar/core/project/read'
import type { ProjectDocument } from '@kelvar/core/document/schema'
import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query'
import { useState } from 'react'
import { Input, TextField } from 'react-aria-components'
import styled from 'styled-components'
import { z } from 'zod'
import { useWorkbench, useWorkbenchStore } from '@/state/context'
import { anything, ask, json } from '@/state/server'
import { PlainButton, SmallButton } from '@/ui/buttons'

const Part = styled.section`
  border-top: 1px solid var(--rule);
  padding: 2px 14px 20px;
  h3 { font-size: 14px; padding: 10px 0 8px; }
  > p { margin: 0; color: var(--soft); font-size: 12.5px; }
`
const List = styled.ol`
  list-style: none;
  margin: 0;
  padding: 0;
  display: grid;
  gap: 12px;
`
const Item = styled.li`
  display: grid;
  grid-template-columns: 76px minmax(0, 1fr);
  gap: 0 10px;
  .picture { width: 76px; height: 48px; border: 1px solid var(--rule); border-radius: 3px; overflow: hidden; background: linear-gradient(var(--stage-near), var(--stage)); }
  .picture img { width: 100%; height: 100%; object-fit: cover; display: block; }
  .head { font-weight: 600; font-size: 12.5px; display: flex; gap: 6px; align-items: baseline; }
  .aside { color: var(--caution); font-weight: 600; }
  .words { margin: 1px 0 0; color: var(--soft); font-size: 12px; line-height: 1.35; overflow-wrap: anywhere; }
  .acts { display: flex; margin: 2px 0 0 -7px; }
  .acts .words { padding-left: 7px; }
  .acts button { font-size: 12px; padding: 3px 7px; }
  .compare { grid-column: 1 / -1; margin: 4px 0 0; padding: 8px 10px; border-left: 3px solid var(--action); background: var(--tint); font-size: 12.5px; }
  .compare ul { margin: 4px 0 6px; padding-left: 16px; max-height: 180px; overflow-y: auto; }
  .compare p { margin: 0 0 6px; }
  input { width: 100%; border: 0; border-bottom: 1px solid transparent; background: none; padding: 0; font-weight: 600; font-size: 12.5px; outline: none; text-overflow: ellipsis; }
  input:hover { border-bottom-color: var(--rule); }
  input:focus { border-bottom-color: var(--action); }
  input::placeholder { color: var(--ink); opacity: 1; }
`
const answer = z.object({
  revisions: z.array(
    z.object({
      id: z.string(),
      number: z.number(),
      aside: z.boolean(),
      name: z.string().optional(),
      changes: z.array(z.string()),
      hasPicture: z.boolean(),
      createdAt: z.string(),
    }),
  ),
})
const sameDay = new Intl.DateTimeFormat('en-GB', { hour: '2-digit', minute: '2-digit' })
const otherDay = new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'short', hour: '2-digit', minute: '2-digit' })
const timeOf = (at: string) => (new Date(at).toDateString() === new Date().toDateString() ? sameDay : otherDay).format(new Date(at))

const SHOWN = 20

/** The project as it was kept before: with pictures, named, compared with the present in words, restored. */
export function RevisionList() {
  const store = useWorkbenchStore()
  const project = useWorkbench((s) => s.id)
  const revision = useWorkbench((s) => s.revision)
  const conflict = useWorkbench((s) => s.saving === 'conflict')
  const [failed, setFailed] = useState('')
  const [open, setOpen] = useState<{ id: string; document: ProjectDocument }>()
  const [most, setMost] = useState(SHOWN)
  const path = `/api/projects/${project}/revisions`
  const client = useQueryClient()
  const { data: list, error } = useQuery({
    // a new revision, or one set aside, makes the list stale
    queryKey: ['revisions', project, revision, conflict],
    queryFn: async ({ signal }) =>
      (await ask(path, answer, { signal }, 'The revisions cannot be read: the server does not answer. They are kept there.')).revisions,
    placeholderData: (before) => before,
  })
  const message = failed || error?.message || ''

  async function compare(id: string) {
    if (open?.id === id) return setOpen(undefined)
    try {
      const { document } = await ask(
        `${path}/${id}`,
        z.object({ document: z.unknown() }),
        {},
        'The revision cannot be read: the server does not answer. Try again.',
      )
      const read = readDocument(document)
      setFailed(read.ok ? '' : read.problem.message)
      if (read.ok) setOpen({ id, document: read.document })
    } catch (thrown) {
      setFailed(thrown instanceof Error ? thrown.message : '')
    }
  }

  const naming = useMutation({
    mutationFn: ({ id, name }: { id: string; name: string }) =>
      ask(`${path}/${id}`, anything, json('PATCH', { name }), 'The name was not kept: the server does not answer. Try again.'),
    onError: (thrown) => setFailed(thrown.message),
    onSettled: () => client.invalidateQueries({ queryKey: ['revisions', project] }),
  })
  const rename = (id: string, name: string) => naming.mutate({ id, name })

  return (
    <Part aria-label="Revisions">
      <h3>Revisions</h3>
      {message && <p role="alert">{message}</p>}
      {!list && !message && <p data-pulse>Looking…</p>}
      <List>
        {list?.slice(0, most).map((item) => {
          const title = item.aside ? `Set aside ${timeOf(item.createdAt)}` : `Revision ${item.number}`
          return (
            <Item key={item.id}>
              <div className="picture">{item.hasPicture && <img src={`/api/projects/${project}/revisions/${item.id}/picture`} alt="" loading="lazy" />}</div>
              <div>
                <Name key={item.name ?? ''} label={title} name={item.name} onChange={(name) => rename(item.id, name)} />
                <p className="words">
                  {item.aside ? <span className="aside">{item.name ? `${title} · ` : ''}</span> : `${item.name ? `${title} · ` : ''}${timeOf(item.createdAt)}`}
                  {item.changes.length > 0 && `${item.aside ? '' : ' · '}${shortly(item.changes)}`}
                </p>
                <div className="acts">
                  {!item.aside && item.number === revision ? (
                    <span className="words">kept now</span>
                  ) : (
                    <PlainButton aria-expanded={open?.id === item.id} aria-label={`Compare ${title}`} onPress={() => compare(item.id)}>
                      Compare
                    </PlainButton>
                  )}
                </div>
              </div>
              {open?.id === item.id && (
                <Comparison
                  document={open.document}
                  onRestore={() => {
                    const restored = withPresentTryOuts(open.document, store.getState().document)
                    store.getState().replace(`Restore ${title.charAt(0).toLowerCase()}${title.slice(1)}`, restored)
                    setOpen(undefined)
                  }}
                />
              )}
            </Item>
          )
        })}
      </List>
      {list && list.length > most && <PlainButton onPress={() => setMost(most + 100)}>Older ones</PlainButton>}
    </Part>
  )
}

const shortly = (changes: readonly string[]) =>
  changes.length <= 2 ? changes.join(' · ') : `${changes.slice(0, 2).join(' · ')} and ${changes.length - 2} more`

/** What restoring a revision would change, in words, and the button that does it. */
function Comparison({ document, onRestore }: { document: ProjectDocument; onRestore: () => void }) {
  const present = useWorkbench((s) => s.document)
  const said = differences(present, withPresentTryOuts(document, present))
  if (said.length === 0) return <div className="compare">Nothing differs from what is there now.</div>
  return (
    <div className="compare">
      <span>Restoring it would change:</span>
      <ul>
        {said.map((words, i) => (
          <li key={i}>{words}</li>
        ))}
      </ul>
      <SmallButton onPress={onRestore}>Restore this revision</SmallButton>
    </div>
  )
}

/** Try-outs are kept beside the work, not part of a revision of it: those of now stay. */
function withPresentTryOuts(document: ProjectDocument, present: ProjectDocument): ProjectDocument {
  const pieces = document.pieces.map((piece) => ({ ...piece, tryOuts: present.pieces.find((p) => p.id === piece.id)?.tryOuts ?? piece.tryOuts }))
  return { ...document, pieces }
}

/** A name that is taken on Enter or when the field is left. */
function Name({ label, name, onChange }: { label: string; name: string | undefined; onChange: (name: string) => void }) {
  const [value, setValue] = useState(name ?? '')
  const done = () => value.trim() !== (name ?? '') && onChange(value.trim())
  return (
    <TextField aria-label={`Name of ${label}`} value={value} onChange={setValue} maxLength={80}>
      <Input
        placeholder={label}
        title="Give it a name to keep it for good"
        onBlur={done}
        onKeyDown={(event) => event.key === 'Enter' && event.currentTarget.blur()}
      />
    </TextField>
  )
}
