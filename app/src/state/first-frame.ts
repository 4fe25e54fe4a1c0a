let seen: () => void = () => {}

/** Resolves when the view has drawn a piece for the first time. */
export const firstFrame = new Promise<void>((resolve) => {
  seen = resolve
})

/** Told by the view, with every frame. When the first came can be read off the page's timeline. */
export const sawFirstFrame = (): void => seen()

void firstFrame.then(() => performance.mark('first geometry'))

let free: () => void = () => {}

/** Resolves when the first frame has been drawn, or is not waited for any longer: no worker is started before that where a look is coming. */
export const machineFree = new Promise<void>((resolve) => {
  free = resolve
})

/** Told when the first frame needs the machine for itself no more. */
export const freeMachine = (): void => free()

/**
 * Whether the library has a look of the piece that this page opens with: the page's head then asks for it (see the project's page). What makes
 * pieces anew leaves the machine to the first frame meanwhile.
 */
export const lookIsComing = (): boolean =>
  typeof document !== 'undefined' && document.querySelector('link[rel="preload"][as="fetch"][href*="/looks/"]') !== null
