import { Cabinet } from '@/features/cabinet/cabinet'
import { database } from '@/server/database'
import { listProjects } from '@/server/projects'

export const dynamic = 'force-dynamic'

export default async function CabinetPage() {
  try {
    const orm = await database()
    return <Cabinet {...(await listProjects(orm.em.fork()))} />
  } catch (error) {
    console.error(error)
    return <Cabinet unreachable />
  }
}
