import { Brush } from 'lucide-react'
import { onScreen } from '../on-screen'
import { SmoothMode } from './board-mode'

export default onScreen({
  board: {
    Mode: SmoothMode,
    offer: { words: 'Brush over what is too rough', icon: Brush, params: { where: 'brushed' } },
  },
})
