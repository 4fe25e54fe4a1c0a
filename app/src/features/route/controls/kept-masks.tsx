import { servesOthers } from '@kelvar/core/mask/kept'
import { type Mask, maskSchema } from '@kelvar/core/mask/schema'
import { Trash2 } from 'lucide-react'
import { useState } from 'react'
import { Button, Input, Label, TextField } from 'react-aria-components'
import styled from 'styled-components'
import { z } from 'zod'
import { PlainButton } from '@/ui/buttons'
import { PickInput } from '@/ui/controls'
import { useKept } from './kept'

const keptMask = z.object({ id: z.string(), name: z.string(), mask: maskSchema })

const Foot = styled.div`
  display: grid;
  grid-template-columns: minmax(0, 1fr) auto auto;
  gap: 4px 8px;
  align-items: end;
  .name { display: grid; gap: 2px; }
  .name label { color: var(--soft); font-size: 12.5px; }
  .name input { border: 0; border-bottom: 1px solid var(--ink); background: none; padding: 4px 2px; font-weight: 600; min-width: 0; }
  .bin { border: 0; background: none; padding: 5px; color: var(--soft); cursor: pointer; display: grid; }
  .bin[data-hovered] { color: var(--action); }
  p { grid-column: 1 / -1; margin: 0; color: var(--soft); font-size: 12.5px; }
`

/** A mask out of the cabinet instead of the one there is. */
export function MaskFromCabinet({ onTake }: { onTake: (mask: Mask) => void }) {
  const { list } = useKept('masks', keptMask)
  if (list.length === 0) return null
  return (
    <PickInput
      bare
      label="A mask from the cabinet"
      value="none"
      options={[{ id: 'none', label: 'From the cabinet…' }, ...list.map(({ id, name }) => ({ id, label: name }))]}
      onChange={(chosen) => {
        const taken = list.find(({ id }) => id === chosen)
        if (taken) onTake(taken.mask)
      }}
    />
  )
}

/** Keeps a mask under a name, for other steps and projects. */
export function KeepMask({ mask }: { mask: Mask }) {
  const { list, keep, remove } = useKept('masks', keptMask)
  const [name, setName] = useState('')
  const [message, setMessage] = useState('')
  const kept = servesOthers(mask)
  const left = mask.list.length - kept.list.length
  const same = list.find((one) => one.name === name.trim())
  return (
    <Foot>
      <TextField className="name" value={name} onChange={setName} maxLength={60}>
        <Label>Name in the cabinet</Label>
        <Input placeholder="e.g. Weathered below" />
      </TextField>
      <PlainButton
        isDisabled={name.trim() === '' || kept.list.length === 0}
        onPress={async () =>
          setMessage(
            (await keep({ name: name.trim(), mask: kept })) ??
              (left > 0 ? 'Kept, but for what is painted or goes by a picture: that stays with this piece.' : 'Kept for every project.'),
          )
        }
      >
        Keep in the cabinet
      </PlainButton>
      {same && (
        <Button className="bin" aria-label={`Remove ${same.name} from the cabinet`} onPress={async () => setMessage((await remove(same.id)) ?? '')}>
          <Trash2 size={15} aria-hidden />
        </Button>
      )}
      {message !== '' && <p role="status">{message}</p>}
    </Foot>
  )
}
