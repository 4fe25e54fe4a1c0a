/**
 * Results kept by key, least recently used dropped first once `limit` bytes (estimated from typed arrays) are reached.
 * Values are shared: whoever gets one must not change it.
 */
export class Memo {
  private readonly entries = new Map<string, { value: unknown; bytes: number }>()
  private bytes = 0

  constructor(private readonly limit = 256 * 1024 * 1024) {}

  get size(): number {
    return this.entries.size
  }

  /** The kept value, or undefined; does not make one. */
  peek<T>(key: string): T | undefined {
    const entry = this.entries.get(key)
    if (!entry) return undefined
    this.entries.delete(key)
    this.entries.set(key, entry)
    return entry.value as T
  }

  /** The kept value, or a new one from `make`. A throwing `make` keeps nothing. */
  get<T>(key: string, make: () => T): T {
    const known = this.entries.get(key)
    if (known) return this.peek<T>(key) as T
    const value = make()
    this.put(key, value)
    return value
  }

  put(key: string, value: unknown): void {
    const bytes = 2 * key.length + estimateBytes(value, 0)
    const old = this.entries.get(key)
    if (old) {
      this.bytes -= old.bytes
      this.entries.delete(key)
    }
    this.entries.set(key, { value, bytes })
    this.bytes += bytes
    for (const [oldest, entry] of this.entries) {
      if (this.bytes <= this.limit || oldest === key) break
      this.entries.delete(oldest)
      this.bytes -= entry.bytes
    }
  }
}

function estimateBytes(value: unknown, depth: number): number {
  if (ArrayBuffer.isView(value)) return value.byteLength + 64
  if (value === null || typeof value !== 'object' || depth > 5) return 16
  let sum = 64
  for (const part of Object.values(value)) sum += estimateBytes(part, depth + 1)
  return sum
}
