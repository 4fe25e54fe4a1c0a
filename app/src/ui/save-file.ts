/** Hands a file to the person, as the browser does with downloads. */
export function saveFile(file: Blob, name: string): void {
  const url = URL.createObjectURL(file)
  const link = document.createElement('a')
  link.href = url
  link.download = name
  link.click()
  setTimeout(() => URL.revokeObjectURL(url), 10_000)
}

/** What a thing is called as a file, without its ending. */
export const fileName = (name: string): string =>
  [
    ...name
      .normalize('NFKD')
      .replace(/[^\p{L}\p{N}]+/gu, '-')
      .replace(/^-+|-+$/g, '')
      .toLowerCase(),
  ]
    .slice(0, 60)
    .join('') || 'piece'
