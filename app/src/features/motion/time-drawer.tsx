'use client'
import { EASES } from '@kelvar/core/motion/easing'
import { AFTERS, type Track } from '@kelvar/core/motion/track'
import { fieldsOf } from '@kelvar/core/steps/fields'
import { stepKind } from '@kelvar/core/steps/registry'
import { ChevronFirst, Pause, Play, Trash2 } from 'lucide-react'
import { useEffect, useMemo, useRef, useState } from 'react'
import { Button } from 'react-aria-components'
import styled from 'styled-components'
import { setTrack, withKey, withKeyAt, withoutKey } from '@/state/actions/tracks'
import { useWorkbench, useWorkbenchStore } from '@/state/context'
import { madeFrames } from '@/state/filling'
import { contentAt, currentPiece, framesOf, moves, rateOf, workOf } from '@/state/work'
import { NumberInput, PickInput } from '@/ui/controls'
import { Buoy } from './key-mark'

const Drawer = styled.section`
  flex: none;
  height: 232px;
  display: grid;
  grid-template-rows: auto minmax(0, 1fr);
  background: var(--paper);
  border-top: 1px solid var(--ink);
  min-width: 0;
`
const Transport = styled.div`
  display: flex;
  align-items: center;
  gap: 14px;
  padding: 5px 14px;
  border-bottom: 1px solid var(--rule);
  .do { display: flex; gap: 2px; }
  .do button { border: 0; background: none; padding: 6px; border-radius: 3px; display: grid; cursor: pointer; color: var(--ink); }
  .do button[data-hovered] { background: color-mix(in srgb, var(--ink) 7%, transparent); }
  .now { font: 600 15px/1 var(--display); font-variant-numeric: tabular-nums; min-width: 118px; }
  .now small { font: 400 12.5px/1 var(--text); color: var(--soft); }
  .set { margin-left: auto; display: flex; gap: 16px; }
  .set > * { grid-template-columns: auto 62px; }
`
const Body = styled.div`
  display: grid;
  grid-template-columns: minmax(0, 1fr) 252px;
  min-height: 0;
`
const Sheet = styled.div`
  position: relative;
  overflow: auto;
  min-width: 0;
  .row { display: grid; grid-template-columns: 168px minmax(0, 1fr); align-items: center; height: 30px; border-bottom: 1px solid var(--rule); }
  .row > span { padding: 0 8px 0 14px; font-size: 12.5px; overflow: hidden; text-overflow: ellipsis; white-space: nowrap; }
  .row > span b { font-weight: 600; }
  .scale { height: 26px; position: sticky; top: 0; background: var(--paper); z-index: 2; }
  .lane { position: relative; height: 100%; margin: 0 16px; cursor: pointer; }
  .lane i { position: absolute; top: 50%; height: 2px; margin-top: -1px; background: color-mix(in srgb, var(--action) 45%, transparent); }
  .tick { position: absolute; bottom: 3px; font-size: 11px; color: var(--soft); transform: translateX(-50%); font-variant-numeric: tabular-nums; }
  .tick::after { content: ''; position: absolute; left: 50%; bottom: -4px; height: 4px; width: 1px; background: var(--rule); }
  .made { position: absolute; left: 0; right: 0; bottom: -1px; height: 3px; background: color-mix(in srgb, var(--rule) 60%, transparent); }
  .made b { position: absolute; top: 0; bottom: 0; background: var(--action); }
  p { color: var(--soft); padding: 8px 14px; margin: 0; max-width: 60ch; }
`
const Key = styled.button`
  position: absolute;
  top: 50%;
  width: 20px;
  height: 20px;
  margin: -10px 0 0 -10px;
  border: 0;
  background: none;
  padding: 1px;
  color: var(--action);
  cursor: grab;
  touch-action: none;
  svg { width: 18px; height: 18px; fill: var(--paper); stroke: currentColor; stroke-width: 1.8; stroke-linejoin: round; }
  &[data-picked] svg path.buoy { fill: currentColor; }
  &:focus-visible { outline: 2px solid var(--action); border-radius: 3px; }
`
const Now = styled.div`
  position: absolute;
  top: 0;
  bottom: 0;
  width: 2px;
  margin-left: -1px;
  background: var(--ink);
  pointer-events: none;
  z-index: 3;
`
const Details = styled.div`
  border-left: 1px solid var(--rule);
  padding: 8px 14px;
  overflow: auto;
  display: grid;
  gap: 3px;
  align-content: start;
  h3 { font-size: 13px; margin: 0 0 2px; display: flex; justify-content: space-between; align-items: center; }
  h3 button { border: 0; background: none; color: var(--soft); padding: 4px; border-radius: 3px; display: grid; cursor: pointer; }
  h3 button[data-hovered] { color: var(--failure); }
  p { color: var(--soft); margin: 0; font-size: 12.5px; }
`

interface Row {
  readonly step: string
  readonly path: string
  readonly title: string
  readonly field: string
  readonly unit: string | undefined
  readonly track: Track
}

interface Picked {
  readonly step: string
  readonly path: string
  readonly at: number
}

const EASE_OPTIONS = [...Object.keys(EASES), 'hold'].map((id) => ({ id, label: id === 'hold' ? 'Held until then' : id[0].toUpperCase() + id.slice(1) }))
const AFTER_OPTIONS = AFTERS.map((id) => ({
  id,
  label: { stays: 'Stays', again: 'Begins again', 'there and back': 'There and back', 'goes on': 'Goes on as fast' }[id],
}))

/** The time of a project: plays it, and shows each value that moves with its keys. */
export function TimeDrawer() {
  const store = useWorkbenchStore()
  const frame = useWorkbench((s) => s.frame)
  const playing = useWorkbench((s) => s.playing)
  const rate = useWorkbench((s) => rateOf(s.document))
  const frames = useWorkbench((s) => framesOf(s.document))
  const route = useWorkbench((s) => currentPiece(s)?.route)
  const [picked, setPicked] = useState<Picked>()
  usePlaying(playing, rate, frames)
  const rows = useMemo(
    () =>
      (route ?? []).flatMap((step): Row[] => {
        const kind = stepKind(step.kind)
        const fields = kind ? Object.fromEntries(fieldsOf(kind)) : {}
        return Object.entries(step.tracks ?? {}).map(([path, track]) => ({
          step: step.id,
          path,
          title: kind?.title ?? step.kind,
          field: path === 'on' ? 'switched on' : (fields[path]?.title ?? path).toLowerCase(),
          unit: fields[path]?.unit,
          track,
        }))
      }),
    [route],
  )
  const row = rows.find((r) => r.step === picked?.step && r.path === picked.path)
  const key = row?.track.keys.find((k) => k.at === picked?.at)
  const time = (change: { rate?: number; frames?: number }, label: string) =>
    store.getState().edit(
      label,
      (draft) => {
        draft.time = { rate, frames, ...change }
      },
      'time',
    )
  const set = (of: Row, track: Track | undefined, label: string, gesture?: string) => setTrack(store, of.step, of.path, track, `${of.title}: ${label}`, gesture)
  const tick = [1, 2, 4, 6, 12, 24, 48, 96, 240, 480, 1200, 2400, 4800].find((n) => frames / n <= 16) ?? 9600
  return (
    <Drawer aria-label="Time">
      <Transport>
        <div className="do">
          <Button aria-label="To the first frame" onPress={() => store.getState().seek(0)}>
            <ChevronFirst size={17} aria-hidden />
          </Button>
          <Button aria-label={playing ? 'Stop' : 'Play'} onPress={() => store.getState().play(!playing)}>
            {playing ? <Pause size={17} aria-hidden /> : <Play size={17} aria-hidden />}
          </Button>
        </div>
        <span className="now" role="status">
          Frame {frame} <small>{(frame / rate).toFixed(2)} s</small>
        </span>
        <div className="set">
          <NumberInput label="Frame" value={frame} min={0} max={frames - 1} step={1} onChange={(to) => store.getState().seek(to)} />
          <NumberInput label="A second" value={rate} min={1} max={240} step={1} onChange={(to) => time({ rate: to }, 'Frames a second')} />
          <NumberInput label="Length" value={frames} min={1} max={36_000} step={1} onChange={(to) => time({ frames: Math.round(to) }, 'Length in frames')} />
        </div>
      </Transport>
      <Body>
        <Sheet>
          <div className="row scale">
            <span />
            <Lane frames={frames} onSeek={(to) => store.getState().seek(to)} label="Frames">
              {Array.from({ length: Math.floor((frames - 1) / tick) + 1 }, (_, i) => (
                <span key={i} className="tick" style={{ left: `${(100 * i * tick) / Math.max(1, frames - 1)}%` }}>
                  {i * tick}
                </span>
              ))}
              <Made frames={frames} />
              <Now style={{ left: `${(100 * Math.min(frame, frames - 1)) / Math.max(1, frames - 1)}%` }} />
            </Lane>
          </div>
          {rows.length === 0 && (
            <p>
              Nothing moves yet. Open a step, go to a frame, and press the buoy beside a number or a switch: it then has a key there. Go to another frame and
              change it.
            </p>
          )}
          {rows.map((r) => (
            <div className="row" key={`${r.step} ${r.path}`}>
              <span title={`${r.title}: ${r.field}`}>
                <b>{r.title}</b> {r.field}
              </span>
              <Lane frames={frames} onSeek={(to) => store.getState().seek(to)}>
                <i style={spanOf(r.track, frames)} />
                {r.track.keys.map((k, i) => (
                  <KeyHandle
                    key={i}
                    at={k.at}
                    frames={frames}
                    label={`${r.title}, ${r.field}: key at frame ${k.at}, ${typeof k.value === 'number' ? Number(k.value.toFixed(2)) : String(k.value)}${r.unit ? ` ${r.unit}` : ''}`}
                    picked={picked?.step === r.step && picked.path === r.path && picked.at === k.at}
                    onPick={() => {
                      setPicked({ step: r.step, path: r.path, at: k.at })
                      store.getState().seek(k.at)
                    }}
                    onMove={(to, gesture) => {
                      // what the key is now, though it was moved a moment ago
                      const now = currentPiece(store.getState())?.route.find((s) => s.id === r.step)?.tracks?.[r.path]
                      const { from } = gesture
                      const i = now?.keys.findIndex((other) => other.at === from) ?? -1
                      if (!now || i < 0) return from
                      // it stays between its neighbours
                      const held = Math.min((now.keys[i + 1]?.at ?? Infinity) - 1, Math.max((now.keys[i - 1]?.at ?? -1) + 1, to))
                      if (held === from || held < 0) return from
                      set(r, withKeyAt(now, from, held), 'move a key', gesture.name)
                      setPicked({ step: r.step, path: r.path, at: held })
                      return held
                    }}
                    onRemove={() => set(r, withoutKey(r.track, k.at), 'take a key away')}
                  />
                ))}
                <Now style={{ left: `${(100 * Math.min(frame, frames - 1)) / Math.max(1, frames - 1)}%` }} />
              </Lane>
            </div>
          ))}
        </Sheet>
        <Details>
          {row && key ? (
            <>
              <h3>
                Key at frame {key.at}
                <Button aria-label="Take this key away" onPress={() => set(row, withoutKey(row.track, key.at), 'take a key away')}>
                  <Trash2 size={14} aria-hidden />
                </Button>
              </h3>
              {typeof key.value === 'number' && (
                <NumberInput
                  label={row.field[0].toUpperCase() + row.field.slice(1)}
                  unit={row.unit}
                  value={Number(key.value.toFixed(4))}
                  step={1}
                  onChange={(to) => set(row, withKey(row.track, key.at, to), 'value of a key')}
                />
              )}
              <PickInput
                label="To the next"
                value={typeof key.ease === 'string' ? key.ease : 'gentle'}
                options={EASE_OPTIONS}
                onChange={(ease) =>
                  set(
                    row,
                    { ...row.track, keys: row.track.keys.map((k) => (k.at === key.at ? { ...k, ease: ease as typeof k.ease } : k)) },
                    'way to the next key',
                  )
                }
              />
              <PickInput
                label="After the last"
                value={row.track.after}
                options={AFTER_OPTIONS}
                onChange={(after) => set(row, { ...row.track, after }, 'after the last key')}
              />
            </>
          ) : (
            <p>
              {rows.length > 0
                ? 'Press a key to see how it goes on from there; drag it, or move it by arrow keys.'
                : 'Here you see how a key goes on to the next.'}
            </p>
          )}
        </Details>
      </Body>
    </Drawer>
  )
}

/** Which frames are there to be played. */
function Made({ frames }: { frames: number }) {
  const grown = useWorkbench((s) => s.framesMade)
  const document = useWorkbench((s) => s.document)
  const pieceId = useWorkbench((s) => s.pieceId)
  const runs = useMemo(() => {
    const base = workOf(document, pieceId)
    if (!base || !moves(base)) return []
    const list: { from: number; to: number }[] = []
    for (let frame = 0; frame < frames; frame++) {
      if (!madeFrames.has(contentAt(base, frame))) continue
      const last = list[list.length - 1]
      if (last && last.to === frame) last.to = frame + 1
      else list.push({ from: frame, to: frame + 1 })
    }
    return list
    // eslint-disable-next-line react-hooks/exhaustive-deps -- it has grown
  }, [grown, document, pieceId, frames])
  const count = runs.reduce((sum, { from, to }) => sum + to - from, 0)
  const width = (n: number) => `${(100 * n) / frames}%`
  return (
    <div className="made" role="progressbar" aria-label="Frames made" aria-valuemin={0} aria-valuemax={frames} aria-valuenow={count}>
      {runs.map(({ from, to }) => (
        <b key={from} style={{ left: width(from), width: width(to - from) }} />
      ))}
    </div>
  )
}

/** From the first key to the last. */
const spanOf = ({ keys }: Track, frames: number) => {
  const share = (at: number) => (100 * Math.min(at, frames - 1)) / Math.max(1, frames - 1)
  const [from, to] = [share(keys[0].at), share(keys[keys.length - 1].at)]
  return { left: `${from}%`, width: `${to - from}%` }
}

/** Lets frames pass by the clock: those that are not made in time are left out, time is never stretched. */
function usePlaying(playing: boolean, rate: number, frames: number): void {
  const store = useWorkbenchStore()
  useEffect(() => {
    if (!playing) return
    const first = store.getState().frame
    const begun = performance.now()
    let asked = 0
    const pass = () => {
      const at = (first + Math.floor(((performance.now() - begun) * rate) / 1000)) % frames
      if (store.getState().frame !== at) store.getState().seek(at)
      asked = requestAnimationFrame(pass)
    }
    asked = requestAnimationFrame(pass)
    return () => cancelAnimationFrame(asked)
  }, [playing, rate, frames, store])
}

/** A strip of time: pressing or dragging over it shows the frame there. */
function Lane({ frames, label, onSeek, children }: { frames: number; label?: string; onSeek: (frame: number) => void; children: React.ReactNode }) {
  const at = (event: React.PointerEvent) => {
    const box = event.currentTarget.getBoundingClientRect()
    onSeek(Math.min(frames - 1, Math.max(0, ((event.clientX - box.left) / box.width) * (frames - 1))))
  }
  return (
    <div
      className="lane"
      role={label ? 'group' : undefined}
      aria-label={label}
      onPointerDown={(event) => {
        if (event.button !== 0 || (event.target instanceof Element && event.target.closest('button'))) return
        event.currentTarget.setPointerCapture(event.pointerId)
        at(event)
      }}
      onPointerMove={(event) => event.currentTarget.hasPointerCapture(event.pointerId) && at(event)}
    >
      {children}
    </div>
  )
}

/** A key on its strip: pressed to be picked, dragged or moved by arrow keys, taken away by Delete. */
function KeyHandle({
  at,
  frames,
  label,
  picked,
  onPick,
  onMove,
  onRemove,
}: {
  at: number
  frames: number
  label: string
  picked: boolean
  onPick: () => void
  /** moves it, and tells where it now stands */
  onMove: (to: number, gesture: { readonly name: string; readonly from: number }) => number
  onRemove: () => void
}) {
  const drag = useRef<{ from: number; name: string }>(undefined)
  const count = useRef(0)
  return (
    <Key
      type="button"
      aria-label={label}
      data-picked={picked ? '' : undefined}
      style={{ left: `${(100 * Math.min(at, frames - 1)) / Math.max(1, frames - 1)}%` }}
      onClick={onPick}
      onPointerDown={(event) => {
        event.currentTarget.setPointerCapture(event.pointerId)
        drag.current = { from: at, name: `drag:key/${++count.current}` }
      }}
      onPointerMove={(event) => {
        const lane = event.currentTarget.closest('.lane')?.getBoundingClientRect()
        if (!drag.current || !lane || !event.currentTarget.hasPointerCapture(event.pointerId)) return
        const to = Math.round(Math.min(frames - 1, Math.max(0, ((event.clientX - lane.left) / lane.width) * (frames - 1))))
        drag.current.from = onMove(to, drag.current)
      }}
      onLostPointerCapture={() => {
        drag.current = undefined
      }}
      onKeyDown={(event) => {
        const by = { ArrowLeft: -1, ArrowRight: 1 }[event.key]
        if (by) {
          event.preventDefault()
          onMove(at + by * (event.shiftKey ? 10 : 1), { name: 'key-by-arrows', from: at })
        } else if (event.key === 'Delete' || event.key === 'Backspace') {
          event.preventDefault()
          onRemove()
        }
      }}
    >
      <Buoy state="here" />
    </Key>
  )
}
