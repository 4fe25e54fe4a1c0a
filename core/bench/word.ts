import { assetSource, findFont } from '../cli/io'
import { SHIPPED_FACES } from '../fonts/catalogue'
import { evaluateRoute } from '../src/evaluate/route'
import type { Solid } from '../src/solid/solid'

/** The word that volumes and deformations are measured on. */
export async function benchWord(): Promise<Solid> {
  const face = SHIPPED_FACES.find((f) => f.id === 'archivo-bold') ?? SHIPPED_FACES[0]
  const assets = assetSource(new Map([[face.sha256, findFont(face.id).bytes]]))
  const step = (kind: string, params: Record<string, unknown>) => ({ id: `${kind}-1`, kind, on: true, params })
  const route = [
    step('lettering', { text: 'Tern Quay', font: { sha256: face.sha256, name: face.name }, size: 40 }),
    step('extrude', { depth: 12, front: { profile: 'ogee', inset: 1, height: 1 } }),
  ]
  const { value } = await evaluateRoute(route, { assets })
  if (value?.kind !== 'solid') throw new Error('no solid')
  return value
}
