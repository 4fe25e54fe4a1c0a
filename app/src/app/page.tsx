import { Cabinet } from '@/features/cabinet/cabinet'
import { database } from '@/server/database'
import { listProjects, MOST_LISTED } from '@/server/projects'

export const dynamic = 'force-dynamic'

export default async function CabinetPage() {
  try {
    const orm = await database()
    const projects = await listProjects(orm.em.fork())
    return <Cabinet projects={projects} all={projects.length < MOST_LISTED} />
  } catch (error) {
    console.error(error)
    return <Cabinet unreachable />
  }
}
