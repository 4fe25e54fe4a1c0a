import { type Evaluate, failed, type StepIssue } from '../../step'
import { dressed } from './dressing'
import type { dressParams } from './schema'

export const evaluate: Evaluate<typeof dressParams> = async (input, params) => {
  if (!input || input.kind === 'outline') return failed('no-solid', 'Dress needs a solid to work on.', 'Put a form such as Extrude before it.')
  const issues: StepIssue[] = []
  const solids = input.kind === 'assembly' ? input.units : [input]
  const bands = new Set(solids.flatMap((solid) => solid.bands))
  const layers = new Set(solids.flatMap((solid) => solid.layers.map((layer) => layer.name)))
  params.rules.forEach((rule, i) => {
    const missing =
      rule.band !== '' && !bands.has(rule.band)
        ? `band “${rule.band}”`
        : rule.layer !== '' && !layers.has(rule.layer)
          ? `layer “${rule.layer}”`
          : rule.letters !== '' && !input.letters.some((letter) => letter.trim() !== '' && rule.letters.includes(letter))
            ? `letter of “${rule.letters}”`
            : undefined
    if (missing)
      issues.push({
        code: 'rule-idle',
        severity: 'warning',
        message: `Rule ${i + 1} finds no ${missing} on this piece; it dresses nothing.`,
        remedy: 'Choose what there is, or keep the rule for when it comes back.',
        field: 'rules',
      })
  })
  if (input.kind === 'solid') return { ok: true, value: dressed(input, params), issues }
  // copies wear what their unit does
  return {
    ok: true,
    value: {
      ...input,
      units: input.units.map((unit) => ({ ...dressed(unit.letters.length > 0 ? unit : { ...unit, letters: input.letters }, params), letters: unit.letters })),
    },
    issues,
  }
}
