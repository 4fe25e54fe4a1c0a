'use client'
import { Plus } from 'lucide-react'
import Link from 'next/link'
import { useRouter } from 'next/navigation'
import { useState } from 'react'
import { Button } from 'react-aria-components'
import styled from 'styled-components'
import type { ProjectSummary } from '@/server/projects'
import { ActionButton, PlainButton } from '@/ui/controls'
import { Wordmark } from '@/ui/wordmark'

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
  > :last-child { margin-left: auto; }
`
const Title = styled.div`
  padding: 40px 0 22px;
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
    background: radial-gradient(circle at 50% 40%, #f8f5ee, #e4dccd);
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
  .remove { position: absolute; right: -4px; bottom: 2px; }
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
const Empty = styled.p`
  border: 1px dashed var(--rule);
  border-radius: 4px;
  padding: 40px;
  text-align: center;
  color: var(--soft);
`

const when = new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'long', hour: '2-digit', minute: '2-digit' })

/** The library of projects: a plain list with pictures, and a new one. */
export function Cabinet({ projects = [], unreachable = false }: { projects?: ProjectSummary[]; unreachable?: boolean }) {
  const router = useRouter()
  const [busy, setBusy] = useState(false)
  const [message, setMessage] = useState(unreachable ? 'The library of projects cannot be reached. Start Kelvar again with ./start, then reload.' : '')
  const [asked, setAsked] = useState<string>()

  async function create() {
    setBusy(true)
    const response = await fetch('/api/projects', { method: 'POST', headers: { 'content-type': 'application/json' }, body: '{}' }).catch(() => undefined)
    if (response?.ok) router.push(`/project/${((await response.json()) as { id: string }).id}`)
    else {
      setBusy(false)
      setMessage('A new project could not be made: the server does not answer. Nothing is lost; try again.')
    }
  }

  async function remove(id: string) {
    const response = await fetch(`/api/projects/${id}`, { method: 'DELETE' }).catch(() => undefined)
    setAsked(undefined)
    if (response?.ok) router.refresh()
    else setMessage('The project could not be removed: the server does not answer.')
  }

  return (
    <Page>
      <Head>
        <Wordmark />
        <ActionButton onPress={create} isDisabled={busy || unreachable}>
          {busy ? 'Opening…' : 'New project'}
        </ActionButton>
      </Head>
      <Title>
        <h1>Cabinet</h1>
        <p>Every project is kept by itself as you work.</p>
      </Title>
      {message && <Empty role="alert">{message}</Empty>}
      <List>
        {projects.map((p) => (
          <Card key={p.id}>
            <Link href={`/project/${p.id}`}>
              <div className="picture">{p.hasPicture ? <img src={`/api/projects/${p.id}/picture?r=${p.revision}`} alt="" /> : p.name}</div>
              <strong>{p.name}</strong>
              <small suppressHydrationWarning>
                {p.pieces === 1 ? '1 piece' : `${p.pieces} pieces`} · {when.format(new Date(p.updatedAt))}
              </small>
            </Link>
            {asked === p.id ? (
              <span className="remove">
                <PlainButton onPress={() => remove(p.id)} style={{ color: 'var(--failure)', fontWeight: 600 }}>
                  Remove for good
                </PlainButton>
                <PlainButton onPress={() => setAsked(undefined)}>Keep</PlainButton>
              </span>
            ) : (
              <PlainButton className="remove" aria-label={`Remove ${p.name}`} onPress={() => setAsked(p.id)}>
                Remove
              </PlainButton>
            )}
          </Card>
        ))}
        {!unreachable && (
          <li>
            <NewTile onPress={create} isDisabled={busy}>
              <Plus size={22} aria-hidden />
              Type a word: it stands at once
            </NewTile>
          </li>
        )}
      </List>
    </Page>
  )
}
