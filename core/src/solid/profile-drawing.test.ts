import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { fromPath, type NodePath, toPath } from '../outline/nodes'
import { monotoneProfile, profileUpTo, shippedProfile } from './profile'
import { PROFILE_NAMES } from './profile-names'
import { heldProfile, mirroredProfile, profileFromStroke, profileNodes, profileSize, scaledNodes } from './profile-drawing'
import { drawnProfile } from '../steps/shared/edge'

/** Any open curve, as a hand might leave it. */
const anyCurve: fc.Arbitrary<NodePath> = fc
  .array(
    fc.record({
      x: fc.double({ min: -5, max: 12, noNaN: true }),
      y: fc.double({ min: -4, max: 8, noNaN: true }),
      in: fc.option(fc.tuple(fc.double({ min: -6, max: 6, noNaN: true }), fc.double({ min: -6, max: 6, noNaN: true })), { nil: undefined }),
      out: fc.option(fc.tuple(fc.double({ min: -6, max: 6, noNaN: true }), fc.double({ min: -6, max: 6, noNaN: true })), { nil: undefined }),
    }),
    { minLength: 2, maxLength: 9 },
  )
  .map((nodes) => ({ closed: false, nodes: nodes.map(({ in: a, out: b, ...node }) => ({ ...node, ...(a ? { in: a } : {}), ...(b ? { out: b } : {}) })) }))

const insets = (drawn: NodePath) => drawn.nodes.map((node) => node.x)

describe('drawn profiles', () => {
  it('are held to a start at the rim and to insets that never fall, whatever is dragged where', () => {
    fc.assert(
      fc.property(anyCurve, (curve) => {
        const held = heldProfile(curve)
        expect(held.nodes[0]).toMatchObject({ x: 0, y: 0 })
        const xs = insets(held)
        for (let i = 1; i < xs.length; i++) expect(xs[i]).toBeGreaterThanOrEqual(xs[i - 1])
        held.nodes.forEach((node, i) => {
          expect(node.x + (node.in?.[0] ?? 0)).toBeGreaterThanOrEqual((xs[i - 1] ?? node.x) - 2e-4)
          expect(node.x + (node.out?.[0] ?? 0)).toBeLessThanOrEqual((xs[i + 1] ?? node.x) + 2e-4)
        })
        // held once is held for good
        expect(heldProfile(held)).toEqual(held)
      }),
      { numRuns: 300 },
    )
  })

  it('have halves that are each other’s mirror image', () => {
    fc.assert(
      fc.property(anyCurve, (curve) => {
        const held = heldProfile(curve)
        const { x: w, y: h } = held.nodes[held.nodes.length - 1]
        if (w < 0.5 || Math.abs(h) < 0.5) return
        const { nodes } = mirroredProfile(held)
        nodes.forEach((node, i) => {
          const other = nodes[nodes.length - 1 - i]
          // rising halves only: where the curve dips, its image would run backwards and is held
          if (nodes.some((n, k) => k > 0 && n.y < nodes[k - 1].y - 1e-9) || h < 0) return
          expect(node.x / w).toBeCloseTo(1 - other.y / h, 2)
        })
      }),
      { numRuns: 200 },
    )
  })

  it('give every shipped profile back as it is, at any size', () => {
    for (const name of PROFILE_NAMES) {
      if (name === 'square') continue
      const profile = shippedProfile(name, 3, 2)
      const drawn = profileNodes(profile, 3, 2)
      const again = drawnProfile(toPath(drawn), 3, profileSize(drawn).height)
      expect('message' in again, name).toBe(false)
      if ('message' in again || !profile) continue
      expect(Math.max(...again.coords.map((v, i) => Math.abs(v - toPath(fromPath(profile)).coords[i])))).toBeLessThan(1e-4)
      const twice = scaledNodes(drawn, 2, 2)
      expect(profileSize(twice).inset).toBeCloseTo(6, 4)
      expect(profileSize(twice).height).toBeCloseTo(2 * profileSize(drawn).height, 4)
    }
  })

  it('are taken from a stroke drawn either way and anywhere', () => {
    const stroke = toPath({
      closed: false,
      nodes: [
        { x: 90, y: 40 },
        { x: 80, y: 46, in: [3, 0], out: [-3, 0] },
        { x: 70, y: 40 },
      ],
    })
    const taken = profileFromStroke(stroke)
    expect(taken.nodes.map(({ x, y }) => [x, y])).toEqual([
      [0, 0],
      [10, 6],
      [20, 0],
    ])
    expect('message' in monotoneProfile(toPath(taken))).toBe(false)
    const back = monotoneProfile(
      toPath({
        closed: false,
        nodes: [
          { x: 0, y: 0 },
          { x: 5, y: 2 },
          { x: 2, y: 4 },
        ],
      }),
    )
    expect(back).toMatchObject({ message: expect.stringContaining('runs backwards') })
    expect(
      drawnProfile(
        toPath({
          closed: false,
          nodes: [
            { x: 0, y: 0 },
            { x: 0, y: 4 },
          ],
        }),
        1,
        1,
      ),
    ).toMatchObject({ message: expect.stringContaining('straight up') })
  })

  it('are cut off at an inset, on the curve', () => {
    for (const name of PROFILE_NAMES) {
      const profile = shippedProfile(name, 4, 3)
      if (!profile) continue
      const cut = profileUpTo(profile, 1.7)
      expect(cut.coords[cut.coords.length - 2], name).toBeCloseTo(1.7, 6)
      expect(profileUpTo(profile, 9)).toBe(profile)
    }
  })
})
