import { Scissors } from 'lucide-react'
import { onScreen } from '../on-screen'
import { SliceMode } from './board-mode'

export default onScreen({
  board: {
    Mode: SliceMode,
    offer: { words: 'Cut along lines that you draw', icon: Scissors, params: { cut: 'drawn' } },
  },
})
