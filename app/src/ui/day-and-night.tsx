'use client'
import { Moon, Sun } from 'lucide-react'
import { useSyncExternalStore } from 'react'
import { PlainButton } from './buttons'
import { THEME_COOKIE } from './theme-cookie'

function watch(changed: () => void): () => void {
  const observer = new MutationObserver(changed)
  observer.observe(document.documentElement, { attributeFilter: ['data-theme'] })
  return () => observer.disconnect()
}

const isNight = () => document.documentElement.dataset.theme === 'night'

/** A colour of the theme as a canvas needs it, by the name of its custom property. */
export const useThemeColour = (name: `--${string}`): string =>
  useSyncExternalStore(
    watch,
    () => getComputedStyle(document.documentElement).getPropertyValue(name).trim(),
    () => '#20262b',
  )

/** Changes between the light and the night theme. */
export function DayAndNight() {
  const night = useSyncExternalStore(watch, isNight, () => false)
  return (
    <PlainButton
      aria-label={night ? 'Light theme' : 'Night theme'}
      onPress={() => {
        const theme = isNight() ? 'day' : 'night'
        document.documentElement.dataset.theme = theme
        // biome-ignore lint/suspicious/noDocumentCookie: the Cookie Store API is not in every browser yet
        document.cookie = `${THEME_COOKIE}=${theme}; path=/; max-age=31536000; samesite=strict`
      }}
    >
      {night ? <Sun size={16} aria-hidden /> : <Moon size={16} aria-hidden />}
    </PlainButton>
  )
}
