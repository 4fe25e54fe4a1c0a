'use client'
import { FileUp } from 'lucide-react'
import { useState } from 'react'
import { DropZone, FileTrigger } from 'react-aria-components'
import styled from 'styled-components'
import { z } from 'zod'
import { useWorkbenchStore } from '@/features/workbench/context'
import { setAsset } from '@/features/workbench/store'
import { ActionButton } from '@/ui/controls'

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
  small { color: var(--soft); font-size: 12px; }
  p { margin: 0; color: var(--failure); font-size: 12.5px; }
`

const added = z.object({ sha256: z.string(), name: z.string(), bytes: z.number(), layers: z.number() })
const refusal = z.object({ error: z.object({ message: z.string(), remedy: z.string() }) })

/** The drawing a Vector file step brings in: chosen or dropped, read by the server, carried by the project. */
export function VectorControl({ title, stepId, value }: { title: string; stepId: string; value: { sha256: string; name: string } }) {
  const store = useWorkbenchStore()
  const [busy, setBusy] = useState(false)
  const [message, setMessage] = useState('')

  async function take(file: File | undefined) {
    if (!file) return
    setBusy(true)
    setMessage('')
    try {
      const response = await fetch('/api/files', { method: 'POST', body: file, headers: { 'x-file-name': encodeURIComponent(file.name) } })
      const answer: unknown = await response.json()
      if (response.ok) setAsset(store, stepId, 'file', added.parse(answer), 'vector')
      else {
        const { error } = refusal.parse(answer)
        setMessage(`${file.name}: ${error.message} ${error.remedy}`)
      }
    } catch (error) {
      console.error(error)
      setMessage('The server does not answer. Try again when it does.')
    }
    setBusy(false)
  }

  return (
    <Zone
      aria-label={`${title}: drop a drawing here`}
      getDropOperation={() => 'copy'}
      onDrop={async (event) => {
        const [item] = event.items
        if (item?.kind === 'file') await take(await item.getFile())
      }}
    >
      {value.name && <b>{value.name}</b>}
      <FileTrigger acceptedFileTypes={['.svg', '.dxf']} onSelect={(files) => take(files?.[0])}>
        <ActionButton isDisabled={busy}>
          <span style={{ display: 'inline-flex', gap: 7, alignItems: 'center' }}>
            <FileUp size={14} /> {busy ? 'Reading…' : value.sha256 ? 'Choose another drawing' : 'Choose a drawing'}
          </span>
        </ActionButton>
      </FileTrigger>
      <small>SVG or DXF, dropped here or chosen. Every colour becomes a layer.</small>
      {message && <p role="alert">{message}</p>}
    </Zone>
  )
}
