import * as THREE from 'three'
import type { ViewMesh } from '@/workers/view-mesh'
import { lightBox, studioReady } from './pictures'
import { setUpRenderer } from './scene'

export const STILL_SIZES = [
  { width: 1920, height: 1080 },
  { width: 3840, height: 2160 },
] as const

/** A picture is drawn in pieces so large, in pixels: each is soon done, and any graphics card can draw it. */
const TILE = { width: 960, height: 540 }

/**
 * What the view shows as a PNG of any size, seen from where its camera stands, without dimension lines and handles; on the
 * stage's ground or transparent with its shadow. Tells how far it is, 0 to 1; throws when it is stopped, and where the
 * browser has no room for so large a picture.
 */
export async function takeStill(
  mesh: ViewMesh,
  { width, height, transparent }: { width: number; height: number; transparent: boolean },
  signal: AbortSignal,
  tell: (done: number) => void,
): Promise<Blob> {
  const { camera: view, renderer: viewRenderer } = await studioReady()
  if (!(view instanceof THREE.PerspectiveCamera)) throw new Error('the view has no perspective camera')
  const { scene, dispose } = lightBox(mesh, { shadowSize: Math.min(4096, viewRenderer.capabilities.maxTextureSize), ground: 8, shade: 0.26 })
  const renderer = new THREE.WebGLRenderer({ antialias: true, alpha: true, preserveDrawingBuffer: true })
  try {
    setUpRenderer(renderer)
    renderer.setPixelRatio(1)
    renderer.setSize(TILE.width, TILE.height, false)
    // the shadow is the same for all pieces
    renderer.shadowMap.autoUpdate = false
    renderer.shadowMap.needsUpdate = true
    const camera = view.clone()
    const shape = width / height
    // a wider view than the picture is seen whole, with more above and below
    if (view.aspect > shape) camera.fov = (2 * Math.atan(Math.tan((view.fov * Math.PI) / 360) * (view.aspect / shape)) * 180) / Math.PI
    camera.aspect = shape
    const canvas = document.createElement('canvas')
    canvas.width = width
    canvas.height = height
    const context = canvas.getContext('2d')
    if (!context) throw new Error('no canvas')
    if (!transparent) {
      context.fillStyle = backdrop(context, width, height)
      context.fillRect(0, 0, width, height)
    }
    const across = Math.ceil(width / TILE.width)
    const tiles = across * Math.ceil(height / TILE.height)
    for (let i = 0; i < tiles; i++) {
      const [x, y] = [(i % across) * TILE.width, Math.floor(i / across) * TILE.height]
      camera.setViewOffset(width, height, x, y, TILE.width, TILE.height)
      renderer.render(scene, camera)
      context.drawImage(renderer.domElement, x, y)
      tell((i + 1) / tiles)
      // lets the page breathe, and the button that stops this be pressed
      await new Promise((resolve) => setTimeout(resolve))
      signal.throwIfAborted()
    }
    return await new Promise<Blob>((resolve, reject) => canvas.toBlob((blob) => (blob ? resolve(blob) : reject(new Error('no picture'))), 'image/png'))
  } finally {
    dispose()
    renderer.dispose()
    renderer.forceContextLoss()
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
