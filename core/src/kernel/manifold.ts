import { boundCrossings, sidesOfPairs } from './sides'
import { TooMuchWork } from './work-bound'
import type { CrossSection, ManifoldToplevel, SimplePolygon } from 'manifold-3d/manifold.js'

export type { CrossSection, SimplePolygon }

let loading: Promise<ManifoldToplevel> | undefined
let loaded: ManifoldToplevel | undefined

/** The one instance of the clipping and solid kernel of this process; the promise is cached, so callers agree on it. */
export function loadManifold(): Promise<ManifoldToplevel> {
  loading ??= (async () => {
    const { default: open } = await import('manifold-3d/manifold.js')
    const wasm = await open()
    wasm.setup()
    freeLooseVectors(wasm)
    loaded = wasm
    return wasm
  })().catch((error) => {
    // a load that failed, as when the network went, is tried again by the next caller
    loading = undefined
    throw error
  })
  return loading
}

/** The clipper's own exceptions come as bare addresses: it throws when coordinates are beyond what it can count. */
const inWords = (error: unknown): unknown =>
  typeof error === 'number' ? new TooMuchWork('The lines reach too far to be worked with.', 'Check the units, widths and sizes they were drawn with.') : error

/** A ring that encloses nothing. */
const NO_AREA: SimplePolygon = [
  [0, 0],
  [0, 0],
  [0, 0],
]

interface Handle {
  delete(): void
  isDeleted(): boolean
}

/**
 * Counts crossings before they are asked for (see `boundCrossings`), and: the kernel's own glue leaves the vectors it passes polygons in and out with to the garbage collector, which knows nothing of
 * the size of what they hold: its memory grew four-fold over a thousand edits. They are noted as they are made and freed as soon
 * as the polygons are over.
 */
function freeLooseVectors(wasm: ManifoldToplevel): void {
  const inner = wasm as unknown as {
    Vector_vec2: new () => Handle
    Vector2_vec2: { prototype: { get(i: number): Handle } }
    CrossSection: new (...of: unknown[]) => unknown
  }
  let loose: Handle[] = []
  const noted = (handle: Handle) => {
    loose.push(handle)
    return handle
  }
  const free = () => {
    for (const handle of loose) if (!handle.isDeleted()) handle.delete()
    loose = []
  }
  inner.Vector_vec2 = new Proxy(inner.Vector_vec2, { construct: (Vector) => noted(new Vector()) })
  const { get } = inner.Vector2_vec2.prototype
  inner.Vector2_vec2.prototype.get = function (i) {
    return noted(get.call(this, i))
  }
  inner.CrossSection = new Proxy(inner.CrossSection, {
    construct(Section, of) {
      // the kernel's own glue looks at the first ring before it counts them
      const [rings, ...rule] = Array.isArray(of[0]) && of[0].length === 0 ? [[NO_AREA], ...of.slice(1)] : of
      if (Array.isArray(rings)) boundCrossings(sidesOfPairs(Array.isArray(rings[0]?.[0]) ? rings : [rings]))
      try {
        return new Section(rings, ...rule) as object
      } catch (error) {
        throw inWords(error)
      } finally {
        free()
      }
    },
  })
  const sections = Object.getPrototypeOf(wasm.CrossSection.prototype) as CrossSection
  // what is made of sections may throw as their making does
  const makers = sections as unknown as Record<string, (...of: unknown[]) => unknown>
  for (const name of ['offset', 'add', 'subtract', 'intersect']) {
    const make = makers[name]
    makers[name] = function (...of) {
      try {
        return make.apply(this, of)
      } catch (error) {
        throw inWords(error)
      }
    }
  }
  const { toPolygons } = sections
  sections.toPolygons = function () {
    try {
      return toPolygons.call(this)
    } finally {
      free()
    }
  }
}

/** The loaded kernel. Throws when `loadManifold` has not been awaited: a mistake of the caller, not of the input. */
export function manifold(): ManifoldToplevel {
  if (!loaded) throw new Error('the manifold kernel is used before loadManifold()')
  return loaded
}

/** Takes an object that lives in WASM memory into the scope and hands it back. */
export type Own = <T extends { delete(): void }>(object: T) => T

/** Runs `work`; every object passed to `own` in it is freed on every way out, last first. */
export function withScope<R>(work: (own: Own) => R): R {
  const owned: { delete(): void }[] = []
  try {
    return work((object) => {
      owned.push(object)
      return object
    })
  } finally {
    for (const object of owned.reverse()) object.delete()
  }
}
