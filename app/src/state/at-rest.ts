let making = 0
let waiting: (() => void)[] = []

/** The view is having something made; what is given back is to be called when that is over. */
export function beginMaking(): () => void {
  making++
  let over = false
  return () => {
    if (over) return
    over = true
    if (--making > 0) return
    const told = waiting
    waiting = []
    for (const tell of told) tell()
  }
}

/** Resolves once nothing is being made for the view: what is made beside it would take the machine from it, or make the very same a second time. */
export async function viewAtRest(): Promise<void> {
  while (making > 0) await new Promise<void>((resolve) => waiting.push(resolve))
}
