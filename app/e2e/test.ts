import { type BrowserContext, type CDPSession, test as base } from '@playwright/test'

interface Profile {
  readonly context: BrowserContext
  readonly session: CDPSession
}

/**
 * Playwright's test, with one browser profile for all tests that one process runs. A profile keeps what the browser has compiled of the scripts, which is a
 * fifth of the work of opening a project; what a page keeps (storage, databases, cookies) is gone before the next test, as in a context of its own.
 */
export const test = base.extend<object, { profile: Profile }>({
  profile: [
    async ({ playwright, launchOptions }, use, info) => {
      const { baseURL, viewport, deviceScaleFactor, contextOptions } = info.project.use
      const context = await playwright.chromium.launchPersistentContext('', { ...launchOptions, ...contextOptions, baseURL, viewport, deviceScaleFactor })
      const [blank = await context.newPage()] = context.pages()
      await use({ context, session: await context.newCDPSession(blank) })
      await context.close()
    },
    { scope: 'worker' },
  ],
  context: async ({ profile, baseURL, storageState }, use) => {
    const { context, session } = profile
    const { origin } = new URL(baseURL as string)
    const before = context.pages()
    const stored = (typeof storageState === 'object' ? storageState.origins : []).find((o) => o.origin === origin)
    if (stored) {
      const page = await context.newPage()
      await page.route('/nothing', (route) => route.fulfill({ contentType: 'text/html', body: '' }))
      await page.goto('/nothing')
      await page.evaluate((items) => items.forEach(({ name, value }) => localStorage.setItem(name, value)), stored.localStorage)
      await page.close()
    }
    await use(context)
    await context.unrouteAll({ behavior: 'ignoreErrors' })
    await context.setOffline(false)
    for (const page of context.pages()) if (!before.includes(page)) await page.close()
    await context.clearCookies()
    await session.send('Storage.clearDataForOrigin', { origin, storageTypes: 'local_storage,indexeddb,cache_storage,file_systems' })
  },
})
