'use client'
import { FileUp } from 'lucide-react'
import { useState } from 'react'
import { DropZone, FileTrigger } from 'react-aria-components'
import styled from 'styled-components'
import { useWorkbenchStore } from '@/state/context'
import { ActionButton } from '@/ui/buttons'
import { LongWorkLine, useLongWork } from '@/ui/long-work'
import { asOneFile, sendFile, type SentFile } from './send-file'
import { setAsset } from '@/state/actions/files'
import { placeOf, type StepPlace } from '@/state/actions/steps'

const Zone = styled(DropZone)`
  display: grid;
  gap: 6px;
  justify-items: start;
  border: 1px dashed var(--rule);
  border-radius: 4px;
  padding: 10px 12px;
  background: var(--paper);
  &[data-drop-target] { border-color: var(--action); background: color-mix(in srgb, var(--action) 8%, var(--paper)); }
  b { font-weight: 600; overflow-wrap: anywhere; }
  img { max-width: 100%; max-height: 110px; border: 1px solid var(--rule); border-radius: 2px; display: block; }
  small { color: var(--soft); font-size: 12px; }
  p { margin: 0; color: var(--failure); font-size: 12.5px; }
`

const KINDS = {
  drawing: { asset: 'vector', endings: ['.svg', '.dxf'], words: 'SVG or DXF, dropped here or chosen. Every colour becomes a layer.' },
  model: {
    asset: 'model',
    endings: ['.stl', '.obj', '.mtl', '.ply', '.glb', '.gltf', '.3mf', '.zip', '.png', '.jpg', '.jpeg', '.webp'],
    words: 'STL, PLY, glTF, 3MF, or OBJ together with its MTL and pictures, dropped here or chosen; up to 200 MB.',
  },
  picture: { asset: 'picture', endings: ['image/png', 'image/jpeg', 'image/webp'], words: 'PNG, JPEG or WebP, dropped here or chosen.' },
} as const

/** The drawing or picture a source step brings in: chosen or dropped, read by the server, carried by the project. */
export function FileControl({
  title,
  stepId,
  param,
  kind,
  value,
  set,
}: {
  title: string
  stepId: string
  param: string
  kind: keyof typeof KINDS
  value: { sha256: string; name: string }
  /** where it goes, if not to the parameter itself; false when that is gone */
  set?: (at: StepPlace, file: SentFile) => boolean
}) {
  const store = useWorkbenchStore()
  const work = useLongWork()
  const [message, setMessage] = useState('')
  const { asset, endings, words } = KINDS[kind]

  async function take(file: File | undefined) {
    if (!file || work.busy) return
    setMessage('')
    // whatever piece is in hand when it has arrived
    const at = placeOf(store, stepId)
    const sent = await work.run((signal) => sendFile(file, kind, signal))
    if (!sent) setMessage(`Stopped; ${file.name} was not brought in.`)
    else if ('message' in sent) setMessage(sent.message)
    else if (!(set?.(at, sent) ?? setAsset(store, at, param, sent, asset))) setMessage(`${file.name} was read, but the step it was for is gone.`)
  }

  return (
    <Zone
      aria-label={`${title}: drop a ${kind} here`}
      getDropOperation={() => 'copy'}
      onDrop={async (event) => {
        const files = await Promise.all(event.items.map((item) => (item.kind === 'file' ? item.getFile() : undefined)))
        await take(await asOneFile(files.filter((file) => file !== undefined)))
      }}
    >
      {value.name && <b>{value.name}</b>}
      {kind === 'picture' && value.sha256 && <img src={`/api/assets/${value.sha256}`} alt={value.name} />}
      <FileTrigger acceptedFileTypes={[...endings]} allowsMultiple={kind === 'model'} onSelect={async (files) => take(await asOneFile([...(files ?? [])]))}>
        <ActionButton isDisabled={work.busy}>
          <span style={{ display: 'inline-flex', gap: 7, alignItems: 'center' }}>
            <FileUp size={14} /> {work.busy ? 'Reading…' : value.sha256 ? `Choose another ${kind}` : `Choose a ${kind}`}
          </span>
        </ActionButton>
      </FileTrigger>
      <LongWorkLine work={work} words="Reading" />
      <small>{words}</small>
      {message && <p role="alert">{message}</p>}
    </Zone>
  )
}
