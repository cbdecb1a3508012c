import Papa from 'papaparse'
import type { Line } from './document'

const isNumber = (s: string) => /^-?[\d\s.,]+$/.test(s) && /\d/.test(s)
/** A number as the book reads it: the last comma or dot before one or two, or four digits is the decimal point. */
function plain(s: string): string {
  const compact = s.replace(/\s/g, '')
  if (/^-?\d{1,3}(,\d{3})+(\.\d+)?$/.test(compact)) return compact.replaceAll(',', '')
  if (/^-?\d{1,3}(\.\d{3})+,\d+$/.test(compact)) return compact.replaceAll('.', '').replace(',', '.')
  return compact.replace(',', '.')
}

/** Rows of a spreadsheet as lines: what, then quantity and unit where they are given, then the cost of each. */
export function pastedRows(text: string): Partial<Line>[] {
  if (!text.includes('\t')) return []
  const { data } = Papa.parse<string[]>(text.trim(), { delimiter: '\t' })
  return data
    .map((row) => row.map((c) => c.trim()))
    .filter((row) => row.some(isNumber))
    .map(([description = '', ...rest]) => {
      const numbers = rest.filter(isNumber).map(plain)
      const unit = rest.find((c) => c && !isNumber(c) && c.length <= 8) ?? ''
      if (numbers.length < 2) return { description, quantity: '1', unit, unitCost: numbers[0] ?? '' }
      return { description, quantity: numbers[0]!, unit, unitCost: numbers[1]! }
    })
}
