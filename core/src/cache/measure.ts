/**
 * What a value takes in memory: the bytes of its objects, lists, texts and numbers (about, as V8 lays them out), and the buffers behind its
 * typed arrays, each once. Whole buffers are counted, also where an array shows a part of one: that is what is held.
 */
export function measure(value: unknown): { bytes: number; buffers: ArrayBufferLike[] } {
  const seen = new Set<unknown>()
  const buffers = new Set<ArrayBufferLike>()
  const stack: unknown[] = [value]
  let bytes = 0
  while (stack.length > 0) {
    const part = stack.pop()
    if (typeof part === 'string') {
      bytes += 24 + 2 * part.length
      continue
    }
    if (part === null || (typeof part !== 'object' && typeof part !== 'function')) {
      bytes += 8
      continue
    }
    bytes += 8
    if (seen.has(part)) continue
    seen.add(part)
    if (ArrayBuffer.isView(part)) {
      bytes += 96
      buffers.add(part.buffer)
    } else if (part instanceof ArrayBuffer || (typeof SharedArrayBuffer !== 'undefined' && part instanceof SharedArrayBuffer)) buffers.add(part)
    else if (Array.isArray(part)) {
      bytes += 32
      for (const item of part) stack.push(item)
    } else if (part instanceof Map) {
      bytes += 48 + 16 * part.size
      for (const [key, item] of part) stack.push(key, item)
    } else if (part instanceof Set) {
      bytes += 48 + 16 * part.size
      for (const item of part) stack.push(item)
    } else {
      // its head, and room for four fields whether it has them or not
      bytes += 40
      for (const item of Object.values(part)) stack.push(item)
    }
  }
  return { bytes, buffers: [...buffers] }
}
