import { PenLine } from 'lucide-react'
import { onScreen } from '../on-screen'
import { ExtendMode } from './board-mode'

export default onScreen({
  board: {
    Mode: ExtendMode,
    offer: { words: 'Draw a limb from letter to letter', icon: PenLine, params: {} },
  },
})
