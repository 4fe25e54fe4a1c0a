// A worker for the tests of the supervisor: it does what cannot be interrupted, in a kernel and in a loop.
import { parentPort, threadId } from 'node:worker_threads'
import { expose } from 'comlink'
import nodeEndpoint from 'comlink/dist/esm/node-adapter.mjs'
import load from 'manifold-3d/manifold.js'

const wasm = await load()
wasm.setup()
const stopped = new Set()

expose(
  {
    stop(job) {
      stopped.add(job)
    },
    hears() {},
    /** Two balls of so many triangles cut from each other; gives the volume left. */
    async boolean(_job, segments) {
      const [a, b] = [wasm.Manifold.sphere(10, segments), wasm.Manifold.sphere(10, segments).translate([5, 0.1, 0.2])]
      parentPort.postMessage({ began: a.numTri() + b.numTri() })
      const result = a.subtract(b)
      return { triangles: a.numTri(), volume: result.volume(), thread: threadId }
    },
    /** So many glyphs of a face formed with an edge one after another, over and over; gives their triangles. */
    async corpus(_job, glyphs) {
      const { register } = await import('tsx/esm/api')
      register()
      const core = (file) => import(new URL(`../../core/${file}`, import.meta.url).href)
      const [{ formGlyphs }, { openFace }] = [await core('test/glyphs.ts'), await core('test/helpers.ts')]
      await (await core('src/kernel/manifold.ts')).loadManifold()
      const face = await openFace('archivo-bold')
      // well under way when it is told of
      let triangles = formGlyphs(face, 0, Math.min(40, glyphs))
      parentPort.postMessage({ began: glyphs })
      triangles += formGlyphs(face, 40, glyphs)
      return { triangles, thread: threadId }
    },
    /** A loop that hears nothing. */
    async loop(_job, ms) {
      parentPort.postMessage({ began: ms })
      const end = performance.now() + ms
      while (performance.now() < end);
      return threadId
    },
    /** Work that stops by itself when it is told to. */
    async polite(job, ms) {
      parentPort.postMessage({ began: ms })
      const end = performance.now() + ms
      while (performance.now() < end) {
        await new Promise((resolve) => setTimeout(resolve, 5))
        if (stopped.has(job)) throw new Error('stopped politely')
      }
      return threadId
    },
    async echo(_job, value) {
      return { value, thread: threadId }
    },
    async breakDown() {
      process.exit(3)
    },
  },
  nodeEndpoint(parentPort),
)
parentPort.postMessage('ready')
