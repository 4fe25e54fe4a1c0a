import { type CheckInput, checkMesh, type CheckReport, weldByPosition } from './check'
import { PairTable } from '../solid/pair-table'

/**
 * The closed bodies of a mesh, in the order in which its triangles are listed: a body ends as soon as every side so far has been met the other way. Bodies that lie
 * face to face, such as the pieces of something broken, are told apart by that where places alone cannot. What is left open at the end is a body as well.
 */
export function bodiesInOrder(input: CheckInput): CheckInput[] {
  const { positions, indices } = weldByPosition(input)
  const out: CheckInput[] = []
  let left = new PairTable(64)
  let [open, start] = [0, 0]
  for (let i = 0; i < indices.length; i += 3) {
    for (let k = 0; k < 3; k++) {
      const [u, v] = [indices[i + k], indices[i + ((k + 1) % 3)]]
      const against = Math.max(0, left.get(v, u))
      if (against > 0) {
        left.set(v, u, against - 1)
        open--
      } else {
        left.set(u, v, Math.max(0, left.get(u, v)) + 1)
        open++
      }
    }
    if (open > 0) continue
    out.push({ positions, indices: indices.subarray(start, i + 3) })
    start = i + 3
    left = new PairTable(64)
  }
  if (start < indices.length) out.push({ positions, indices: indices.subarray(start) })
  return out.map(compact)
}

function compact({ positions, indices }: CheckInput): CheckInput {
  const numbers = new Map<number, number>()
  const at: number[] = []
  const ids = Uint32Array.from(indices, (v) => {
    let number = numbers.get(v)
    if (number === undefined) {
      number = numbers.size
      numbers.set(v, number)
      at.push(positions[3 * v], positions[3 * v + 1], positions[3 * v + 2])
    }
    return number
  })
  return { positions: Float64Array.from(at), indices: ids }
}

/**
 * A mesh checked as a whole, or, where that is no sound solid, body by body: with several that are sound each the report is of all of them and says how many there are. Bodies are
 * not checked against each other then.
 */
export function checkBodies(input: CheckInput): CheckReport & { readonly bodies?: number } {
  const whole = checkMesh(input)
  if (whole.sound) return whole
  const bodies = bodiesInOrder(input)
  if (bodies.length < 2) return whole
  const reports = bodies.map((body) => checkMesh(body))
  if (!reports.every(({ sound }) => sound)) return whole
  const sum = (of: (report: CheckReport) => number) => reports.reduce((total, report) => total + of(report), 0)
  return {
    ...whole,
    sound: true,
    closed: true,
    manifold: true,
    crossings: 0,
    triangles: sum(({ triangles }) => triangles),
    vertices: sum(({ vertices }) => vertices),
    parts: sum(({ parts }) => parts),
    volume: sum(({ volume }) => volume),
    area: sum(({ area }) => area),
    findings: [],
    bodies: bodies.length,
  }
}
