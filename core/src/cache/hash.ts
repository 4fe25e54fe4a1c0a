import { sha256 } from '@noble/hashes/sha2.js'
import { bytesToHex } from '@noble/hashes/utils.js'

/** SHA-256 in hex of bytes: the name of an asset. */
export function hashBytes(bytes: Uint8Array): string {
  return bytesToHex(sha256(bytes))
}

const bits = new Float64Array(1)
const words = new Uint32Array(bits.buffer)

/** Two lanes as eight digits. */
function mixed(lane: number, other: number): string {
  let x = lane ^ other
  x = Math.imul(x ^ (x >>> 16), 0x85ebca6b)
  x = Math.imul(x ^ (x >>> 13), 0xc2b2ae35)
  return ((x ^ (x >>> 16)) >>> 0).toString(16).padStart(8, '0')
}

/**
 * 128 bits in hex that tell lists of numbers apart, fast: four lanes of multiply and rotate over their bits, mixed at the
 * end as in MurmurHash3 (Appleby). For cache keys, not against malice.
 */
export function hashNumbers(lists: readonly ArrayLike<number>[]): string {
  const lanes = [0x9e3779b9, 0x85ebca6b, 0xc2b2ae35, 0x27d4eb2f]
  let [a, b, c, d] = lanes
  for (const list of lists) {
    a = Math.imul(a ^ list.length, 0xcc9e2d51)
    for (let i = 0; i < list.length; i++) {
      bits[0] = list[i]
      a = Math.imul(a ^ words[0], 0xcc9e2d51)
      a = (a << 15) | (a >>> 17)
      b = Math.imul(b ^ words[1] ^ a, 0x1b873593)
      b = (b << 13) | (b >>> 19)
      c = Math.imul(c ^ words[0] ^ b, 0xe6546b64)
      c = (c << 17) | (c >>> 15)
      d = Math.imul(d ^ words[1] ^ c, 0x85ebca6b)
      d = (d << 11) | (d >>> 21)
    }
  }
  return mixed(a, d) + mixed(b, a) + mixed(c, b) + mixed(d, c)
}

/**
 * 128 bits in hex that tell large arrays apart by their bits, several times as fast as `hashNumbers`: four lanes, each taking every fourth
 * word, mixed at the end as there. Arrays of other types with the same bits hash alike.
 */
export function hashBits(array: Float64Array | Float32Array | Uint32Array | Int32Array): string {
  const list = new Uint32Array(array.buffer, array.byteOffset, array.byteLength >> 2)
  const whole = list.length - (list.length % 4)
  let [a, b, c, d] = [0x9e3779b9 ^ list.length, 0x85ebca6b, 0xc2b2ae35, 0x27d4eb2f]
  for (let i = 0; i < whole; i += 4) {
    a = Math.imul(a ^ list[i], 0xcc9e2d51)
    a = (a << 15) | (a >>> 17)
    b = Math.imul(b ^ list[i + 1], 0x1b873593)
    b = (b << 13) | (b >>> 19)
    c = Math.imul(c ^ list[i + 2], 0xe6546b64)
    c = (c << 17) | (c >>> 15)
    d = Math.imul(d ^ list[i + 3], 0x85ebca6b)
    d = (d << 11) | (d >>> 21)
  }
  for (let i = whole; i < list.length; i++) a = Math.imul(a ^ list[i], 0x38b34ae5) ^ (a >>> 16)
  return mixed(a, d) + mixed(b, a) + mixed(c, b) + mixed(d, c)
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
