import { z } from 'zod'
import { FormatError } from '../../format/mesh-data'
import { averaged, type Picture } from '../../format/picture'
import { failed, fileMissing, MissingAssetError, type StepContext, type StepOutcome } from '../step'
import { pictureFile } from './picture-field'

/** The chosen picture, made smaller to at most `most` pixels and kept; or why there is none. */
export async function loadPicture(
  { memo, assets }: Pick<StepContext, 'memo' | 'assets'>,
  { sha256, name }: z.infer<typeof pictureFile>,
  most: number,
): Promise<Picture | StepOutcome> {
  if (!sha256) return failed('no-file', 'No picture has been chosen.', 'Choose a PNG, JPEG or WebP file.', 'file')
  try {
    const key = `picture-of:${sha256}:${most}`
    const known = memo.peek<Picture>(key)
    if (known) return known
    const picture = averaged(await assets.picture(sha256), most)
    memo.put(key, picture)
    return picture
  } catch (error) {
    if (error instanceof FormatError) return failed('unreadable-picture', `${name}: ${error.message}`, error.remedy, 'file')
    if (error instanceof MissingAssetError) return fileMissing(`The picture “${name}”`, 'file')
    throw error
  }
}
