import { FontFace } from '@kelvar/core/font/face'
import { type Picture, readPicture } from '@kelvar/core/format/picture'
import { type AssetSource, MissingAssetError } from '@kelvar/core/steps/step'
import { LRUCache } from 'lru-cache'
import { localBytes } from '@/state/local-assets'

/** Faces that are kept open; a large one takes some 30 MB. */
const OPEN_FACES = 24

/** The project's files as a worker gets them: from the server, by their SHA-256. */
export function workerAssets(): AssetSource {
  const faces = new LRUCache<string, Promise<FontFace>>({ max: OPEN_FACES })
  return {
    font(sha256) {
      let face = faces.get(sha256)
      if (!face) {
        face = fetchFile(sha256).then((bytes) => FontFace.open(bytes, sha256))
        faces.set(sha256, face)
        // a failed fetch is tried again next time; a font that is broken stays broken
        face.catch((error) => {
          if (error instanceof MissingAssetError) faces.delete(sha256)
        })
      }
      return face
    },
    file: fetchFile,
    picture: async (sha256) => readPicture(await fetchFile(sha256), readWebp),
  }
}

async function fetchFile(sha256: string): Promise<Uint8Array> {
  // what the page has just made is there before the server has it
  const local = await localBytes(sha256).catch(() => undefined)
  if (local) return local
  const response = await fetch(`/api/assets/${sha256}`).catch(() => undefined)
  if (!response?.ok) throw new MissingAssetError(sha256)
  return new Uint8Array(await response.arrayBuffer())
}

/** The browser's own WebP reader, which is the same library in all of them. */
async function readWebp(bytes: Uint8Array): Promise<Picture> {
  const image = await createImageBitmap(new Blob([bytes as BlobPart], { type: 'image/webp' }), { premultiplyAlpha: 'none', colorSpaceConversion: 'none' })
  try {
    const { width, height } = image
    const context = new OffscreenCanvas(width, height).getContext('2d', { willReadFrequently: true })
    if (!context) throw new Error('no canvas')
    context.drawImage(image, 0, 0)
    return { width, height, rgba: context.getImageData(0, 0, width, height).data }
  } finally {
    image.close()
  }
}
