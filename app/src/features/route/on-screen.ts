import type { RouteStep } from '@kelvar/core/document/schema'
import type { Field } from '@kelvar/core/steps/fields'
import type { LucideIcon } from 'lucide-react'
import type { ComponentType } from 'react'

/** What a parameter's control is given. */
export interface ControlProps<T = unknown> {
  readonly name: string
  readonly title: string
  readonly field: Field
  readonly value: T
  readonly onChange: (value: T) => void
  readonly step: RouteStep
  /** all values as the step would take them */
  readonly params: Record<string, unknown>
  /** the person has just come here: words are typed at once */
  readonly focus: boolean
}

/** What a step has on screen besides the controls that its schema gives it by itself. */
export interface OnScreen {
  /** controls by what a parameter holds (`FieldMeta.holds`); all steps may use them */
  // eslint-disable-next-line @typescript-eslint/no-explicit-any -- each control knows what its parameter holds
  readonly controls?: Readonly<Record<string, ComponentType<ControlProps<any>>>>
  /** what stands below the controls */
  readonly Below?: ComponentType<{ step: RouteStep }>
  /** the step is edited on the drawing board */
  readonly board?: {
    readonly Mode: ComponentType<{ step: RouteStep }>
    /** while it is; always when left out */
    readonly when?: (step: RouteStep) => boolean
    /** how it is offered to someone who looks at an outline there */
    readonly offer?: { readonly words: string; readonly icon: LucideIcon; readonly params: Readonly<Record<string, unknown>> }
  }
}

/** Keeps the types of a step's part on screen. */
export const onScreen = (part: OnScreen): OnScreen => part
