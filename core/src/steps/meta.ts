/**
 * What a parameter's form control needs beyond its type; attached with `.meta()` and carried into JSON Schema, from
 * which the application builds the form and the command line its help.
 */
export interface FieldMeta {
  readonly title: string
  readonly description?: string
  /** mm, °, … shown behind the number */
  readonly unit?: string
  /** change per arrow key or stepper press */
  readonly step?: number
  /** a control other than the type's own */
  readonly control?:
    | 'text'
    | 'font'
    | 'axes'
    | 'features'
    | 'letters'
    | 'stroke'
    | 'vector'
    | 'picture'
    | 'layers'
    | 'hidden'
    | 'board'
    | 'piece'
    | 'slider'
    | 'edge'
    | 'material'
    | 'bands'
    | 'palette'
    | 'rules'
    | 'course'
  /** what kind of value the piece control offers */
  readonly wants?: 'outline' | 'solid'
  /** the right end of a slider, where the largest value allowed lies far beyond what one mostly wants */
  readonly most?: number
  /** labels for an enum's values, in their order */
  readonly labels?: readonly string[]
  /** shown only while another field has one of these values */
  readonly when?: { readonly field: string; readonly is: readonly string[] }
  /** pulled by a handle in the view: forward grows towards the viewer, right and up as they say; an edge is pulled back from the face */
  readonly pull?: 'forward' | 'right' | 'up' | 'edge'
  /** how much the value changes per mm pulled, default 1; 'scale': in proportion to the piece's own size that way */
  readonly pullBy?: number | 'scale'
  /** shown only under "More" */
  readonly advanced?: boolean
}

export const meta = (m: FieldMeta): FieldMeta & Record<string, unknown> => ({ ...m })

/** A number in plain words: at most two decimals, no trailing zeros. */
export const plain = (value: number): string => String(Number(value.toFixed(2)))
