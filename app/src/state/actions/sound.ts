import { cutText } from '@kelvar/core/document/words'
import type { WorkbenchStore } from '../store'
import { framesOf, rateOf } from '../work'
import { type CarriedFile, carryAsset } from './files'

/** Puts a sound under the frames, from a frame on, or takes it away; the project carries its file. */
export function setSound(store: WorkbenchStore, sound: (Pick<CarriedFile, 'sha256' | 'name'> & { readonly bytes?: number }) | undefined, at = 0): void {
  store.getState().edit(
    !sound ? 'Take the sound away' : sound.bytes === undefined ? 'Move the sound' : `Sound ${cutText(sound.name, 60)}`,
    (draft) => {
      const { sound: _, ...time } = draft.time ?? { rate: rateOf(draft), frames: framesOf(draft) }
      draft.time = sound ? { ...time, sound: { sha256: sound.sha256, name: sound.name, at } } : time
      if (sound?.bytes !== undefined) carryAsset(draft, { ...sound, bytes: sound.bytes }, 'sound')
      draft.assets = draft.assets.filter(({ type, sha256 }) => type !== 'sound' || sha256 === sound?.sha256)
    },
    sound && sound.bytes === undefined ? 'sound' : undefined,
  )
}
