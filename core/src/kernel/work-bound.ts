/** Work that would take far longer than anyone waits, or more memory than there is, found out before it is begun; names its limit. */
export class TooMuchWork extends Error {
  constructor(
    message: string,
    readonly remedy: string,
  ) {
    super(message)
    this.name = 'TooMuchWork'
  }
}
