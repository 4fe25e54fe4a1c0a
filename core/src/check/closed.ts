import { edgesOf } from './edges'
import type { Solid } from '../solid/solid'

/** Whether every side of a solid's triangles is met by one other, the other way. */
export function isClosed({ indices }: Pick<Solid, 'indices'>): boolean {
  const { edge, count } = edgesOf(indices)
  const forth = new Uint8Array(count)
  const back = new Uint8Array(count)
  for (let h = 0; h < edge.length; h++) {
    const sides = indices[h] < indices[h % 3 === 2 ? h - 2 : h + 1] ? forth : back
    if (sides[edge[h]]++ > 0) return false
  }
  return forth.every((n, e) => n === 1 && back[e] === 1)
}
