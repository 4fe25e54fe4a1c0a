import type Jolt from 'jolt-physics/wasm-compat'

export type Engine = typeof Jolt

/**
 * A new instance of the physics engine, with memory of its own: one for each simulation, so that none can spoil another's. It has 128 MB, which cannot grow: whoever
 * builds a world bounds what goes in.
 */
export async function openEngine(): Promise<Engine> {
  const { default: open } = await import('jolt-physics/wasm-compat')
  return await open()
}
