import { type MaterialPicture, pictureKey } from '@kelvar/core/look/material'
import { invalidate } from '@react-three/fiber'
import * as THREE from 'three'
import type { ViewMesh } from '@/workers/view-mesh'

/** Longer sides are drawn at this many pixels. */
const MOST_SIDE = 2048

/** Pictures that nothing wears are kept ready for what wears them next, so many of all. */
const MOST_KEPT = 32

interface Kept {
  readonly ready: Promise<THREE.Texture | undefined>
  texture?: THREE.Texture
  /** materials that wear it */
  worn: number
}

const kept = new Map<string, Kept>()

/** A picture as graphics cards have it, unpacked once; undefined where the browser cannot read it. */
function textureOf(picture: MaterialPicture): Kept {
  const name = pictureKey(picture)
  const known = kept.get(name)
  // what was asked for last is given up last
  kept.delete(name)
  const entry: Kept = known ?? { ready: unpacked(picture), worn: 0 }
  kept.set(name, entry)
  if (!known)
    void entry.ready.then((texture) => {
      entry.texture = texture
      invalidate()
    })
  return entry
}

/** Gives up what nothing wears any more, the longest unasked first, as long as there are too many. */
function giveUp(): void {
  for (const [name, { ready, worn }] of kept) {
    if (kept.size <= MOST_KEPT) return
    if (worn > 0) continue
    kept.delete(name)
    void ready.then((texture) => texture?.dispose())
  }
}

const WRAPS = { again: THREE.RepeatWrapping, mirrored: THREE.MirroredRepeatWrapping, border: THREE.ClampToEdgeWrapping }

/** Colours and alpha as they are in the file. */
const AS_IT_IS = { premultiplyAlpha: 'none', colorSpaceConversion: 'none' } as const

async function unpacked({ bytes, type, beyond: [across, down] = ['again', 'again'] }: MaterialPicture): Promise<THREE.Texture | undefined> {
  try {
    // its first row is the upper one, as places in it are counted
    const whole = await createImageBitmap(new Blob([bytes.slice()], { type }), AS_IT_IS)
    const share = Math.min(1, MOST_SIDE / Math.max(whole.width, whole.height))
    const sized = { ...AS_IT_IS, resizeWidth: Math.max(1, Math.round(share * whole.width)), resizeHeight: Math.max(1, Math.round(share * whole.height)) }
    const bitmap = share < 1 ? await createImageBitmap(whole, sized) : whole
    if (bitmap !== whole) whole.close()
    const texture = new THREE.Texture(bitmap)
    texture.flipY = false
    texture.colorSpace = THREE.SRGBColorSpace
    texture.wrapS = WRAPS[across]
    texture.wrapT = WRAPS[down]
    texture.anisotropy = 4
    texture.needsUpdate = true
    return texture
  } catch {
    return undefined
  }
}

/** Puts a picture on a material as soon as it is unpacked; until then that is in its colour, which is the picture's on the whole. It is kept at least until the material is disposed of. */
export function wearPicture(material: THREE.MeshStandardMaterial, picture: MaterialPicture): THREE.MeshStandardMaterial {
  const put = (texture: THREE.Texture | undefined) => {
    if (!texture) return
    material.map = texture
    material.color.set(picture.tint)
    material.needsUpdate = true
  }
  const entry = textureOf(picture)
  entry.worn++
  material.addEventListener('dispose', () => {
    entry.worn--
    giveUp()
  })
  if (entry.texture) put(entry.texture)
  else void entry.ready.then(put)
  return material
}

/** Waits until all pictures that a mesh and its copies wear can be drawn. */
export async function picturesReady({ surfaces, copies = [] }: Pick<ViewMesh, 'surfaces' | 'copies'>): Promise<void> {
  const all = [...surfaces, ...copies.flatMap(({ mesh }) => mesh.surfaces)]
  await Promise.all(all.flatMap(({ material: { picture } }) => (picture ? [textureOf(picture).ready] : [])))
}
