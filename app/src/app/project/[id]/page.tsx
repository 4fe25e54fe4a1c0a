import { readDocument } from '@kelvar/core/project/read'
import { Notice } from '@/features/cabinet/notice'
import { Workbench } from '@/features/workbench/workbench'
import { database } from '@/server/database'
import { uuid } from '@/server/http'
import { findProject, hasPicture } from '@/server/projects'

export const dynamic = 'force-dynamic'

export default async function ProjectPage({ params }: { params: Promise<{ id: string }> }) {
  const id = uuid.safeParse((await params).id)
  try {
    const orm = await database()
    const row = id.success ? await findProject(orm.em.fork(), id.data) : null
    if (!row) return <Notice title="There is no such project" text="It may have been removed, or the address is incomplete." />
    const result = readDocument(row.document)
    if (!result.ok) return <Notice title={result.problem.message} text={result.problem.remedy} />
    return <Workbench id={row.id} document={result.document} revision={row.revision} hasPicture={await hasPicture(orm.em.fork(), row.id)} />
  } catch (error) {
    console.error(error)
    return <Notice title="The library of projects cannot be reached" text="Start Kelvar again with ./start, then reload this page." />
  }
}
