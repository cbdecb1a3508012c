/** A column of rows that are typed in a form. */
export interface RowField<R> {
  id: keyof R & string
  label: string
  kind?: 'text' | 'figure' | 'choice' | 'date' | 'check'
  /** In pixels of the usual size of type. */
  width?: number
  options?: readonly (readonly [string | number, string])[]
  /** A choice is kept as a number. */
  number?: boolean
  /** What it means, where the label is short. */
  title?: string
  /** Whether a row has it. */
  when?: (row: R) => boolean
}
