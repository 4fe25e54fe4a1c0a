/** "step-and-round" as people read it. */
export const nameOf = (name: string) => name.charAt(0).toUpperCase() + name.slice(1).replaceAll('-', ' ')
