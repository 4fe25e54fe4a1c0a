import type { CameraStand } from '@kelvar/core/document/camera'
import * as THREE from 'three'
import type { ViewMesh } from '@/workers/view-mesh'
import { picturesReady } from './material-pictures'
import { type Box, FIELD_OF_VIEW, framingOf, instancedCopies, keyLight, meshGeometry, retire, shadedGround, standFor, surfaceMaterials } from './scene'
import { stand } from './standing'

/** The view's renderer; pictures are drawn in a corner of its canvas, which then gets back what it showed. */
interface Studio {
  readonly renderer: THREE.WebGLRenderer
  /** the view's own, where it stands now */
  readonly camera: THREE.Camera
}

let studio: Studio | undefined
let waiting: ((studio: Studio) => void)[] = []

/** Called by the view when its renderer is there; the returned function takes it away again. */
export function lendStudio(lent: Studio): () => void {
  studio = lent
  for (const go of waiting) go(lent)
  waiting = []
  return () => {
    if (studio === lent) studio = undefined
  }
}

/** Resolves once pictures can be taken: after the view has its first solid, which must not wait for them. */
export const studioReady = (): Promise<Studio> => (studio ? Promise.resolve(studio) : new Promise((resolve) => waiting.push(resolve)))

/**
 * A picture of a solid as a PNG data URL, from the three-quarter view; it fills the picture, unless that is `about` more than it, or is taken `from` where a camera stands. It shares
 * the view's renderer, so that shaders are compiled once; waits until there is one.
 */
export async function takePicture(
  mesh: ViewMesh,
  width: number,
  height: number,
  { ground = false, about = mesh.box, from }: { ground?: boolean; about?: Box; from?: CameraStand } = {},
): Promise<string> {
  await picturesReady(mesh)
  const { renderer } = await studioReady()
  const framing = framingOf(about)
  const { scene, dispose } = lightBox(mesh, { shadowSize: ground ? 1024 : 512, ground, shade: 0.3, about })
  if (ground) scene.background = new THREE.Color('#ece5d8')
  const camera = new THREE.PerspectiveCamera(FIELD_OF_VIEW, width / height, 1, 100000)
  camera.position.copy(standFor('Three-quarter', framing, width / height, ground ? 1.02 : 1.04))
  camera.lookAt(framing.centre)
  if (from) stand(camera, from)

  const canvas = renderer.domElement
  const ratio = renderer.getPixelRatio()
  const size = renderer.getSize(new THREE.Vector2())
  const [w, h] = [Math.min(width, canvas.width), Math.min(height, canvas.height)]
  const copy = document.createElement('canvas')
  copy.width = w
  copy.height = h
  const shown = keepCorner(renderer, w, h)
  let pixels: Promise<Uint8ClampedArray<ArrayBuffer>>
  const shadowWaits = renderer.shadowMap.needsUpdate
  try {
    renderer.setViewport(0, 0, w / ratio, h / ratio)
    renderer.setScissor(0, 0, w / ratio, h / ratio)
    renderer.setScissorTest(true)
    renderer.shadowMap.needsUpdate = true
    renderer.render(scene, camera)
    pixels = pixelsLater(renderer.getContext() as WebGL2RenderingContext, w, h)
    shown.putBack()
  } finally {
    renderer.setScissorTest(false)
    renderer.setViewport(0, 0, size.x, size.y)
    // the picture has used up whatever update the view's own shadow was waiting for
    renderer.shadowMap.needsUpdate = shadowWaits
    shown.dispose()
    dispose()
  }
  // kept off the graphics: read from there it would wait for all that they still have to draw
  copy.getContext('2d', { willReadFrequently: true })?.putImageData(new ImageData(await pixels, w, h), 0, 0)
  return copy.toDataURL('image/png')
}

/**
 * What now stands in the lower left corner of the canvas, w × h pixels, RGBA from the top row down, once it has been drawn. The page goes on meanwhile: read at
 * once it would stand still until all that was asked of the graphics before is done, seconds on a machine without a graphics card.
 */
async function pixelsLater(gl: WebGL2RenderingContext, w: number, h: number): Promise<Uint8ClampedArray<ArrayBuffer>> {
  const rows = new Uint8ClampedArray(w * h * 4)
  const buffer = gl.createBuffer()
  gl.bindBuffer(gl.PIXEL_PACK_BUFFER, buffer)
  gl.bufferData(gl.PIXEL_PACK_BUFFER, rows.byteLength, gl.STREAM_READ)
  gl.readPixels(0, 0, w, h, gl.RGBA, gl.UNSIGNED_BYTE, 0)
  gl.bindBuffer(gl.PIXEL_PACK_BUFFER, null)
  const done = gl.fenceSync(gl.SYNC_GPU_COMMANDS_COMPLETE, 0)
  gl.flush()
  try {
    while (done && !gl.isContextLost() && gl.getSyncParameter(done, gl.SYNC_STATUS) === gl.UNSIGNALED) {
      await new Promise((resolve) => setTimeout(resolve, 20))
    }
    if (gl.isContextLost()) throw new Error('the graphics were lost while a picture was drawn')
    const upwards = new Uint8Array(rows.length)
    gl.bindBuffer(gl.PIXEL_PACK_BUFFER, buffer)
    gl.getBufferSubData(gl.PIXEL_PACK_BUFFER, 0, upwards)
    gl.bindBuffer(gl.PIXEL_PACK_BUFFER, null)
    // the canvas’s colours are premultiplied, and its lowest row comes first
    for (let y = 0; y < h; y++) {
      for (let x = 0; x < w; x++) {
        const from = (y * w + x) * 4
        const to = ((h - 1 - y) * w + x) * 4
        const alpha = upwards[from + 3]
        for (let k = 0; k < 3; k++) rows[to + k] = alpha > 0 ? (upwards[from + k] * 255) / alpha : 0
        rows[to + 3] = alpha
      }
    }
    return rows
  } finally {
    gl.deleteSync(done)
    gl.deleteBuffer(buffer)
  }
}

/** Copies the lower left corner of the canvas, w × h pixels, so that it can be drawn there again without drawing the view anew. */
function keepCorner(renderer: THREE.WebGLRenderer, w: number, h: number): { putBack: () => void; dispose: () => void } {
  const texture = new THREE.FramebufferTexture(w, h)
  renderer.copyFramebufferToTexture(texture)
  const material = new THREE.RawShaderMaterial({
    glslVersion: THREE.GLSL3,
    uniforms: { corner: { value: texture } },
    vertexShader: 'in vec3 position; void main() { gl_Position = vec4(position.xy * 2.0, 0.0, 1.0); }',
    fragmentShader: 'precision highp float; uniform sampler2D corner; out vec4 colour; void main() { colour = texelFetch(corner, ivec2(gl_FragCoord.xy), 0); }',
    blending: THREE.NoBlending,
    depthTest: false,
    depthWrite: false,
    toneMapped: false,
  })
  const plane = new THREE.Mesh(new THREE.PlaneGeometry(1, 1), material)
  plane.frustumCulled = false
  return {
    putBack: () => renderer.render(plane, new THREE.Camera()),
    dispose() {
      texture.dispose()
      retire([material])
      plane.geometry.dispose()
    },
  }
}

/** A mesh with its light in a scene of its own, set up for the box it is `about`; on a ground that takes its shadow where that is wanted. */
export function lightBox(
  mesh: ViewMesh,
  { shadowSize, ground, shade, about = mesh.box }: { shadowSize: number; ground: boolean; shade: number; about?: Box },
): { scene: THREE.Scene; dispose: () => void } {
  const scene = new THREE.Scene()
  const framing = framingOf(about)
  const geometry = meshGeometry(mesh)
  const materials = surfaceMaterials(mesh)
  const object = new THREE.Mesh(geometry, materials)
  object.castShadow = true
  object.receiveShadow = true
  scene.add(object)
  const copies = (mesh.copies ?? []).map((each) => instancedCopies(each))
  for (const each of copies) scene.add(each.object)
  const light = keyLight(framing, shadowSize)
  scene.add(light, light.target)
  const floor = new THREE.Mesh(new THREE.PlaneGeometry(1, 1), new THREE.ShadowMaterial({ opacity: shade, color: '#3a2d1c' }))
  if (ground) {
    const shaded = shadedGround(about, light)
    floor.rotation.x = -Math.PI / 2
    floor.scale.set(shaded.width, shaded.depth, 1)
    floor.position.set(shaded.x, about[1], shaded.z)
    floor.receiveShadow = true
    scene.add(floor)
  }
  const dispose = () => {
    for (const part of [geometry, floor.geometry, light, ...copies.flatMap((each) => [each.object, each.geometry])]) part.dispose()
    retire([...materials, floor.material, ...copies.flatMap((each) => each.materials)])
  }
  return { scene, dispose }
}
