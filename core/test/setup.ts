import fc from 'fast-check'
import { expect } from 'vitest'

// the same cases in every run, so that a red run can be run again; KELVAR_SEED=… looks at others
fc.configureGlobal({ seed: Number(process.env.KELVAR_SEED ?? 20261125) })

const bytes = (array: ArrayBufferView) => Buffer.from(array.buffer, array.byteOffset, array.byteLength)

// bytes that are the same are the same numbers; looking at a million of them one by one takes seconds
expect.addEqualityTesters([
  (a: unknown, b: unknown) =>
    ArrayBuffer.isView(a) && ArrayBuffer.isView(b) && Object.getPrototypeOf(a) === Object.getPrototypeOf(b) && bytes(a).equals(bytes(b)) ? true : undefined,
])
