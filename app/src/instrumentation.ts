/** Called by Next.js once when the server starts. */
export async function register(): Promise<void> {
  if (process.env.NEXT_RUNTIME !== 'nodejs') return
  const { keepSweeping } = await import('./server/sweep')
  keepSweeping()
  const { warmReaders } = await import('./server/reading/pool')
  warmReaders()
}
