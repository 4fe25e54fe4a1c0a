import type { CheckReport } from '@kelvar/core/check/check'
import type { RouteStep } from '@kelvar/core/document/schema'
import type { StepState } from '@kelvar/core/evaluate/route'
import type { StepIssue, ValueKind } from '@kelvar/core/steps/step'
import type { ViewMesh } from './view-mesh'

/** What the page learns of one step. */
export interface StepNews {
  readonly id: string
  readonly state: StepState
  readonly key?: string
  readonly issues: readonly StepIssue[]
  readonly ms: number
  readonly triangles?: number
  /** an outline's picture: SVG path data with Y downwards, and its box [x, y, width, height] */
  readonly drawing?: { readonly path: string; readonly box: readonly [number, number, number, number] }
  readonly gives?: ValueKind
}

export interface RouteNews {
  readonly steps: readonly StepNews[]
  /** what is to be shown, when the route gives a solid */
  readonly mesh?: ViewMesh
  /** content key of the shown value */
  readonly key?: string
  readonly complete: boolean
  readonly ms: number
}

export interface MakerApi {
  /** Runs a route; a newer call ends an older one, whose promise then gives null. `until` shows the piece as of a step. */
  make(route: RouteStep[], until: string | undefined, known: string | undefined, progress: (step: string, done: number) => void): Promise<RouteNews | null>
  /** The view's triangles of a route's result as of a step, and its content key, for a picture; null when it is no solid. */
  picture(route: RouteStep[], until: string): Promise<{ key: string; mesh: ViewMesh } | null>
  /** The soundness report of the route's result. */
  check(route: RouteStep[], until: string | undefined): Promise<CheckReport | null>
  /** A file of the route's result. */
  dispatch(route: RouteStep[], format: 'stl' | 'glb' | 'svg', name: string): Promise<{ bytes: Uint8Array } | { issue: StepIssue }>
}
