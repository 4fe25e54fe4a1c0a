import { loadManifold } from '../../../kernel/manifold'
import { connectedShapes, letterOf, orientedPaths, regionRings } from '../../../outline/areas'
import { type BridgeOptions, countersOf, cutBridges, ringArea } from '../../../outline/bridges'
import type { Outline, Region } from '../../../outline/outline'
import { controlBounds, type Path } from '../../../outline/path'
import { type Evaluate, failed, type StepIssue } from '../../step'
import type { stencilParams } from './schema'

export const evaluate: Evaluate<typeof stencilParams> = async (input, params, context) => {
  if (input?.kind !== 'outline') return failed('no-outline', 'Stencil needs an outline to work on.', 'Put a source such as Lettering before it.')
  if (input.regions.length === 0) return failed('no-areas', 'The outline has no closed shapes to cut bridges through.', 'Close the strokes, or set some words.')
  await loadManifold()
  const apart = new Set(params.otherwise)
  const regions: Region[] = []
  const loose: Region[] = []
  let held = 0
  for (const region of input.regions) {
    await context.breathe()
    const letter = input.letters[letterOf(region)]?.text ?? ''
    const options: BridgeOptions = [...letter].some((c) => apart.has(c))
      ? { count: params.otherBridges, width: params.width, angle: params.otherAngle }
      : { count: params.bridges, width: params.width, angle: params.angle }
    const key = `stencil:${JSON.stringify(options)}:${region.key}`
    const shapes = context.memo.get(key, () => cut(region, options))
    if (shapes.before === 0) {
      regions.push(region)
      continue
    }
    held += shapes.before - shapes.left
    if (shapes.left > 0) loose.push(region)
    shapes.shapes.forEach((paths, i) =>
      regions.push({ key: `${key}#${i}`, members: [{ letter: letterOf(region), paths }], dx: region.dx, dy: region.dy, layer: region.layer }),
    )
  }
  if (regions.length === 0) return failed('nothing-left', 'The bridges leave nothing of the letters.', 'Make them narrower, or the letters larger.', 'width')
  const value: Outline = { ...input, regions }
  return {
    ok: true,
    value,
    issues: loosened(input, loose),
    told: held === 0 ? 'no counters to hold' : held === 1 ? '1 counter held' : `${held} counters held`,
  }
}

/** A region with its bridges, in its own coordinates, as shapes that hang together; and its counters before and after. */
function cut(region: Region, options: BridgeOptions): { shapes: Path[][]; before: number; left: number } {
  const own = { ...region, dx: 0, dy: 0 }
  const rings = regionRings(own)
  const paths = cutBridges(orientedPaths(own), rings, options)
  const before = rings.filter((ring) => ringArea(ring) < 0).length
  return before === 0 ? { shapes: [], before, left: 0 } : { shapes: connectedShapes(paths), before, left: countersOf(paths) }
}

function loosened(input: Outline, loose: readonly Region[]): StepIssue[] {
  if (loose.length === 0) return []
  const names = [...new Set(loose.map((region) => input.letters[letterOf(region)]?.text).filter(Boolean))].map((text) => `“${text}”`)
  return [
    {
      code: 'falls-out',
      severity: 'warning',
      message: `${names.length > 0 ? `In ${names.slice(0, 8).join(', ')}` : 'Somewhere'} a counter hangs on nothing and would fall out.`,
      remedy: 'Turn its bridges, or give it more of them.',
      places: loose.slice(0, 8).map((region) => {
        const [x0, y0, x1, y1] = controlBounds(region.members.flatMap(({ paths }) => paths))
        return [(x0 + x1) / 2 + region.dx, (y0 + y1) / 2 + region.dy, 0] as const
      }),
      field: 'angle',
    },
  ]
}
