/** What points are drawn to, mm. */
export interface SnapGround {
  /** distance of grid lines; 0 for none */
  readonly grid: number
  readonly nodes: readonly (readonly [number, number])[]
  /** upright lines at an x and level lines at a y, with what they are called */
  readonly uprights: readonly { readonly at: number; readonly name: string }[]
  readonly levels: readonly { readonly at: number; readonly name: string }[]
}

export interface Snapped {
  readonly x: number
  readonly y: number
  /** what it was drawn to, in words; none when it was left where it is */
  readonly to: readonly string[]
}

/**
 * The point moved to what lies within `reach` mm of it: a node first, else guides and the type's lines in either direction,
 * else the grid.
 */
export function snapPoint(x: number, y: number, ground: SnapGround, reach: number): Snapped {
  let nearest = reach
  let node: readonly [number, number] | undefined
  for (const n of ground.nodes) {
    const distance = Math.hypot(n[0] - x, n[1] - y)
    if (distance < nearest) {
      nearest = distance
      node = n
    }
  }
  if (node) return { x: node[0], y: node[1], to: ['a node'] }
  const line = (value: number, lines: SnapGround['levels']) => {
    let best: { at: number; name: string } | undefined
    for (const l of lines) if (Math.abs(l.at - value) < Math.abs((best?.at ?? value + reach) - value)) best = l
    return best
  }
  const along = (value: number, lines: SnapGround['levels']): [number, string | undefined] => {
    const hit = line(value, lines)
    if (hit) return [hit.at, hit.name]
    if (ground.grid > 0) {
      const on = Math.round(value / ground.grid) * ground.grid
      if (Math.abs(on - value) < reach) return [Number(on.toFixed(6)), 'the grid']
    }
    return [value, undefined]
  }
  const [sx, toX] = along(x, ground.uprights)
  const [sy, toY] = along(y, ground.levels)
  return { x: sx, y: sy, to: [...new Set([toX, toY].filter((t): t is string => t !== undefined))] }
}

/** A round distance of 1, 2 or 5 times a power of ten that takes at least `pixels` on the screen at a scale in px per mm. */
export function roundStep(scale: number, pixels: number): number {
  const least = pixels / scale
  const power = 10 ** Math.floor(Math.log10(least))
  return power * ([1, 2, 5].find((f) => f * power >= least) ?? 10)
}
