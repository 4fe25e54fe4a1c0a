/** Stands in for Node.js's own modules in the browser. The WASM loaders name it and never call it there. */
export function createRequire(): never {
  throw new Error('createRequire exists only in Node.js')
}
