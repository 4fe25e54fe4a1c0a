/** A hash of a place by the bits of its three coordinates, six whole numbers. Zeros are to be of one sign. */
export function pointHash(bits: Int32Array): number {
  let hash = 0
  for (let k = 0; k < 6; k++) hash = Math.imul(hash ^ bits[k], 0x9e3779b1) ^ (hash >>> 15)
  return hash
}
