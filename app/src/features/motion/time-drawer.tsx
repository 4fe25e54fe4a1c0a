'use client'
import type { ProjectDocument } from '@kelvar/core/document/schema'
import { hasCourse } from '@kelvar/core/motion/course'
import type { Track } from '@kelvar/core/motion/track'
import { ChevronFirst, ChevronLeft, ChevronRight, CopyPlus, Eye, Flag as FlagIcon, Ghost, Pause, Play, Repeat, Spline, Trash2, Video } from 'lucide-react'
import { Fragment, useEffect, useMemo, useRef, useState } from 'react'
import { Button, Input, TextField, ToggleButton } from 'react-aria-components'
import styled from 'styled-components'
import { keyCamera } from '@/state/actions/camera'
import { projectStandNow } from '@/features/view/standing'
import { takeFrame } from '@/state/actions/pieces'
import { easeKeys, type KeyAt, moveKeys, sameKey, setTracks, takeKeys, trackAt } from '@/state/actions/picked-keys'
import { withKey } from '@/state/actions/tracks'
import { useFrameAtRest, useWorkbench, useWorkbenchStore } from '@/state/context'
import { madeFrames } from '@/state/filling'
import { contentAt, framesOf, moves, rateOf, workOf } from '@/state/work'
import { NumberInput } from '@/ui/controls'
import { FilmSheet } from './film-sheet'
import { Details, KeyDetails, KeysDetails } from './key-details'
import { KeyHandle, Lane, NowMark, share } from './lane'
import { MovementsSheet } from './movements-sheet'
import { CourseSheet } from './course-sheet'
import { type Row, useRows } from './rows'
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
  .row { position: relative; display: grid; grid-template-columns: 168px minmax(0, 1fr); align-items: center; height: 30px; border-bottom: 1px solid var(--rule); }
  .row > span { padding: 0 8px 0 14px; font-size: 12.5px; overflow: hidden; text-overflow: ellipsis; white-space: nowrap; }
  .row > span b { font-weight: 600; }
  .row:has(.course) > span { padding-right: 32px; }
  .course { position: absolute; left: 138px; border: 0; background: none; padding: 5px; border-radius: 3px; display: grid; cursor: pointer; color: var(--soft); }
  .course[data-hovered] { color: var(--ink); background: color-mix(in srgb, var(--ink) 7%, transparent); }
  .course[data-selected] { color: var(--action); background: var(--tint); }
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
type Marker = NonNullable<NonNullable<ProjectDocument['time']>['markers']>[number]
const NO_MARKERS: Marker[] = []

/** The time of a project: plays it, and shows each value that moves with its keys. */
export function TimeDrawer() {
  const store = useWorkbenchStore()
  const frame = useFrameAtRest()
  const playing = useWorkbench((s) => s.playing)
  const rate = useWorkbench((s) => rateOf(s.document))
  const frames = useWorkbench((s) => framesOf(s.document))
  const rows = useRows()
  const [chosen, setPicked] = useState<readonly KeyAt[]>([])
  // one that was undone is in hand no more
  const picked = useMemo(
    () => chosen.filter((key) => rows.some(({ step, path, track }) => track.keys.some(({ at }) => sameKey(key, { step, path, at })))),
    [chosen, rows],
  )
  const hand = useRef<readonly KeyAt[]>(picked)
  useEffect(() => {
    hand.current = picked
  }, [picked])
  const loop = useWorkbench((s) => s.loop)
  const ghosts = useWorkbench((s) => s.ghosts)
  usePlaying(playing, rate, frames, loop)
  const step = (by: number) => {
    store.getState().play(false)
    store.getState().seek((store.getState().frame + by + frames) % frames)
  }
  const camera = useWorkbench((s) => s.document.camera)
  const through = useWorkbench((s) => s.through)
  const markers = useWorkbench((s) => s.document.time?.markers ?? NO_MARKERS)
  const [marker, setMarker] = useState<number>()
  const [inSeconds, setInSeconds] = useState(false)
  const marked = marker === undefined ? undefined : markers[marker]
  const changeMarker = (change: Partial<Marker>) => time({ markers: markers.map((m, i) => (i === marker ? { ...m, ...change } : m)) }, 'Change a marker')
  /** the row whose course is shown */
  const [course, setCourse] = useState<string>()
  const pickKey = (r: Row, at: number, more: boolean) => {
    const here = keyIn(r, at)
    const others = picked.filter((other) => !sameKey(other, here))
    setPicked(more ? (others.length < picked.length ? others : [...picked, here]) : [here])
    if (!more) store.getState().seek(at)
  }
  const moveKey = (r: Row, to: number, { from, name }: { readonly from: number; readonly name: string }) => {
    // those that were moved a moment ago stand elsewhere by now
    const now = hand.current
    const here = keyIn(r, from)
    const own = now.some((other) => sameKey(other, here)) ? now : [here]
    const moved = moveKeys(store, own, to - from, name)
    hand.current = moved
    setPicked(moved)
    return moved[own.findIndex((other) => sameKey(other, here))].at
  }
  const [first] = picked
  const row = rows.find((r) => r.step === first?.step && r.path === first.path)
  const key = row?.track.keys.find((k) => k.at === first?.at)
  const time = (change: { rate?: number; frames?: number; markers?: Marker[] }, label: string) =>
    store.getState().edit(
      label,
      (draft) => {
        draft.time = { ...draft.time, rate, frames, ...change }
      },
      'time',
    )
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
              setPicked([])
              setMarker(markers.length)
              time({ markers: [...markers, { at: frame, name: `Mark ${markers.length + 1}` }] }, 'Set a marker')
            }}
          >
            <FlagIcon size={16} aria-hidden />
          </Button>
          <Button
            aria-label={`Key the camera at frame ${frame}`}
            onPress={() => {
              const stand = projectStandNow(store.getState())
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
        <FrameNow rate={rate} />
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
                    setPicked([])
                    setMarker(i)
                    store.getState().seek(at)
                  }}
                >
                  {name}
                </Flag>
              ))}
              <NowMark frames={frames} />
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
            <Fragment key={nameOf(r)}>
              <div className="row">
                <span title={`${r.title}: ${r.field}`}>
                  <b>{r.title}</b> {r.field}
                </span>
                {hasCourse(r.track) && (
                  <ToggleButton
                    className="course"
                    aria-label={`Course of ${r.title}, ${r.field}, as a curve`}
                    isSelected={course === nameOf(r)}
                    onChange={(on) => setCourse(on ? nameOf(r) : undefined)}
                  >
                    <Spline size={15} aria-hidden />
                  </ToggleButton>
                )}
                <Lane frames={frames} onSeek={(to) => store.getState().seek(to)}>
                  <i style={spanOf(r.track, frames)} />
                  {r.track.keys.map((k, i) => (
                    <KeyHandle
                      key={i}
                      at={k.at}
                      frames={frames}
                      label={`${r.title}, ${r.field}: key at frame ${k.at}, ${typeof k.value === 'number' ? Number(k.value.toFixed(2)) : String(k.value)}${r.unit ? ` ${r.unit}` : ''}`}
                      picked={picked.some((other) => sameKey(other, keyIn(r, k.at)))}
                      onPick={(more) => pickKey(r, k.at, more)}
                      onMove={(to, gesture) => moveKey(r, to, gesture)}
                      onRemove={() => {
                        const here = keyIn(r, k.at)
                        takeKeys(store, picked.some((other) => sameKey(other, here)) ? picked : [here])
                        setPicked([])
                      }}
                    />
                  ))}
                  <NowMark frames={frames} />
                </Lane>
              </div>
              {course === nameOf(r) && hasCourse(r.track) && (
                <CourseSheet
                  row={r}
                  frames={frames}
                  pickedAt={picked.length === 1 && sameKey(picked[0], keyIn(r, picked[0].at)) ? picked[0].at : undefined}
                  onPick={(at, more) => pickKey(r, at, more)}
                  onMove={(to, gesture) => moveKey(r, to, gesture)}
                  onValue={(at, value, gesture) => {
                    const now = trackAt(store.getState(), r)
                    if (now) setTracks(store, [{ step: r.step, path: r.path, track: withKey(now, at, value) }], `${r.title}: value of a key`, gesture)
                  }}
                  onEase={(at, ease, gesture) => easeKeys(store, [keyIn(r, at)], [...ease], gesture)}
                  onSeek={(to) => store.getState().seek(to)}
                />
              )}
            </Fragment>
          ))}
        </Sheet>
        <Details>
          {picked.length > 1 ? (
            <KeysDetails picked={picked} frame={frame} frames={frames} onPick={setPicked} />
          ) : row && key ? (
            <KeyDetails row={row} of={key} rows={rows} frame={frame} frames={frames} onPick={setPicked} />
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
                  ? 'Press a key to see how it goes on from there; drag it, or move it by arrow keys. With Shift more keys are picked, to be moved and eased together.'
                  : 'Here you see how a key goes on to the next.'}
              </p>
            </>
          )}
        </Details>
      </Body>
    </Drawer>
  )
}

/** Which frame is shown, and when that is. */
function FrameNow({ rate }: { rate: number }) {
  const frame = useWorkbench((s) => s.frame)
  return (
    <span className="now" role="status">
      Frame {frame} <small>{(frame / rate).toFixed(2)} s</small>
    </span>
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

const nameOf = ({ step, path }: Row) => `${step} ${path}`
const keyIn = ({ step, path }: Row, at: number): KeyAt => ({ step, path, at })

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
