import type { CameraStand } from '@kelvar/core/document/camera'
import * as THREE from 'three'
import type { ViewMesh } from '@/workers/view-mesh'
import { picturesReady } from './material-pictures'
import { lightBox, studioReady } from './pictures'
import { type Box, setUpRenderer } from './scene'
import { stand } from './standing'

export const STILL_SIZES = [
  { width: 1920, height: 1080 },
  { width: 3840, height: 2160 },
] as const

/** A picture is drawn in pieces so large, in pixels: each is soon done, and any graphics card can draw it. */
const TILE = { width: 960, height: 540 }

export interface StillOptions {
  readonly width: number
  readonly height: number
  /** nothing but the piece and its shadow */
  readonly transparent: boolean
  /** what the ground and the light are set up for: all that is to be seen in a row of pictures; the mesh itself when left out */
  readonly about?: Box
}

/** Draws pictures of any size as the view shows things, seen from where its camera stood when it was opened. Close it. */
export interface Stills {
  /** A picture, drawn in pieces; the same canvas each time. Seen from where the view's camera stood, or from where one is said to stand. Tells how far it is, 0 to 1; throws when it is stopped. */
  draw(mesh: ViewMesh, signal: AbortSignal, tell?: (done: number) => void, seenFrom?: CameraStand): Promise<HTMLCanvasElement>
  close(): void
}

/** Throws where the browser has no room for so large a picture. */
export async function openStills({ width, height, transparent, about }: StillOptions): Promise<Stills> {
  const { camera: view, renderer: viewRenderer } = await studioReady()
  if (!(view instanceof THREE.PerspectiveCamera)) throw new Error('the view has no perspective camera')
  const shadowSize = Math.min(about ? 2048 : 4096, viewRenderer.capabilities.maxTextureSize)
  const canvas = document.createElement('canvas')
  canvas.width = width
  canvas.height = height
  const context = canvas.getContext('2d')
  if (!context) throw new Error('no canvas')
  const renderer = new THREE.WebGLRenderer({ antialias: true, alpha: true, preserveDrawingBuffer: true })
  setUpRenderer(renderer)
  renderer.setPixelRatio(1)
  const tile = { width: Math.min(width, TILE.width), height: Math.min(height, TILE.height) }
  renderer.setSize(tile.width, tile.height, false)
  // the shadow is the same for all pieces of a picture
  renderer.shadowMap.autoUpdate = false
  const camera = view.clone()
  const shape = width / height
  // a wider view than the picture is seen whole, with more above and below
  const fitted = (fov: number) => (view.aspect > shape ? (2 * Math.atan(Math.tan((fov * Math.PI) / 360) * (view.aspect / shape)) * 180) / Math.PI : fov)
  camera.fov = fitted(camera.fov)
  camera.aspect = shape
  const ground = transparent ? undefined : backdrop(context, width, height)
  const across = Math.ceil(width / tile.width)
  const tiles = across * Math.ceil(height / tile.height)
  return {
    async draw(mesh, signal, tell = () => {}, seenFrom) {
      if (seenFrom) {
        stand(camera, seenFrom)
        camera.fov = fitted(camera.fov)
      }
      await picturesReady(mesh)
      const { scene, dispose } = lightBox(mesh, { shadowSize, ground: true, shade: 0.26, about })
      try {
        renderer.shadowMap.needsUpdate = true
        context.clearRect(0, 0, width, height)
        if (ground) {
          context.fillStyle = ground
          context.fillRect(0, 0, width, height)
        }
        for (let i = 0; i < tiles; i++) {
          const [x, y] = [(i % across) * tile.width, Math.floor(i / across) * tile.height]
          camera.setViewOffset(width, height, x, y, tile.width, tile.height)
          renderer.render(scene, camera)
          context.drawImage(renderer.domElement, x, y)
          tell((i + 1) / tiles)
          // lets the page breathe, and the button that stops this be pressed
          await new Promise((resolve) => setTimeout(resolve))
          signal.throwIfAborted()
        }
        return canvas
      } finally {
        dispose()
      }
    },
    close() {
      renderer.dispose()
      renderer.forceContextLoss()
    },
  }
}

/** A canvas as a PNG. Throws where the browser has no room for it. */
export const pngOf = (canvas: HTMLCanvasElement): Promise<Blob> =>
  new Promise((resolve, reject) => canvas.toBlob((blob) => (blob ? resolve(blob) : reject(new Error('no picture'))), 'image/png'))

/**
 * What the view shows as a PNG of any size, seen from where its camera stands, without dimension lines and handles; on the
 * stage's ground or transparent with its shadow. Tells how far it is, 0 to 1; throws when it is stopped, and where the
 * browser has no room for so large a picture.
 */
export async function takeStill(mesh: ViewMesh, options: StillOptions, signal: AbortSignal, tell: (done: number) => void): Promise<Blob> {
  const stills = await openStills(options)
  try {
    const png = await pngOf(await stills.draw(mesh, signal, tell))
    // stopped while it was packed, which takes a while as well
    signal.throwIfAborted()
    return png
  } finally {
    stills.close()
  }
}

/** The view's backdrop in the colours of the theme. */
function backdrop(context: CanvasRenderingContext2D, width: number, height: number): CanvasGradient {
  const style = getComputedStyle(document.documentElement)
  const colour = (name: string) => style.getPropertyValue(name).trim()
  const gradient = context.createRadialGradient(width / 2, height * 0.44, 0, width / 2, height * 0.44, Math.max(width * 0.7, height * 0.7))
  gradient.addColorStop(0, colour('--stage-near'))
  gradient.addColorStop(0.62, colour('--stage'))
  gradient.addColorStop(1, colour('--stage-far'))
  return gradient
}
