import { sha256 } from '@noble/hashes/sha2.js'
import { bytesToHex } from '@noble/hashes/utils.js'

/** SHA-256 in hex of bytes: the name of an asset. */
export function hashBytes(bytes: Uint8Array): string {
  return bytesToHex(sha256(bytes))
}

/** SHA-256 of a JSON value whatever the order of its keys. */
export function hashJson(value: unknown): string {
  return hashBytes(new TextEncoder().encode(canonical(value)))
}

function canonical(value: unknown): string {
  if (Array.isArray(value)) return `[${value.map(canonical).join(',')}]`
  if (value !== null && typeof value === 'object') {
    const entries = Object.entries(value).filter(([, v]) => v !== undefined)
    return `{${entries
      .sort(([a], [b]) => (a < b ? -1 : a > b ? 1 : 0))
      .map(([k, v]) => `${JSON.stringify(k)}:${canonical(v)}`)
      .join(',')}}`
  }
  return JSON.stringify(value) ?? 'null'
}
