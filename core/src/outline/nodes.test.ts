import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { FULL } from '../../test/helpers'
import { flattenPath } from './flatten'
import {
  closeNodes,
  fromPath,
  insertNode,
  joinEnds,
  moveHandle,
  moveNodes,
  type NodePath,
  nearestPlace,
  removeNodes,
  reverseNodes,
  setNodeKind,
  sideCount,
  splitAt,
  toPath,
} from './nodes'
import { nodePath } from './node-path'
import { type Path, pathArea } from './path'

const number = fc.double({ min: -50, max: 50, noNaN: true }).map((v) => Math.round(v * 1000) / 1000)
const handle = fc.option(fc.tuple(number, number), { nil: undefined })
const aNode = fc
  .record({ x: number, y: number, in: handle, out: handle })
  .map((n) => ({ x: n.x, y: n.y, ...(n.in ? { in: n.in } : {}), ...(n.out ? { out: n.out } : {}) }))
// neighbours never fall together
const aLine = fc
  .record({ closed: fc.boolean(), nodes: fc.array(aNode, { minLength: 3, maxLength: 8 }) })
  .map(({ closed, nodes }) => ({ closed, nodes: nodes.map((n, i) => ({ ...n, x: 30 * i + n.x / 5 })) })) as fc.Arbitrary<NodePath>

/** Largest distance from points of one curve to the other's fine polygon. */
function apart(a: Path, b: Path): number {
  const [p, q] = [a, b].map((path) => flattenPath(path, { tolerance: 0.002, maxTurn: 3 }))
  let worst = 0
  for (let i = 0; i < p.xy.length; i += 2) {
    let least = Infinity
    const n = q.xy.length / 2
    for (let k = 0; k < n - (q.closed ? 0 : 1); k++) {
      const [ax, ay, bx, by] = [q.xy[2 * k], q.xy[2 * k + 1], q.xy[(2 * k + 2) % q.xy.length], q.xy[(2 * k + 3) % q.xy.length]]
      const square = (bx - ax) ** 2 + (by - ay) ** 2
      const f = square === 0 ? 0 : Math.max(0, Math.min(1, ((p.xy[i] - ax) * (bx - ax) + (p.xy[i + 1] - ay) * (by - ay)) / square))
      least = Math.min(least, Math.hypot(p.xy[i] - ax - f * (bx - ax), p.xy[i + 1] - ay - f * (by - ay)))
    }
    worst = Math.max(worst, least)
  }
  return worst
}

describe('nodes', () => {
  it('stand for the curve: to a path and back, and through the schema', () => {
    fc.assert(
      fc.property(aLine, (drawn) => {
        const back = fromPath(toPath(drawn))
        expect(sideCount(back)).toBeLessThanOrEqual(sideCount(drawn))
        expect(apart(toPath(drawn), toPath(back))).toBeLessThan(0.01)
        expect(nodePath.parse(JSON.parse(JSON.stringify(back)))).toEqual(back)
      }),
      { numRuns: 60 },
    )
  })

  it('put in anywhere leave the curve as it is', () => {
    fc.assert(
      fc.property(aLine, fc.nat(20), fc.double({ min: 0.05, max: 0.95, noNaN: true }), (drawn, side, t) => {
        const more = insertNode(drawn, side % sideCount(drawn), t)
        expect(more.nodes.length).toBe(drawn.nodes.length + 1)
        expect(apart(toPath(drawn), toPath(more))).toBeLessThan(0.01)
        expect(apart(toPath(more), toPath(drawn))).toBeLessThan(0.01)
      }),
      { numRuns: FULL ? 80 : 40 },
    )
  })

  it('taken out again bring the curve back, near enough', () => {
    fc.assert(
      fc.property(
        // a smooth arc, as drawn with the pen
        fc.double({ min: 0.1, max: 0.9, noNaN: true }),
        fc.double({ min: 5, max: 30, noNaN: true }),
        (t, h) => {
          const arc: NodePath = {
            closed: false,
            nodes: [
              { x: 0, y: 0, out: [h / 3, h] },
              { x: 40, y: 0, in: [-h / 2, h] },
            ],
          }
          const there = removeNodes(insertNode(arc, 0, t), [1]) as NodePath
          expect(there.nodes.length).toBe(2)
          expect(apart(toPath(there), toPath(arc))).toBeLessThan(0.25)
        },
      ),
      { numRuns: 60 },
    )
    const square: NodePath = {
      closed: true,
      nodes: [
        { x: 0, y: 0 },
        { x: 9, y: 0 },
        { x: 9, y: 9 },
      ],
    }
    expect(removeNodes(square, [1])).toBeUndefined()
  })

  it('hang together by their kind', () => {
    fc.assert(
      fc.property(aLine, fc.nat(20), number, number, (drawn, index, dx, dy) => {
        fc.pre(Math.hypot(dx, dy) > 0.01)
        const i = index % drawn.nodes.length
        for (const kind of ['smooth', 'symmetric'] as const) {
          const node = moveHandle(setNodeKind(drawn, i, kind), i, 'out', dx, dy).nodes[i]
          if (!node.in || !node.out) continue
          const [la, lb] = [Math.hypot(...node.in), Math.hypot(...node.out)]
          expect((node.in[0] * node.out[0] + node.in[1] * node.out[1]) / (la * lb)).toBeCloseTo(-1, 3)
          if (kind === 'symmetric') expect(la).toBeCloseTo(lb, 4)
          else expect(la).toBeCloseTo(Math.hypot(...(setNodeKind(drawn, i, kind).nodes[i].in as [number, number])), 4)
        }
        const corner = setNodeKind(drawn, i, 'corner')
        expect(moveHandle(corner, i, 'out', dx, dy).nodes[i].in).toEqual(drawn.nodes[i].in)
      }),
      { numRuns: 100 },
    )
  })

  it('split and joined are the same line again; closed lines open where they are split', () => {
    fc.assert(
      fc.property(aLine, fc.nat(20), (drawn, index) => {
        const open = { ...drawn, closed: false }
        const i = 1 + (index % (open.nodes.length - 2))
        const [a, b] = splitAt(open, i)
        const joined = joinEnds(a, 'end', b, 'start')
        expect(joined.nodes.length).toBe(open.nodes.length)
        expect(apart(toPath(joined), toPath(open))).toBeLessThan(0.01)
        const turned = joinEnds(reverseNodes(a), 'start', reverseNodes(b), 'end')
        expect(apart(toPath(turned), toPath(open))).toBeLessThan(0.01)
        const shut = { ...drawn, closed: true }
        const [opened] = splitAt(shut, i)
        expect(opened.closed).toBe(false)
        expect(apart(toPath(shut), toPath(opened))).toBeLessThan(0.01)
        expect(pathArea(toPath(closeNodes(opened)))).toBeCloseTo(pathArea(toPath(shut)), 3)
      }),
      { numRuns: 30 },
    )
  })

  it('move with their handles; the nearest place on a line is found', () => {
    fc.assert(
      fc.property(aLine, fc.nat(20), fc.double({ min: 0.02, max: 0.98, noNaN: true }), number, number, (drawn, side, t, dx, dy) => {
        const s = side % sideCount(drawn)
        const at = insertNode(drawn, s, t).nodes[s + 1]
        expect(nearestPlace(drawn, at.x, at.y)?.distance).toBeLessThan(0.05)
        const moved = moveNodes(drawn, drawn.nodes.keys(), dx, dy)
        const [p, q] = [toPath(drawn), toPath(moved)]
        for (let i = 0; i < p.coords.length; i += 2) {
          expect(q.coords[i] - p.coords[i]).toBeCloseTo(dx, 4)
          expect(q.coords[i + 1] - p.coords[i + 1]).toBeCloseTo(dy, 4)
        }
      }),
      { numRuns: 60 },
    )
  })
})
