import * as THREE from 'three'
import type { ViewMesh } from '@/workers/view-mesh'
import { lightBox, studioReady } from './pictures'
import { setUpRenderer } from './scene'

export const STILL_SIZES = [
  { width: 1920, height: 1080 },
  { width: 3840, height: 2160 },
] as const

/**
 * What the view shows as a PNG of any size, seen from where its camera stands, without dimension lines and handles; on the
 * stage's ground or transparent with its shadow. Throws where the graphics card cannot draw so large a picture.
 */
export async function takeStill(mesh: ViewMesh, width: number, height: number, transparent: boolean): Promise<Blob> {
  const { camera: view, renderer: viewRenderer } = await studioReady()
  if (!(view instanceof THREE.PerspectiveCamera)) throw new Error('the view has no perspective camera')
  const renderer = new THREE.WebGLRenderer({ antialias: true, alpha: true, preserveDrawingBuffer: true })
  const { scene, dispose } = lightBox(mesh, { shadowSize: Math.min(4096, viewRenderer.capabilities.maxTextureSize), ground: 8, shade: 0.26 })
  try {
    setUpRenderer(renderer)
    renderer.setPixelRatio(1)
    renderer.setSize(width, height, false)
    const [w, h] = [renderer.domElement.width, renderer.domElement.height]
    if (w !== width || h !== height || renderer.getContext().drawingBufferWidth !== width) throw new Error('the picture is larger than can be drawn')
    const camera = view.clone()
    const shape = width / height
    // a wider view than the picture is seen whole, with more above and below
    if (view.aspect > shape) camera.fov = (2 * Math.atan(Math.tan((view.fov * Math.PI) / 360) * (view.aspect / shape)) * 180) / Math.PI
    camera.aspect = shape
    camera.updateProjectionMatrix()
    renderer.render(scene, camera)
    const canvas = document.createElement('canvas')
    canvas.width = width
    canvas.height = height
    const context = canvas.getContext('2d')
    if (!context) throw new Error('no canvas')
    if (!transparent) {
      context.fillStyle = backdrop(context, width, height)
      context.fillRect(0, 0, width, height)
    }
    context.drawImage(renderer.domElement, 0, 0)
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
