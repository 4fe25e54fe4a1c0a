'use client'
import { Music, Trash2 } from 'lucide-react'
import { useEffect, useRef, useState } from 'react'
import { Button, FileTrigger } from 'react-aria-components'
import styled from 'styled-components'
import { setSound } from '@/state/actions/sound'
import { useWorkbench, useWorkbenchStore } from '@/state/context'
import { keepLocally } from '@/state/local-assets'
import { framesOf, rateOf } from '@/state/work'
import { PlainButton } from '@/ui/buttons'
import { NumberInput } from '@/ui/controls'
import { decode, loudest, MOST_SOUND_BYTES, playFrom, remember, type Sound, soundOf } from './sound'

const Row = styled.div`
  && { height: 40px; }
  .name { display: flex; align-items: center; gap: 6px; }
  .name b { overflow: hidden; text-overflow: ellipsis; }
  .name button { border: 0; background: none; color: var(--soft); padding: 3px; border-radius: 3px; display: grid; cursor: pointer; flex: none; }
  .name button[data-hovered] { color: var(--failure); }
  .wave { position: relative; height: 100%; margin: 0 16px; }
  canvas { position: absolute; inset: 2px 0; width: 100%; height: calc(100% - 4px); }
  [role='alert'] { color: var(--failure); font-size: 12.5px; padding: 0 16px; }
`

const NO_SOUND = 'is no sound that this browser can play. Use WAV, MP3 or OGG.'

/** A sound under the frames, to time by: seen as a waveform, and heard while they play. */
export function SoundRow() {
  const store = useWorkbenchStore()
  const sound = useWorkbench((s) => s.document.time?.sound)
  const [said, setSaid] = useState('')
  const choose = async (files: FileList | null) => {
    const file = files?.[0]
    if (!file) return
    setSaid('')
    if (file.size > MOST_SOUND_BYTES) return setSaid(`${file.name} is larger than ${MOST_SOUND_BYTES / 1024 / 1024} MB. Use a shorter part of it, or MP3.`)
    const bytes = new Uint8Array(await file.arrayBuffer())
    const made = await decode(bytes).catch(() => undefined)
    if (!made) return setSaid(`${file.name} ${NO_SOUND}`)
    const asset = await keepLocally(bytes, 'sound', file.name)
    remember(asset.sha256, made)
    setSound(store, asset)
  }
  return (
    <Row className="row">
      <span className="name">
        {sound ? (
          <>
            <b title={sound.name}>{sound.name}</b>
            <Button
              aria-label="Take the sound away"
              onPress={() => {
                setSaid('')
                setSound(store, undefined)
              }}
            >
              <Trash2 size={14} aria-hidden />
            </Button>
          </>
        ) : (
          <FileTrigger acceptedFileTypes={['audio/*']} onSelect={(files) => void choose(files).catch((error) => console.error(error))}>
            <PlainButton style={{ display: 'flex', gap: 6, alignItems: 'center' }}>
              <Music size={14} aria-hidden /> Add a sound
            </PlainButton>
          </FileTrigger>
        )}
      </span>
      {said ? <span role="alert">{said}</span> : sound ? <Wave key={sound.sha256} /> : <span />}
    </Row>
  )
}

function Wave() {
  const sound = useWorkbench((s) => s.document.time?.sound)
  const rate = useWorkbench((s) => rateOf(s.document))
  const frames = useWorkbench((s) => framesOf(s.document))
  const [heard, setHeard] = useState<Sound>()
  const [lost, setLost] = useState(false)
  const canvas = useRef<HTMLCanvasElement>(null)
  const sha256 = sound?.sha256
  const at = sound?.at ?? 0
  useEffect(() => {
    if (!sha256) return
    let gone = false
    soundOf(sha256)
      .then((made) => !gone && setHeard(made))
      .catch(() => !gone && setLost(true))
    return () => {
      gone = true
    }
  }, [sha256])
  useHearing(heard, at)
  useEffect(() => {
    const drawn = canvas.current
    const context = drawn?.getContext('2d')
    if (!drawn || !context || !heard) return
    const [width, height] = [(drawn.width = drawn.clientWidth * devicePixelRatio), (drawn.height = drawn.clientHeight * devicePixelRatio)]
    context.fillStyle = getComputedStyle(drawn).getPropertyValue('--action')
    // the row goes from the first frame to the last
    const second = (x: number) => ((x / width) * (frames - 1) - at) / rate
    // quiet recordings are seen as well as loud ones
    const most = loudest(heard.peaks, 0, Infinity) || 1
    for (let x = 0; x < width; x++) {
      const loud = loudest(heard.peaks, second(x), second(x + 1)) / most
      const tall = Math.max(second(x) >= 0 && second(x) < heard.buffer.duration ? 1 : 0, loud * height)
      context.fillRect(x, (height - tall) / 2, 1, tall)
    }
  }, [heard, frames, rate, at])
  if (lost) return <span role="alert">The sound cannot be had. Take it away, or bring it in once more.</span>
  return (
    <div className="wave">
      <canvas ref={canvas} role="img" aria-label={heard ? `Waveform, ${heard.buffer.duration.toFixed(2)} s` : 'Waveform'} />
    </div>
  )
}

/** Plays a sound along with the frames; it begins anew with them. */
function useHearing(sound: Sound | undefined, at: number): void {
  const store = useWorkbenchStore()
  const playing = useWorkbench((s) => s.playing)
  const rate = useWorkbench((s) => rateOf(s.document))
  useEffect(() => {
    if (!sound || !playing) return
    let end = playFrom(sound, (store.getState().frame - at) / rate)
    let before = store.getState().frame
    // where frames do not simply go on, as when they begin anew, the sound goes along
    const unsubscribe = store.subscribe(({ frame }) => {
      if (frame < before) {
        end()
        end = playFrom(sound, (frame - at) / rate)
      }
      before = frame
    })
    return () => {
      unsubscribe()
      end()
    }
  }, [sound, playing, rate, at, store])
}

/** When the sound begins, in frames. */
export function SoundBegin() {
  const store = useWorkbenchStore()
  const sound = useWorkbench((s) => s.document.time?.sound)
  if (!sound) return null
  return <NumberInput label="Sound from" value={sound.at} min={-36_000} max={36_000} step={1} onChange={(at) => setSound(store, sound, Math.round(at))} />
}
