import { orient2d, orient3d } from 'robust-predicates'

type Positions = ArrayLike<number>

// corners and sides of the pair in hand, reused: this runs some hundred thousand times a check
const a = [0, 0, 0]
const b = [0, 0, 0]
const sideA = [0, 0, 0]
const sideB = [0, 0, 0]

/**
 * Whether two triangles of a mesh cross: an edge of one passes through the other, or they overlap in one plane. Signs are
 * exact (Shewchuk's predicates), so there is no tolerance. Triangles that share a vertex or an edge may meet there and
 * nowhere else; others that only touch without passing through do not cross.
 */
export function trianglesCross(p: Positions, ids: ArrayLike<number>, s: number, t: number): boolean {
  let shared = 0
  for (let i = 0; i < 3; i++) {
    a[i] = ids[3 * s + i]
    b[i] = ids[3 * t + i]
  }
  for (let i = 0; i < 3; i++) if (isCorner(a, b[i])) shared++
  if (shared === 3) return true
  sidesOf(p, a, b, sideB)
  if (sideB[0] === 0 && sideB[1] === 0 && sideB[2] === 0)
    return overlapInPlane(
      p,
      a,
      b,
      a.filter((v) => isCorner(b, v)),
    )
  // sharing an edge, they leave it in different planes; otherwise both must reach through the other's plane
  if (shared === 2 || onOneSide(sideB)) return false
  sidesOf(p, b, a, sideA)
  if (onOneSide(sideA)) return false
  return edgesPass(p, b, sideB, a, shared) || edgesPass(p, a, sideA, b, shared)
}

const isCorner = (t: readonly number[], v: number): boolean => v === t[0] || v === t[1] || v === t[2]

/** Whether no corner lies on one side of the plane while another lies on the other. */
const onOneSide = (sides: readonly number[]): boolean => (sides[0] >= 0 && sides[1] >= 0 && sides[2] >= 0) || (sides[0] <= 0 && sides[1] <= 0 && sides[2] <= 0)

/** On which side of triangle t each corner of u lies; 0 for corners they share. */
function sidesOf(p: Positions, t: number[], u: number[], out: number[]): void {
  for (let i = 0; i < 3; i++) out[i] = isCorner(t, u[i]) ? 0 : side(p, t, u[i])
}

/** Positive when v lies behind the triangle's plane as its corners run; exact in sign. */
function side(p: Positions, t: number[], v: number): number {
  const [a, b, c] = t
  return orient3d(
    p[3 * a],
    p[3 * a + 1],
    p[3 * a + 2],
    p[3 * b],
    p[3 * b + 1],
    p[3 * b + 2],
    p[3 * c],
    p[3 * c + 1],
    p[3 * c + 2],
    p[3 * v],
    p[3 * v + 1],
    p[3 * v + 2],
  )
}

/** Whether an edge of `edges`' triangle, whose corners lie on the given sides of `face`, passes through it. */
function edgesPass(p: Positions, edges: number[], sides: number[], face: number[], shared: number): boolean {
  for (let i = 0; i < 3; i++) {
    const j = (i + 1) % 3
    if (sides[i] * sides[j] >= 0) continue
    const [u, v] = [edges[i], edges[j]]
    const x = side(p, [u, v, face[0]], face[1])
    const y = side(p, [u, v, face[1]], face[2])
    const z = side(p, [u, v, face[2]], face[0])
    const through = (x >= 0 && y >= 0 && z >= 0) || (x <= 0 && y <= 0 && z <= 0)
    // through a corner both share is no crossing; grazing an edge is one only for triangles that do not touch otherwise
    if (through && (shared === 0 || (x !== 0 && y !== 0 && z !== 0))) return true
  }
  return false
}

function overlapInPlane(p: Positions, a: number[], b: number[], shared: number[]): boolean {
  // project along the axis in which the plane's normal is longest
  const n = [0, 1, 2].map((k) => {
    const [i, j] = [(k + 1) % 3, (k + 2) % 3]
    return Math.abs(
      (p[3 * a[1] + i] - p[3 * a[0] + i]) * (p[3 * a[2] + j] - p[3 * a[0] + j]) - (p[3 * a[1] + j] - p[3 * a[0] + j]) * (p[3 * a[2] + i] - p[3 * a[0] + i]),
    )
  })
  const axis = n.indexOf(Math.max(...n))
  const [i, j] = [(axis + 1) % 3, (axis + 2) % 3]
  const turn = (u: number, v: number, w: number) => orient2d(p[3 * u + i], p[3 * u + j], p[3 * v + i], p[3 * v + j], p[3 * w + i], p[3 * w + j])
  const orientation = Math.sign(turn(a[0], a[1], a[2]))
  const otherOrientation = Math.sign(turn(b[0], b[1], b[2]))
  if (orientation === 0 || otherOrientation === 0) return false
  if (shared.length === 2) {
    // folded over when both far corners lie on one side of the shared edge
    const far = a.find((v) => !shared.includes(v)) as number
    const otherFar = b.find((v) => !shared.includes(v)) as number
    return turn(shared[0], shared[1], far) > 0 === turn(shared[0], shared[1], otherFar) > 0
  }
  for (let u = 0; u < 3; u++) {
    for (let v = 0; v < 3; v++) {
      const [p0, p1, q0, q1] = [a[u], a[(u + 1) % 3], b[v], b[(v + 1) % 3]]
      if ([p0, p1].some((x) => x === q0 || x === q1)) continue
      if (turn(p0, p1, q0) * turn(p0, p1, q1) < 0 && turn(q0, q1, p0) * turn(q0, q1, p1) < 0) return true
    }
  }
  const inside = (t: number[], sign: number, v: number) => !t.includes(v) && [0, 1, 2].every((k) => turn(t[k], t[(k + 1) % 3], v) * sign > 0)
  if (b.some((v) => inside(a, orientation, v)) || a.some((v) => inside(b, otherOrientation, v))) return true
  return shared.length === 0 && sameCorners(p, a, b)
}

function sameCorners(p: Positions, a: number[], b: number[]): boolean {
  return a.every((u) => b.some((v) => [0, 1, 2].every((k) => p[3 * u + k] === p[3 * v + k])))
}
