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
    loaded = wasm
    return wasm
  })().catch((error) => {
    // a load that failed, as when the network went, is tried again by the next caller
    loading = undefined
    throw error
  })
  return loading
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
