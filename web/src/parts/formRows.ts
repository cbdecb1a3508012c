import { readDate, readNumber } from './reading'

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

/** A cell of a spreadsheet as a field keeps it; what can't be read stays as it is, so that it is said what is wrong with it. */
function read<R>(field: RowField<R>, cell: string, today: string): string | number | boolean {
  switch (field.kind) {
    case 'figure':
      return readNumber(cell) ?? cell
    case 'date':
      return readDate(cell, today) ?? cell
    case 'check':
      return /^(x|y|yes|true|1)$/i.test(cell)
    case 'choice': {
      const same = (text: string | number) => String(text).toLowerCase() === cell.toLowerCase()
      const [value = ''] = field.options?.find(([value, called]) => same(value) || same(called)) ?? []
      return field.number ? Number(value) : value
    }
    default:
      return cell
  }
}

/** Puts a block of a spreadsheet into rows, from a row and a field on; rows are added as far as it goes. */
export function fillRows<R extends object>(
  rows: R[],
  fields: RowField<R>[],
  from: { row: number; field: number },
  block: string[][],
  blank: () => R,
  today: string,
) {
  block.forEach((cells, down) => {
    const at = from.row + down
    while (rows.length <= at) rows.push(blank())
    cells.forEach((cell, right) => {
      const field = fields[from.field + right]
      if (field) (rows[at] as Record<string, unknown>)[field.id] = read(field, cell, today)
    })
  })
}
