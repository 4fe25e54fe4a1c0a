import { type Zippable, zipSync } from 'fflate'

/** The date of all parts of archives, so that the same parts give the same bytes. */
export const PART_DATE = new Date('2020-01-01T00:00:00Z')

/** A zip of these parts. */
export const archive = (parts: Zippable): Uint8Array => zipSync(parts, { level: 6, mtime: PART_DATE })
