import { Spline } from 'lucide-react'
import { onScreen } from '../on-screen'
import { WarpMode } from './board-mode'

export default onScreen({
  board: {
    Mode: WarpMode,
    when: ({ params }) => params.shape === 'corners' || params.shape === 'envelope',
    offer: { words: 'Stand it between two drawn lines', icon: Spline, params: { shape: 'envelope' } },
  },
})
