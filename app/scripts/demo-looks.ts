import { readFile } from 'node:fs/promises'
import { SHIPPED_FACES } from '@kelvar/core/fonts'
import { evaluateRoute } from '@kelvar/core/evaluate/route'
import { FontFace } from '@kelvar/core/font/face'
import { readPicture } from '@kelvar/core/format/picture'
import { MissingAssetError, type AssetSource } from '@kelvar/core/steps/step'
import { readWebp } from '@kelvar/core/webp-on-node'
import type { EntityManager } from '@mikro-orm/postgresql'
import { assetBytes } from '../src/server/assets'
import { keepLook } from '../src/server/looks'
import { Project } from '../src/server/entities'
import { flatKey, packLook } from '../src/state/look'
import { flattened, valueMesh } from '../src/workers/view-mesh'

/** Makes what the first piece of each of these projects looks like, so that it is shown at once the first time that anybody opens it. */
export async function makeLooks(em: EntityManager, projects: readonly string[]): Promise<void> {
  const faces = new Map<string, Promise<FontFace>>()
  const file = async (sha256: string): Promise<Uint8Array> => {
    const shipped = SHIPPED_FACES.find((face) => face.sha256 === sha256)
    if (shipped) return new Uint8Array(await readFile(new URL(`../../core/fonts/${shipped.file}`, import.meta.url)))
    const bytes = await assetBytes(em, sha256)
    if (bytes.length === 0) throw new MissingAssetError(sha256)
    return bytes
  }
  const assets: AssetSource = {
    font(sha256) {
      const known = faces.get(sha256) ?? file(sha256).then((bytes) => FontFace.open(bytes, sha256))
      faces.set(sha256, known)
      return known
    },
    file,
    picture: async (sha256) => readPicture(await file(sha256), readWebp),
  }
  for (const id of projects) {
    const { document } = await em.findOneOrFail(Project, { id })
    const [piece] = document.pieces
    const { value, key } = await evaluateRoute(piece.route, { assets, pieces: document.pieces, piece: piece.id, place: piece.place })
    if (!value || !key || value.kind === 'outline') continue
    await keepLook(em, id, piece.id, packLook({ key: value.kind === 'assembly' ? flatKey(key) : key, mesh: flattened(valueMesh(value)) }))
  }
}
