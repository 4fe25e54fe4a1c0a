import { SquarePen } from 'lucide-react'
import { onScreen } from '../on-screen'
import { RedrawMode } from './board-mode'

export default onScreen({
  board: {
    Mode: RedrawMode,
    offer: { words: 'Change a letter’s outline by hand', icon: SquarePen, params: {} },
  },
})
