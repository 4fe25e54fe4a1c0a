/** A short id for pieces and steps: unguessable is not needed, unique within a project is. */
export function newId(prefix: string, taken: readonly string[] = []): string {
  for (let n = taken.length + 1; ; n++) {
    const id = `${prefix}-${n}`
    if (!taken.includes(id)) return id
  }
}
