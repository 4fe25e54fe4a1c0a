/** The surface groups of lettering, by their number in the label `group`. */
export const GROUPS = ['face', 'edge', 'return', 'back', 'inside'] as const
export type Group = (typeof GROUPS)[number]
export const FACE = 0
export const EDGE = 1
export const RETURN = 2
export const BACK = 3
export const INSIDE = 4

/**
 * What a triangle of a solid is told apart by. Each is a whole number: `group` into GROUPS; `letter`, `layer`, `band` and `look` into the
 * solid's lists of that name; `part` counts connected parts from 0; `copy` is a copy's number. NONE stands for none.
 */
export const LABELS = ['group', 'letter', 'layer', 'band', 'part', 'copy', 'look'] as const
export type Label = (typeof LABELS)[number]

export const NONE = -1

/** One surface: a value for every label. */
export type LabelRow = Readonly<Record<Label, number>>

/** A row that is nothing but face. */
export const PLAIN_ROW: LabelRow = { group: FACE, letter: NONE, layer: 0, band: NONE, part: 0, copy: NONE, look: NONE }

/** The surfaces of a solid: one column for every label, all of one length; a triangle names its row. */
export type LabelTable = Readonly<Record<Label, Int32Array>>

export const rowCount = (table: LabelTable): number => table.group.length

export const rowOf = (table: LabelTable, row: number): LabelRow =>
  Object.fromEntries(LABELS.map((label) => [label, table[label][row]])) as Record<Label, number>

/** A table of the given rows. */
export function labelTable(rows: readonly LabelRow[]): LabelTable {
  return Object.fromEntries(LABELS.map((label) => [label, Int32Array.from(rows, (row) => row[label])])) as unknown as LabelTable
}

/** The rows of several tables, one behind another; `change` gives a column's new values where they are not simply copied. */
export function joinTables(tables: readonly LabelTable[], change: (label: Label, value: number, table: number) => number): LabelTable {
  const rows = tables.reduce((sum, table) => sum + rowCount(table), 0)
  const out = Object.fromEntries(LABELS.map((label) => [label, new Int32Array(rows)])) as Record<Label, Int32Array>
  let base = 0
  tables.forEach((table, k) => {
    const n = rowCount(table)
    for (const label of LABELS) for (let i = 0; i < n; i++) out[label][base + i] = change(label, table[label][i], k)
    base += n
  })
  return out
}

/** The rows that `used` names, in their order. */
export function pickRows(table: LabelTable, used: ArrayLike<number>): LabelTable {
  return Object.fromEntries(LABELS.map((label) => [label, Int32Array.from(used, (row) => table[label][row])])) as unknown as LabelTable
}

/** The table with one column anew: whatever `value` says of each row. */
export function withLabel(table: LabelTable, label: Label, value: (row: number) => number): LabelTable {
  return { ...table, [label]: Int32Array.from(table[label], (_, row) => value(row)) }
}
