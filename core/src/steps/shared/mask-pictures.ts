import { FormatError } from '../../format/mesh-data'
import { loadManifold } from '../../kernel/manifold'
import { holdPicture, isAtHand } from '../../mask/pictures'
import type { Mask } from '../../mask/schema'
import { type AssetSource, failed, fileMissing, MissingAssetError, type StepOutcome } from '../step'

/** Brings the pictures to hand that the masks among these parameters go by, and the kernel for those along strokes; or says why one is not to be had. */
export async function bringMaskPictures(params: unknown, assets: Pick<AssetSource, 'picture'>): Promise<StepOutcome | undefined> {
  for (const [field, value] of Object.entries((params ?? {}) as Record<string, unknown>)) {
    const { list, blur } = (value ?? {}) as Partial<Mask>
    if (!Array.isArray(list) || blur === undefined) continue
    for (const { by, picture } of list) {
      if (by === 'stroke') await loadManifold()
      if (by !== 'picture') continue
      if (!picture.sha256)
        return failed('no-file', 'No picture has been chosen for the mask.', 'Choose a PNG, JPEG or WebP file, or let the mask go by something else.', field)
      if (isAtHand(picture.sha256)) continue
      try {
        holdPicture(picture.sha256, await assets.picture(picture.sha256))
      } catch (error) {
        if (error instanceof FormatError) return failed('unreadable-picture', `${picture.name}: ${error.message}`, error.remedy, field)
        if (error instanceof MissingAssetError) return fileMissing(`The picture “${picture.name}”`, field)
        throw error
      }
    }
  }
  return undefined
}
