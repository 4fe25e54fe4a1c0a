import { FormatError } from '../../format/mesh-data'
import { loadManifold } from '../../kernel/manifold'
import { areDabsAtHand, holdDabs, readDabs } from '../../mask/painted-file'
import { holdPicture, isAtHand } from '../../mask/pictures'
import type { Mask } from '../../mask/schema'
import { type AssetSource, failed, fileMissing, MissingAssetError, type StepOutcome } from '../step'

/** Brings to hand what the masks among these parameters go by: pictures, what was painted, the kernel for those along strokes; or says why one is not to be had. */
export async function bringMaskFiles(params: unknown, assets: Pick<AssetSource, 'picture' | 'file'>): Promise<StepOutcome | undefined> {
  for (const [field, value] of Object.entries((params ?? {}) as Record<string, unknown>)) {
    const { list, blur } = (value ?? {}) as Partial<Mask>
    if (!Array.isArray(list) || blur === undefined) continue
    for (const { by, picture, painted } of list) {
      if (by === 'stroke') await loadManifold()
      if (by === 'picture' && !picture.sha256)
        return failed('no-file', 'No picture has been chosen for the mask.', 'Choose a PNG, JPEG or WebP file, or let the mask go by something else.', field)
      const file = by === 'picture' ? picture : by === 'painted' ? painted.file : undefined
      if (!file || (by === 'picture' ? isAtHand(file.sha256) : areDabsAtHand(file.sha256))) continue
      const { sha256, name } = file
      try {
        if (by === 'picture') holdPicture(sha256, await assets.picture(sha256))
        else holdDabs(sha256, readDabs(await assets.file(sha256)))
      } catch (error) {
        if (error instanceof FormatError) return failed(`unreadable-${by}`, by === 'picture' ? `${name}: ${error.message}` : error.message, error.remedy, field)
        if (error instanceof MissingAssetError) return fileMissing(by === 'picture' ? `The picture “${name}”` : 'What was painted', field)
        throw error
      }
    }
  }
  return undefined
}
