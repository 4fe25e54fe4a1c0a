import { type MaterialPicture, pictureKey } from '@kelvar/core/look/material'
import { invalidate } from '@react-three/fiber'
import * as THREE from 'three'
import type { ViewMesh } from '@/workers/view-mesh'

/** Longer sides are drawn at this many pixels. */
const MOST_SIDE = 2048

/** Pictures that are kept ready for what wears them next. */
const MOST_KEPT = 32

const kept = new Map<string, { texture?: THREE.Texture; ready: Promise<THREE.Texture | undefined> }>()

/** A picture as graphics cards have it, unpacked once; undefined where the browser cannot read it. */
function textureOf(picture: MaterialPicture) {
  const name = pictureKey(picture)
  const known = kept.get(name)
  // what was asked for last is given up last
  kept.delete(name)
  const entry = known ?? { ready: unpacked(picture) }
  kept.set(name, entry)
  if (!known) {
    void entry.ready.then((texture) => {
      entry.texture = texture
      invalidate()
    })
    for (const [key, old] of [...kept].slice(0, Math.max(0, kept.size - MOST_KEPT))) {
      kept.delete(key)
      void old.ready.then((texture) => texture?.dispose())
    }
  }
  return entry
}

const WRAPS = { again: THREE.RepeatWrapping, mirrored: THREE.MirroredRepeatWrapping, border: THREE.ClampToEdgeWrapping }

async function unpacked({ bytes, type, beyond: [across, down] = ['again', 'again'] }: MaterialPicture): Promise<THREE.Texture | undefined> {
  try {
    // its first row is the upper one, as places in it are counted
    const whole = await createImageBitmap(new Blob([bytes.slice()], { type }), { premultiplyAlpha: 'none', colorSpaceConversion: 'none' })
    const share = Math.min(1, MOST_SIDE / Math.max(whole.width, whole.height))
    const sized = { resizeWidth: Math.max(1, Math.round(share * whole.width)), resizeHeight: Math.max(1, Math.round(share * whole.height)) }
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

/** Puts a picture on a material as soon as it is unpacked; until then that is in its colour, which is the picture's on the whole. */
export function wearPicture<M extends THREE.MeshStandardMaterial>(material: M, picture: MaterialPicture): M {
  const put = (texture: THREE.Texture | undefined) => {
    if (!texture) return
    material.map = texture
    material.color.set(picture.tint)
    material.needsUpdate = true
  }
  const { texture, ready } = textureOf(picture)
  if (texture) put(texture)
  else void ready.then(put)
  return material
}

/** Waits until all pictures that a mesh and its copies wear can be drawn. */
export async function picturesReady({ surfaces, copies = [] }: Pick<ViewMesh, 'surfaces' | 'copies'>): Promise<void> {
  const all = [...surfaces, ...copies.flatMap(({ mesh }) => mesh.surfaces)]
  await Promise.all(all.flatMap(({ material: { picture } }) => (picture ? [textureOf(picture).ready] : [])))
}
