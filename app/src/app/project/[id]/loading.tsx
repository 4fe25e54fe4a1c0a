import { Opening } from '@/features/cabinet/notice'

export default function Loading() {
  return <Opening />
}
