import { onScreen } from '../on-screen'
import { DrawingMode } from './board-mode'

export default onScreen({
  board: {
    Mode: DrawingMode,
  },
})
