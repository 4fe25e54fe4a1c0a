import controls from './controls/on-screen'
import drawing from './drawing/on-screen'
import dress from './dress/on-screen'
import extend from './extend/on-screen'
import extrude from './extrude/on-screen'
import inlay from './inlay/on-screen'
import layers from './layers/on-screen'
import lettering from './lettering/on-screen'
import type { OnScreen } from './on-screen'
import pieceOutline from './piece-outline/on-screen'
import redraw from './redraw/on-screen'
import slice from './slice/on-screen'
import smooth from './smooth/on-screen'
import warp from './warp/on-screen'

/** What steps have on screen of their own, by their kind; a folder here, a line there. Kinds that are not named get all from their schema. */
export const ON_SCREEN: Readonly<Record<string, OnScreen>> = {
  lettering,
  drawing,
  'piece-outline': pieceOutline,
  dress,
  extrude,
  inlay,
  layers,
  redraw,
  extend,
  smooth,
  slice,
  warp,
}

/** The controls for what parameters hold. */
export const CONTROLS: NonNullable<OnScreen['controls']> = Object.assign({}, controls.controls, ...Object.values(ON_SCREEN).map((part) => part.controls))
