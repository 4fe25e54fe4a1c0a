import { onScreen } from '../on-screen'
import { InsertMaker } from './insert-maker'

export default onScreen({ Below: InsertMaker })
