import { Notice } from '@/features/cabinet/notice'

export default function NoSuchProject() {
  return <Notice title="There is no such project" text="It may have been removed, or the address is incomplete." />
}
