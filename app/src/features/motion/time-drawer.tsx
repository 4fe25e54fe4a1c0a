'use client'
import type { PlaceTrack, ProjectDocument } from '@kelvar/core/document/schema'
import { EASES } from '@kelvar/core/motion/easing'
import { AFTERS, type Track } from '@kelvar/core/motion/track'
import { fieldsOf } from '@kelvar/core/steps/fields'
import { stepKind } from '@kelvar/core/steps/registry'
import { ChevronFirst, ChevronLeft, ChevronRight, Copy, CopyPlus, Eye, Flag as FlagIcon, Ghost, Pause, Play, Repeat, Trash2, Video } from 'lucide-react'
import { useEffect, useMemo, useRef, useState } from 'react'
import { Button, Input, TextField, ToggleButton } from 'react-aria-components'
import styled from 'styled-components'
import { type CameraTracks, keyCamera, setCameraTrack } from '@/state/actions/camera'
import { standNow } from '@/features/view/standing'
import { setPlaceTracks, takeFrame } from '@/state/actions/pieces'
import { setTrack, spanning, withKey, withKeyAt, withoutKey } from '@/state/actions/tracks'
import { useWorkbench, useWorkbenchStore } from '@/state/context'
import { madeFrames } from '@/state/filling'
import { contentAt, currentPiece, framesOf, moves, rateOf, workOf } from '@/state/work'
import { NumberInput, PickInput } from '@/ui/controls'
import { FilmSheet } from './film-sheet'
import { CurveBox } from './curve-box'
import { Buoy } from './key-mark'
import { MovementsSheet } from './movements-sheet'
import { SoundBegin, SoundRow } from './sound-row'

const Drawer = styled.section`
  flex: none;
  height: 252px;
  display: grid;
  grid-template-rows: auto minmax(0, 1fr);
  background: var(--paper);
  border-top: 1px solid var(--ink);
  min-width: 0;
`
const Transport = styled.div`
  display: flex;
  align-items: center;
  gap: 8px;
  padding: 5px 12px;
  white-space: nowrap;
  border-bottom: 1px solid var(--rule);
  .do { display: flex; gap: 0; }
  .do button { border: 0; background: none; padding: 6px; border-radius: 3px; display: grid; cursor: pointer; color: var(--ink); }
  .do button[data-hovered] { background: color-mix(in srgb, var(--ink) 7%, transparent); }
  .now { font: 600 14px/1 var(--display); font-variant-numeric: tabular-nums; min-width: 100px; }
  .now small { font: 400 12.5px/1 var(--text); color: var(--soft); }
  .do button[data-selected] { color: var(--action); background: var(--tint); }
  .set { display: flex; gap: 10px; }
  .set.last { margin-left: auto; }
  .set > * { grid-template-columns: auto 46px; gap: 7px; }
  .unit { margin-left: -8px; }
  .unit button { color: var(--soft); font-size: 12.5px; min-width: 24px; text-decoration: underline dotted; text-underline-offset: 3px; }
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
  .scale { height: 36px; position: sticky; top: 0; background: var(--paper); z-index: 2; }
  .range { display: flex; gap: 8px; }
  .range > * { grid-template-columns: auto 36px; gap: 5px; min-height: 0; }
  .lane { position: relative; height: 100%; margin: 0 16px; cursor: pointer; }
  .lane i { position: absolute; top: 50%; height: 2px; margin-top: -1px; background: color-mix(in srgb, var(--action) 45%, transparent); }
  .tick { position: absolute; bottom: 3px; font-size: 11px; color: var(--soft); transform: translateX(-50%); font-variant-numeric: tabular-nums; }
  .tick::after { content: ''; position: absolute; left: 50%; bottom: -4px; height: 4px; width: 1px; background: var(--rule); }
  .lane em { position: absolute; top: 3px; bottom: 0; background: var(--tint); }
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
const Flag = styled.button`
  position: absolute;
  top: 0;
  max-width: 90px;
  overflow: hidden;
  text-overflow: ellipsis;
  white-space: nowrap;
  border: 0;
  border-left: 2px solid var(--action);
  padding: 0 4px;
  font-size: 10.5px;
  line-height: 13px;
  background: var(--tint);
  color: var(--ink);
  cursor: pointer;
  z-index: 4;
  &[data-picked] { font-weight: 600; }
  &:focus-visible { outline: 2px solid var(--action); }
`
const NameField = styled(TextField)`
  input { width: 100%; border: 0; border-bottom: 1px solid var(--ink); background: none; padding: 4px 2px; font-weight: 600; color: var(--ink); }
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
  h3 button:first-of-type { margin-left: auto; }
  h3 button { border: 0; background: none; color: var(--soft); padding: 4px; border-radius: 3px; display: grid; cursor: pointer; }
  h3 button[data-hovered] { color: var(--failure); }
  p { color: var(--soft); margin: 0; font-size: 12.5px; }
`

type Marker = NonNullable<NonNullable<ProjectDocument['time']>['markers']>[number]
const NO_MARKERS: Marker[] = []

interface Row {
  readonly step: string
  readonly path: string
  readonly title: string
  readonly field: string
  readonly unit: string | undefined
  readonly track: Track
}

/** Stands for the piece itself in the place of a step, whose ids have no blanks. */
const PLACE = 'the piece'
const PLACE_WORDS: Readonly<Record<PlaceTrack, { readonly field: string; readonly unit: string }>> = {
  x: { field: 'across', unit: 'mm' },
  y: { field: 'up', unit: 'mm' },
  z: { field: 'forward', unit: 'mm' },
  turnX: { field: 'turn about x', unit: '°' },
  turnY: { field: 'turn about y', unit: '°' },
  turnZ: { field: 'turn about z', unit: '°' },
  size: { field: 'size', unit: '×' },
}

const CAMERA = 'the camera'
const CAMERA_WORDS: Readonly<Record<keyof CameraTracks, { readonly field: string; readonly unit: string }>> = {
  at: { field: 'stands', unit: 'mm' },
  aim: { field: 'looks at', unit: 'mm' },
  lens: { field: 'lens', unit: 'mm' },
}

interface Picked {
  readonly step: string
  readonly path: string
  readonly at: number
}

const EASE_OPTIONS = [...Object.keys(EASES), 'hold'].map((id) => ({ id, label: id === 'hold' ? 'Held until then' : id[0].toUpperCase() + id.slice(1) }))
const OWN = 'own'
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

/** The time of a project: plays it, and shows each value that moves with its keys. */
export function TimeDrawer() {
  const store = useWorkbenchStore()
  const frame = useWorkbench((s) => s.frame)
  const playing = useWorkbench((s) => s.playing)
  const rate = useWorkbench((s) => rateOf(s.document))
  const frames = useWorkbench((s) => framesOf(s.document))
  const route = useWorkbench((s) => currentPiece(s)?.route)
  const [picked, setPicked] = useState<Picked>()
  const loop = useWorkbench((s) => s.loop)
  const ghosts = useWorkbench((s) => s.ghosts)
  usePlaying(playing, rate, frames, loop)
  const step = (by: number) => {
    store.getState().play(false)
    store.getState().seek((store.getState().frame + by + frames) % frames)
  }
  const camera = useWorkbench((s) => s.document.camera)
  const through = useWorkbench((s) => s.through)
  const placeTracks = useWorkbench((s) => currentPiece(s)?.tracks)
  const rows = useMemo(
    () => [
      ...Object.entries(camera ?? {}).map(
        ([path, track]): Row => ({ step: CAMERA, path, title: 'Camera', ...CAMERA_WORDS[path as keyof CameraTracks], track }),
      ),
      ...Object.entries(placeTracks ?? {}).map(([path, track]): Row => ({ step: PLACE, path, title: 'Place', ...PLACE_WORDS[path as PlaceTrack], track })),
      ...(route ?? []).flatMap((step): Row[] => {
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
    ],
    [route, placeTracks, camera],
  )
  const markers = useWorkbench((s) => s.document.time?.markers ?? NO_MARKERS)
  const [marker, setMarker] = useState<number>()
  const [inSeconds, setInSeconds] = useState(false)
  const marked = marker === undefined ? undefined : markers[marker]
  const changeMarker = (change: Partial<Marker>) => time({ markers: markers.map((m, i) => (i === marker ? { ...m, ...change } : m)) }, 'Change a marker')
  const row = rows.find((r) => r.step === picked?.step && r.path === picked.path)
  const key = row?.track.keys.find((k) => k.at === picked?.at)
  const time = (change: { rate?: number; frames?: number; markers?: Marker[] }, label: string) =>
    store.getState().edit(
      label,
      (draft) => {
        draft.time = { ...draft.time, rate, frames, ...change }
      },
      'time',
    )
  const set = (of: Row, track: Track | undefined, label: string, gesture?: string) =>
    of.step === CAMERA
      ? setCameraTrack(store, of.path as keyof CameraTracks, track, `${of.title}: ${label}`, gesture)
      : of.step === PLACE
        ? setPlaceTracks(store, store.getState().pieceId, { [of.path]: track }, `${of.title}: ${label}`, gesture)
        : setTrack(store, of.step, of.path, track, `${of.title}: ${label}`, gesture)
  const setEase = (of: Row, at: number, ease: Track['keys'][number]['ease'], gesture?: string) =>
    set(of, { ...of.track, keys: of.track.keys.map((k) => (k.at === at ? { ...k, ease } : k)) }, 'way to the next key', gesture)
  const span = (of: Row, from: number, to: number) => {
    const track = spanning(of.track, from, to)
    if (track === of.track) return
    set(of, track, 'move all keys', 'span')
    // the key in hand stays in hand
    const i = of.track.keys.findIndex(({ at }) => at === picked?.at)
    if (picked && i >= 0) setPicked({ ...picked, at: track.keys[i].at })
  }
  const tick = [1, 2, 4, 6, 12, 24, 48, 96, 240, 480, 1200, 2400, 4800].find((n) => frames / n <= 16) ?? 9600
  return (
    <Drawer aria-label="Time">
      <Transport>
        <div className="do">
          <Button aria-label="To the first frame" onPress={() => store.getState().seek(loop?.[0] ?? 0)}>
            <ChevronFirst size={17} aria-hidden />
          </Button>
          <Button aria-label="A frame back" onPress={() => step(-1)}>
            <ChevronLeft size={17} aria-hidden />
          </Button>
          <Button aria-label={playing ? 'Stop' : 'Play'} onPress={() => store.getState().play(!playing)}>
            {playing ? <Pause size={17} aria-hidden /> : <Play size={17} aria-hidden />}
          </Button>
          <Button aria-label="A frame on" onPress={() => step(1)}>
            <ChevronRight size={17} aria-hidden />
          </Button>
          <ToggleButton
            aria-label="Loop a range"
            isSelected={loop !== undefined}
            onChange={(on) => store.getState().loopOver(on ? [Math.min(frame, frames - 2), frames - 1] : undefined)}
          >
            <Repeat size={16} aria-hidden />
          </ToggleButton>
          <Button
            aria-label={`Mark frame ${frame}`}
            onPress={() => {
              setPicked(undefined)
              setMarker(markers.length)
              time({ markers: [...markers, { at: frame, name: `Mark ${markers.length + 1}` }] }, 'Set a marker')
            }}
          >
            <FlagIcon size={16} aria-hidden />
          </Button>
          <Button
            aria-label={`Key the camera at frame ${frame}`}
            onPress={() => {
              const stand = standNow()
              if (stand) keyCamera(store, stand)
            }}
          >
            <Video size={16} aria-hidden />
          </Button>
          {camera && (
            <ToggleButton aria-label="Look through the camera" isSelected={through} onChange={(on) => store.getState().lookThrough(on)}>
              <Eye size={16} aria-hidden />
            </ToggleButton>
          )}
          <Button aria-label={`Take frame ${frame} as a piece`} onPress={() => takeFrame(store, rate)}>
            <CopyPlus size={16} aria-hidden />
          </Button>
          <ToggleButton aria-label="Ghosts of other frames" isSelected={ghosts} onChange={(on) => store.getState().showGhosts(on)}>
            <Ghost size={16} aria-hidden />
          </ToggleButton>
        </div>
        <span className="now" role="status">
          Frame {frame} <small>{(frame / rate).toFixed(2)} s</small>
        </span>
        <div className="set last">
          <NumberInput hideLabel label="Frame" value={frame} min={0} max={frames - 1} step={1} onChange={(to) => store.getState().seek(to)} />
          <NumberInput label="fps" value={rate} min={1} max={240} step={1} onChange={(to) => time({ rate: to }, 'Frames a second')} />
          <NumberInput
            label="Length"
            value={inSeconds ? frames / rate : frames}
            min={inSeconds ? 1 / rate : 1}
            max={inSeconds ? 36_000 / rate : 36_000}
            step={inSeconds ? 0.5 : 1}
            onChange={(to) => time({ frames: Math.max(1, Math.round(inSeconds ? to * rate : to)) }, 'Length')}
          />
        </div>
        <div className="do unit">
          <Button aria-label={inSeconds ? 's: tell the length in frames' : 'fr.: tell the length in seconds'} onPress={() => setInSeconds(!inSeconds)}>
            {inSeconds ? 's' : 'fr.'}
          </Button>
        </div>
        <MovementsSheet />
        <FilmSheet />
      </Transport>
      <Body>
        <Sheet>
          <div className="row scale">
            <span>
              {loop && (
                <div className="set range">
                  <NumberInput
                    label="From"
                    value={loop[0]}
                    min={0}
                    max={frames - 1}
                    step={1}
                    onChange={(to) => store.getState().loopOver([Math.round(to), loop[1]])}
                  />
                  <NumberInput
                    label="to"
                    value={loop[1]}
                    min={0}
                    max={frames - 1}
                    step={1}
                    onChange={(to) => store.getState().loopOver([loop[0], Math.round(to)])}
                  />
                </div>
              )}
            </span>
            <Lane frames={frames} onSeek={(to) => store.getState().seek(to)} label="Frames">
              {loop && <em style={{ left: share(loop[0], frames), right: `calc(100% - ${share(loop[1], frames)})` }} />}
              {Array.from({ length: Math.floor((frames - 1) / tick) + 1 }, (_, i) => (
                <span key={i} className="tick" style={{ left: `${(100 * i * tick) / Math.max(1, frames - 1)}%` }}>
                  {i * tick}
                </span>
              ))}
              <Made frames={frames} />
              {markers.map(({ at, name }, i) => (
                <Flag
                  key={i}
                  type="button"
                  style={{ left: share(at, frames) }}
                  data-picked={marker === i ? '' : undefined}
                  aria-label={`Marker ${name}, frame ${at}`}
                  onClick={() => {
                    setPicked(undefined)
                    setMarker(i)
                    store.getState().seek(at)
                  }}
                >
                  {name}
                </Flag>
              ))}
              <Now style={{ left: `${(100 * Math.min(frame, frames - 1)) / Math.max(1, frames - 1)}%` }} />
            </Lane>
          </div>
          <SoundRow />
          {rows.length === 0 && (
            <p>
              Nothing moves yet. Take a ready movement above, to change it as you like. Or open a step, go to a frame, and press the buoy beside a value: it
              then has a key there. Go to another frame and change it.
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
                      const piece = currentPiece(store.getState())
                      const now =
                        r.step === CAMERA
                          ? store.getState().document.camera?.[r.path as keyof CameraTracks]
                          : r.step === PLACE
                            ? piece?.tracks?.[r.path as PlaceTrack]
                            : piece?.route.find((s) => s.id === r.step)?.tracks?.[r.path]
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
                {frame !== key.at && (
                  <Button
                    aria-label={`Copy this key to frame ${frame}`}
                    onPress={() => {
                      set(row, withKey(row.track, frame, key.value), 'copy a key')
                      setPicked({ ...picked, at: frame } as Picked)
                    }}
                  >
                    <Copy size={14} aria-hidden />
                  </Button>
                )}
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
                value={typeof key.ease === 'string' ? key.ease : OWN}
                options={typeof key.ease === 'string' ? EASE_OPTIONS : [...EASE_OPTIONS, { id: OWN, label: 'By its handles' }]}
                onChange={(ease) => ease !== OWN && setEase(row, key.at, ease as typeof key.ease)}
              />
              <CurveBox
                ease={key.ease}
                label={`Way from the key at frame ${key.at}`}
                onChange={(handles, gesture) => setEase(row, key.at, [...handles], gesture)}
              />
              <PickInput
                label="After the last"
                value={row.track.after}
                options={AFTER_OPTIONS}
                onChange={(after) => set(row, { ...row.track, after }, 'after the last key')}
              />
              <NumberInput
                label="All keys from"
                value={row.track.keys[0].at}
                min={0}
                max={frames - 1}
                step={1}
                onChange={(from) => span(row, from, row.track.keys[row.track.keys.length - 1].at + from - row.track.keys[0].at)}
              />
              {row.track.keys.length > 1 && (
                <NumberInput
                  label="to"
                  value={row.track.keys[row.track.keys.length - 1].at}
                  min={0}
                  max={36_000}
                  step={1}
                  onChange={(to) => span(row, row.track.keys[0].at, to)}
                />
              )}
              {typeof key.value === 'number' && <Besides track={row.track} unit={row.unit} onChange={(track, label) => set(row, track, label, 'besides')} />}
            </>
          ) : marked && marker !== undefined ? (
            <>
              <h3>
                Marker
                <Button
                  aria-label="Take this marker away"
                  onPress={() => {
                    setMarker(undefined)
                    time({ markers: markers.filter((_, i) => i !== marker) }, 'Take a marker away')
                  }}
                >
                  <Trash2 size={14} aria-hidden />
                </Button>
              </h3>
              <NameField aria-label="Name of the marker" value={marked.name} maxLength={60} onChange={(name) => changeMarker({ name })}>
                <Input />
              </NameField>
              <NumberInput label="At frame" value={marked.at} min={0} max={36_000} step={1} onChange={(at) => changeMarker({ at: Math.round(at) })} />
            </>
          ) : (
            <>
              <SoundBegin />
              <p>
                {rows.length > 0
                  ? 'Press a key to see how it goes on from there; drag it, or move it by arrow keys.'
                  : 'Here you see how a key goes on to the next.'}
              </p>
            </>
          )}
        </Details>
      </Body>
    </Drawer>
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

const share = (frame: number, frames: number) => `${(100 * Math.min(frame, frames - 1)) / Math.max(1, frames - 1)}%`

/** From the first key to the last. */
const spanOf = ({ keys }: Track, frames: number) => {
  const share = (at: number) => (100 * Math.min(at, frames - 1)) / Math.max(1, frames - 1)
  const [from, to] = [share(keys[0].at), share(keys[keys.length - 1].at)]
  return { left: `${from}%`, width: `${to - from}%` }
}

/** Lets frames pass by the clock: those that are not made in time are left out, time is never stretched. */
function usePlaying(playing: boolean, rate: number, frames: number, loop: readonly [number, number] | undefined): void {
  const store = useWorkbenchStore()
  useEffect(() => {
    if (!playing) return
    const from = Math.min(loop?.[0] ?? 0, frames - 1)
    const length = Math.max(1, Math.min(loop?.[1] ?? Infinity, frames - 1) - from + 1)
    const { frame } = store.getState()
    const first = frame >= from && frame < from + length ? frame - from : 0
    const begun = performance.now()
    let asked = 0
    const pass = () => {
      const at = from + ((first + Math.floor(((performance.now() - begun) * rate) / 1000)) % length)
      if (store.getState().frame !== at) store.getState().seek(at)
      asked = requestAnimationFrame(pass)
    }
    asked = requestAnimationFrame(pass)
    return () => cancelAnimationFrame(asked)
  }, [playing, rate, frames, loop, store])
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
