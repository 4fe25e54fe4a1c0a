import type { ValueKind } from './value'

/**
 * What a parameter means beyond its type; attached with `.meta()` and carried into JSON Schema, from
 * which the application builds the form and the command line its help.
 */
export interface FieldMeta {
  readonly title: string
  readonly description?: string
  /** mm, °, … shown behind the number */
  readonly unit?: string
  /** change per arrow key or stepper press */
  readonly step?: number
  /** what it holds, where that is more than a number, a switch or a choice: “face”, “edge profile”, … */
  readonly holds?: string
  /** drawn by hand on the drawing board rather than set as a value */
  readonly drawn?: boolean
  /** changed by other means than by itself */
  readonly indirect?: boolean
  /** found by trying a range rather than by naming a number */
  readonly tried?: boolean
  /** a reference to another piece, or a list of them: the kinds of value it may give; the step gets them under the parameter's name */
  readonly input?: readonly ValueKind[]
  /** the other pieces take part where they stand in the project (see `StepContext.placed`) */
  readonly placed?: boolean
  /** a reference to another piece whose step of that kind tells values; the step gets them under the parameter's name (see `StepContext.settings`) */
  readonly settingsOf?: string
  /** the upper end of what one mostly tries, where the largest value allowed lies far beyond it */
  readonly most?: number
  /** labels for an enum's values, in their order */
  readonly labels?: readonly string[]
  /** shown only while another field has one of these values */
  readonly when?: { readonly field: string; readonly is: readonly string[] }
  /** pulled by a handle in the view: forward grows towards the viewer, right and up as they say; an edge is pulled back from the face */
  readonly pull?: 'forward' | 'right' | 'up' | 'edge'
  /** how much the value changes per mm pulled, default 1; 'scale': in proportion to the piece's own size that way */
  readonly pullBy?: number | 'scale'
  /** five values, weak to strong, at which the step is shown on the piece itself, to press */
  readonly strengths?: readonly number[]
  /** of a mask: measured on the shape before all deformations, unless it is to be live; on the shape as it comes to the step otherwise */
  readonly atRest?: boolean
  /** of a mask: what is said while it has no entries; that it acts everywhere when left out */
  readonly without?: string
  /** shown only under "More" */
  readonly advanced?: boolean
}

export const meta = (m: FieldMeta): FieldMeta & Record<string, unknown> => ({ ...m })

/** A number in plain words: at most two decimals, no trailing zeros. */
export const plain = (value: number): string => String(Number(value.toFixed(2)))
