import { readDocument } from '@kelvar/core/project/read'
import type { Metadata } from 'next'
import { preload } from 'react-dom'
import { Notice } from '@/features/cabinet/notice'
import { Workbench } from '@/features/workbench/workbench'
import { lookAddress } from '@/state/look'
import { openProject } from './project'

export const dynamic = 'force-dynamic'

type Params = { params: Promise<{ id: string }> }

export async function generateMetadata({ params }: Params): Promise<Metadata> {
  const found = await openProject((await params).id)
  return found && found !== 'unreachable' ? { title: `${found.row.name} · Kelvar` } : {}
}

export default async function ProjectPage({ params }: Params) {
  const found = await openProject((await params).id)
  if (!found) return <Notice title="There is no such project" text="It may have been removed, or the address is incomplete." />
  if (found === 'unreachable')
    return <Notice title="The library of projects cannot be reached" text="Start Kelvar again with ./start, then reload this page." />
  const { row, pictured, looked } = found
  if (looked) preload(lookAddress(row.id, looked), { as: 'fetch', crossOrigin: 'anonymous' })
  const result = readDocument(row.document)
  if (!result.ok) return <Notice title={result.problem.message} text={result.problem.remedy} />
  return <Workbench id={row.id} document={result.document} revision={row.revision} hasPicture={pictured} />
}
