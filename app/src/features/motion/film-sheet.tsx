'use client'
import { Film as FilmIcon } from 'lucide-react'
import { useState } from 'react'
import styled from 'styled-components'
import { useWorkbench, useWorkbenchStore } from '@/state/context'
import { currentPiece, framesOf, rateOf } from '@/state/work'
import { ActionButton, Choice, PlainButton } from '@/ui/buttons'
import { NumberInput, PickInput, SheetDialog, SwitchInput } from '@/ui/controls'
import type { FilmKind } from './film'
import { beginFilm, filming } from './film-job'

const Body = styled.div`
  display: grid;
  gap: 8px;
  padding: 16px 22px 20px;
  border-top: 1px solid var(--rule);
  p { margin: 0; color: var(--soft); max-width: 56ch; min-height: 2.8em; }
  .do { display: flex; align-items: center; gap: 14px; margin-top: 8px; }
`

const KINDS: readonly { id: FilmKind; label: string; more: string }[] = [
  { id: 'webm', label: 'WebM', more: 'A film for web pages and most players, by the browser’s own encoder.' },
  { id: 'gif', label: 'GIF', more: 'Plays everywhere and goes on without end; 256 colours a frame.' },
  { id: 'png', label: 'PNG frames', more: 'A picture for every frame, numbered, in one zip: for cutting and putting together elsewhere.' },
]

const SIZES = ['640 × 360', '960 × 540', '1280 × 720', '1920 × 1080', '3840 × 2160', '720 × 720', '1080 × 1080', '1080 × 1920']

/** The button and the sheet that write frames out. */
export function FilmSheet() {
  const store = useWorkbenchStore()
  const name = useWorkbench((s) => currentPiece(s)?.name)
  const frames = useWorkbench((s) => framesOf(s.document))
  const rate = useWorkbench((s) => rateOf(s.document))
  const loop = useWorkbench((s) => s.loop)
  const through = useWorkbench((s) => s.through && s.document.camera !== undefined)
  const [open, setOpen] = useState(false)
  const [kind, setKind] = useState<FilmKind>('webm')
  const [size, setSize] = useState('1280 × 720')
  const [range, setRange] = useState<readonly [number, number]>([0, frames - 1])
  const [transparent, setTransparent] = useState(false)
  const chosen = KINDS.find(({ id }) => id === kind) ?? KINDS[0]
  const [from, to] = range
  const count = to - from + 1
  return (
    <>
      <PlainButton
        onPress={() => {
          setRange(loop ?? [0, frames - 1])
          setOpen(true)
        }}
        style={{ color: 'var(--action)', fontWeight: 600, display: 'flex', gap: 6, alignItems: 'center' }}
      >
        <FilmIcon size={16} aria-hidden /> Write frames
      </PlainButton>
      <SheetDialog title={`Frames${name ? ` of ${name}` : ''}`} open={open} onClose={() => setOpen(false)} width={520}>
        <Body>
          <Choice label="As" value={kind} options={KINDS.map(({ id, label }) => ({ id, label }))} onChange={setKind} />
          <p>{chosen.more}</p>
          <PickInput label="Size" value={size} options={SIZES.map((id) => ({ id, label: id }))} onChange={setSize} />
          <NumberInput label="First frame" value={from} min={0} max={frames - 1} step={1} onChange={(v) => setRange([Math.round(v), to])} />
          <NumberInput label="Last frame" value={to} min={0} max={frames - 1} step={1} onChange={(v) => setRange([from, Math.round(v)])} />
          {kind === 'png' && <SwitchInput label="Transparent" value={transparent} onChange={setTransparent} />}
          <p>
            {count < 1
              ? 'The last frame comes before the first.'
              : `${count.toLocaleString('en')} frame${count === 1 ? '' : 's'}, ${(count / rate).toFixed(2)} s, ${through ? 'through the camera' : 'as the view stands now'}. You can go on working meanwhile.`}
          </p>
          <div className="do">
            <ActionButton
              isDisabled={count < 1 || filming(store)}
              onPress={() => {
                const [width, height] = size.split(' × ').map(Number)
                setOpen(false)
                void beginFilm(store, { kind, width, height, from, to, transparent, through })
              }}
            >
              Write them out
            </ActionButton>
          </div>
        </Body>
      </SheetDialog>
    </>
  )
}
