import { Notice } from '@/features/cabinet/notice'

export default function NotFound() {
  return <Notice title="There is no such page" text="The address is incomplete or mistyped." />
}
