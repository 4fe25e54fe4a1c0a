import { hashBytes } from '@kelvar/core/cache/hash'
import { FontError, FontFace } from '@kelvar/core/font/face'
import { type FaceFacts, faceFacts, readFaceFacts } from '@kelvar/core/font/facts'
import { unpackFont } from '@kelvar/core/font/unpack'
import { SHIPPED_FACES, type ShippedFace } from '@kelvar/core/fonts'
import type { EntityManager } from '@mikro-orm/postgresql'
import { storeAsset } from './assets'
import { Asset } from './entities'

/** A face as the type case lists it. */
export interface ListedFace extends FaceFacts {
  readonly sha256: string
  readonly bytes: number
  /** the catalogue's id, for faces that ship with Kelvar */
  readonly shipped?: string
}

type AddedFaces = { faces: ListedFace[]; notes: string[] } | { problem: { code: string; message: string; remedy: string } }

export function shippedFacts(face: ShippedFace): FaceFacts {
  return {
    name: face.name,
    kind: face.kind,
    scripts: [...face.scripts],
    characters: face.characters,
    glyphs: face.glyphs,
    axes: [...face.axes],
    licence: 'SIL Open Font License 1.1',
  }
}

/** All faces of the type case: the shipped ones in their order, then a person's own by name. */
export async function listFaces(em: EntityManager): Promise<ListedFace[]> {
  const rows = await em
    .getConnection()
    .execute<{ sha256: string; length: number; facts: unknown }[]>(
      `select sha256, size::int as length, facts from asset where type = 'font' and listed and facts is not null`,
    )
  const order = new Map(SHIPPED_FACES.map((face, i) => [face.sha256, { place: i, id: face.id }]))
  return rows
    .flatMap((row): ListedFace[] => {
      const facts = faceFacts.safeParse(row.facts)
      const shipped = order.get(row.sha256)
      return facts.success ? [{ ...facts.data, sha256: row.sha256, bytes: row.length, ...(shipped ? { shipped: shipped.id } : {}) }] : []
    })
    .sort((a, b) => {
      const place = (face: ListedFace) => order.get(face.sha256)?.place ?? SHIPPED_FACES.length
      return place(a) - place(b) || a.name.localeCompare(b.name, 'en')
    })
}

/**
 * Takes a font file into the type case: unpacks it, reads every face in it for real, and keeps each under the SHA-256 of
 * its own bytes. Nothing is kept unless all of it can be read; what cannot is answered with the reason.
 */
export async function addFaces(em: EntityManager, file: Uint8Array): Promise<AddedFaces> {
  let fonts: { bytes: Uint8Array; sha256: string; facts: FaceFacts }[]
  try {
    fonts = []
    for (const bytes of await unpackFont(file)) {
      const sha256 = hashBytes(bytes)
      fonts.push({ bytes, sha256, facts: readFaceFacts(await FontFace.open(bytes, sha256)) })
    }
  } catch (error) {
    if (error instanceof FontError) return { problem: { code: error.code, message: error.message, remedy: error.remedy } }
    // the engine could not cope with it: that is the file's fault, but the log should know
    console.error(error)
    return {
      problem: { code: 'unreadable', message: 'The font file is damaged: it cannot be read to its end.', remedy: 'Get the file again from where it came.' },
    }
  }
  const present = await listFaces(em)
  const faces: ListedFace[] = []
  const notes: string[] = []
  for (const { bytes, sha256, facts } of fonts) {
    const same = present.find((f) => f.sha256 === sha256)
    if (same) {
      notes.push(`${same.name} is in the type case already.`)
      faces.push(same)
      continue
    }
    // a name is only what a font says of itself: another file of the same name is another face
    const name = freeName(facts.name, [...present, ...faces])
    if (name !== facts.name) notes.push(`Another face calls itself ${facts.name}; this one is listed as ${name}.`)
    const kept = { ...facts, name }
    if (!(await em.nativeUpdate(Asset, { sha256 }, { listed: true, facts: kept, name })))
      await storeAsset(em, { name, type: 'font', facts: kept, listed: true }, bytes)
    faces.push({ ...kept, sha256, bytes: bytes.length })
  }
  return { faces, notes }
}

function freeName(name: string, taken: readonly { name: string }[]): string {
  const is = (candidate: string) => taken.some((f) => f.name.toLowerCase() === candidate.toLowerCase())
  if (!is(name)) return name
  let number = 2
  while (is(`${name} (${number})`)) number++
  return `${name} (${number})`
}

/** Takes a person's own face out of the type case; projects that use it keep it. */
export async function unlistFace(em: EntityManager, sha256: string): Promise<'done' | 'shipped' | 'gone'> {
  if (SHIPPED_FACES.some((f) => f.sha256 === sha256)) return 'shipped'
  return (await em.nativeUpdate(Asset, { sha256, type: 'font', listed: true }, { listed: false })) === 1 ? 'done' : 'gone'
}
