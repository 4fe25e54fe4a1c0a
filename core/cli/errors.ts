/** A fault to show the person: a code, what is wrong, what to do; the exit status it ends with. */
export class CommandError extends Error {
  constructor(
    readonly code: string,
    message: string,
    readonly remedy: string,
    readonly status = 1,
  ) {
    super(message)
  }
}
