import { FontFace } from '@kelvar/core/font/face'
import { readPicture } from '@kelvar/core/format/picture'
import { evaluateRoute } from '@kelvar/core/evaluate/route'
import { readDocument } from '@kelvar/core/project/read'
import { type AssetSource, MissingAssetError } from '@kelvar/core/steps/step'
import { readWebp } from '@kelvar/core/webp-on-node'
import type { EntityManager } from '@mikro-orm/postgresql'
import { lookOf, MOST_LOOK_SENT, MOST_LOOK_TRIANGLES, packLook } from '../../state/look'
import { workOf } from '../../state/work'
import { shownTriangles, valueMesh } from '../../workers/view-mesh'
import { assetBytes, findAsset } from '../assets'
import { keepLook } from '../looks'
import { findProject } from '../projects'

/** The library's files for making something beside the server. */
function libraryAssets(em: EntityManager): AssetSource {
  const faces = new Map<string, Promise<FontFace>>()
  const file = async (sha256: string): Promise<Uint8Array> => {
    if (!(await findAsset(em, sha256))) throw new MissingAssetError(sha256)
    return assetBytes(em, sha256)
  }
  return {
    file,
    font(sha256) {
      const known = faces.get(sha256) ?? file(sha256).then((bytes) => FontFace.open(bytes, sha256))
      faces.set(sha256, known)
      return known
    },
    picture: async (sha256) => readPicture(await file(sha256), readWebp),
  }
}

/**
 * Makes the first piece of a project as the page would, and keeps how it looks, so that it stands at once when the project is opened for the first time. False where it is no solid, does not
 * come out whole, or is too large to be kept.
 */
export async function makeFirstLook(em: EntityManager, project: string): Promise<boolean> {
  const row = await findProject(em, project)
  const read = row && readDocument(row.document)
  const first = read?.ok ? read.document.pieces[0] : undefined
  const work = read?.ok && first ? workOf(read.document, first.id) : undefined
  if (!work) return false
  const { piece, route, others, place, tracks, rate } = work
  const { value, key, complete } = await evaluateRoute(route, { assets: libraryAssets(em), piece, pieces: others, place, tracks, rate })
  if (!complete || !value || !key || value.kind === 'outline') return false
  const mesh = valueMesh(value)
  if (shownTriangles(mesh) > MOST_LOOK_TRIANGLES) return false
  const bytes = packLook(lookOf({ key, mesh }))
  return bytes.length <= MOST_LOOK_SENT && keepLook(em, project, piece, bytes)
}
