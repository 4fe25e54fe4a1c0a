import { notFound } from 'next/navigation'
import type { ReactNode } from 'react'
import { openProject } from './project'

/** Stands before what is shown while the page loads: an unknown project is answered as not found, and does not merely say so. */
export default async function ProjectLayout({ params, children }: { params: Promise<{ id: string }>; children: ReactNode }) {
  if (!(await openProject((await params).id))) notFound()
  return children
}
