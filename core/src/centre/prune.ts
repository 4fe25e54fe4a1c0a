import { type Axis, type Branch, branchesOf, endsOf, type Link } from './axis'

/** Borders that turn away from each other by less than this run in parallel: 180° less 30°. */
const PARALLEL = 150
/** A branch whose borders run in parallel for less than this share of the radius at its fork is no stroke. */
const LEAST_PARALLEL = 0.7

/** An axis without the nodes that are named. */
function without(axis: Axis, gone: ReadonlySet<number>): Axis {
  return {
    ...axis,
    links: axis.links.map((list, n) => (gone.has(n) ? [] : list.some(({ to }) => gone.has(to)) ? list.filter(({ to }) => !gone.has(to)) : list)),
  }
}

/** An axis with its leaves taken off as long as their links say so: what is left hangs together as before. */
export function eroded(axis: Axis, goes: (link: Link) => boolean): Axis {
  const links = axis.links.map((list) => [...list])
  const stack = links.flatMap((list, n) => (list.length === 1 ? [n] : []))
  while (stack.length > 0) {
    const n = stack.pop() as number
    const [link] = links[n]
    if (links[n].length !== 1 || !goes(link)) continue
    links[n] = []
    links[link.to] = links[link.to].filter(({ to }) => to !== n)
    if (links[link.to].length === 1) stack.push(link.to)
  }
  return { ...axis, links }
}

/** How far a branch's borders run in parallel, against the radius at its fork; undefined for what does not end in the open. */
function worth({ x, y, r, links }: Axis, branch: Branch): { readonly worth: number; readonly fork: number } | undefined {
  const [a, b] = endsOf(branch)
  const fork = links[b].length === 1 ? a : links[a].length === 1 ? b : -1
  if (fork < 0 || links[fork].length < 3) return undefined
  let length = 0
  for (let i = 1; i < branch.nodes.length; i++) {
    const [p, q] = [branch.nodes[i - 1], branch.nodes[i]]
    const link = links[p].find(({ to }) => to === q)
    if (link && link.angle >= PARALLEL) length += Math.hypot(x[p] - x[q], y[p] - y[q])
  }
  return { worth: length / Math.max(r[fork], 1e-6), fork }
}

/**
 * An axis without the spurs that run into corners: branch by branch, the least first, as long as one says less of a stroke than of a corner. A stroke
 * has borders in parallel; shared/deform-notes.md has the other measures that were tried on 441 glyphs.
 */
export function pruned(axis: Axis): Axis {
  for (let left = axis; ; ) {
    const branches = branchesOf(left)
    let least: { readonly worth: number; readonly fork: number; readonly branch: Branch } | undefined
    if (branches.length > 1)
      for (const branch of branches) {
        const found = worth(left, branch)
        if (found && found.worth < (least?.worth ?? LEAST_PARALLEL)) least = { ...found, branch }
      }
    if (!least) return left
    const { branch, fork } = least
    left = without(left, new Set(branch.nodes.filter((n) => n !== fork)))
  }
}
