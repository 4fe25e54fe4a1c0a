import type Jolt from 'jolt-physics/wasm-compat'

export type Engine = typeof Jolt

/** The engine has 128 MB and cannot grow: what may be too much is refused before it is built. */
export const ENGINE_MEMORY = 128 * 1024 * 1024

/** A new instance of the physics engine, with memory of its own: one for each simulation, so that none can spoil another's. */
export async function openEngine(): Promise<Engine> {
  const { default: open } = await import('jolt-physics/wasm-compat')
  return await open()
}
