'use client'
import { EASES } from '@kelvar/core/motion/easing'
import { AFTERS, type Track } from '@kelvar/core/motion/track'
import { Copy, Trash2 } from 'lucide-react'
import { Button } from 'react-aria-components'
import styled from 'styled-components'
import { copyKeys, easeKeys, type KeyAt, setTracks, spanKeys, takeKeys, trackAt } from '@/state/actions/picked-keys'
import { spanning, withKey } from '@/state/actions/tracks'
import { useWorkbench, useWorkbenchStore } from '@/state/context'
import { NumberInput, PickInput } from '@/ui/controls'
import { CurveBox } from './curve-box'
import type { Row } from './rows'

const EASE_OPTIONS = [...Object.keys(EASES), 'hold'].map((id) => ({ id, label: id === 'hold' ? 'Held until then' : id[0].toUpperCase() + id.slice(1) }))
const OWN = 'own'
const MIXED = 'mixed'
const BESIDES_OPTIONS = [
  { id: 'nothing' as const, label: 'Nothing' },
  { id: 'tremble' as const, label: 'Trembles' },
  { id: 'drift' as const, label: 'Drifts' },
  { id: 'swing' as const, label: 'Swings when it arrives' },
]
const AFTER_OPTIONS = AFTERS.map((id) => ({
  id,
  label: { stays: 'Stays', again: 'Begins again', 'there and back': 'There and back', 'goes on': 'Goes on as fast' }[id],
}))

/** Beside the strips: what is in hand. */
export const Details = styled.div`
  border-left: 1px solid var(--rule);
  padding: 8px 14px;
  overflow: auto;
  display: grid;
  gap: 3px;
  align-content: start;
  h3 { font-size: 13px; margin: 0 0 2px; display: flex; justify-content: space-between; align-items: center; }
  h3 button:first-of-type { margin-left: auto; }
  h3 button { border: 0; background: none; color: var(--soft); padding: 4px; border-radius: 3px; display: grid; cursor: pointer; }
  h3 button[data-hovered] { color: var(--failure); }
  p { color: var(--soft); margin: 0; font-size: 12.5px; }
  .more { display: flex; flex-wrap: wrap; gap: 2px 10px; }
  .more button { border: 0; background: none; padding: 3px 0; color: var(--action); font-size: 12.5px; cursor: pointer; text-decoration: underline; text-underline-offset: 3px; }
`

type Pick = (keys: readonly KeyAt[]) => void

interface InHand {
  readonly frame: number
  readonly frames: number
  readonly onPick: Pick
}

/** One key: its value, the way to the next, and what its row does. */
export function KeyDetails({ row, of: key, rows, frame, frames, onPick }: InHand & { row: Row; of: Track['keys'][number]; rows: readonly Row[] }) {
  const store = useWorkbenchStore()
  const { step, path } = row
  const at: KeyAt = { step, path, at: key.at }
  const set = (track: Track | undefined, label: string, gesture?: string) => setTracks(store, [{ step, path, track }], `${row.title}: ${label}`, gesture)
  const span = (from: number, to: number) => {
    const track = spanning(row.track, from, to)
    if (track === row.track) return
    set(track, 'move all keys', 'span')
    // the key in hand stays in hand
    onPick([{ ...at, at: track.keys[row.track.keys.indexOf(key)].at }])
  }
  const keysOf = (list: readonly Row[]): KeyAt[] => list.flatMap((r) => r.track.keys.map((k) => ({ step: r.step, path: r.path, at: k.at })))
  const [own, here, all] = [keysOf([row]), keysOf(rows).filter((k) => k.at === key.at), keysOf(rows)]
  return (
    <>
      <h3>
        Key at frame {key.at}
        {frame !== key.at && (
          <Button aria-label={`Copy this key to frame ${frame}`} onPress={() => onPick(copyKeys(store, [at], frame))}>
            <Copy size={14} aria-hidden />
          </Button>
        )}
        <Button aria-label="Take this key away" onPress={() => takeKeys(store, [at])}>
          <Trash2 size={14} aria-hidden />
        </Button>
      </h3>
      <div className="more">
        {own.length > 1 && <Button onPress={() => onPick(own)}>All of this row</Button>}
        {here.length > 1 && <Button onPress={() => onPick(here)}>All at frame {key.at}</Button>}
        {all.length > Math.max(own.length, here.length) && <Button onPress={() => onPick(all)}>All keys</Button>}
      </div>
      {typeof key.value === 'number' && (
        <NumberInput
          label={row.field[0].toUpperCase() + row.field.slice(1)}
          unit={row.unit}
          value={Number(key.value.toFixed(4))}
          step={1}
          onChange={(to) => set(withKey(row.track, key.at, to), 'value of a key')}
        />
      )}
      <PickInput
        label="To the next"
        value={typeof key.ease === 'string' ? key.ease : OWN}
        options={typeof key.ease === 'string' ? EASE_OPTIONS : [...EASE_OPTIONS, { id: OWN, label: 'By its handles' }]}
        onChange={(ease) => ease !== OWN && easeKeys(store, [at], ease as typeof key.ease)}
      />
      <CurveBox ease={key.ease} label={`Way from the key at frame ${key.at}`} onChange={(handles, gesture) => easeKeys(store, [at], [...handles], gesture)} />
      <PickInput
        label="After the last"
        value={row.track.after}
        options={AFTER_OPTIONS}
        onChange={(after) => set({ ...row.track, after }, 'after the last key')}
      />
      <NumberInput
        label="All keys from"
        value={row.track.keys[0].at}
        min={0}
        max={frames - 1}
        step={1}
        onChange={(from) => span(from, row.track.keys[row.track.keys.length - 1].at + from - row.track.keys[0].at)}
      />
      {row.track.keys.length > 1 && (
        <NumberInput
          label="to"
          value={row.track.keys[row.track.keys.length - 1].at}
          min={0}
          max={36_000}
          step={1}
          onChange={(to) => span(row.track.keys[0].at, to)}
        />
      )}
      {typeof key.value === 'number' && <Besides track={row.track} unit={row.unit} onChange={(track, label) => set(track, label, 'besides')} />}
    </>
  )
}

/** Several keys: moved, stretched, eased, copied and taken away together. */
export function KeysDetails({ picked, frame, frames, onPick }: InHand & { picked: readonly KeyAt[] }) {
  const store = useWorkbenchStore()
  const eases = useWorkbench((s) => {
    const ways = picked.map((key) => trackAt(s, key)?.keys.find(({ at }) => at === key.at)?.ease)
    return ways.every((way) => typeof way === 'string' && way === ways[0]) ? (ways[0] as string) : MIXED
  })
  const [first, last] = [Math.min(...picked.map(({ at }) => at)), Math.max(...picked.map(({ at }) => at))]
  const rows = new Set(picked.map(({ step, path }) => `${step} ${path}`)).size
  return (
    <>
      <h3>
        {picked.length} keys{rows > 1 ? ` of ${rows} rows` : ''}
        {frame !== first && (
          <Button aria-label={`Copy these keys to frame ${frame}`} onPress={() => onPick(copyKeys(store, picked, frame))}>
            <Copy size={14} aria-hidden />
          </Button>
        )}
        <Button
          aria-label="Take these keys away"
          onPress={() => {
            takeKeys(store, picked)
            onPick([])
          }}
        >
          <Trash2 size={14} aria-hidden />
        </Button>
      </h3>
      <NumberInput
        label="First at"
        value={first}
        min={0}
        max={frames - 1}
        step={1}
        onChange={(to) => onPick(spanKeys(store, picked, Math.round(to), Math.round(to) + last - first, 'span keys'))}
      />
      {last > first && (
        <NumberInput
          label="last at"
          value={last}
          min={1}
          max={36_000}
          step={1}
          onChange={(to) => onPick(spanKeys(store, picked, first, Math.round(to), 'span keys'))}
        />
      )}
      <PickInput
        label="To the next"
        value={eases}
        options={eases === MIXED ? [...EASE_OPTIONS, { id: MIXED, label: 'Various' }] : EASE_OPTIONS}
        onChange={(ease) => ease !== MIXED && easeKeys(store, picked, ease as Track['keys'][number]['ease'])}
      />
      <p>Drag one of them, or press arrow keys: all move. Shift takes a key in or out.</p>
    </>
  )
}

/** What a value does besides its course. */
function Besides({ track, unit, onChange }: { track: Track; unit: string | undefined; onChange: (track: Track, label: string) => void }) {
  const { besides, ...plain } = track
  const change = (more: Partial<NonNullable<Track['besides']>>) => besides && onChange({ ...plain, besides: { ...besides, ...more } }, 'what it does besides')
  return (
    <>
      <PickInput
        label="Besides"
        value={besides?.kind ?? 'nothing'}
        options={BESIDES_OPTIONS}
        onChange={(kind) =>
          onChange(
            kind === 'nothing'
              ? plain
              : { ...plain, besides: { amount: kind === 'swing' ? 40 : 5, frames: kind === 'tremble' ? 3 : 24, seed: 1, ...besides, kind } },
            'what it does besides',
          )
        }
      />
      {besides && (
        <>
          <NumberInput label="By" unit={besides.kind === 'swing' ? '%' : unit} value={besides.amount} step={1} onChange={(amount) => change({ amount })} />
          <NumberInput label="Frames each" value={besides.frames} min={1} max={36_000} step={1} onChange={(frames) => change({ frames })} />
          {besides.kind !== 'swing' && (
            <NumberInput label="Seed" value={besides.seed} min={0} max={1e9} step={1} onChange={(seed) => change({ seed: Math.round(seed) })} />
          )}
        </>
      )}
    </>
  )
}
