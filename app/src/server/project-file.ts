import type { ProjectDocument } from '@kelvar/core/document/schema'
import { projectFile, readProjectFile } from '@kelvar/core/format/project-file'
import type { EntityManager } from '@mikro-orm/postgresql'
import { assetParts } from './assets'
import { Asset } from './entities'
import { addFile } from './files'
import { addFaces } from './fonts'
import { createProject, findProject } from './projects'

/** A project with all it carries as one file, chunk by chunk, and its name; undefined when there is none. */
export async function takeOut(em: EntityManager, id: string): Promise<{ name: string; chunks: AsyncGenerator<Uint8Array> } | undefined> {
  const row = await findProject(em, id)
  return row ? { name: row.name, chunks: projectFile(row.document, (sha256) => assetParts(em, sha256)) } : undefined
}

type BroughtIn = { id: string } | { problem: { code: string; message: string; remedy: string } }

/**
 * Makes a project of a file that was taken out, here or elsewhere. All it carries is read for real, as if it had been added by hand;
 * nothing is kept unless all of it can be. What it lists but lacks must be in this library already.
 */
export function bringIn(em: EntityManager, file: Uint8Array): Promise<BroughtIn> {
  const read = readProjectFile(file)
  if (!read.ok) return Promise.resolve({ problem: read.problem })
  const { document, assets } = read
  return em
    .transactional(async (tx): Promise<BroughtIn> => {
      const present = new Set((await tx.find(Asset, { sha256: { $in: document.assets.map((a) => a.sha256) } }, { fields: ['sha256'] })).map((a) => a.sha256))
      const lacking = document.assets.filter((asset) => !present.has(asset.sha256) && !assets.has(asset.sha256))
      if (lacking.length > 0)
        return {
          problem: {
            code: 'assets-missing',
            message: `The project file lacks ${lacking
              .slice(0, 5)
              .map((a) => `“${a.name}”`)
              .join(', ')}${lacking.length > 5 ? ` and ${lacking.length - 5} more` : ''}, which the project is made with.`,
            remedy: 'Take the project out again where it is whole.',
          },
        }
      for (const asset of document.assets) {
        const content = assets.get(asset.sha256)
        if (!content || present.has(asset.sha256)) continue
        const failed = await added(tx, asset, content)
        if (failed) throw new Refused(failed)
      }
      return { id: (await createProject(tx, document)).id }
    })
    .catch((error) => {
      if (error instanceof Refused) return { problem: error.problem }
      throw error
    })
}

/** Rolls the transaction back and carries the reason out. */
class Refused extends Error {
  constructor(readonly problem: { code: string; message: string; remedy: string }) {
    super(problem.message)
  }
}

async function added(em: EntityManager, { sha256, name, type }: ProjectDocument['assets'][number], content: Uint8Array) {
  const result = type === 'font' ? await addFaces(em, content) : await addFile(em, content, name)
  if ('problem' in result) return { ...result.problem, message: `“${name}” in the project file: ${result.problem.message}` }
  const kept = 'faces' in result ? result.faces.map((face) => face.sha256) : [result.sha256]
  if (!kept.includes(sha256))
    return {
      code: 'damaged',
      message: `“${name}” in the project file is not the ${type} it is said to be.`,
      remedy: 'Take the project out again where it came from.',
    }
  return undefined
}
