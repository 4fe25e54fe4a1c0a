'use client'
import { useEffect } from 'react'
import { Notice } from '@/features/cabinet/notice'

/** What is shown when a page fails in a way nobody foresaw. */
export default function ErrorPage({ error, reset }: { error: Error; reset: () => void }) {
  useEffect(() => console.error(error), [error])
  return (
    <Notice
      title="Something went wrong on this page"
      text="What was changed is kept on the server or in this browser. Load the page again; if it comes back, restore an earlier revision."
      action={{ label: 'Load it again', onPress: reset }}
    />
  )
}
