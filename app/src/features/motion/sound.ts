import { localBytes } from '@/state/local-assets'

/** A sound larger than this is not taken, bytes. */
export const MOST_SOUND_BYTES = 64 * 1024 * 1024
/** Columns of a waveform for each second. */
const COLUMNS = 100

/** A sound ready to be heard and seen. */
export interface Sound {
  readonly buffer: AudioBuffer
  /** the loudest of each hundredth of a second, 0 to 1 */
  readonly peaks: Float32Array
}

let context: AudioContext | undefined
/** The page's one way to its loudspeakers; it may be asked for before anybody has pressed anything, but is heard only afterwards. */
export function loudspeaker(): AudioContext {
  context ??= new AudioContext()
  return context
}

const decoded = new Map<string, Promise<Sound>>()

/** The sound of an asset, decoded by the browser once. Rejects when it is none, or is not to be had. */
export function soundOf(sha256: string): Promise<Sound> {
  const known = decoded.get(sha256)
  if (known) return known
  const made = (async () => {
    const own = await localBytes(sha256)
    return decode(own ?? new Uint8Array(await bytesFromServer(sha256)))
  })()
  decoded.set(sha256, made)
  made.catch(() => decoded.delete(sha256))
  return made
}

async function bytesFromServer(sha256: string): Promise<ArrayBuffer> {
  const response = await fetch(`/api/assets/${sha256}`)
  if (!response.ok) throw new Error(`the sound cannot be had: ${response.status}`)
  return response.arrayBuffer()
}

/** Keeps a sound that has just been decoded under its asset. */
export const remember = (sha256: string, sound: Sound): void => void decoded.set(sha256, Promise.resolve(sound))

/** Bytes as a sound. Rejects when the browser's decoder knows nothing of them. */
export async function decode(bytes: Uint8Array): Promise<Sound> {
  // the decoder takes the buffer away
  const buffer = await loudspeaker().decodeAudioData(bytes.slice().buffer)
  return { buffer, peaks: peaksOf(buffer) }
}

/** How loud a sound is at most in each hundredth of a second, over all its channels, 0 to 1. */
export function peaksOf(buffer: Pick<AudioBuffer, 'sampleRate' | 'length' | 'numberOfChannels' | 'getChannelData'>): Float32Array {
  const { sampleRate, length, numberOfChannels } = buffer
  const columns = Math.max(1, Math.ceil((length * COLUMNS) / sampleRate))
  const peaks = new Float32Array(columns)
  for (let channel = 0; channel < numberOfChannels; channel++) {
    const samples = buffer.getChannelData(channel)
    for (let i = 0; i < length; i++) {
      const column = Math.floor((i * COLUMNS) / sampleRate)
      const loud = Math.abs(samples[i])
      if (loud > peaks[column]) peaks[column] = loud
    }
  }
  return peaks
}

/** The loudest of a waveform from one second to another. */
export function loudest(peaks: Float32Array, from: number, to: number): number {
  let most = 0
  for (let i = Math.max(0, Math.floor(from * COLUMNS)); i < Math.min(peaks.length, Math.ceil(to * COLUMNS)); i++) if (peaks[i] > most) most = peaks[i]
  return most
}

/** Plays a sound from a second of it on. Returns what ends it. */
export function playFrom({ buffer }: Sound, second: number): () => void {
  const speaker = loudspeaker()
  void speaker.resume()
  const source = speaker.createBufferSource()
  source.buffer = buffer
  source.connect(speaker.destination)
  // a sound that begins later than the film waits for its turn
  if (second < 0) source.start(speaker.currentTime - second)
  else if (second < buffer.duration) source.start(0, second)
  return () => {
    source.onended = null
    try {
      source.stop()
    } catch {
      // it has not begun
    }
    source.disconnect()
  }
}
