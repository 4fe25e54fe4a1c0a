import type { Dab, Painted } from '@kelvar/core/mask/painted'
import { intoFile, readDabs, writeDabs } from '@kelvar/core/mask/painted-file'
import { type Mask, maskSchema } from '@kelvar/core/mask/schema'
import { effectiveParams } from '@kelvar/core/steps/fields'
import { stepKind } from '@kelvar/core/steps/registry'
import { keepLocally, madeBytes } from '../local-assets'
import type { Brush, WorkbenchStore } from '../store'
import { currentPiece } from '../work'
import { setMadeFile } from './files'
import { placeOf, setParam } from './steps'

/** The entry of a step's mask that is painted. */
type PaintedAt = Pick<Brush, 'step' | 'entry'>

function maskAt(store: WorkbenchStore, { step }: PaintedAt): { readonly title: string; readonly mask: Mask } | undefined {
  const found = currentPiece(store.getState())?.route.find(({ id }) => id === step)
  const kind = found && stepKind(found.kind)
  const { data: mask } = maskSchema.safeParse(kind && effectiveParams(kind, found.params).mask)
  return mask && kind ? { title: kind.title, mask } : undefined
}

/** What is painted in an entry as the document now has it; undefined when it is gone, or goes by something else. */
export function paintedEntry(store: WorkbenchStore, at: PaintedAt): Painted | undefined {
  const entry = maskAt(store, at)?.mask.list[at.entry]
  return entry?.by === 'painted' ? entry.painted : undefined
}

const withPainted = (mask: Mask, { entry }: PaintedAt, painted: Painted): Mask => ({
  ...mask,
  list: mask.list.map((one, i) => (i === entry ? { ...one, painted } : one)),
})

/** Changes what is painted in an entry. */
export function setPainted(store: WorkbenchStore, at: PaintedAt, painted: Painted, does: string, gesture?: string): void {
  const found = maskAt(store, at)
  if (found) setParam(store, at.step, 'mask', withPainted(found.mask, at, painted), `${found.title}: ${does}`, gesture)
}

/** Files that were read, so that a stroke after another does not ask for all that was painted before: the last one. */
let last: { readonly sha256: string; readonly dabs: readonly Dab[] } | undefined

async function inFile({ file }: Painted): Promise<readonly Dab[]> {
  if (!file) return []
  return last?.sha256 === file.sha256 ? last.dabs : readDabs(await madeBytes(file.sha256))
}

/**
 * Takes the dabs of a stroke that has ended out of the document and into the file that holds all of them, within the stroke's own step of undo. Where that
 * cannot be done, or something else was changed meanwhile, they stay in the document and are taken with the next stroke.
 */
export async function keepPainted(store: WorkbenchStore, at: PaintedAt, does: string, gesture: string): Promise<void> {
  const { document } = store.getState()
  const place = placeOf(store, at.step)
  const found = maskAt(store, at)
  const painted = paintedEntry(store, at)
  if (!found || !painted || painted.list.length === 0) return
  try {
    const { dabs, painted: rest } = intoFile(painted, await inFile(painted))
    const asset = await keepLocally(writeDabs(dabs), 'paint', 'Painted')
    last = { sha256: asset.sha256, dabs }
    if (store.getState().document !== document) return
    const file = { sha256: asset.sha256, name: asset.name, count: dabs.length }
    setMadeFile(store, place, { mask: withPainted(found.mask, at, { ...rest, file }) }, asset, `${found.title}: ${does}`, gesture)
  } catch {
    // the browser keeps nothing, or the server is not to be reached
  }
}
